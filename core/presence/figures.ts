import { findRegions, type PixelBox, type Region } from '../base/image/regions';
import { onceForSize } from '../base/kernels/kernels';
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

/**
 * Finds the figures in one frame, once the differ has compared it. What is worked out for each pixel is worked out once
 * for all of them: however many there are, and however their boxes overlap, the time is that of one look at the picture.
 */
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
  const isHot = (region: Region) => {
    let hot = 0;
    for (const i of region.pixels) if (strength[i] > HOT) hot++;
    return hot >= LEAST_HOT && hot >= 0.04 * region.pixels.length;
  };
  const regions = findRegions(warm, width, height, max(8, LEAST_AREA * pixels)).filter(isHot);
  if (regions.length === 0) return [];
  const whole = around(regions);
  shade.prepare(whole, picture);
  const kept: Region[] = [];
  for (const region of regions) {
    shade.classify(region, picture, light, kind);
    let shaded = 0,
      bodied = 0;
    for (const i of region.pixels) {
      if (kind[i] === SHADOW) shaded++;
      else if (kind[i] === BODY) bodied++;
    }
    const edge = region.left <= 1 || region.top <= 1 || region.right >= width - 2 || region.bottom >= height - 2;
    if (
      bodied + shaded < (edge ? LEAST_AREA : LEAST_INSIDE) * pixels ||
      (shaded > 0.85 * (shaded + bodied) && region.pixels.length > LARGE_SHADE * pixels) ||
      (bodied === 0 && shaded < LEAST_SHADE * pixels) ||
      (bodied < 0.15 * (bodied + shaded) && shade.meanDepth(region, picture, light, kind) < LEAST_DEPTH)
    )
      for (const i of region.pixels) kind[i] = NONE;
    else kept.push(region);
  }
  if (kept.length === 0) return [];
  // Whose a pixel is: 1 for the first figure, 0 for nobody's.
  const owner = ownersOf(pixels).fill(0);
  kept.forEach((region, n) => {
    for (const i of region.pixels) if (kind[i] !== NONE) owner[i] = n + 1;
  });
  fillHoles(kind, owner, whole, width);
  return describe(kept, kind, owner, differ, background);
}

/** The smallest box that holds some regions. */
function around(regions: readonly PixelBox[]): PixelBox {
  const whole = { ...regions[0] };
  for (const { left, top, right, bottom } of regions) {
    whole.left = min(whole.left, left);
    whole.top = min(whole.top, top);
    whole.right = max(whole.right, right);
    whole.bottom = max(whole.bottom, bottom);
  }
  return whole;
}

const ownersOf = onceForSize((pixels) => new Int32Array(pixels));
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
function fillHoles(kind: Uint8Array, owner: Int32Array, box: PixelBox, width: number): void {
  const w = box.right - box.left + 1,
    h = box.bottom - box.top + 1;
  const gaps = roomForGaps(kind.length).subarray(0, w * h);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) gaps[y * w + x] = kind[(y + box.top) * width + x + box.left] === NONE ? 1 : 0;
  for (const gap of findRegions(gaps, w, h, 1, LARGEST_HOLE)) {
    if (gap.left === 0 || gap.top === 0 || gap.right === w - 1 || gap.bottom === h - 1) continue;
    const placed = (i: number) => (floor(i / w) + box.top) * width + (i % w) + box.left;
    // It lies inside whoever is left of it.
    const of = owner[placed(gap.pixels[0]) - 1];
    for (const i of gap.pixels) {
      kind[placed(i)] = BODY;
      owner[placed(i)] = of;
    }
  }
}

/** Pixels of a body this close to its outline count by how much they differ: the outline itself is blurred by lens, scaling and coding. */
const RIM = 3;

