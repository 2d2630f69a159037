import { boxMean } from '../image/regions';
import { stopsTable, type Transfer } from '../image/transfer';
import { eachRun } from '../presence/bodies';
import type { Figure } from '../presence/figures';
import { between } from '../scene/gauge';
import type { Background } from '../scene/background';
import type { SteadyPicture } from '../scene/steady-reader';

/** Light is compared over squares of so many pixels to each side. */
const REACH = 3;

/**
 * Stops by which a picture laid on a background is brighter, at each small pixel, over a few of them; NaN where it shows
 * nothing, or something stands in one of the two.
 */
export function lightBetween(
  { picture, figures }: { picture: SteadyPicture; figures: readonly Pick<Figure, 'rows'>[] },
  { background, curve }: { background: Background; curve: Transfer },
): Float32Array {
  const { width, height, luma } = background;
  const stops = stopsTable(curve);
  const usable = picture.seen?.slice() ?? new Uint8Array(width * height).fill(1);
  eachRun(figures, width, (first, last) => usable.fill(0, first, last + 1));
  const apart = Float32Array.from(luma, (v, i) => (usable[i] ? stops[picture.luma[i]] - between(stops, v) : 0));
  const sum = boxMean(apart, width, height, REACH, new Float32Array(luma.length)),
    share = boxMean(usable, width, height, REACH, new Float32Array(luma.length));
  return sum.map((s, i) => (share[i] > 0.3 ? s / share[i] : NaN));
}
