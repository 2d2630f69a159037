import { median } from '../../base/numeric/quantile';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { max } = Math;

/** Heights are read over so many frames to both sides: a single one may be misread. */
const BESIDE = 2;

/**
 * The line of a mimed edge in every frame, from heights that are known in some of them: the middle one of those near by;
 * between known ones it goes evenly. Null before the first and after the last.
 */
export function handsLine(heights: readonly (number | null)[]): (number | null)[] {
  const steady = heights.map((h, f) => {
    const near = heights.slice(max(0, f - BESIDE), f + BESIDE + 1).filter((v): v is number => v !== null);
    return h === null || near.length === 0 ? null : median(near);
  });
  const out = [...steady];
  for (let f = 0, last = -1; f < out.length; f++) {
    if (steady[f] === null) continue;
    for (let k = last + 1; last >= 0 && k < f; k++)
      out[k] = steady[last]! + ((steady[f]! - steady[last]!) * (k - last)) / (f - last);
    last = f;
  }
  return out;
}