/** What each region is, from the kind of its pixels and whose they are. */
function describe(
  regions: readonly Region[],
  kind: Uint8Array,
  owner: Int32Array,
  differ: Differ,
  background: Background,
): Figure[] {
  const { width, height } = background;
  const whole = around(regions);
  const x0 = max(0, whole.left - 2),
    x1 = min(width - 1, whole.right + 2);
  const y0 = max(0, whole.top - 2),
    y1 = min(height - 1, whole.bottom + 2);
  const w = x1 - x0 + 1,
    h = y1 - y0 + 1;
  const depth = depths(kind, x0, y0, w, h, background);
  const { sums, deep, apart } = roomToDescribe((width + 1) * (height + 1));
  sums.fill(0, 0, w + 1);
  deep.fill(0, 0, w + 1);
  for (let y = 0; y <= h; y++) sums[y * (w + 1)] = deep[y * (w + 1)] = 0;
  const { difference, colour } = differ;
  const { colourWidth, colourHeight } = background;
  for (let y = 0, o = 0; y < h; y++) {
    const row = (y + y0) * width + x0,
      colourRow = min(colourHeight - 1, (y + y0) >> 1) * colourWidth;
    for (let x = 0; x < w; x++, o++)
      apart[o] = abs(difference[row + x]) + colour[colourRow + min(colourWidth - 1, (x + x0) >> 1)];
  }
  // Running totals of what lies well inside, and of how much it differs.
  for (let y = 0; y < h; y++) {
    for (let x = 0, sum = 0, n = 0; x < w; x++) {
      if (depth[y * w + x] >= RIM) {
        sum += apart[y * w + x];
        n++;
      }
      const o = (y + 1) * (w + 1) + x + 1;
      sums[o] = sums[o - w - 1] + sum;
      deep[o] = deep[o - w - 1] + n;
    }
  }
  const drafts = regions.map(() => ({
    body: 0,
    shadow: 0,
    box: { left: width, top: height, right: -1, bottom: -1 },
    rows: [] as number[],
  }));
  for (let y = y0; y <= y1; y++) {
    let start = x0,
      now = NONE,
      whose = 0;
    for (let x = x0; x <= x1 + 1; x++) {
      const i = y * width + x;
      const k = x <= x1 ? kind[i] : NONE;
      const of = k === NONE ? 0 : owner[i];
      if (k !== now || of !== whose) {
        if (now !== NONE) drafts[whose - 1].rows.push(y, start, x - 1, now);
        start = x;
        now = k;
        whose = of;
      }
      if (x > x1) continue;
      const o = (y - y0) * w + x - x0;
      const d = depth[o];
      if (k === SHADOW) drafts[of - 1].shadow++;
      else if (d !== 0) {
        const draft = drafts[(k === NONE ? ownerBeside(x, y) : of) - 1];
        const full = d > RIM ? 1 : min(1, apart[o] / inner(x - x0, y - y0));
        draft.body += full;
        const { box } = draft;
        if (k === BODY && (d > 1 || full > 0.5)) {
          if (x < box.left) box.left = x;
          if (x > box.right) box.right = x;
          if (y < box.top) box.top = y;
          if (y > box.bottom) box.bottom = y;
        }
      }
    }
  }
  return drafts.map(({ body, shadow, box, rows }, n) => {
    const { left, top, right, bottom } = regions[n];
    return {
      ...{ left, top, right, bottom, body, shadow },
      box: box.right < 0 ? null : box,
      // Two bytes a number: half an hour of somebody is a good part of what a long take takes up.
      rows: Int16Array.from(rows),
    };
  });

  /** Whose outline a pixel lies beside. */
  function ownerBeside(x: number, y: number): number {
    for (let k = 0; k < BESIDE.length; k += 2) {
      const u = x - BESIDE[k],
        v = y - BESIDE[k + 1];
      if (u >= 0 && v >= 0 && u < width && v < height && kind[v * width + u] === BODY) return owner[v * width + u];
    }
    return 1;
  }

  /** How much the body differs close by, a little inside its outline; from the part's own corner. */
  function inner(x: number, y: number): number {
    const a = max(0, x - RIM - 1),
      b = min(w, x + RIM + 2),
      c = max(0, y - RIM - 1),
      d = min(h, y + RIM + 2);
    const above = c * (w + 1),
      below = d * (w + 1);
    const n = deep[below + b] - deep[above + b] - deep[below + a] + deep[above + a];
    if (n >= 3) return max(1, (sums[below + b] - sums[above + b] - sums[below + a] + sums[above + a]) / n);
    let most = 1;
    for (let v = c; v < d; v++)
      for (let o = v * w + a, end = v * w + b; o < end; o++) if (depth[o] >= 1 && apart[o] > most) most = apart[o];
    return 0.85 * most;
  }
}

/** Memory that is used again for the next picture: fresh memory costs more than what is worked out in it. */
const roomToDescribe = onceForSize((count) => ({
  sums: new Float64Array(count),
  deep: new Int32Array(count),
  apart: new Float32Array(count),
}));
const roomForDepths = onceForSize((count) => ({ out: new Int8Array(count), padded: new Int8Array(count) }));
const roomForGaps = onceForSize((pixels) => new Uint8Array(pixels));

/** Pixels that may touch a body's outline from outside, across and down: two to each side, one across a corner. */
const BESIDE = Int8Array.of(1, 0, -1, 0, 0, 1, 0, -1, 2, 0, -2, 0, 0, 2, 0, -2, 1, 1, -1, 1, 1, -1, -1, -1);
const REACH = 2;
/** As deep inside a body as is told apart. */
const FAR = 9;

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
  const room = roomForDepths((width + 2) * (height + 2));
  const out = room.out.subarray(0, w * h);
  // A rim round it, one pixel wide: the picture's edge is no outline, bare background is one.
  const stride = w + 2;
  const padded = room.padded.subarray(0, stride * (h + 2)).fill(0);
  if (y0 === 0) padded.fill(FAR, 0, stride);
  if (y0 + h === height) padded.fill(FAR, stride * (h + 1));
  for (let y = 0; y < h + 2; y++) {
    if (x0 === 0) padded[y * stride] = FAR;
    if (x0 + w === width) padded[y * stride + w + 1] = FAR;
  }
  for (let y = 0; y < h; y++)
    for (let x = 0, i = (y + y0) * width + x0, o = (y + 1) * stride + 1; x < w; x++, i++, o++)
      padded[o] = kind[i] === BODY ? FAR : kind[i] === SHADOW ? FAR - 1 : 0;
  for (let y = 0; y < h; y++)
    for (let x = 0, o = (y + 1) * stride + 1; x < w; x++, o++) {
      if (padded[o] === 0) continue;
      const up = o - stride;
      const near = min(min(padded[o - 1], padded[up]), min(padded[up - 1], padded[up + 1]));
      if (near + 1 < padded[o]) padded[o] = near + 1;
    }
  for (let y = h - 1; y >= 0; y--)
    for (let x = w - 1, o = (y + 1) * stride + w; x >= 0; x--, o--) {
      if (padded[o] === 0) continue;
      const down = o + stride;
      const near = min(min(padded[o + 1], padded[down]), min(padded[down + 1], padded[down - 1]));
      if (near + 1 < padded[o]) padded[o] = near + 1;
    }
  for (let y = 0; y < h; y++) out.set(padded.subarray((y + 1) * stride + 1, (y + 1) * stride + 1 + w), y * w);
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
