import { boxMean, findRegions, type Region } from '../base/image/regions';
import type { SampleSums } from './sample-sums';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { floor, max, min } = Math;

/** The take is divided into so many spells; what moves by itself does so in most of them. */
const SPELLS = 6;
const LEAST_SPELLS = 4;
/** A pixel is back within this share of what counts as away. */
const BACK = 0.55;
/** And a pixel leaves its usual value so often at least, on the mean over its neighbourhood. */
const LEAST_TIMES = 0.3;
const AROUND = 3;
/** A restless region is at least this share of the picture. */
const LEAST_AREA = 0.0008;

/**
 * Finds what moves by itself all the time (foliage, water, screens), and how far its values range.
 *
 * Somebody who walks by or stands changes a pixel for one spell; leaves, waves and glints change it and let it come
 * back again and again, all through the take. `reach` is how far a pixel's usual values lie from `middle`, levels, and
 * `slack` how far an edge may stray by itself.
 */
export function findRestless(
  sums: SampleSums,
  middle: Float32Array,
  reach: Float32Array,
  slack: Float32Array,
  width: number,
  height: number,
): { restless: Uint8Array; up: Float32Array; down: Float32Array } {
  const { even } = sums;
  const pixels = width * height,
    count = even.length;
  const restless = new Uint8Array(pixels),
    up = new Float32Array(pixels),
    down = new Float32Array(pixels);
  if (count < 2 * SPELLS) return { restless, up, down };
  // Back only when well inside: what lies near the bound all along is no coming and going. Away for a whole spell is
  // somebody standing there.
  const {
    away,
    times,
    when: spells,
  } = sums.countLeaving(
    middle,
    reach.map((r, i) => 1.6 * r + 1 + slack[i]),
    BACK,
    SPELLS,
  );
  const often = boxMean(times, width, height, AROUND, new Float32Array(pixels));
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      if (often[i] < LEAST_TIMES) continue;
      let all = 0;
      for (let v = max(0, y - AROUND); v <= min(height - 1, y + AROUND); v++)
        for (let u = max(0, x - AROUND); u <= min(width - 1, x + AROUND); u++) all |= spells[v * width + u];
      let n = 0;
      for (; all; all &= all - 1) n++;
      if (n >= LEAST_SPELLS) restless[i] = 1;
    }
  }
  const kept = findRegions(restless, width, height, max(10, LEAST_AREA * pixels)).filter(
    (region) => !isSomebody(region, away, width),
  );
  restless.fill(0);
  const values = new Uint8Array(count);
  for (const region of kept) {
    for (const i of region.pixels) {
      restless[i] = 1;
      for (let k = 0; k < count; k++) values[k] = even[k][i];
      values.sort();
      // Glints and gaps between leaves have long tails on one side: each side has its own spread, and must hold its tail.
      up[i] = (values[floor(0.98 * (count - 1))] - middle[i]) / 2.2;
      down[i] = (middle[i] - values[floor(0.02 * (count - 1))]) / 2.2;
    }
  }
  widen(up, restless, width, height);
  widen(down, restless, width, height);
  return { restless, up, down };
}

/**
 * What is away from its usual value at one time is a body rather than leaves when so much of it lies among its like:
 * so many of 25 pixels.
 */
const SOLID = 0.45;
const DENSE = 17;
/** A screen changes as a whole: then most of the region is away at once. */
const AT_ONCE = 0.6;
/** Whoever comes and goes leaves the region as it was for this share of the samples, */
const CALM = 0.06;
/** and crosses it: so often this share of it is hidden, and as much is not, each in one piece. */
const CROSSING = 3;
const EACH = 0.1;

/**
 * Whether a region is restless because somebody is in it: a compact part of it changes at a time, now here and now
 * there; or something large comes, stirs, and goes, its outline passing over the region both times.
 */
function isSomebody(region: Region, away: Uint8Array[], width: number): boolean {
  const inside = region.pixels;
  let all = 0,
    core = 0,
    shares = 0,
    looks = 0,
    calm = 0,
    crossing = 0;
  for (const mask of away) {
    let out = 0,
      deep = 0,
      free = 0;
    for (const i of inside) {
      let near = 0;
      for (let row = i - 2 * width - 2; row <= i + 2 * width - 2; row += width)
        near += (mask[row] | 0) + (mask[row + 1] | 0) + (mask[row + 2] | 0) + (mask[row + 3] | 0) + (mask[row + 4] | 0);
      if (mask[i]) out++;
      if (mask[i] && near >= DENSE) deep++;
      if (near === 0) free++;
    }
    all += out;
    core += deep;
    if (out < EACH * inside.length) calm++;
    if (min(deep, free) > EACH * inside.length) crossing++;
    if (out > 0.02 * inside.length) {
      shares += out / inside.length;
      looks++;
    }
  }
  if (looks === 0 || core <= SOLID * all) return false;
  return shares / looks < AT_ONCE || (calm > CALM * away.length && crossing >= CROSSING);
}

/** A tail seen beside a pixel may reach it too: each takes the greatest of its neighbourhood. */
function widen(spread: Float32Array, restless: Uint8Array, width: number, height: number): void {
  const before = spread.slice();
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      if (!restless[i]) continue;
      for (let v = max(0, y - AROUND); v <= min(height - 1, y + AROUND); v++) {
        for (let u = max(0, x - AROUND); u <= min(width - 1, x + AROUND); u++)
          spread[i] = max(spread[i], before[v * width + u]);
      }
    }
  }
}
