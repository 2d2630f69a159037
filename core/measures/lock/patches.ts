import type { Plane } from '../../base/image/plane';
import { PatchAligner, type Template, type Texture } from './align';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { SQRT2, abs, atan2, cos, floor, hypot, max, min, round, sin, sqrt } = Math;

/** One spot of the reference whose place is followed, with what its texture can tell. */
export interface Patch extends Template {
  /** Centre relative to the frame's centre, in measuring pixels. */
  x: number;
  y: number;
  /** Directions in which the texture fixes the place: one for a straight edge, two else. */
  ways: 1 | 2;
  /** The directions as unit vectors [x, y, x, y], strongest first. */
  axes: Float64Array;
  /** Expected variance along each direction from grain alone, in squared pixels. */
  variances: Float64Array;
  /**
   * One row for each direction: the change of the patch's place along it for a change of
   * [shift x, shift y, size, turn]. It contains the part of a turn or growth that a window with lopsided texture
   * shows as a shift.
   */
  rows: Float64Array;
}

export interface PatchGrid {
  patches: Patch[];
  /** Spots of the grid looked at, whether they had texture or not. */
  spots: number;
  cell: number;
  size: number;
  /** Grain of the reference, in levels of 255. */
  grain: number;
}

/** A direction is used when grain alone would move the patch by less than this, in measuring pixels. */
const GREATEST_SIGMA = 0.3;
/** Variance of the smoothed slope of white grain of variance 1: (34/144) along, (18/36) across, from the spline's taps. */
const GRAIN_SLOPE = (34 / 144) * (18 / 36);
/** No picture is taken to be cleaner than this, in levels of 255. */
const LEAST_NOISE = 0.8;

/** Side of a grid cell for a picture this wide, in pixels: about twenty across. */
export function cellSize(width: number): number {
  return max(16, min(48, round(width / 20)));
}

/** Side of the patches for a picture this wide, in pixels. */
export function patchSize(width: number): number {
  return max(10, floor(cellSize(width) / 2));
}

/**
 * Lays an even grid over the picture and takes in each cell the window with the most texture, if it has enough.
 * Even spacing matters: a detailed thing that fills a third of the picture gets a third of the patches, not nearly all.
 * @param grain grain of the picture in levels of 255
 * @param aligner is shown the picture, and learns the patches
 */
export function choosePatches(
  plane: Plane,
  grain: number,
  aligner = new PatchAligner(patchSize(plane.width)),
): PatchGrid {
  const cell = cellSize(plane.width);
  const { size } = aligner;
  aligner.show(plane);
  const columns = floor(plane.width / cell);
  const rows = floor(plane.height / cell);
  const marginX = (plane.width - columns * cell) / 2;
  const marginY = (plane.height - rows * cell) / 2;
  const patches: Patch[] = [];
  const slack = cell - size;
  for (let row = 0; row < rows; row++) {
    for (let column = 0; column < columns; column++) {
      const cellLeft = round(marginX + column * cell);
      const cellTop = round(marginY + row * cell);
      let best: [number, number] | null = null;
      let bestScore = -1;
      for (const v of [0, 0.5, 1]) {
        for (const u of [0, 0.5, 1]) {
          const left = clamp(round(cellLeft + u * slack), 2, plane.width - size - 3);
          const top = clamp(round(cellTop + v * slack), 2, plane.height - size - 3);
          const score = cornerStrength(plane, left, top, size);
          if (score > bestScore) {
            bestScore = score;
            best = [left, top];
          }
        }
      }
      const patch = best && makePatch(plane, aligner, best[0], best[1], grain);
      if (patch) patches.push(patch);
    }
  }
  return { patches, spots: columns * rows, cell, size, grain };
}

function clamp(value: number, low: number, high: number): number {
  return max(low, min(high, value));
}

/** Smaller eigenvalue of the slopes' second moments, from every second pixel, plus a little of the larger (Shi and Tomasi 1994). */
function cornerStrength(plane: Plane, left: number, top: number, size: number): number {
  const { width, data } = plane;
  if (left < 1 || top < 1) return -1;
  let xx = 0,
    xy = 0,
    yy = 0;
  for (let y = top; y < top + size; y += 2) {
    for (let x = left; x < left + size; x += 2) {
      const i = y * width + x;
      const gx = data[i + 1] - data[i - 1];
      const gy = data[i + width] - data[i - width];
      xx += gx * gx;
      xy += gx * gy;
      yy += gy * gy;
    }
  }
  const half = (xx + yy) / 2;
  const spread = hypot((xx - yy) / 2, xy);
  return half - spread + 0.02 * (half + spread);
}

/** Prepares the window at (left, top) as a patch; null when it has too little texture for the grain. */
export function makePatch(plane: Plane, aligner: PatchAligner, left: number, top: number, grain: number): Patch | null {
  const n = aligner.size;
  const before = aligner.kept;
  const texture = aligner.learn(left, top);
  if (!texture) return null;
  const patch = patchOf(texture, n, left, top, plane, grain);
  if (!patch) {
    aligner.forgetFrom(before);
    return null;
  }
  aligner.solveBy(texture, patch.solve);
  return patch.patch;
}

