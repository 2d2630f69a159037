import type { Delivery } from './cover';
import type { Against } from './measured-take';
import { UnusableMedia } from './unusable';
import { measureSize } from './source';
import { CoverSweep, type SweptFrame } from '../measures/cover/sweep';
import { compareSides, measureSide } from '../measures/cut/measure';
import { smallSize } from '../base/image/picture';
import { mediaFacts, rateOf, RepeatMeter } from '../measures/file/facts';
import type { MediaFacts } from '../report/types';
import type { CutMeasure, CutSide } from '../report/wipe-types';

export interface CutOptions {
  signal?: AbortSignal;
  delivery?: Delivery;
  /** The last frame of the out side and the first of the in side that are seen; its last and first by default. */
  at?: number;
  inAt?: number;
  onProgress?: (doing: string) => void;
}

/** A recording with the name to show. */
export type NamedSource = Omit<Against, 'analysis'>;

/** Seconds beside the cut that are looked at, and over which the movement is taken. */
const LOOK_SECONDS = 2.5;
const MOVE_SECONDS = 0.8;

/**
 * Measures how the pictures of both sides move.
 * @throws UnusableMedia when a file cannot be used, or has no such frame
 */
export async function findCut(
  outSide: NamedSource,
  inSide: NamedSource,
  options: CutOptions = {},
): Promise<{ measure: CutMeasure; delivery: Delivery }> {
  options.onProgress?.('the out side');
  const out = await sideOf(outSide, true, options.at, options.signal);
  options.onProgress?.('the in side');
  const into = await sideOf(inSide, false, options.inAt, options.signal);
  const delivery = options.delivery ?? {
    width: out.media.width,
    height: out.media.height,
    fps: out.media.measured_fps,
  };
  const measure = compareSides(out.side, into.side, {
    out: out.media.measured_fps,
    in: into.media.measured_fps,
    delivery: delivery.fps ?? out.media.measured_fps,
  });
  return { measure, delivery };
}

async function sideOf(
  { name, source }: NamedSource,
  isOut: boolean,
  at: number | undefined,
  signal: AbortSignal | undefined,
): Promise<{ side: CutSide; media: MediaFacts }> {
  const { facts: probe } = source;
  const times = await source.times();
  const count = times.length;
  if (at !== undefined && at >= count)
    throw new UnusableMedia(
      `"${name}" has frames 0 to ${count - 1}; frame ${at} is not among them. Give one that is.`,
      'no-frame',
    );
  const fps =
    count > 1
      ? (count - 1) / (times[count - 1] - times[0]) || rateOf(probe.containerFps) || 25
      : rateOf(probe.containerFps) || 25;
  const look = Math.max(3, Math.round(LOOK_SECONDS * fps));
  const from = isOut ? Math.max(0, (at ?? count - 1) - look) : (at ?? 0);
  const to = isOut ? (at ?? count - 1) : Math.min(count - 1, (at ?? 0) + look);
  const measured = measureSize(probe.width, probe.height);
  const size = smallSize(measured.width, measured.height);
  const sweep = new CoverSweep(size);
  const repeats = new RepeatMeter();
  const swept: SweptFrame[] = [];
  let f = 0;
  for await (const picture of source.pictures({ signal })) {
    repeats.frame(picture.luma);
    if (f >= from && f <= to) {
      swept.push({ ...sweep.frame(picture.small), covered: NONE });
    }
    f++;
  }
  const side = measureSide(swept, {
    width: size.width,
    fps,
    first: from,
    fromEnd: isOut,
    count: Math.max(2, Math.round(MOVE_SECONDS * fps)),
  });
  return { side, media: mediaFacts({ ...probe, times }, repeats) };
}

const NONE = new Uint8Array(0);
