import { measureSize, type PictureSource } from './source';
import type { HandCover } from '../measures/cover/by-hand';
import { CoverMeter, type CoverShape } from '../measures/cover/measure';
import { mediaFacts, RepeatMeter } from '../measures/file/facts';
import type { MediaFacts } from '../report/types';
import type { CoverMeasure } from '../report/wipe-types';

/** What the edit is finished at. A null rate means the clip's own. */
export interface Delivery {
  width: number;
  height: number;
  fps: number | null;
}

export interface CoverOptions {
  delivery?: Delivery;
  /** Edges that a person set. */
  hand?: HandCover | null;
  signal?: AbortSignal;
  onProgress?: (done: number) => void;
}

export interface CoverFound {
  measure: CoverMeasure;
  shape: CoverShape;
  media: MediaFacts;
  width: number;
  delivery: Delivery;
}

/**
 * Finds what covers the picture in every frame, and measures it.
 * @throws UnusableMedia when the file cannot be used
 */
export async function findCover(
  { read, keep }: Pick<PictureSource, 'read' | 'keep'>,
  options: CoverOptions = {},
): Promise<CoverFound> {
  const reading = await read({ signal: options.signal });
  const { facts } = reading;
  const size = measureSize(facts.width, facts.height);
  const store = keep();
  const meter = new CoverMeter(store);
  const repeats = new RepeatMeter();
  try {
    let done = 0;
    for await (const picture of reading.pictures()) {
      meter.frame(picture);
      repeats.frame(picture.luma);
      done++;
      if (done % 10 === 0) options.onProgress?.(done);
    }
    const { times, declared, whole } = await reading.ending();
    const media = mediaFacts({ ...facts, times }, repeats, { declared, whole });
    const source = { width: facts.width, height: facts.height };
    const delivery = options.delivery ?? { ...source, fps: media.measured_fps };
    const { measure, shape } = meter.finish(
      { ...source, factorX: size.factorX, factorY: size.factorY, delivery },
      options.hand,
    );
    return { measure, shape, media, width: facts.width, delivery };
  } finally {
    store.close();
    await reading.close();
  }
}
