import { findRegions, type Region } from '../image/regions';
import { onceForSize } from '../kernels/kernels';
import type { Background } from '../scene/background';
import type { SteadyPicture } from '../scene/steady-reader';
import { HOT, WARM, type Differ } from './differ';
import { BODY, NONE, ShadeTest, SHADOW } from './shade';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, floor, max, min } = Math;

/** Something in front of the background in one frame. */
export interface Figure {
  /** Small pixels, both ends included, body and shadow together. */
  left: number;
  top: number;
  right: number;
  bottom: number;
  /** Area of the body and of the shadow, small pixels; the body's counts its edge by how much of each pixel it covers. */
  body: number;
  shadow: number;
  /** The body's own box; null when only a shadow is seen. */
  box: { left: number; top: number; right: number; bottom: number } | null;
  /** Rows of the mask: y, first x, last x, kind (1 body, 2 shadow), four numbers a piece. */
  rows: ArrayLike<number>;
}

/** Fewer surely different pixels than this are a speck. */
const LEAST_HOT = 6;
const LEAST_AREA = 0.0008;
/** Nobody comes into being amid the picture: there a figure must be larger, for the background's own faults lie there. */
const LEAST_INSIDE = 0.0015;
/** A shadow by itself must be larger: coding makes faint patches too. */
const LEAST_SHADE = 0.0015;
/** And deeper than what coding leaves behind where the light changes slowly, stops. */
const LEAST_DEPTH = 0.14;
const LARGEST_HOLE = 40;
/** A change of light this large without anybody in it is the sun's or a lamp's, not a shadow of somebody. */
const LARGE_SHADE = 0.12;

/** Finds the figures in one frame, once the differ has compared it. */
export function findFigures(
  differ: Differ,
  background: Background,
  picture: SteadyPicture,
  shade: ShadeTest,
  light: number,
): Figure[] {
  const { width, height } = background;
  const { strength } = differ;
  const pixels = width * height;
  if (differ.countAbove(HOT) < LEAST_HOT) return [];
  const { warm, kind, before } = masksOf(pixels);
  markAbove(strength, WARM, warm);
  close(warm, before, width, height);
  const out: Figure[] = [];
  for (const region of findRegions(warm, width, height, max(8, LEAST_AREA * pixels))) {
    let hot = 0;
    for (const i of region.pixels) if (strength[i] > HOT) hot++;
    if (hot < LEAST_HOT || hot < 0.04 * region.pixels.length) continue;
    shade.classify(region, picture, light, kind);
    let shaded = 0,
      bodied = 0;
    for (const i of region.pixels) {
      if (kind[i] === SHADOW) shaded++;
      else if (kind[i] === BODY) bodied++;
    }
    const edge = region.left <= 1 || region.top <= 1 || region.right >= width - 2 || region.bottom >= height - 2;
    if (bodied + shaded < (edge ? LEAST_AREA : LEAST_INSIDE) * pixels) {
      for (const i of region.pixels) kind[i] = NONE;
      continue;
    }
    if (shaded > 0.85 * (shaded + bodied) && region.pixels.length > LARGE_SHADE * pixels) {
      for (const i of region.pixels) kind[i] = NONE;
      continue;
    }
    if (bodied === 0 && shaded < LEAST_SHADE * pixels) {
      for (const i of region.pixels) kind[i] = NONE;
      continue;
    }
    if (bodied < 0.15 * (bodied + shaded) && shade.meanDepth(region, picture, light, kind) < LEAST_DEPTH) {
      for (const i of region.pixels) kind[i] = NONE;
      continue;
    }
    if (bodied) fillHoles(kind, region, width);
    out.push(describe(region, kind, differ, background));
  }
  return out;
}

const roomFor = onceForSize((pixels) => new Uint8Array(3 * pixels));

