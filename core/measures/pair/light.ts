import { boxMean } from '../../base/image/regions';
import { stopsTable, type Transfer } from '../../base/image/transfer';
import { eachRun } from '../../presence/bodies';
import type { Figure } from '../../presence/figures';
import { between } from '../../scene/gauge';
import type { Background } from '../../scene/background';
import type { SteadyPicture } from '../../scene/steady-reader';

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

/** A shadow that stays takes so much light at least, stops. */
const SHADE_STOPS = 0.14;
/** Between whoever throws it and where it can be read lie so many small pixels at most. */
const BRIDGE = 4;

/**
 * Who stands in one of two pictures from first to last, with the shadow that they throw all the while: what is as much
 * darker there than in the other, and hangs together with them.
 * @param darker stops by which the other picture is brighter, but for what all of it is; NaN where not known
 */
export function withShadow(standing: Uint8Array, darker: Float32Array, width: number, height: number): Uint8Array {
  const out = standing.slice();
  const queue: [number, number][] = [];
  standing.forEach((v, i) => v && queue.push([i, BRIDGE]));
  for (let k = 0; k < queue.length; k++) {
    const [i, left] = queue[k];
    const x = i % width,
      y = (i - x) / width;
    for (const [u, v] of [
      [x - 1, y],
      [x + 1, y],
      [x, y - 1],
      [x, y + 1],
    ]) {
      if (u < 0 || v < 0 || u >= width || v >= height) continue;
      const o = v * width + u;
      if (out[o]) continue;
      const unknown = Number.isNaN(darker[o]);
      if (unknown ? left > 0 : darker[o] > SHADE_STOPS) {
        out[o] = 1;
        queue.push([o, unknown ? left - 1 : BRIDGE]);
      }
    }
  }
  return out;
}
