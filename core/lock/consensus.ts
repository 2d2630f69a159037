import { solvePositive } from '../geometry/least-squares';
import type { Similarity } from '../geometry/similarity';
import type { Patch } from './patches';
import { invertMatrix } from './patches';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { atan2, cos, floor, hypot, max, min, sin, sqrt } = Math;

/** Four numbers that make a similarity linear: shift x, shift y (px), scale*cos(turn) - 1, scale*sin(turn). */
export type Pose = Float64Array<ArrayBuffer>;

export function poseToSimilarity(p: Pose): Similarity {
  return { dx: p[0], dy: p[1], rotation: atan2(p[3], 1 + p[2]), scale: hypot(1 + p[2], p[3]) };
}

export function similarityToPose(t: Similarity): Pose {
  return Float64Array.of(t.dx, t.dy, t.scale * cos(t.rotation) - 1, t.scale * sin(t.rotation));
}

/** Where each patch was found in one frame. Arrays have one entry for each patch. */
export interface Sighting {
  /** 1 where the patch was in view and looked for. */
  looked: Uint8Array;
  /** 1 where the patch was found and looks like itself. */
  found: Uint8Array;
  dx: Float32Array;
  dy: Float32Array;
  /** What was left unexplained there, mean square in squared levels; Infinity where not found. */
  residual: Float32Array;
}

export function emptySighting(count: number): Sighting {
  return { looked: new Uint8Array(count), found: new Uint8Array(count), dx: new Float32Array(count), dy: new Float32Array(count), residual: new Float32Array(count).fill(Infinity) };
}

export interface Fit {
  pose: Pose;
  /** Weighted count of patches that agree, each between 0 and 1. */
  agreeing: number;
  /** Weighted count of patches found. */
  found: number;
  /** How many patches agree, unweighted. */
  members: number;
  /** What the pose was solved from, for its covariance: upper half of the normal equations, scatter and number of the residuals. */
  normal: Float64Array;
  scatter: number;
  equations: number;
}

/** 4 x 4 covariance of a fitted pose (px and radians), or null when too few patches agree. */
export function covarianceOf({ normal, scatter, equations }: Fit): number[][] | null {
  if (equations < 5) return null;
  const full = [0, 1, 2, 3].map((a) => [0, 1, 2, 3].map((b) => normal[min(a, b) * 4 + max(a, b)]));
  // The biweight trims residuals: 1.35 makes up for it on normal ones.
  const factor = max(0.05, 1.35 * scatter) * (equations / max(1, equations - 4));
  return invertMatrix(full)?.map((row) => row.map((v) => v * factor)) ?? null;
}

/** A patch agrees when it lies within this many of its own standard deviations. */
const REACH = 3.5;
/** Weak expectation of size change (standard deviation) and turn (radians): a tripod neither zooms nor rolls by much. */
const EXPECTED_SCALE = 0.02;
const EXPECTED_TURN = 0.02;

/** Distance of a patch from where the pose puts it, in standard deviations (`spread` for the patch, px, besides its grain), squared. */
export function misfit(patch: Patch, pose: Pose, dx: number, dy: number, spread: number): number {
  const { rows, axes, variances, ways } = patch;
  const own = spread * spread;
  let r = axes[0] * dx + axes[1] * dy - (rows[0] * pose[0] + rows[1] * pose[1] + rows[2] * pose[2] + rows[3] * pose[3]);
  let sum = (r * r) / (own + variances[0]);
  if (ways === 2) {
    r = axes[2] * dx + axes[3] * dy - (rows[4] * pose[0] + rows[5] * pose[1] + rows[6] * pose[2] + rows[7] * pose[3]);
    sum += (r * r) / (own + variances[1]);
  }
  return sum;
}

/** Distance of a patch from where the pose puts it, in pixels (root mean square of its directions). */
export function strayOf(patch: Patch, pose: Pose, dx: number, dy: number): number {
  const { rows, axes, ways } = patch;
  let sum = 0;
  for (let k = 0, o = 0; k < ways; k++, o += 4) {
    const r = axes[2 * k] * dx + axes[2 * k + 1] * dy
      - (rows[o] * pose[0] + rows[o + 1] * pose[1] + rows[o + 2] * pose[2] + rows[o + 3] * pose[3]);
    sum += r * r;
  }
  return sqrt(sum / ways);
}

/** Whether a patch goes along with the pose. */
export function agrees(patch: Patch, pose: Pose, dx: number, dy: number, spread: number): boolean {
  return misfit(patch, pose, dx, dy, spread) < REACH * REACH;
}

/** Two places of a patch are told apart when they are this many of its own standard deviations from each other. */
const TOLD_APART = 4;
/** Whether a patch looks different under one pose and another, so that finding it under one speaks against the other. */
export function tellsApart(patch: Patch, a: Pose, b: Pose, spread: number): boolean {
  const { rows, variances, ways } = patch;
  for (let k = 0, o = 0; k < ways; k++, o += 4) {
    const apart = rows[o] * (a[0] - b[0]) + rows[o + 1] * (a[1] - b[1]) + rows[o + 2] * (a[2] - b[2]) + rows[o + 3] * (a[3] - b[3]);
    if (apart * apart > TOLD_APART * TOLD_APART * (variances[k] + spread * spread)) return true;
  }
  return false;
}

/** How much support a pose has: each patch adds up to its own weight, by the biweight of its distance. */
export function support(
  patches: readonly Patch[], s: Sighting, pose: Pose, weights: ArrayLike<number>, spreads: ArrayLike<number>,
): number {
  let total = 0;
  for (let i = 0; i < patches.length; i++) {
    if (!s.found[i] || weights[i] <= 0) continue;
    const m = misfit(patches[i], pose, s.dx[i], s.dy[i], spreads[i]) / (REACH * REACH);
    if (m < 1) total += weights[i] * (1 - m) * (1 - m) * (patches[i].ways === 2 ? 1 : 0.6);
  }
  return total;
}

