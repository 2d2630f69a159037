import {
  composeSimilarity,
  greatestDisplacement,
  invertSimilarity,
  type Similarity,
} from '../../base/geometry/similarity';
import { median } from '../../base/numeric/quantile';
import type { Run } from '../../report/types';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { floor, max, min, round } = Math;

type Poses = readonly (Similarity | null)[];

/** A useless head or tail is at most so long, and at most this share of the take. */
const LONGEST_S = 2;
const LONGEST_SHARE = 0.2;
/** What moves at a take's ends so many times farther than all that lies between them is no part of it. */
const FARTHER = 3;
/** And at least so far, for a picture 1920 wide, or by so many standard deviations. */
const LEAST_PX = 0.35;
const SIGMAS = 4;
/** Calm for longer than this, the take has begun. */
const CALM_S = 0.4;

/** The middle of some poses, number by number; null when none is known. */
export function middlePose(poses: Poses): Similarity | null {
  const seen = poses.filter((p): p is Similarity => p !== null);
  if (seen.length === 0) return null;
  return {
    dx: median(seen.map((p) => p.dx)),
    dy: median(seen.map((p) => p.dy)),
    rotation: median(seen.map((p) => p.rotation)),
    scale: median(seen.map((p) => p.scale)),
  };
}

/**
 * The take less a head and a tail in which the camera is touched, taken down, or sees something else: there the picture
 * lies far from where it lies all the rest of the time, or could not be followed. Whatever happens between them belongs
 * to the take.
 * @param poses movement against any one frame, source pixels
 * @param sigma one standard deviation of a corner, source pixels
 * @returns null when nothing was followed
 */
export function usableRun(
  poses: Poses,
  size: { width: number; height: number; fps: number },
  sigma: number,
): Run | null {
  const { width, height, fps } = size;
  const count = poses.length;
  if (!poses.some((p) => p)) return null;
  const most = floor(min(LONGEST_S * fps, LONGEST_SHARE * count));
  const inner = poses.slice(most, count - most);
  const middle = middlePose(inner);
  if (!middle || inner.filter((p) => p).length < inner.length / 2) return { start: 0, end: count - 1 };
  const away = (p: Similarity) => greatestDisplacement(p, middle, width, height);
  const reach = max(...inner.map((p) => (p ? away(p) : 0)));
  const bound = max(FARTHER * reach, (LEAST_PX * width) / 1920, SIGMAS * sigma);
  const calm = max(2, round(CALM_S * fps));
  const useless = (at: (k: number) => Similarity | null) => {
    let cut = 0;
    for (let k = 0; k < most && k - cut < calm; k++) {
      const p = at(k);
      if (!p || away(p) > bound) cut = k + 1;
    }
    return cut;
  };
  return { start: useless((k) => poses[k]), end: count - 1 - useless((k) => poses[count - 1 - k]) };
}

/** Movement against another frame. */
export function against(poses: Poses, reference: Similarity): (Similarity | null)[] {
  const back = invertSimilarity(reference);
  return poses.map((p) => p && composeSimilarity(p, back));
}
