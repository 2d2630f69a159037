import { basename } from 'node:path';
import type { HandCover } from '../core/cover/by-hand';
import { CoverMeter, type CoverShape } from '../core/cover/measure';
import { judgeCover } from '../core/judge/cover';
import { brokenOff } from '../core/judge/file';
import { mediaFacts, RepeatMeter } from '../core/media-facts/facts';
import type { MediaFacts } from '../core/report/types';
import type { CoverMeasure, CoverReport } from '../core/report/wipe-types';
import { measureSize, type DecodeOptions } from './frames';
import { openRecording } from './recording';
import { SpillStore } from './spill-store';
import { wholenessOf } from './whole';

/** What the edit is finished at. A null rate means the clip's own. */
export interface Delivery {
  width: number;
  height: number;
  fps: number | null;
}

export interface CoverOptions extends DecodeOptions {
  delivery?: Delivery;
  name?: string;
  onProgress?: (done: number) => void;
  /** Edges that a person set. */
  hand?: HandCover | null;
}

export interface CoverFound {
  measure: CoverMeasure;
  shape: CoverShape;
  media: MediaFacts;
  width: number;
  delivery: Delivery;
}

/**
 * Measures and judges, in one decode, how an object covers the picture.
 * @throws UnusableMedia when the file cannot be used
 */
export async function measureCover(path: string, options: CoverOptions = {}): Promise<CoverReport> {
  const { measure, media, width, delivery } = await findCover(path, options);
  const broken = brokenOff(media);
  const verdict = broken
    ? { verdict: 'unjudged' as const, reasons: [broken], deciding: [] }
    : judgeCover(measure, width, media.frame_count);
  return { file: options.name ?? basename(path), media, delivery, ...verdict, ...measure };
}

/**
 * Finds what covers the picture in every frame, and measures it.
 * @throws UnusableMedia when the file cannot be used
 */
export async function findCover(path: string, options: CoverOptions = {}): Promise<CoverFound> {
  const name = options.name ?? basename(path);
  const recording = await openRecording(path, name, options);
  const { probe } = recording;
  const size = measureSize(probe.width, probe.height);
  const reading = recording.index();
  reading.catch(() => undefined);
  const store = new SpillStore();
  const meter = new CoverMeter(store);
  const repeats = new RepeatMeter();
  try {
    let done = 0;
    for await (const picture of recording.pictures()) {
      meter.frame(picture);
      repeats.frame(picture.luma);
      done++;
      if (done % 10 === 0) options.onProgress?.(done);
    }
    const index = await reading;
    const { declared, whole } = wholenessOf(probe, index, repeats.count, recording.complaints());
    const media = mediaFacts({ ...probe, times: index.times }, repeats, { declared, whole });
    const source = { width: probe.width, height: probe.height };
    const delivery = options.delivery ?? { ...source, fps: media.measured_fps };
    const { measure, shape } = meter.finish(
      { ...source, factorX: size.factorX, factorY: size.factorY, delivery },
      options.hand,
    );
    return { measure, shape, media, width: probe.width, delivery };
  } finally {
    store.close();
    await recording.close();
  }
}
