import { median } from '../../base/numeric/quantile';
import { greatestDisplacement, IDENTITY, type Similarity } from '../../base/geometry/similarity';
import type { Plane } from '../../base/image/plane';
import type { LockMeasure, Run } from '../../report/types';
import type { FrameStore } from '../../base/image/stack';
import { makeStillCrop } from './crop';
import { findCuts } from './cuts';
import { findKnocks } from './knocks';
import { motionOf, steadiestRuns } from './motion';
import { refinePath, TRUSTED, type CameraPath } from './refine';
import { CameraTracker } from './track';
import { against, middlePose, usableRun } from './usable';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { PI, abs, ceil, floor, hypot, log, max, min, round, sqrt } = Math;

/** How measuring pixels relate to the picture as shown. */
export interface LockScale {
  /** Size of the picture as shown, in source pixels. */
  width: number;
  height: number;
  /** Source pixels for one measuring pixel, across and down. */
  factorX: number;
  factorY: number;
  /** Frames a second, for windows given in seconds. */
  fps: number;
  /** Everything is held against the first picture, and all of them count: they are no take, but pictures of one place. */
  againstFirst?: boolean;
  /** Share of the fine detail that each frame shows, 1 in focus; null where unknown. All are taken to be in focus when left out. */
  sharpness?: readonly (number | null)[];
}

/** Systematic error that no scatter shows (compression holding the picture back, sampling), in measuring pixels. */
const HIDDEN_SIGMA = 0.01;
/** It grows as what holds the picture in place, the squares of its slopes, goes with the focus; less detail than this is none. */
const LEAST_DETAIL = 0.1;
/**
 * A picture that has moved is coded by shifting blocks of an earlier one in steps of a quarter pixel; what coarse
 * coding leaves of the rest moves the whole picture alike, so no scatter shows it. A quarter pixel's own spread is
 * 0.07, about half of it is left, in source pixels.
 */
const CODING_SIGMA = 0.04;
const MOVED_PX = 0.15;
const DEGREES = 180 / PI;

/** Measures how the camera moved over one take: `frame` for every frame in order, then `finish`. */
export class LockMeter {
  private tracker: CameraTracker;
  private path: CameraPath | null = null;

  /** @param store where what was seen is kept until `finish`; in memory when left out */
  constructor(store?: FrameStore) {
    this.tracker = new CameraTracker(store);
  }

  /** @param plane grey picture at measuring size; may be reused afterwards. Throws RangeError when the size changes. */
  frame(plane: Plane): void {
    this.tracker.frame(plane);
  }

  /** The first frame of each further shot among the frames given. Throws Error after `finish`, which lets go of them. */
  cuts(fps: number): number[] {
    if (this.path) throw new Error('Cuts are asked for before the lock is finished.');
    return findCuts(this.tracker.anchors, this.tracker.records, fps);
  }

  /** About how far the picture's middle moved from one frame to another, measuring pixels; null where not both show one picture. */
  shift(a: number, b: number): readonly [number, number] | null {
    const { anchors, records } = this.tracker;
    const [from, to] = [a, b].map((f) => {
      const r = records[f];
      if (!r?.pose) return null;
      const { island, fromFirst } = anchors[r.anchor];
      return { island, x: fromFirst.dx + r.pose[0], y: fromFirst.dy + r.pose[1] };
    });
    return from && to && from.island === to.island ? [to.x - from.x, to.y - from.y] : null;
  }

  /** The camera's movement in source pixels, with its summary; may be asked again when more is known. */
  finish(scale: LockScale): LockMeasure {
    if (!this.path) {
      const { anchors, records } = this.tracker;
      this.path = refinePath(anchors, records, scale.againstFirst);
      // What the frames of a long take showed is a good part of all there is.
      this.tracker = new CameraTracker();
    }
    return summarise(this.path, scale);
  }
}