/**
 * Fits a pose to the patches around a start, giving up on those that disagree (iterated biweight, Beaton and Tukey 1974).
 * The reach shrinks from `wide` times to its final size, so that a start a little off still ends at the right place.
 */
export function fitPose(
  patches: readonly Patch[], s: Sighting, start: Pose, weights: ArrayLike<number>, spreads: ArrayLike<number>, wide = 3, rounds = 6,
): Fit {
  let pose = Float64Array.from(start);
  const normal = new Float64Array(16);
  const right = new Float64Array(4);
  let squares = 0, sure = 0, agreeing = 0, found = 0, members = 0, equations = 0;
  for (let round = 0; round < rounds; round++) {
    const reach = REACH * max(1, wide * (1 - round / max(1, rounds - 2)));
    normal.fill(0);
    right.fill(0);
    normal[10] = 1 / (EXPECTED_SCALE * EXPECTED_SCALE);
    normal[15] = 1 / (EXPECTED_TURN * EXPECTED_TURN);
    squares = sure = agreeing = found = members = equations = 0;
    for (let i = 0; i < patches.length; i++) {
      if (!s.found[i] || weights[i] <= 0) continue;
      const patch = patches[i];
      found += weights[i];
      const m = misfit(patch, pose, s.dx[i], s.dy[i], spreads[i]);
      if (m >= reach * reach) continue;
      const u = 1 - m / (reach * reach);
      agreeing += weights[i] * u * u;
      members++;
      const { rows, axes, variances } = patch;
      for (let k = 0; k < patch.ways; k++) {
        const v = axes[2 * k] * s.dx[i] + axes[2 * k + 1] * s.dy[i];
        const w = (weights[i] * u * u) / (spreads[i] * spreads[i] + variances[k]);
        accumulate(normal, right, rows, 4 * k, w, v);
        const o = 4 * k;
        const r = v - (rows[o] * pose[0] + rows[o + 1] * pose[1] + rows[o + 2] * pose[2] + rows[o + 3] * pose[3]);
        squares += w * r * r;
        sure += u * u * weights[i];
        equations++;
      }
    }
    const next = solvePositive(normal, right, 4);
    if (!next) break;
    pose = next;
  }
  return { pose, agreeing, found, members, normal, scatter: squares / max(1, sure), equations };
}

/** Adds one equation (row at `o` times the pose is `v`) with weight `w`; only the upper half is kept. */
function accumulate(normal: Float64Array, right: Float64Array, rows: Float64Array, o: number, w: number, v: number): void {
  const a = w * rows[o], b = w * rows[o + 1], c = w * rows[o + 2], d = w * rows[o + 3];
  right[0] += a * v;
  right[1] += b * v;
  right[2] += c * v;
  right[3] += d * v;
  normal[0] += a * rows[o];
  normal[1] += a * rows[o + 1];
  normal[2] += a * rows[o + 2];
  normal[3] += a * rows[o + 3];
  normal[5] += b * rows[o + 1];
  normal[6] += b * rows[o + 2];
  normal[7] += b * rows[o + 3];
  normal[10] += c * rows[o + 2];
  normal[11] += c * rows[o + 3];
  normal[15] += d * rows[o + 3];
}

/**
 * Looks for the pose that most of the picture agrees on, among `starts` and poses through few random patches
 * (random sample consensus, Fischler and Bolles 1981), counting picture area and not amount of detail.
 * A start's support is multiplied by its favour.
 */
export function searchPose(
  patches: readonly Patch[], s: Sighting, starts: { pose: Pose; favour: number }[],
  weights: ArrayLike<number>, spreads: ArrayLike<number>, draws: number, random: () => number, wide = 3, rounds = 6,
): Fit {
  let best = starts[0].pose;
  let bestSupport = -1;
  for (const start of starts) {
    const value = support(patches, s, start.pose, weights, spreads) * start.favour;
    if (value > bestSupport) {
      bestSupport = value;
      best = start.pose;
    }
  }
  const usable: number[] = [];
  for (let i = 0; i < patches.length; i++) if (s.found[i] && weights[i] > 0) usable.push(i);
  if (usable.length >= 3) {
    const normal = new Float64Array(16);
    const right = new Float64Array(4);
    for (let d = 0; d < draws; d++) {
      normal.fill(0);
      right.fill(0);
      normal[0] = normal[5] = 1e-6;
      normal[10] = 1 / (EXPECTED_SCALE * EXPECTED_SCALE);
      normal[15] = 1 / (EXPECTED_TURN * EXPECTED_TURN);
      const picks = usable.length > 20 && d % 2 ? 2 : 3;
      for (let p = 0; p < picks; p++) {
        const i = usable[floor(random() * usable.length)];
        const { rows, axes, ways } = patches[i];
        const w = 1 / (spreads[i] * spreads[i]);
        for (let k = 0; k < ways; k++) {
          accumulate(normal, right, rows, 4 * k, w, axes[2 * k] * s.dx[i] + axes[2 * k + 1] * s.dy[i]);
        }
      }
      const pose = solvePositive(normal, right, 4);
      if (!pose) continue;
      const value = support(patches, s, pose, weights, spreads);
      if (value > bestSupport) {
        bestSupport = value;
        best = pose;
      }
    }
  }
  return fitPose(patches, s, best, weights, spreads, wide, rounds);
}
