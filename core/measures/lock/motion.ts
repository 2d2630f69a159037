import {
  applySimilarity,
  cornersAndCentre,
  greatestDisplacement,
  type Similarity,
} from '../../base/geometry/similarity';
import { median } from '../../base/numeric/quantile';
import type { LockMeasure, Run } from '../../report/types';
import { middlePose } from './usable';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { ceil, hypot, max, min, round, sqrt } = Math;

type Poses = readonly (Similarity | null)[];
interface Size {
  width: number;
  height: number;
  fps: number;
}

/** Movement is looked at over this long, s. */
const STEP_S = 0.2;
/** A camera moves when the picture goes this far in that time, for one 1920 wide, or by so many standard deviations. */
const LEAST_PX = 0.6;
const SIGMAS = 5;
/** It moves all the time when it does so in this share of the take. */
const ALL_THE_TIME = 0.4;
const NOW_AND_THEN = 0.1;
/** A pan goes one way: of what it goes in a second this share remains. A hand goes to and fro. */
const STRAIGHT = 0.7;
/** A move on purpose is smooth: it leaves a straight line within so long, s, by no more than this share of the way. A hand trembles. */
const TREMBLE_S = 0.12;
const TREMBLE = 0.08;
/** Lengths, s, for which the steadiest run is looked for. */
const LENGTHS = [0.5, 1, 2, 3, 5, 8, 13, 21];

/** Where a frame lies in a piece of the take that hangs together, source pixels; null where it was not followed. */
export type Piece = { island: number; pose: Similarity } | null;

/**
 * How the camera moves over a run: by hand or on purpose, and how fast.
 * @param sigma one standard deviation of a corner, source pixels
 */
export function motionOf(
  pieces: readonly Piece[],
  { width, height, fps }: Size,
  sigma: number,
): Pick<LockMeasure, 'handheld' | 'moves' | 'speed_px_per_s'> {
  const step = max(1, round(STEP_S * fps));
  const least = max((LEAST_PX * width) / 1920, SIGMAS * sigma);
  const corners = cornersAndCentre(width, height);
  const places = pieces.map((p) => p && corners.map(([x, y]) => applySimilarity(p.pose, x, y)));
  const speeds: number[] = [];
  let steps = 0;
  const ways: ([number, number][] | null)[] = [];
  for (let f = 0; f + step < pieces.length; f++) {
    const same = pieces[f]?.island === pieces[f + step]?.island;
    const [a, b] = same ? [places[f], places[f + step]] : [null, null];
    const way = a && b && b.map(([x, y], k): [number, number] => [x - a[k][0], y - a[k][1]]);
    ways.push(way);
    if (!way) continue;
    steps++;
    const far = max(...way.map(([x, y]) => hypot(x, y)));
    if (far > least) speeds.push((far * fps) / step);
  }
  const share = steps ? speeds.length / steps : 0;
  const moves = share > ALL_THE_TIME;
  const second = max(2, round(fps / step));
  const straights: number[] = [];
  for (let f = 0; f + (second - 1) * step < ways.length; f += step) {
    const parts = Array.from({ length: second }, (_, k) => ways[f + k * step]);
    if (parts.some((p) => !p)) continue;
    const sum = corners.map((_, c): [number, number] => [
      parts.reduce((s, p) => s + p![c][0], 0),
      parts.reduce((s, p) => s + p![c][1], 0),
    ]);
    const whole = parts.reduce((s, p) => s + norm(p!), 0);
    if (whole > 0) straights.push(norm(sum) / whole);
  }
  const straight = straights.length ? median(straights) : 1;
  return {
    moves,
    handheld:
      moves && (straight < STRAIGHT || trembleOf(pieces, places, max(1, round(TREMBLE_S * fps)), sigma) > TREMBLE),
    speed_px_per_s: share > NOW_AND_THEN ? median(speeds) : null,
  };
}

/** How far the picture leaves a straight line, as a share of the way it goes, less what error explains; the middle of all frames. */
function trembleOf(pieces: readonly Piece[], places: readonly (Corners | null)[], step: number, sigma: number): number {
  const shares: number[] = [];
  for (let f = step; f + step < pieces.length; f++) {
    const [a, b, c] = [places[f - step], places[f], places[f + step]];
    const island = pieces[f]?.island;
    if (!a || !b || !c || pieces[f - step]?.island !== island || pieces[f + step]?.island !== island) continue;
    const off = norm(
      b.map(([x, y], k): [number, number] => [x - (a[k][0] + c[k][0]) / 2, y - (a[k][1] + c[k][1]) / 2]),
    );
    const way = norm(c.map(([x, y], k): [number, number] => [x - a[k][0], y - a[k][1]]));
    const error = 2 * sigma * sqrt(a.length);
    if (way > error) shares.push(sqrt(max(0, off * off - error * error)) / way);
  }
  return shares.length ? median(shares) : 0;
}

type Corners = readonly [number, number][];

const norm = (v: readonly [number, number][]) => sqrt(v.reduce((s, [x, y]) => s + x * x + y * y, 0));

/** The steadiest runs of some lengths within a run, the shortest first. */
export function steadiestRuns(poses: Poses, { width, height, fps }: Size, within: Run): LockMeasure['steadiest'] {
  return LENGTHS.flatMap((seconds) => {
    const frames = max(2, round(seconds * fps));
    if (within.end - within.start + 1 < frames) return [];
    let best: LockMeasure['steadiest'][number] | null = null;
    // A run an eighth of its length further on is nearly the same.
    for (let start = within.start; start + frames - 1 <= within.end; start += max(1, ceil(frames / 8))) {
      const own = poses.slice(start, start + frames);
      const every = max(1, ceil(frames / 60));
      const some = own.filter((_, k) => k % every === 0);
      const middle = own.every((p) => p) ? middlePose(some) : null;
      if (!middle) continue;
      const peak = max(...some.map((p) => greatestDisplacement(p!, middle, width, height)));
      if (!best || peak < best.peak_px)
        best = { seconds, run: { start, end: min(within.end, start + frames - 1) }, peak_px: peak };
    }
    return best ? [best] : [];
  });
}
