import type { Plane } from './plane';
import { median, quantile } from '../numeric/quantile';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { SQRT2, abs, max, min, sqrt } = Math;

/** Steeper places, levels from pixel to pixel, say more of small shifts than of grain. */
const FLAT = 5;
/** Light may differ from block to block, pixels a side. */
const BLOCK = 40;
/** Rounding alone leaves this much, levels. */
const ROUNDING = 0.29;
const LEAST_PIXELS = 200;

/**
 * Spread of the difference of two pictures of one place where they are flat, levels, whatever their light; null when
 * too little is flat.
 */
export function spreadBetween(a: Plane, b: Plane): number | null {
  const { width, height } = a;
  const p = a.data,
    q = b.data;
  const spreads: number[] = [];
  for (let top = 1; top + BLOCK < height; top += BLOCK) {
    for (let left = 1; left + BLOCK < width; left += BLOCK) {
      const seen: number[] = [];
      for (let y = top; y < top + BLOCK; y += 2) {
        for (let i = y * width + left, end = i + BLOCK; i < end; i += 2) {
          if (
            p[i] < 8 ||
            p[i] > 247 ||
            abs(p[i + 1] - p[i - 1]) > 2 * FLAT ||
            abs(p[i + width] - p[i - width]) > 2 * FLAT
          )
            continue;
          seen.push(p[i] - q[i]);
        }
      }
      if (seen.length < LEAST_PIXELS) continue;
      const middle = median(seen);
      spreads.push(sqrt(seen.reduce((s, d) => s + min(400, (d - middle) ** 2), 0) / seen.length));
    }
  }
  return spreads.length >= 4 ? quantile(spreads, 0.35) : null;
}

/**
 * Grain of a take over that of a plate, from two of the take's frames that lie far apart in time and the plate, all
 * laid on each other. Null when too little of the pictures is flat. A plate whose grain does not show counts as
 * rounding.
 */
export function grainRatio(one: Plane, other: Plane, plate: Plane): number | null {
  const between = spreadBetween(one, other),
    against = spreadBetween(one, plate);
  if (between === null || against === null) return null;
  const take = max(ROUNDING, between / SQRT2);
  const left = sqrt(max(ROUNDING ** 2, against ** 2 - take ** 2));
  return take / left;
}
