import type { SweptFrame } from '../cover/sweep';
import { median, quantile } from '../../base/numeric/quantile';
import type { CutMeasure, CutSide } from '../../report/wipe-types';
import { retime } from '../../calculators/retime';

const { abs, atan2, cos, hypot, max, min, PI, round, sin } = Math;

/** A picture that moves by less than this, widths a second, stands still. */
export const STILL_WIDTHS = 0.012;
/**
 * Frames keep to the movement when they differ from it by no more than this share of it, or of a slow movement by so
 * much, widths a second.
 */
const STEADY_SHARE = 0.25;
const STEADY_LEAST = 0.01;
const SAME_DEG = 45;

export interface SideContext {
  /** Width of the small pictures, pixels, and rate, frames a second. */
  width: number;
  fps: number;
  /** Number of the first frame given. */
  first: number;
  /** Whether the last frames count, as on the out side, or the first, and how many. */
  fromEnd: boolean;
  count: number;
}

/** The movement of one side's background, from the frames next to the cut in which it is well seen. */
export function measureSide(swept: readonly SweptFrame[], { width, fps, first, fromEnd, count }: SideContext): CutSide {
  const steps: { frame: number; vx: number; vy: number; growth: number }[] = [];
  for (let f = 1; f < swept.length; f++) {
    const a = swept[f - 1],
      b = swept[f];
    if (!a.sure || !b.sure) continue;
    // What was in the middle of the frame before moves by the difference of the poses, seen at this frame's size.
    const size = b.pose.scale / a.pose.scale,
      turn = b.pose.rotation - a.pose.rotation;
    const dx = b.pose.dx - size * (cos(turn) * a.pose.dx - sin(turn) * a.pose.dy),
      dy = b.pose.dy - size * (sin(turn) * a.pose.dx + cos(turn) * a.pose.dy);
    steps.push({ frame: first + f, vx: (dx / width) * fps, vy: (dy / width) * fps, growth: (size - 1) * fps });
  }
  const near = fromEnd ? steps.slice(-count) : steps.slice(0, count);
  if (near.length < 2)
    return {
      angle_deg: null,
      speed_widths_per_s: null,
      steady_share: 0,
      speed_spread: null,
      growth_per_s: null,
      frames: null,
    };
  const middle = (pick: (s: (typeof near)[number]) => number) => median(near.map(pick));
  const vx = middle((s) => s.vx),
    vy = middle((s) => s.vy),
    speed = hypot(vx, vy);
  const slack = max(STEADY_LEAST, STEADY_SHARE * speed);
  return {
    angle_deg: speed < STILL_WIDTHS ? null : ((atan2(vy, vx) * 180) / PI + 360) % 360,
    speed_widths_per_s: speed,
    steady_share: near.filter((s) => hypot(s.vx - vx, s.vy - vy) <= slack).length / near.length,
    speed_spread: spreadOf(
      near.map((s) => (s.vx * vx + s.vy * vy) / (speed || 1)),
      speed,
    ),
    growth_per_s: middle((s) => s.growth),
    frames: { start: near[0].frame - 1, end: near[near.length - 1].frame },
  };
}

/** Frames over which a speed is taken before its evenness is looked at: single steps waver with the measuring. */
const SMOOTH = 5;

/** Half of what the middle four fifths of the speeds span, as a share of the speed; null where it stands or too few are known. */
function spreadOf(along: readonly number[], speed: number): number | null {
  if (speed < STILL_WIDTHS || along.length < 2 * SMOOTH) return null;
  const means = along.slice(SMOOTH - 1).map((_, k) => along.slice(k, k + SMOOTH).reduce((a, b) => a + b, 0) / SMOOTH);
  return (quantile(means, 0.9) - quantile(means, 0.1)) / 2 / speed;
}

/** Two sides held against each other. @param rates as recorded, and the edit's; null where unknown */
export function compareSides(
  out: CutSide,
  into: CutSide,
  rates: { out: number | null; in: number | null; delivery: number | null },
): CutMeasure {
  const [a, b] = [out.speed_widths_per_s ?? 0, into.speed_widths_per_s ?? 0];
  const stillOut = a < STILL_WIDTHS,
    stillIn = b < STILL_WIDTHS;
  const gap = out.angle_deg === null || into.angle_deg === null ? null : angleBetween(out.angle_deg, into.angle_deg);
  const relation = gap === null ? 'still' : gap <= SAME_DEG ? 'same' : gap >= 180 - SAME_DEG ? 'against' : 'across';
  const ratio = stillOut || stillIn ? null : b / a;
  const mirrored =
    into.angle_deg === null || out.angle_deg === null
      ? null
      : angleBetween(out.angle_deg, (540 - into.angle_deg) % 360);
  const reversed = gap === null ? null : 180 - gap;
  // What differs by less than three hundredths is not retimed.
  const speedIn = ratio === null || abs(ratio - 1) < 0.03 ? 1 : min(10, max(0.1, 1 / ratio));
  return {
    out,
    in: into,
    angle_gap_deg: gap,
    speed_ratio: ratio,
    relation,
    retime_pct: ratio === null ? null : 100 / ratio,
    mirror_helps: gap !== null && gap > SAME_DEG && mirrored !== null && mirrored <= SAME_DEG,
    reverse_helps: gap !== null && gap > SAME_DEG && reversed !== null && reversed <= SAME_DEG,
    rate: {
      out_fps: rates.out,
      in_fps: rates.in,
      delivery_fps: rates.delivery,
      out_pattern: patternOf(rates.out, rates.delivery, 1),
      in_pattern: patternOf(rates.in, rates.delivery, speedIn),
    },
  };
}

/** Smallest angle between two ways, 0 to 180 degrees. */
export function angleBetween(a: number, b: number): number {
  const d = abs(a - b) % 360;
  return d > 180 ? 360 - d : d;
}

/** Rates nearer than this share are one rate. */
const ONE_RATE = 0.0015;

/** What a rate at a speed makes of the edit's frames. */
export function patternOf(capture: number | null, delivery: number | null, speed: number): string | null {
  if (capture === null || delivery === null) return null;
  const step = (speed * capture) / delivery;
  if (abs(step - 1) < ONE_RATE) return 'every frame';
  if (step > 1.5 && abs(step - round(step)) < ONE_RATE * step) return `every ${ordinal(round(step))} frame`;
  const { repeats, blends } = retime(capture, delivery, speed, 1 / (2 * capture));
  if (repeats.length > 0) return `${repeats.length} repeats a second`;
  return blends.length > 0 ? `uneven: ${blends.length} blends a second` : 'every frame';
}

function ordinal(n: number): string {
  return n === 2 ? '2nd' : n === 3 ? '3rd' : `${n}th`;
}