/** Three empty masks of a picture, in memory that is used again for the next. */
function masksOf(pixels: number): Record<'warm' | 'kind' | 'before', Uint8Array> {
  const room = roomFor(pixels).fill(0);
  const mask = (k: number) => room.subarray(k * pixels, (k + 1) * pixels);
  return { warm: mask(0), kind: mask(1), before: mask(2) };
}

function markAbove(strength: Float32Array, bound: number, mask: Uint8Array): void {
  for (let i = 0; i < mask.length; i++) if (strength[i] > bound) mask[i] = 1;
}

/** Sets pixels most of whose neighbours are set. @param before room for as many */
function close(mask: Uint8Array, before: Uint8Array, width: number, height: number): void {
  before.set(mask);
  for (let y = 1; y < height - 1; y++) {
    for (let x = 1, i = y * width + 1; x < width - 1; x++, i++) {
      if (before[i]) continue;
      const n =
        before[i - 1] +
        before[i + 1] +
        before[i - width] +
        before[i + width] +
        before[i - width - 1] +
        before[i - width + 1] +
        before[i + width - 1] +
        before[i + width + 1];
      if (n >= 5) mask[i] = 1;
    }
  }
}

/** Small gaps inside a body belong to it: there it happens to look like what lies behind. */
function fillHoles(kind: Uint8Array, region: Region, width: number): void {
  const w = region.right - region.left + 1,
    h = region.bottom - region.top + 1;
  const gaps = new Uint8Array(w * h);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) gaps[y * w + x] = kind[(y + region.top) * width + x + region.left] === NONE ? 1 : 0;
  for (const gap of findRegions(gaps, w, h)) {
    if (
      gap.pixels.length > LARGEST_HOLE ||
      gap.left === 0 ||
      gap.top === 0 ||
      gap.right === w - 1 ||
      gap.bottom === h - 1
    )
      continue;
    for (const i of gap.pixels) kind[(floor(i / w) + region.top) * width + (i % w) + region.left] = BODY;
  }
}

/** Pixels of a body this close to its outline count by how much they differ: the outline itself is blurred by lens, scaling and coding. */
const RIM = 3;

function describe(region: Region, kind: Uint8Array, differ: Differ, background: Background): Figure {
  const { width, height } = background;
  let body = 0,
    shadow = 0;
  const rows: number[] = [];
  const box = { left: width, top: height, right: -1, bottom: -1 };
  const x0 = max(0, region.left - 2),
    x1 = min(width - 1, region.right + 2);
  const y0 = max(0, region.top - 2),
    y1 = min(height - 1, region.bottom + 2);
  const w = x1 - x0 + 1,
    h = y1 - y0 + 1;
  const depth = depths(kind, x0, y0, w, h, background);
  const apart = (i: number, x: number, y: number) =>
    abs(differ.difference[i]) +
    differ.colour[
      min(background.colourHeight - 1, y >> 1) * background.colourWidth + min(background.colourWidth - 1, x >> 1)
    ];
  // Running totals of what lies well inside, and of how much it differs.
  const sums = new Float64Array((w + 1) * (h + 1)),
    deep = new Int32Array((w + 1) * (h + 1));
  for (let y = 0; y < h; y++) {
    for (let x = 0, sum = 0, n = 0; x < w; x++) {
      if (depth[y * w + x] >= RIM) {
        sum += apart((y + y0) * width + x + x0, x + x0, y + y0);
        n++;
      }
      const o = (y + 1) * (w + 1) + x + 1;
      sums[o] = sums[o - w - 1] + sum;
      deep[o] = deep[o - w - 1] + n;
    }
  }
  for (let y = y0; y <= y1; y++) {
    let start = x0,
      now = NONE;
    for (let x = x0; x <= x1 + 1; x++) {
      const i = y * width + x;
      const k = x <= x1 ? kind[i] : NONE;
      if (k !== now) {
        if (now !== NONE) rows.push(y, start, x - 1, now);
        start = x;
        now = k;
      }
      if (x > x1) continue;
      const d = depth[(y - y0) * w + x - x0];
      if (k === SHADOW) shadow++;
      else if (d !== 0) {
        const full = d > RIM ? 1 : min(1, apart(i, x, y) / inner(x, y));
        body += full;
        if (k === BODY && (d > 1 || full > 0.5)) {
          if (x < box.left) box.left = x;
          if (x > box.right) box.right = x;
          if (y < box.top) box.top = y;
          if (y > box.bottom) box.bottom = y;
        }
      }
    }
  }
  return {
    left: region.left,
    top: region.top,
    right: region.right,
    bottom: region.bottom,
    body,
    shadow,
    box: box.right < 0 ? null : box,
    // Two bytes a number: half an hour of somebody is a good part of what a long take takes up.
    rows: Int16Array.from(rows),
  };

  /** How much the body differs close by, a little inside its outline. */
  function inner(x: number, y: number): number {
    const a = max(0, x - x0 - RIM - 1),
      b = min(w, x - x0 + RIM + 2),
      c = max(0, y - y0 - RIM - 1) * (w + 1),
      d = min(h, y - y0 + RIM + 2) * (w + 1);
    const n = deep[d + b] - deep[c + b] - deep[d + a] + deep[c + a];
    if (n >= 3) return max(1, (sums[d + b] - sums[c + b] - sums[d + a] + sums[c + a]) / n);
    let most = 1;
    for (let v = max(y0, y - RIM - 1); v <= min(y1, y + RIM + 1); v++)
      for (let u = max(x0, x - RIM - 1); u <= min(x1, x + RIM + 1); u++)
        if (depth[(v - y0) * w + u - x0] >= 1) most = max(most, apart(v * width + u, u, v));
    return 0.85 * most;
  }
}