/** The patch that a learned window makes, and how its steps are solved; null when it has too little texture for the grain. */
function patchOf(
  texture: Texture,
  n: number,
  left: number,
  top: number,
  plane: Plane,
  grain: number,
): { patch: Patch; solve: Float64Array } | null {
  const { moments } = texture;
  const half = (moments[0] + moments[4]) / 2;
  const spread = hypot((moments[0] - moments[4]) / 2, moments[1]);
  const angle = 0.5 * atan2(2 * moments[1], moments[0] - moments[4]);
  // Grain of reference and picture add. The floor stands for what compression leaves of a flat wall: it looks like
  // faint texture in one frame and is another in the next.
  const noise = max(LEAST_NOISE, grain) * SQRT2;
  // Grain has slopes of its own, which tell nothing: their expected energy is taken off.
  const grainEnergy = n * n * GRAIN_SLOPE * max(LEAST_NOISE, grain) ** 2;
  const strengths = [half + spread, half - spread].map((s) => max(1e-9, s - grainEnergy));
  const axes: [number, number][] = [
    [cos(angle), sin(angle)],
    [-sin(angle), cos(angle)],
  ];
  const directions: [number, number][] = [];
  const variances: number[] = [];
  for (let k = 0; k < 2; k++) {
    const sigma = noise / sqrt(strengths[k]);
    if (sigma < GREATEST_SIGMA && strengths[k] > strengths[0] * 0.004) {
      directions.push(axes[k]);
      variances.push(sigma * sigma);
    }
  }
  if (directions.length === 0) return null;
  const solve = solver(moments, directions);
  if (!solve) return null;
  const centre = (n - 1) / 2;
  const patch: Patch = {
    at: texture.at,
    size: n,
    left,
    top,
    energy: moments[8],
    x: left + centre - (plane.width - 1) / 2,
    y: top + centre - (plane.height - 1) / 2,
    ways: directions.length as 1 | 2,
    axes: Float64Array.from(directions.flat()),
    variances: Float64Array.from(variances),
    rows: new Float64Array(4 * directions.length),
  };
  fillRows(patch, texture, solve, directions);
  return { patch, solve };
}

/** The 3 x 3 matrix of a template, restricted to the directions its texture fixes. */
function solver(m: Float64Array, directions: [number, number][]): Float64Array | null {
  const basis = [...directions.map(([x, y]) => [x, y, 0]), [0, 0, 1]];
  const k = basis.length;
  const reduced = basis.map((u) =>
    basis.map((v) => {
      let sum = 0;
      for (let i = 0; i < 3; i++) for (let j = 0; j < 3; j++) sum += u[i] * m[i * 3 + j] * v[j];
      return sum;
    }),
  );
  const inverse = invertMatrix(reduced);
  if (!inverse) return null;
  const out = new Float64Array(9);
  for (let a = 0; a < k; a++) {
    for (let b = 0; b < k; b++) {
      for (let i = 0; i < 3; i++)
        for (let j = 0; j < 3; j++) out[i * 3 + j] += basis[a][i] * inverse[a][b] * basis[b][j];
    }
  }
  return out;
}

/** Inverse of a small symmetric matrix by elimination with pivots; null when it has none. */
export function invertMatrix(matrix: number[][]): number[][] | null {
  const n = matrix.length;
  const a = matrix.map((row, i) => [...row, ...Array.from({ length: n }, (_, j) => (i === j ? 1 : 0))]);
  for (let i = 0; i < n; i++) {
    let pivot = i;
    for (let r = i + 1; r < n; r++) if (abs(a[r][i]) > abs(a[pivot][i])) pivot = r;
    if (!(abs(a[pivot][i]) > 1e-12)) return null;
    [a[i], a[pivot]] = [a[pivot], a[i]];
    const d = a[i][i];
    for (let c = 0; c < 2 * n; c++) a[i][c] /= d;
    for (let r = 0; r < n; r++) {
      const f = a[r][i];
      if (r === i || f === 0) continue;
      for (let c = 0; c < 2 * n; c++) a[r][c] -= f * a[i][c];
    }
  }
  return a.map((row) => row.slice(n));
}

/** How the window's own shift estimate answers to a turn and a growth about its middle. */
function fillRows(patch: Patch, { grow, turn }: Texture, solve: Float64Array, directions: [number, number][]): void {
  const answer = (s: Float64Array, r: number) =>
    solve[r * 3] * s[0] + solve[r * 3 + 1] * s[1] + solve[r * 3 + 2] * s[2];
  const growX = patch.x + answer(grow, 0),
    growY = patch.y + answer(grow, 1);
  const turnX = -patch.y + answer(turn, 0),
    turnY = patch.x + answer(turn, 1);
  directions.forEach(([ex, ey], k) => {
    patch.rows.set([ex, ey, ex * growX + ey * growY, ex * turnX + ey * turnY], 4 * k);
  });
}