/** Turns a path in measuring pixels into the numbers of the report. */
export function summarise(path: CameraPath, scale: LockScale): LockMeasure {
  const { width, height, factorX, factorY, fps } = scale;
  const found = path.poses.map((p): Similarity | null => p && { ...p, dx: p.dx * factorX, dy: p.dy * factorY });
  const sigmaAt = (f: number, hidden: number) => {
    const s = path.cornerSigma[f],
      p = found[f];
    if (s === null || !p) return null;
    const moved = greatestDisplacement(p, IDENTITY, width, height) > MOVED_PX;
    return hypot(s * factorX, hidden * factorX, moved ? CODING_SIGMA : 0);
  };
  // What the whole take is known to is that of its frames in focus.
  const sorted = found
    .map((_, f) => sigmaAt(f, HIDDEN_SIGMA))
    .filter((s): s is number => s !== null)
    .sort((a, b) => a - b);
  const uncertainty = sorted.length ? sorted[floor(0.9 * (sorted.length - 1))] : null;
  const sigmas = found.map((_, f) => sigmaAt(f, HIDDEN_SIGMA / max(LEAST_DETAIL, scale.sharpness?.[f] ?? 1) ** 2));
  const whole = { start: 0, end: found.length - 1 };
  const run =
    path.referenceFrame === null ? null : scale.againstFirst ? whole : usableRun(found, scale, uncertainty ?? 0);
  const { reference, poses } = agreed(found, path.referenceFrame, run, scale);
  const column = <T>(pick: (p: Similarity) => T) => poses.map((p) => (p ? pick(p) : null));
  const [from, to] = run ? [run.start, run.end + 1] : [0, poses.length];
  const own = poses.slice(from, to);
  const shares = path.stillShare.slice(from, to).filter((s): s is number => s !== null);
  const result: LockMeasure = {
    reference_frame: reference,
    peak_px: null,
    sure_peak_px: null,
    peak_frame: null,
    drift_px: null,
    jitter_px: null,
    peak_rotation_deg: null,
    peak_scale_pct: null,
    knocks: [],
    usable_run: run,
    handheld: false,
    moves: false,
    speed_px_per_s: null,
    steadiest: [],
    make_still_crop_pct: null,
    uncertainty_px: reference === null ? null : uncertainty,
    still_share: shares.length ? median(shares) : null,
    measured_share: own.length ? own.filter((p) => p).length / own.length : 0,
    restless_share: restlessShare(path, from, own),
    patches: path.patches.map((p) => ({
      x_px: p.x * factorX + width / 2,
      y_px: p.y * factorY + height / 2,
      size_px: p.size * factorX,
      trust: p.trust,
      witness: p.witness,
    })),
    spread_share: spreadShare(path.patches, width / factorX, height / factorY),
    rival_ratio: path.rival,
    textured_share: path.spots ? path.patches.length / path.spots : 0,
    path: {
      dx_px: column((p) => p.dx),
      dy_px: column((p) => p.dy),
      rotation_deg: column((p) => p.rotation * DEGREES),
      scale: column((p) => p.scale),
      displacement_px: column((p) => greatestDisplacement(p, IDENTITY, width, height)),
    },
  };
  if (reference === null || !run) return result;
  const away = own.map((p) => (p ? greatestDisplacement(p, IDENTITY, width, height) : -1));
  const at = away.reduce((best, d, k) => (d > away[best] ? k : best), 0);
  const measured = own.filter((p): p is Similarity => p !== null);
  result.peak_px = away[at];
  result.peak_frame = from + at;
  result.sure_peak_px = surePeak(own, (k) => sigmas[from + k] ?? uncertainty ?? 0, uncertainty ?? 0, scale);
  result.peak_rotation_deg = extreme(measured.map((p) => p.rotation * DEGREES));
  result.peak_scale_pct = extreme(measured.map((p) => (p.scale - 1) * 100));
  const knocks = findKnocks(own, width, height, fps, uncertainty ?? 0);
  const slow = withoutKnocks(own, knocks, fps);
  result.drift_px = drift(slow, width, height, fps);
  result.jitter_px = jitter(slow, width, height, fps);
  // What a knock does is no movement of the camera's own.
  const knocked = (k: number) => knocks.some((n) => k >= n.start && k <= n.end);
  const pieces = path.pieces
    .slice(from, to)
    .map((p, k) =>
      p && !knocked(k) ? { ...p, pose: { ...p.pose, dx: p.pose.dx * factorX, dy: p.pose.dy * factorY } } : null,
    );
  Object.assign(result, motionOf(pieces, scale, path.stepSigma * factorX));
  // Where the camera moves all the time there is nothing that a knock would interrupt.
  if (!result.moves) result.knocks = knocks.map((k) => ({ ...k, start: k.start + from, end: k.end + from }));
  result.steadiest = steadiestRuns(poses, scale, run);
  result.make_still_crop_pct = makeStillCrop(own, width, height);
  return result;
}

/** Of the frames that were looked at closely, those that were followed only from one to the next or change everywhere. */
function restlessShare(path: CameraPath, from: number, own: readonly (Similarity | null)[]): number {
  const looked = own.flatMap((p, k) => (p || path.pieces[from + k] || !path.passedOver[from + k] ? [from + k] : []));
  const restless = looked.filter((f) => !own[f - from] && (path.pieces[f] || path.wholeMoves[f]));
  return looked.length ? restless.length / looked.length : 0;
}

/**
 * The frame that the others are held against, and all movement against it: another one than the path's own where that
 * lies in a useless head or tail, the nearest to the middle of them all then.
 */
function agreed(
  poses: readonly (Similarity | null)[],
  reference: number | null,
  run: Run | null,
  { width, height }: LockScale,
): { reference: number | null; poses: readonly (Similarity | null)[] } {
  if (reference === null || !run || (reference >= run.start && reference <= run.end)) return { reference, poses };
  const middle = middlePose(poses.slice(run.start, run.end + 1))!;
  let best = run.start,
    least = Infinity;
  for (let f = run.start; f <= run.end; f++) {
    const p = poses[f];
    const d = p ? greatestDisplacement(p, middle, width, height) : Infinity;
    if (d < least) [best, least] = [f, d];
  }
  const own = poses[best];
  return own ? { reference: best, poses: against(poses, own) } : { reference, poses };
}

