import { UnusableMedia } from './unusable';
import type { Against, MeasuredTake } from './measured-take';
import { barHeight, measureBars } from '../measures/bars/measure';
import type { BarsFound } from '../report/moment-types';
import { whoIsIn } from './who-is-in';

export interface BarsOptions {
  /** Width over height of the wide picture. */
  ratio: number;
  delivery?: { width: number; height: number };
  signal?: AbortSignal;
  onProgress?: (doing: string) => void;
}

/**
 * Where somebody steps over the bars of a wide picture.
 * @throws UnusableMedia when a file cannot be used, or the picture is as wide as asked for without bars
 */
export async function findBars(take: MeasuredTake, plate: Against | null, options: BarsOptions): Promise<BarsFound> {
  const { analysis, name } = take;
  const { probe, lock, unjudged } = analysis;
  const bar = barHeight(probe, options.ratio);
  if (bar < 1)
    throw new UnusableMedia(
      `"${name}" is ${probe.width} x ${probe.height}: a picture of ${options.ratio}:1 in it has no bars. Ask for a wider ratio.`,
      'ratio',
    );
  options.onProgress?.('outlining who is in');
  const who = await whoIsIn(take, plate, options.signal);
  const crop = lock.make_still_crop_pct;
  return { ...measureBars({ ...who, size: probe, bar }), still_crop_pct: crop, unjudged };
}
