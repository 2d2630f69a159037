import { DistanceField } from '../base/image/distance';
import type { Silhouettes } from './silhouettes';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { ceil, floor, max, min } = Math;

/** Somebody is not in, or not known to be. */
export const NOBODY = 65535;
/** A table keeps distances in so many parts of a small pixel. */
const PARTS = 32;
/** Frames of each pass that a table holds at most: of longer ones only every second, third ... */
const MOST = 1000;
/** Inside an outline every so many pixels are looked at too: something small may lie whole within. */
const INSIDE = 3;

/**
 * The smallest distance between what stands in frames of one pass and in frames of another, every frame of the one
 * with every frame of the other: from it follows what sliding one of them in time would do.
 */
export interface GapTable {
  /** Every so many frames were looked at. */
  step: number;
  /** Looked-at frames of the first pass and of the second. */
  rows: number;
  columns: number;
  /** Row by row, 1/32 small pixel from edge to edge, 0 where they overlap; `NOBODY` where one is not in. */
  gaps: Uint16Array;
}

/** Where two passes are nearest in one frame. */
export interface Nearest {
  /** Small pixels from edge to edge; 0 where they overlap. */
  gap: number;
  /** The second one's pixel there. */
  at: number;
}

/** Side by side is not yet overlapping. */
const TOUCHING = 0.25;

/** Distance from edge to edge of pixels whose centres lie so far apart; 0 for one and the same. */
export const betweenEdges = (centres: number) => (centres === 0 ? 0 : max(TOUCHING, centres - 1));

const outlineOf = (mask: Uint8Array, width: number, height: number) => touchPoints(mask, width, height, false);

/** Pixels of a mask that can be the nearest to something outside it, and some of its inside. */
function touchPoints(mask: Uint8Array, width: number, height: number, inside = true): Int32Array {
  const out: number[] = [];
  // Most of a mask is empty, and skipped at once.
  for (let i = mask.indexOf(1); i >= 0; i = mask.indexOf(1, i)) {
    for (; i < mask.length && mask[i]; i++) {
      const x = i % width,
        y = (i - x) / width;
      const inner =
        (x === 0 || mask[i - 1]) &&
        (x === width - 1 || mask[i + 1]) &&
        (y === 0 || mask[i - width]) &&
        (y === height - 1 || mask[i + width]);
      if (!inner || (inside && x % INSIDE === 0 && y % INSIDE === 0)) out.push(i);
    }
  }
  return Int32Array.from(out);
}

function nearestOf(field: Float32Array, points: Int32Array): Nearest {
  let gap = Infinity,
    at = points[0];
  for (const i of points)
    if (field[i] < gap) {
      gap = field[i];
      at = i;
    }
  return { gap: betweenEdges(gap), at };
}

/**
 * The same of two outlines, point by point: for few pairs of frames that is less work than a field of distances.
 * @param inside points of the second's outline and of its inside: whatever overlaps
 */
function nearestOfTwo(
  one: Int32Array,
  mask: Uint8Array,
  points: Int32Array,
  inside: Int32Array,
  width: number,
): Nearest {
  for (const i of inside) if (mask[i]) return { gap: 0, at: i };
  const xs = one.map((i) => i % width),
    ys = one.map((i, k) => (i - xs[k]) / width);
  let least = Infinity,
    at = points[0];
  for (const i of points) {
    const x = i % width,
      y = (i - x) / width;
    for (let k = 0; k < xs.length; k++) {
      const dx = xs[k] - x,
        dy = ys[k] - y;
      const d = dx * dx + dy * dy;
      if (d < least) {
        least = d;
        at = i;
      }
    }
  }
  return { gap: betweenEdges(Math.sqrt(least)), at };
}

/** Goes through two passes together: the first one's masks by their distance fields, the second one's by their outlines. */
class Meeting {
  private readonly mask: Uint8Array;
  private readonly field: Float32Array;
  private readonly fields: DistanceField;

  constructor(
    private readonly a: Silhouettes,
    private readonly b: Silhouettes,
  ) {
    this.mask = new Uint8Array(a.width * a.height);
    this.field = new Float32Array(a.width * a.height);
    this.fields = new DistanceField(a.width, a.height);
  }