/** Share of a 4 x 3 division of the frame in which at least one trusted patch bears witness to the movement. */
function spreadShare(patches: CameraPath['patches'], width: number, height: number): number {
  const fields = new Set<number>();
  for (const p of patches) {
    if (p.trust < TRUSTED || !p.witness) continue;
    const column = max(0, min(3, floor((p.x / width + 0.5) * 4)));
    const row = max(0, min(2, floor((p.y / height + 0.5) * 3)));
    fields.add(row * 4 + column);
  }
  return fields.size / 12;
}

/** What a window's median is known better than one frame: neighbours share part of their error, so not by the root of their number. */
const WINDOW_GAIN = 1.5;
const WINDOW_SIGMAS = 3;

/**
 * The greatest displacement that measuring error does not explain, in source pixels.
 *
 * The greatest of many measured places is greater than the truth by chance alone: of n normal errors in two directions
 * the largest is near sqrt(2 ln n) + 0.7 standard deviations. A displacement that lasts is known better, from the
 * median over half a second.
 */
function surePeak(
  poses: readonly (Similarity | null)[],
  sigmaAt: (frame: number) => number,
  usual: number,
  { width, height, fps }: LockScale,
): number {
  const beyond = (p: Similarity, error: number) =>
    sqrt(max(0, greatestDisplacement(p, IDENTITY, width, height) ** 2 - error * error));
  const count = poses.filter((p) => p !== null).length;
  const reach = sqrt(2 * log(max(2, count))) + 0.7;
  const window = max(6, round(fps / 2));
  let most = 0;
  poses.forEach((p, f) => {
    if (p) most = max(most, beyond(p, reach * max(sigmaAt(f), 0.5 * usual)));
    if (f % ceil(window / 2) !== 0) return;
    const around = poses.slice(f, f + window);
    const middle = around.filter((q) => q !== null).length >= window / 2 ? middlePose(around) : null;
    const sigma = max(usual, median(around.map((_, k) => sigmaAt(f + k))));
    if (middle) most = max(most, beyond(middle, (WINDOW_SIGMAS * sigma) / WINDOW_GAIN));
  });
  return most;
}

/** The value farthest from 0, with its sign. */
function extreme(values: number[]): number {
  return values.reduce((a, b) => (abs(b) > abs(a) ? b : a), 0);
}

/** The path with the frames of each knock left out and what the knock left behind taken off afterwards. */
function withoutKnocks(
  poses: readonly (Similarity | null)[],
  knocks: { start: number; end: number }[],
  fps: number,
): (Similarity | null)[] {
  const out = [...poses];
  const window = max(2, round(fps / 2));
  for (const { start, end } of knocks) {
    const before = middlePose(out.slice(max(0, start - window), start));
    const after = middlePose(out.slice(end + 1, end + 1 + window));
    for (let f = start; f <= end; f++) out[f] = null;
    if (!before || !after) continue;
    for (let f = end + 1; f < out.length; f++) {
      const p = out[f];
      if (!p) continue;
      out[f] = {
        dx: p.dx - after.dx + before.dx,
        dy: p.dy - after.dy + before.dy,
        rotation: p.rotation - after.rotation + before.rotation,
        scale: (p.scale * before.scale) / after.scale,
      };
    }
  }
  return out;
}

/** Place over the last second against place over the first (medians), in pixels at the worst corner. */
function drift(poses: readonly (Similarity | null)[], width: number, height: number, fps: number): number | null {
  const seen = poses.filter((p): p is Similarity => p !== null);
  const second = max(1, min(round(fps), floor(seen.length / 2)));
  const first = middlePose(seen.slice(0, second));
  const last = middlePose(seen.slice(-second));
  return first && last ? greatestDisplacement(first, last, width, height) : null;
}

/** Root mean square of the fast part of the movement (against its mean over half a second), in pixels at the worst corner. */
function jitter(poses: readonly (Similarity | null)[], width: number, height: number, fps: number): number | null {
  const half = max(1, round(fps / 4));
  let sum = 0;
  let count = 0;
  for (let f = 0; f < poses.length; f++) {
    const p = poses[f];
    if (!p) continue;
    const around = poses.slice(max(0, f - half), f + half + 1).filter((q): q is Similarity => q !== null);
    const mean = {
      dx: around.reduce((s, q) => s + q.dx, 0) / around.length,
      dy: around.reduce((s, q) => s + q.dy, 0) / around.length,
      rotation: around.reduce((s, q) => s + q.rotation, 0) / around.length,
      scale: around.reduce((s, q) => s + q.scale, 0) / around.length,
    };
    sum += greatestDisplacement(p, mean, width, height) ** 2;
    count++;
  }
  return count ? sqrt(sum / count) : null;
}
