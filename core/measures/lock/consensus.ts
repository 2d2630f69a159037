import { solvePositive } from '../../base/numeric/least-squares';
import type { Similarity } from '../../base/geometry/similarity';
import { addressOf as at, Kernels } from '../../base/kernels/kernels';
import type { Patch } from './patches';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { atan2, cos, floor, hypot, max, sin, sqrt } = Math;

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
  return {
    looked: new Uint8Array(count),
    found: new Uint8Array(count),
    dx: new Float32Array(count),
    dy: new Float32Array(count),
    residual: new Float32Array(count).fill(Infinity),
  };
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

/** 4 x 4 covariance of a fitted pose (px and radians), row by row, or null when too few patches agree. */
export function covarianceOf({ normal, scatter, equations }: Fit): Float64Array | null {
  if (equations < 5) return null;
  // The biweight trims residuals: 1.35 makes up for it on normal ones.
  const factor = max(0.05, 1.35 * scatter) * (equations / max(1, equations - 4));
  const out = new Float64Array(16);
  for (let k = 0; k < 4; k++) {
    const unit = new Float64Array(4);
    unit[k] = factor;
    const column = solvePositive(normal, unit, 4);
    if (!column) return null;
    out.set(column, 4 * k);
  }
  return out;
}

/** A patch agrees when it lies within this many of its own standard deviations. */
export const REACH = 3.5;
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
    const r =
      axes[2 * k] * dx +
      axes[2 * k + 1] * dy -
      (rows[o] * pose[0] + rows[o + 1] * pose[1] + rows[o + 2] * pose[2] + rows[o + 3] * pose[3]);
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
    const apart =
      rows[o] * (a[0] - b[0]) + rows[o + 1] * (a[1] - b[1]) + rows[o + 2] * (a[2] - b[2]) + rows[o + 3] * (a[3] - b[3]);
    if (apart * apart > TOLD_APART * TOLD_APART * (variances[k] + spread * spread)) return true;
  }
  return false;
}

/** Numbers a patch's evidence takes; what they are says core/base/kernels/assembly/pose.ts. */
const NUMBERS = 14;

/** Evidence of a frame's patches, gathered for going over it again and again, with what is needed for that, in the kernels' memory. */
function roomFor(patches: number) {
  const room = Kernels.with({
    evidence: ['doubles', NUMBERS * patches],
    pose: ['doubles', 4],
    prior: ['doubles', 16],
    normal: ['doubles', 16],
    right: ['doubles', 4],
    scratch: ['doubles', 24],
    out: ['doubles', 6],
  });
  expectLittle(room.arrays.prior);
  return { ...room, patches };
}
let room: ReturnType<typeof roomFor> | null = null;

interface Evidence extends ReturnType<typeof roomFor> {
  count: number;
}

/** What the found patches of one frame say. Valid until the next call. */
function gather(
  patches: readonly Patch[],
  s: Sighting,
  weights: ArrayLike<number>,
  spreads: ArrayLike<number>,
): Evidence {
  if (!room || room.patches < patches.length) room = roomFor(patches.length);
  const numbers = room.arrays.evidence;
  let o = 0;
  for (let i = 0; i < patches.length; i++) {
    if (!s.found[i] || weights[i] <= 0) continue;
    const { rows, axes, variances, ways } = patches[i];
    const own = spreads[i] * spreads[i],
      dx = s.dx[i],
      dy = s.dy[i];
    numbers[o] = weights[i];
    numbers[o + 1] = ways;
    for (let k = 0, e = o + 2; k < ways; k++, e += 6) {
      numbers[e] = rows[4 * k];
      numbers[e + 1] = rows[4 * k + 1];
      numbers[e + 2] = rows[4 * k + 2];
      numbers[e + 3] = rows[4 * k + 3];
      numbers[e + 4] = axes[2 * k] * dx + axes[2 * k + 1] * dy;
      numbers[e + 5] = 1 / (own + variances[k]);
    }
    o += NUMBERS;
  }
  return { ...room, count: o / NUMBERS };
}

/** How much support a pose has: each patch adds up to its own weight, by the biweight of its distance. */
export function support(
  patches: readonly Patch[],
  s: Sighting,
  pose: Pose,
  weights: ArrayLike<number>,
  spreads: ArrayLike<number>,
): number {
  return supportOf(gather(patches, s, weights, spreads), pose);
}

function supportOf({ kernels, arrays, count }: Evidence, pose: Pose): number {
  arrays.pose.set(pose);
  return kernels.run.supportOf({ evidence: at(arrays.evidence), count, pose: at(arrays.pose), reach: REACH });
}

