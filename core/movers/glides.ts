import type { Run } from '../report/types';
import { unserved, type HeldLine, type Together } from './moving';
import type { SeamLine } from './seam';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, floor, hypot, max, min } = Math;

/** A line that moves evenly from one shape into another. */
export interface Glide<P = [number, number]> extends Run {
  /** Where it is in the first frame of the run and in the last; the same number of points in both. */
  from: P[];
  to: P[];
}

/** The same between two lines of a shot, small pixels, with twice the way from it to whoever is nearest across it. */
export interface LineGlide extends Glide {
  upright: boolean;
  first: boolean;
  feather: number;
}

/** Points by which a line is drawn while it moves. */
const POINTS = 33;
/** A line moves over so many frames to each side of the first frame of the next at most: the widest of these that serves. */
const WINDOWS = [24, 16, 10, 6, 3];
/** Room that it keeps to each side, small pixels: the widest of these. */
const ROOM = [12, 6, 2];

/** Where a line that moves evenly is at a frame of its run. */
export function glideAt<P extends readonly [number, number]>(
  { start, end, from, to }: Glide<P>,
  frame: number,
): [number, number][] {
  const share = end > start ? (frame - start) / (end - start) : 1;
  return from.map(([x, y], k) => [x + share * (to[k][0] - x), y + share * (to[k][1] - y)]);
}

/**
 * How a line that must change its place moves from one to the next: evenly, between two key frames, wherever everybody
 * stays on their side of it on the way.
 * @param base the line of all other frames @param held those that take over, in order
 */
export function glidesBetween(together: Together, base: SeamLine, held: readonly HeldLine[]): LineGlide[] {
  const { start, end } = together.run;
  /** The shot's own line, as far as it serves frames from one on, a step at a time. */
  const own = (first: number, step: 1 | -1, most: number): HeldLine => {
    let n = 0;
    const served = (f: number) => unserved(together, base, { start: f, end: f }).length === 0;
    while (n < min(most, 2 * WINDOWS[0]) && served(first + n * step)) n++;
    return { run: { start: step > 0 ? first : first - n + 1, end: step > 0 ? first + n - 1 : first }, line: base };
  };
  return held.flatMap((h, k) => {
    const before = held[k - 1]?.run.end ?? start - 1,
      after = held[k + 1]?.run.start ?? end + 1;
    const follows = before === h.run.start - 1 && k > 0;
    const comes = follows ? held[k - 1] : own(h.run.start - 1, -1, room(h.run.start - 1 - before, k === 0));
    const goes =
      after === h.run.end + 1 ? null : own(h.run.end + 1, 1, room(after - h.run.end - 1, k === held.length - 1));
    return [glide(together, comes, h), goes && glide(together, h, goes)].filter((g): g is LineGlide => g !== null);
  });
}

/** Frames of the shot's own line that one change of place may use: half of those to the next one. */
const room = (frames: number, alone: boolean) => (alone ? frames : floor(frames / 2));

function glide(together: Together, a: HeldLine, b: HeldLine): LineGlide | null {
  const { upright, first } = a.line;
  if (upright !== b.line.upright || first !== b.line.first) return null;
  const [from, to] = [evenly(a.line, POINTS), evenly(b.line, POINTS)];
  // Half of each is left to the next change of place.
  const longest = min(...[a, b].map(({ run }) => floor((run.end - run.start + 1) / 2)));
  const windows = [...new Set(WINDOWS.map((w) => min(w, longest)))].filter((w) => w >= 2);
  for (const away of ROOM) {
    for (const w of windows) {
      const run = { start: b.run.start - w, end: b.run.start + w - 1, from, to };
      let frame = run.start;
      while (frame <= run.end && serves(together, { points: glideAt(run, frame), upright, first }, frame, away))
        frame++;
      if (frame > run.end) return { ...run, upright, first, feather: 2 * away };
    }
  }
  return null;
}

/** Whether everybody stays on their side of a line in a frame, so far from it across. */
function serves(together: Together, line: Pick<SeamLine, 'points' | 'upright' | 'first'>, frame: number, away: number) {
  return [-away, away].every((by) => {
    const points = line.points.map(([x, y]): [number, number] => (line.upright ? [x + by, y] : [x, y + by]));
    return unserved(together, { ...line, points }, { start: frame, end: frame }).length === 0;
  });
}

/** A line by so many points, evenly far apart along it, from its end at the top (at the left). */
function evenly({ points, upright }: SeamLine, count: number): [number, number][] {
  const k = upright ? 1 : 0;
  const way = points[0][k] <= points[points.length - 1][k] ? points : [...points].reverse();
  const reached = [0];
  for (let i = 1; i < way.length; i++)
    reached.push(reached[i - 1] + hypot(way[i][0] - way[i - 1][0], way[i][1] - way[i - 1][1]));
  const long = reached[reached.length - 1];
  let i = 0;
  return Array.from({ length: count }, (_, n) => {
    const at = (long * n) / (count - 1);
    while (i + 2 < way.length && reached[i + 1] < at) i++;
    const step = max(1e-9, reached[i + 1] - reached[i]),
      share = min(1, abs(at - reached[i]) / step);
    return [way[i][0] + share * (way[i + 1][0] - way[i][0]), way[i][1] + share * (way[i + 1][1] - way[i][1])];
  });
}
