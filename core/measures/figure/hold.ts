import { quantile } from '../../base/numeric/quantile';
import type { Drift } from '../../report/figure-types';
import type { Run } from '../../report/types';
import type { Placed } from '../../movers/track';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { ceil, floor, hypot, max, min } = Math;

type Track = readonly (Placed | null | undefined)[];

/** A thing's place in each frame: source pixels, degrees; null where it is not known. */
export interface PlacePath {
  x: (number | null)[];
  y: (number | null)[];
  turn: (number | null)[];
}

/** Speeds are read over so long, s. */
const OVER_S = 0.2;
/** Of the speeds that are read this one counts: the very fastest is grain. */
const FAST = 0.95;

/** How far a thing drifts over a run. @param size its length, source pixels @returns null where its place is known in hardly any frame */
export function driftOf({ x, y, turn }: PlacePath, run: Run, size: number, fps: number): Drift | null {
  const frames = Array.from({ length: run.end - run.start + 1 }, (_, k) => run.start + k).filter(
    (f) => x[f] !== null && y[f] !== null,
  );
  if (frames.length < 2) return null;
  const place = frames.map((f) => [x[f]!, y[f]!] as const);
  const middle = [
    quantile(
      place.map((p) => p[0]),
      0.5,
    ),
    quantile(
      place.map((p) => p[1]),
      0.5,
    ),
  ];
  const away = place.map(([a, b]) => hypot(a - middle[0], b - middle[1]));
  const px = widest(place);
  const turns = frames.flatMap((f) => turn[f] ?? []);
  const step = max(1, floor(OVER_S * fps));
  const speeds = frames.flatMap((f) => {
    const [a, b, u, v] = [x[f], y[f], x[f + step], y[f + step]];
    return f + step <= run.end && a !== null && b !== null && u !== null && v !== null && u !== undefined
      ? [(hypot(u - a, v - b) * fps) / step]
      : [];
  });
  return {
    px,
    share: px / max(1, size),
    frame: frames[away.indexOf(max(...away))],
    turn_deg: turns.length > 1 ? max(...turns) - min(...turns) : null,
    speed_px_per_s: speeds.length ? quantile(speeds, FAST) : (px * fps) / max(1, frames.length - 1),
  };
}

/** The widest of these ways across some places: as good as the farthest two of them. */
const WAYS = 36;

/** The distance of the two places that lie farthest apart, to half a per cent. */
function widest(places: readonly (readonly [number, number])[]): number {
  let most = 0;
  for (let k = 0; k < WAYS; k++) {
    const [c, s] = [Math.cos((Math.PI * k) / WAYS), Math.sin((Math.PI * k) / WAYS)];
    let [low, high] = [Infinity, -Infinity];
    for (const [x, y] of places) {
      const v = c * x + s * y;
      [low, high] = [min(low, v), max(high, v)];
    }
    most = max(most, high - low);
  }
  return most;
}

/** A jump, from the ground and back, takes at most so long, s. */
const JUMP_S = 2;
/** Feet are off the ground by so many pixels of the grid, and by this share of the figure's height, for so many frames. */
const OFF_PX = 3;
const OFF_SHARE = 0.03;
const OFF_FRAMES = 3;
/** In a jump all of them rises: the head by so much of what the feet do. Whoever goes behind something rises with the feet alone. */
const HEAD = 0.3;

/**
 * How far a figure is off the ground in each frame, source pixels; null where it is not known. The ground is where its
 * feet stand before and after.
 * @param factor source pixels for one pixel of the grid
 */
export function heightsOf(track: Track, fps: number, factor: number): (number | null)[] {
  const feet = track.map((p) => (p ? p.box.y + p.box.height : null));
  const heads = track.map((p) => (p ? p.box.y : null));
  const half = max(2, ceil((JUMP_S * fps) / 2));
  const [ground, stood] = [feet, heads].map((values) => filtered(filtered(values, half, max), half, min));
  return track.map((p, f) => {
    if (p === null) return null;
    if (!p || feet[f] === null || ground[f] === null) return null;
    const off = ground[f] - feet[f],
      up = (stood[f] ?? 0) - heads[f]!;
    const least = max(OFF_PX * factor, OFF_SHARE * p.box.height);
    return off > least && up > HEAD * off ? off : 0;
  });
}

/** Where nothing shows before or after, feet leave the ground so fast, heights of the figure a second: a walk is slower. */
const RISES = 0.3;

/** The runs in which a figure is off the ground and whole, its shadow left aside. */
export function liftedRuns(track: Track, heights: readonly (number | null)[], fps: number): Run[] {
  const out: Run[] = [];
  const isJump = (start: number, end: number) => {
    if (end - start + 1 < OFF_FRAMES) return false;
    if (track[start - 1] && track[end + 1]) return true;
    const tall = max(...track.slice(start, end + 1).map((p) => p?.box.height ?? 0));
    const own = heights.slice(start, end + 1).map((h) => h ?? 0);
    return ((max(...own) - min(...own)) * fps) / own.length > RISES * tall;
  };
  let start = -1;
  for (let f = 0; f <= track.length; f++) {
    const on = f < track.length && (heights[f] ?? 0) > 0 && track[f]?.touches.length === 0;
    if (on && start < 0) start = f;
    if (!on && start >= 0) {
      if (isJump(start, f - 1)) out.push({ start, end: f - 1 });
      start = -1;
    }
  }
  return out;
}

/** The greatest, or the least, of what is known around each value. */
function filtered(values: readonly (number | null)[], half: number, of: (...v: number[]) => number): (number | null)[] {
  return values.map((v, f) => {
    if (v === null) return null;
    let best = v;
    for (let k = max(0, f - half); k <= min(values.length - 1, f + half); k++) {
      const other = values[k];
      if (other !== null) best = of(best, other);
    }
    return best;
  });
}

/** Runs in which something is told by these numbers of some frames, each taken for the frames nearest to it. */
export function nearestOf(runs: readonly Run[], seen: readonly { frame: number; ok: boolean }[]): Run[] {
  return runs.flatMap((run) => {
    const own = seen.filter((s) => s.frame >= run.start && s.frame <= run.end);
    const out: Run[] = [];
    for (let f = run.start; own.length > 0 && f <= run.end; f++) {
      const near = own.reduce((a, b) => (Math.abs(b.frame - f) < Math.abs(a.frame - f) ? b : a));
      if (!near.ok) continue;
      const last = out.at(-1);
      if (last?.end === f - 1) last.end = f;
      else out.push({ start: f, end: f });
    }
    return out;
  });
}