  /** The distance field of a frame of the first pass, valid until the next call; null where nobody is in. */
  fieldOf(frame: number): Float32Array | null {
    return this.a.mask(frame, this.mask) ? this.fields.of(this.mask, this.field) : null;
  }

  /** The outline of a frame of the second pass; null where nobody is in. */
  outlineOf(frame: number): Int32Array | null {
    const { width, height } = this.a;
    return this.b.mask(frame, this.mask) ? touchPoints(this.mask, width, height) : null;
  }
}

/**
 * How near two passes come in each frame of the first.
 * @param slide how many frames later the second starts
 */
export function gapsOf(a: Silhouettes, b: Silhouettes, slide: number): (Nearest | null)[] {
  const { width, height } = a;
  const [one, two] = [new Uint8Array(width * height), new Uint8Array(width * height)];
  return Array.from({ length: a.count }, (_, f) => {
    const other = f - slide;
    if (other < 0 || other >= b.count || !a.mask(f, one) || !b.mask(other, two)) return null;
    const [own, its] = [one, two].map((mask) => outlineOf(mask, width, height));
    return nearestOfTwo(own, one, its, touchPoints(two, width, height), width);
  });
}

/** Every frame of one pass against every frame of the other. */
export function gapTable(a: Silhouettes, b: Silhouettes): GapTable {
  const step = max(1, ceil(max(a.count, b.count) / MOST));
  const rows = ceil(a.count / step),
    columns = ceil(b.count / step);
  const gaps = new Uint16Array(rows * columns).fill(NOBODY);
  const meeting = new Meeting(a, b);
  const outlines = Array.from({ length: columns }, (_, k) => meeting.outlineOf(k * step));
  for (let r = 0; r < rows; r++) {
    const field = meeting.fieldOf(r * step);
    if (!field) continue;
    for (let c = 0; c < columns; c++) {
      const points = outlines[c];
      if (points) gaps[r * columns + c] = min(NOBODY - 1, floor(nearestOf(field, points).gap * PARTS));
    }
  }
  return { step, rows, columns, gaps };
}

/** The smallest distance when the second pass starts so many frames later, small pixels; Infinity where they never meet. */
export function closestAt({ step, rows, columns, gaps }: GapTable, slide: number): number {
  const by = Math.round(slide / step);
  let least = NOBODY;
  for (let r = max(0, by); r < rows && r - by < columns; r++) least = min(least, gaps[r * columns + r - by]);
  return least === NOBODY ? Infinity : least / PARTS;
}

/**
 * How near two passes come in each frame of the first when the second starts so many frames later, source pixels; null where
 * one of them is not in.
 * @param count frames of the first pass
 * @param factor source pixels for one small pixel
 */
export function gapTrace(
  { step, rows, columns, gaps }: GapTable,
  slide: number,
  count: number,
  factor: number,
): (number | null)[] {
  return Array.from({ length: count }, (_, f) => {
    const r = floor(f / step),
      c = floor((f - slide) / step);
    if (r >= rows || c < 0 || c >= columns) return null;
    const gap = gaps[r * columns + c];
    return gap === NOBODY ? null : (gap / PARTS) * factor;
  });
}

/** At least this share of the shorter pass must be left of both together. */
const LEAST_LEFT = 0.5;

/**
 * The smallest change of a slide that frees the two by at least so many small pixels; null when none does.
 * @param laid the slide as it is
 * @param free the distance wanted
 */
export function freeingSlide(table: GapTable, laid: number, free: number): { frames: number; closest: number } | null {
  const { rows, columns, step } = table;
  const least = LEAST_LEFT * min(rows, columns),
    from = Math.round(laid / step);
  for (let by = 1; by < max(rows, columns); by++) {
    const found = [from + by, from - by].flatMap((s) => {
      const left = min(rows, columns + s) - max(0, s);
      const closest = left >= least ? closestAt(table, s * step) : 0;
      return closest >= free && closest < Infinity ? [{ frames: s * step, closest }] : [];
    });
    if (found.length) return found.reduce((x, y) => (y.closest > x.closest ? y : x));
  }
  return null;
}