/** Pixels that may touch a body's outline from outside, across and down: two to each side, one across a corner. */
const BESIDE = Int8Array.of(1, 0, -1, 0, 0, 1, 0, -1, 2, 0, -2, 0, 0, 2, 0, -2, 1, 1, -1, 1, 1, -1, -1, -1);
const REACH = 2;

/**
 * Steps from each body pixel to bare background (sides and corners), up to 9; -1 beside a body, 0 further out. The
 * picture's edge is no outline.
 */
function depths(
  kind: Uint8Array,
  x0: number,
  y0: number,
  w: number,
  h: number,
  { width, height }: Background,
): Int8Array {
  const out = new Int8Array(w * h);
  const at = (x: number, y: number) =>
    x < 0 || y < 0 || x >= w || y >= h
      ? x + x0 < 0 || y + y0 < 0 || x + x0 >= width || y + y0 >= height
        ? 9
        : 0
      : out[y * w + x];
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++)
      out[y * w + x] =
        kind[(y + y0) * width + x + x0] === BODY ? 9 : kind[(y + y0) * width + x + x0] === SHADOW ? 8 : 0;
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++)
      if (out[y * w + x])
        out[y * w + x] = min(out[y * w + x], 1 + min(at(x - 1, y), at(x, y - 1), at(x - 1, y - 1), at(x + 1, y - 1)));
  for (let y = h - 1; y >= 0; y--)
    for (let x = w - 1; x >= 0; x--)
      if (out[y * w + x])
        out[y * w + x] = min(out[y * w + x], 1 + min(at(x + 1, y), at(x, y + 1), at(x + 1, y + 1), at(x - 1, y + 1)));
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      const i = (y + y0) * width + x + x0;
      if (kind[i] === SHADOW) out[y * w + x] = 0;
      else if (kind[i] === BODY && out[y * w + x] <= REACH)
        for (let k = 0; k < BESIDE.length; k += 2) {
          const u = x + BESIDE[k],
            v = y + BESIDE[k + 1];
          if (u < 0 || v < 0 || u >= w || v >= h || out[v * w + u] !== 0) continue;
          if (kind[(v + y0) * width + u + x0] === NONE) out[v * w + u] = -1;
        }
    }
  }
  return out;
}
