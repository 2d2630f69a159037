import { eachRun } from '../../presence/bodies';
import type { Figure } from '../../presence/figures';
import type { Background } from '../../scene/background';
import { grown } from '../../base/image/mask';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { max, min, sqrt } = Math;

/** How far a thing that was put back may stand off, and how much about it belongs to its look, small pixels. */
const REACH_X = 24;
const REACH_Y = 12;
const ABOUT = 3;
/**
 * It is the same thing when the two pictures go together by this much (normalised cross-correlation), and so much
 * better than unshifted.
 */
const SAME = 0.8;
const BETTER = 0.1;
/** Less contrast than this, levels, is no look at all. */
const LEAST_SPREAD = 3;

/**
 * Whether what stands at a figure's place in the take stands a little to the side in the plate: a thing that was moved,
 * although at its own place one of the two pictures shows it more clearly.
 */
export function standsAside(figure: Figure, plate: Uint8Array, { width, height, luma }: Background): boolean {
  const own = new Uint8Array(width * height);
  eachRun([figure], width, (first, last) => own.fill(1, first, last + 1));
  const about = grown(own, width, height, ABOUT);
  const places: number[] = [];
  for (let i = 0; i < about.length; i++) if (about[i]) places.push(i);
  const still = likeness(places, luma, plate, width, height, 0, 0);
  const wanted = max(SAME, still + BETTER);
  for (let dy = -REACH_Y; dy <= REACH_Y; dy++)
    for (let dx = -REACH_X; dx <= REACH_X; dx++)
      if (likeness(places, luma, plate, width, height, dx, dy) > wanted) return true;
  return false;
}

/** Normalised cross-correlation of the take's pixels with the plate's so much further on; 0 where too few or too plain. */
function likeness(
  places: readonly number[],
  take: Float32Array,
  plate: Uint8Array,
  width: number,
  height: number,
  dx: number,
  dy: number,
): number {
  let n = 0,
    a = 0,
    b = 0,
    aa = 0,
    bb = 0,
    ab = 0;
  for (const i of places) {
    const x = (i % width) + dx,
      y = ((i / width) | 0) + dy;
    if (x < 0 || y < 0 || x >= width || y >= height) continue;
    const p = take[i],
      q = plate[y * width + x];
    n++;
    a += p;
    b += q;
    aa += p * p;
    bb += q * q;
    ab += p * q;
  }
  if (n < 0.7 * places.length) return 0;
  const va = aa / n - (a / n) ** 2,
    vb = bb / n - (b / n) ** 2;
  if (min(va, vb) < LEAST_SPREAD * LEAST_SPREAD) return 0;
  return (ab / n - (a / n) * (b / n)) / sqrt(va * vb);
}
