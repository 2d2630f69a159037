import {
  composeSimilarity,
  greatestDisplacement,
  invertSimilarity,
  type Similarity,
} from '../../base/geometry/similarity';
import { median } from '../../base/numeric/quantile';
import type { Run } from '../../report/types';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { log, exp } = Math;

/** Frames of a camera that goes far which show much the same, with where the picture of the one in their middle lies in each. */
export interface Stretch {
  run: Run;
  /** Source pixels, one for each frame of the run; null where the camera was not followed. */
  poses: (Similarity | null)[];
  /** The frame in their middle. */
  middle: number;
}

/**
 * Cuts a take into stretches within which the picture lies no further than `far` from that of its middle, source pixels;
 * each begins within the one before it.
 * @param poses camera movement against one frame, source pixels; null where unknown
 */
export function stretchesOf(
  poses: readonly (Similarity | null)[],
  { width, height }: { width: number; height: number },
  far: number,
): Stretch[] {
  const known = poses.flatMap((p, f) => (p ? [f] : []));
  const apart = (a: number, b: number) => greatestDisplacement(poses[a]!, poses[b]!, width, height);
  const out: Stretch[] = [];
  for (let k = 0; k < known.length;) {
    const start = known[k];
    let end = k,
      next = -1,
      middle = k;
    // However fast it goes, two frames beside each other belong together.
    while (end + 1 < known.length && (end === k || apart(start, known[end + 1]) <= 2 * far)) {
      end++;
      if (apart(start, known[end]) <= far) middle = end;
      else if (next < 0) next = end;
    }
    out.push(seenFrom(known[middle], { start, end: known[end] }, poses));
    if (end === known.length - 1) break;
    k = next < 0 ? end : next;
  }
  return out;
}

/** A stretch with the frames before and after it in which the picture lies no further than `far` from that of its middle. */
export function widened(
  { run, middle }: Stretch,
  poses: readonly (Similarity | null)[],
  { width, height }: { width: number; height: number },
  far: number,
): Stretch {
  const own = poses[middle]!;
  const near = (f: number) => !!poses[f] && greatestDisplacement(poses[f], own, width, height) <= far;
  let { start, end } = run;
  while (near(start - 1)) start--;
  while (near(end + 1)) end++;
  return seenFrom(middle, { start, end }, poses);
}

/** A run as the frame in its middle sees it. */
function seenFrom(middle: number, run: Run, poses: readonly (Similarity | null)[]): Stretch {
  const back = invertSimilarity(poses[middle]!);
  return { run, poses: poses.slice(run.start, run.end + 1).map((p) => p && composeSimilarity(p, back)), middle };
}

/** Values of the frames of a stretch, each against some value of that stretch. */
export interface PartValues {
  start: number;
  values: readonly (number | null)[];
}

/**
 * One path out of those of stretches, by the frames that follow each other's stretches have in common; null from where
 * there are none. @param factors whether values are multiples of what each stretch is read against, or differences from it
 */
export function chained(parts: readonly PartValues[], count: number, factors: boolean): (number | null)[] {
  const out: (number | null)[] = Array.from({ length: count }, () => null);
  const read = (v: number | null) => (v === null ? null : !factors ? v : v > 0 ? log(v) : null);
  parts.forEach(({ start, values }, n) => {
    const own = values.map(read);
    const gaps = own.flatMap((v, k) => (v === null || out[start + k] === null ? [] : [out[start + k]! - v]));
    if (n > 0 && gaps.length === 0 && out.some((v) => v !== null)) return;
    const gap = gaps.length ? median(gaps) : 0;
    own.forEach((v, k) => {
      out[start + k] ??= v === null ? null : v + gap;
    });
  });
  return factors ? out.map((v) => (v === null ? null : exp(v))) : out;
}
