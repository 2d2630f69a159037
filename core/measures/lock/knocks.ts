import { median } from '../../base/numeric/quantile';
import { applySimilarity, cornersAndCentre, type Similarity } from '../../base/geometry/similarity';
import type { Knock } from '../../report/types';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { floor, hypot, max, round } = Math;

type Place = Float64Array;

/** Longest thing that still counts as a knock, in seconds; beyond it the camera is being moved. */
const LONGEST_S = 4;
const WINDOW_S = 0.5;

/**
 * Sudden movements and how they settled.
 *
 * A knock starts where the picture moves from one frame to the next far more than it otherwise does (several times the
 * median, and clearly more than the measuring error), and ends where it is quiet again.
 * @param poses movement against the reference, source pixels
 * @param sigma one standard deviation of a corner, source pixels
 */
export function findKnocks(
  poses: readonly (Similarity | null)[],
  width: number,
  height: number,
  fps: number,
  sigma: number,
): Knock[] {
  const points = cornersAndCentre(width, height);
  const places = poses.map((p) => (p ? Float64Array.from(points.flatMap(([x, y]) => applySimilarity(p, x, y))) : null));
  const speed = new Float64Array(poses.length);
  const speeds: number[] = [];
  for (let f = 1; f < poses.length; f++) {
    const a = places[f - 1];
    const b = places[f];
    if (!a || !b) continue;
    speed[f] = apart(a, b);
    speeds.push(speed[f]);
  }
  if (speeds.length < 8) return [];
  speeds.sort((a, b) => a - b);
  const usual = speeds[floor(speeds.length / 2)];
  const finest = width / 1920;
  const sudden = max(6 * usual, 0.3 * finest, 6 * sigma);
  const quiet = max(2.5 * usual, 0.1 * finest, 2.5 * sigma);
  const window = max(2, round(WINDOW_S * fps));
  const patience = max(2, round(0.24 * fps));

  const knocks: Knock[] = [];
  let f = 1;
  while (f < poses.length) {
    if (speed[f] <= sudden) {
      f++;
      continue;
    }
    let start = f;
    while (start > 1 && speed[start - 1] > quiet) start--;
    let end = f;
    for (let k = f + 1, calm = 0; k < poses.length && calm < patience; k++) {
      if (speed[k] > quiet) {
        end = k;
        calm = 0;
      } else {
        calm++;
      }
    }
    const before = middle(places, start - window, start - 1);
    const after = middle(places, end + 1, end + window);
    if (before && (end - start + 1) / fps <= LONGEST_S) {
      let peak = 0;
      for (let k = start; k <= end; k++) if (places[k]) peak = max(peak, apart(places[k]!, before));
      const rest = after ? apart(after, before) : apart(places[end] ?? before, before);
      knocks.push({ start, end, peak_px: peak, rest_px: rest });
    }
    f = end + 1;
  }
  return knocks;
}

function apart(a: Place, b: Place): number {
  let worst = 0;
  for (let i = 0; i < a.length; i += 2) worst = max(worst, hypot(a[i] - b[i], a[i + 1] - b[i + 1]));
  return worst;
}

/** The middle place over a run of frames, number by number; null when none was measured. */
function middle(places: readonly (Place | null)[], start: number, end: number): Place | null {
  const seen = places.slice(max(0, start), max(0, end + 1)).filter((p): p is Place => p !== null);
  if (seen.length === 0) return null;
  return Float64Array.from(seen[0], (_, i) => median(seen.map((p) => p[i])));
}
