import { shrink, type Plane } from '../../base/image/plane';
import type { Patch } from './patches';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { ceil, floor, max, min, round, sqrt } = Math;

/** A patch seen from afar: the means of blocks of pixels round it. */
interface CoarsePatch {
  left: number;
  top: number;
  shape: Float32Array;
  energy: number;
}

/** Side of a spot in the small picture, and how many spots vote at most. */
const SIDE = 8;
const MOST_SPOTS = 150;

/**
 * Finds a sudden large shift of the whole picture by letting many spots vote, so that people in front do not decide it.
 * Works on a picture several times smaller.
 */
export class CoarseFinder {
  private readonly spots: CoarsePatch[] = [];
  private small: Float32Array | undefined;

  /** @param factor how many measuring pixels make one of the small picture */
  constructor(
    reference: Plane,
    patches: readonly Patch[],
    private readonly factor: number,
  ) {
    const small = shrink(reference, factor);
    const step = max(1, patches.length / MOST_SPOTS);
    for (let k = 0; k < patches.length; k += step) {
      const patch = patches[floor(k)];
      const left = round((patch.left + patch.size / 2) / factor - SIDE / 2);
      const top = round((patch.top + patch.size / 2) / factor - SIDE / 2);
      if (left < 0 || top < 0 || left + SIDE > small.width || top + SIDE > small.height) continue;
      const shape = new Float32Array(SIDE * SIDE);
      const energy = cut(small, left, top, shape);
      if (energy > SIDE * SIDE * 2) this.spots.push({ left, top, shape, energy });
    }
  }

  /**
   * The shift most spots agree on, in measuring pixels, or null.
   * @param reach how far to look in each direction round (nearX, nearY), in measuring pixels
   */
  find(plane: Plane, nearX: number, nearY: number, reach: number): { dx: number; dy: number; share: number } | null {
    const small = shrink(plane, this.factor, this.small);
    this.small = small.data as Float32Array;
    const r = ceil(reach / this.factor);
    const baseX = round(nearX / this.factor);
    const baseY = round(nearY / this.factor);
    const side = 2 * r + 1;
    const votes = new Float32Array(side * side);
    let voters = 0;
    for (const spot of this.spots) {
      let best = 0.6;
      let bestAt = -1;
      for (let v = -r; v <= r; v++) {
        const top = spot.top + baseY + v;
        if (top < 0 || top + SIDE > small.height) continue;
        for (let u = -r; u <= r; u++) {
          const left = spot.left + baseX + u;
          if (left < 0 || left + SIDE > small.width) continue;
          const likeness = correlate(small, left, top, spot);
          if (likeness > best) {
            best = likeness;
            bestAt = (v + r) * side + u + r;
          }
        }
      }
      if (bestAt >= 0) {
        votes[bestAt]++;
        voters++;
      }
    }
    if (voters < 4) return null;
    let top = 0;
    let at: [number, number] = [0, 0];
    for (let v = 0; v < side; v++) {
      for (let u = 0; u < side; u++) {
        let sum = 0,
          sx = 0,
          sy = 0;
        for (let j = max(0, v - 1); j <= min(side - 1, v + 1); j++) {
          for (let i = max(0, u - 1); i <= min(side - 1, u + 1); i++) {
            const w = votes[j * side + i];
            sum += w;
            sx += w * i;
            sy += w * j;
          }
        }
        if (sum > top) {
          top = sum;
          at = [sx / sum, sy / sum];
        }
      }
    }
    return {
      dx: (baseX + at[0] - r) * this.factor,
      dy: (baseY + at[1] - r) * this.factor,
      share: top / max(1, this.spots.length),
    };
  }
}

function cut(plane: Plane, left: number, top: number, out: Float32Array): number {
  let sum = 0;
  for (let y = 0; y < SIDE; y++) {
    for (let x = 0; x < SIDE; x++) {
      const v = plane.data[(top + y) * plane.width + left + x];
      out[y * SIDE + x] = v;
      sum += v;
    }
  }
  const mean = sum / out.length;
  let energy = 0;
  for (let i = 0; i < out.length; i++) {
    out[i] -= mean;
    energy += out[i] * out[i];
  }
  return energy;
}

/** Normalised correlation of a spot (whose mean is 0) with the window at (left, top). */
function correlate(plane: Plane, left: number, top: number, spot: CoarsePatch): number {
  const { data, width } = plane;
  const shape = spot.shape;
  let sum = 0,
    square = 0,
    product = 0,
    k = 0;
  for (let y = 0; y < SIDE; y++) {
    const row = (top + y) * width + left;
    for (let x = 0; x < SIDE; x++, k++) {
      const v = data[row + x];
      sum += v;
      square += v * v;
      product += shape[k] * v;
    }
  }
  const energy = square - (sum * sum) / shape.length;
  return energy < 1 ? 0 : product / sqrt(energy * spot.energy);
}

/** A spot that looks less like the one at its place than this has changed; less contrast than this, levels squared, is none. */
const ALIKE = 0.8;
const LEAST_CONTRAST = 4;
/** The picture changes as a whole when so many of its spots with contrast do. */
const NEARLY_ALL = 0.75;
/** Pixels of a picture shrunk for that, across. */
const ACROSS = 120;

/** Whether a picture differs from another nearly everywhere: no part of it with contrast has stayed where it was. */
export function changesAsAWhole(before: Plane, now: Plane): boolean {
  const factor = max(1, round(now.width / ACROSS));
  const [a, b] = [shrink(before, factor), shrink(now, factor)];
  const shape = new Float32Array(SIDE * SIDE);
  let spots = 0,
    changed = 0;
  for (let top = 0; top + SIDE <= a.height; top += SIDE) {
    for (let left = 0; left + SIDE <= a.width; left += SIDE) {
      const energy = cut(a, left, top, shape);
      if (energy < LEAST_CONTRAST * SIDE * SIDE) continue;
      spots++;
      if (correlate(b, left, top, { left, top, shape, energy }) < ALIKE) changed++;
    }
  }
  return spots >= 6 && changed >= NEARLY_ALL * spots;
}
