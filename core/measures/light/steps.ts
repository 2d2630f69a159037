import { sigmaOf } from '../../base/numeric/robust';
import { median } from '../../base/numeric/quantile';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, floor, hypot, max, min, round, sign, sqrt } = Math;

/** A step is at least this large, stops. */
export const LEAST_STEP = 0.045;
/** And this many times the error of the levels on both sides. */
const SIGMAS = 5;
/** So much of the change between two levels happens at once, not as what goes on before or after. */
const JUMP_SHARE = 0.5;
/** And so much of it between the frames right before and right after: what goes on for longer is a slow change. */
const AT_ONCE_SHARE = 0.7;
/** What the middles of those may be off by, in errors of a frame. */
const ACROSS_SIGMAS = 2;
/** Frames right before and right after. */
const RIGHT_BY = 3;
/** Most of a step happens within this long. */
const STEP_SECONDS = 0.16;

/**
 * Finds where the light jumps to another level, as automatic exposure does: levels (medians over 0.4 s) differ on both
 * sides, and the change between happens within a few frames. The step's frame is the first that has left the old
 * level.
 */
export function findSteps(
  path: readonly (number | null)[],
  fps: number,
  noise: number,
): { frame: number; stops: number }[] {
  const side = max(3, round(0.4 * fps)),
    quick = max(1, round(STEP_SECONDS * fps));
  const level = (from: number, to: number) => {
    const values = path.slice(max(0, from), max(0, to)).filter((v): v is number => v !== null);
    if (values.length < max(3, 0.6 * (to - from))) return null;
    const middle = median(values);
    return { middle, spread: sigmaOf(values.map((v) => abs(v - middle))), slope: slopeOf(values) };
  };
  const candidates: { frame: number; stops: number; rank: number }[] = [];
  for (let f = 1; f < path.length; f++) {
    const before = level(f - side, f);
    for (const length of [0, round(quick / 2), quick]) {
      const after = level(f + length, f + length + side);
      if (!before || !after) continue;
      // What goes on changing on both sides is a drift and not a step.
      const drift =
        sign(before.slope) === sign(after.slope)
          ? min(abs(before.slope), abs(after.slope)) * sign(before.slope) * (side + length)
          : 0;
      const stops = after.middle - before.middle - drift;
      // Where a slow change begins or ends the levels differ too, but not what both sides lead to in the middle.
      const half = (side + length) / 2;
      const jump = after.middle - after.slope * half - before.middle - before.slope * half;
      if (jump * sign(stops) < JUMP_SHARE * abs(stops)) continue;
      const across =
        nearby(path, f + length, f + length + RIGHT_BY, after.middle) - nearby(path, f - RIGHT_BY, f, before.middle);
      const ongoing = (drift / (side + length)) * (length + RIGHT_BY);
      // Whether that is enough may not hang on the noise.
      const atOnce = (change: number) => change * sign(stops) - ACROSS_SIGMAS * noise;
      if (atOnce(across - ongoing) < AT_ONCE_SHARE * abs(stops)) continue;
      // Of what changes on both sides and between, too: a part of a slow change is no jump of its own.
      if (atOnce(across) < AT_ONCE_SHARE * abs(after.middle - before.middle)) continue;
      const error = hypot(noise, before.spread, after.spread) / sqrt(side / 2);
      const within = hypot(before.spread, after.spread);
      if (abs(stops) < LEAST_STEP || abs(stops) < SIGMAS * error || abs(stops) < 3 * within) continue;
      candidates.push({ frame: f, stops, rank: abs(stops) / (1 + 0.04 * length) });
    }
  }
  candidates.sort((a, b) => b.rank - a.rank);
  const out: { frame: number; stops: number }[] = [];
  for (const c of candidates) {
    if (out.some((o) => abs(o.frame - c.frame) < side)) continue;
    out.push({ frame: firstChanged(path, c.frame, c.stops, side, quick, noise), stops: c.stops });
  }
  return out.sort((a, b) => a.frame - b.frame);
}

/** The middle of what is known in a few frames; `otherwise` where nothing is. */
function nearby(path: readonly (number | null)[], from: number, to: number, otherwise: number): number {
  const values = path.slice(max(0, from), to).filter((v): v is number => v !== null);
  return values.length ? median(values) : otherwise;
}

/** The first frame near `frame` that has gone a fifth of the way (or clear of the noise) and does not come back. */
function firstChanged(
  path: readonly (number | null)[],
  frame: number,
  stops: number,
  side: number,
  quick: number,
  noise: number,
): number {
  const before = path.slice(max(0, frame - side), max(1, frame - quick)).filter((v): v is number => v !== null);
  const base = before.length ? median(before) : (path[frame - 1] ?? 0);
  const bound = max(0.2 * abs(stops), 4 * noise);
  for (let f = max(1, frame - quick); f <= min(path.length - 1, frame + quick); f++) {
    const away = (g: number) => ((path[g] ?? base) - base) * sign(stops) > bound;
    if (away(f) && away(min(path.length - 1, f + 1))) return f;
  }
  return frame;
}

/** Change a frame over a run of values: median of the differences of its halves. */
function slopeOf(values: number[]): number {
  const half = floor(values.length / 2);
  if (half < 1) return 0;
  return (median(values.slice(-half)) - median(values.slice(0, half))) / max(1, values.length - half);
}