/**
 * Fits a pose to the patches around a start, giving up on those that disagree (iterated biweight, Beaton and Tukey 1974).
 * The reach shrinks from `wide` times to its final size, so that a start a little off still ends at the right place.
 */
export function fitPose(
  patches: readonly Patch[],
  s: Sighting,
  start: Pose,
  weights: ArrayLike<number>,
  spreads: ArrayLike<number>,
  wide = 3,
  rounds = 6,
): Fit {
  return fitTo(gather(patches, s, weights, spreads), start, wide, rounds);
}

function fitTo({ kernels, arrays, count }: Evidence, start: Pose, wide: number, rounds: number): Fit {
  arrays.pose.set(start);
  kernels.run.fitPose({
    evidence: at(arrays.evidence),
    count,
    pose: at(arrays.pose),
    reach: REACH,
    wide,
    rounds,
    prior: at(arrays.prior),
    normal: at(arrays.normal),
    scratch: at(arrays.scratch),
    out: at(arrays.out),
  });
  const [agreeing, found, members, equations, squares, sure] = arrays.out;
  return {
    pose: arrays.pose.slice(),
    agreeing,
    found,
    members,
    normal: arrays.normal.slice(),
    scatter: squares / max(1, sure),
    equations,
  };
}

/** Normal equations that say no more than that a camera hardly zooms or rolls, and the shift's own certainty. */
function expectLittle(normal: Float64Array, shift = 0): void {
  normal.fill(0);
  normal[0] = normal[5] = shift;
  normal[10] = 1 / (EXPECTED_SCALE * EXPECTED_SCALE);
  normal[15] = 1 / (EXPECTED_TURN * EXPECTED_TURN);
}

/** Adds one equation (row at `o` times the pose is `v`) with weight `w`; only the upper half is kept. */
function accumulate(
  normal: Float64Array,
  right: Float64Array,
  rows: Float64Array,
  o: number,
  w: number,
  v: number,
): void {
  for (let i = 0; i < 4; i++) {
    const a = w * rows[o + i];
    right[i] += a * v;
    for (let j = i; j < 4; j++) normal[4 * i + j] += a * rows[o + j];
  }
}

/**
 * Looks for the pose that most of the picture agrees on, among `starts` and poses through few random patches
 * (random sample consensus, Fischler and Bolles 1981), counting picture area and not amount of detail.
 * A start's support is multiplied by its favour.
 */
export function searchPose(
  patches: readonly Patch[],
  s: Sighting,
  starts: { pose: Pose; favour: number }[],
  weights: ArrayLike<number>,
  spreads: ArrayLike<number>,
  draws: number,
  random: () => number,
  wide = 3,
  rounds = 6,
): Fit {
  const evidence = gather(patches, s, weights, spreads);
  let best = starts[0].pose;
  let bestSupport = -1;
  for (const start of starts) {
    const value = supportOf(evidence, start.pose) * start.favour;
    if (value > bestSupport) {
      bestSupport = value;
      best = start.pose;
    }
  }
  if (evidence.count >= 3) {
    const usable: number[] = [];
    for (let i = 0; draws > 0 && i < patches.length; i++) if (s.found[i] && weights[i] > 0) usable.push(i);
    const { kernels, arrays } = evidence;
    const { normal, right, evidence: numbers } = arrays;
    for (let d = 0; d < draws; d++) {
      expectLittle(normal, 1e-6);
      right.fill(0);
      const picks = usable.length > 20 && d % 2 ? 2 : 3;
      for (let p = 0; p < picks; p++) {
        const which = floor(random() * usable.length);
        const spread = spreads[usable[which]],
          o = NUMBERS * which;
        const w = 1 / (spread * spread);
        for (let k = 0, e = o + 2; k < numbers[o + 1]; k++, e += 6)
          accumulate(normal, right, numbers, e, w, numbers[e + 4]);
      }
      if (
        !kernels.run.solveFour({
          normal: at(normal),
          right: at(right),
          scratch: at(arrays.scratch),
          out: at(arrays.pose),
        })
      )
        continue;
      const value = kernels.run.supportOf({
        evidence: at(numbers),
        count: evidence.count,
        pose: at(arrays.pose),
        reach: REACH,
      });
      if (value > bestSupport) {
        bestSupport = value;
        best = arrays.pose.slice();
      }
    }
  }
  return fitTo(evidence, best, wide, rounds);
}
