import type { GapTable } from './gaps';
import type { Silhouettes } from './silhouettes';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { ceil, floor, max, min } = Math;

/** Stretches of pixels of a picture: row, first and last pixel of each, one after the other. */
export type Stretches = number[];

/**
 * Who is where in two passes of one setup, small enough to be sent: for drawing a line between them by hand. Both lie on the
 * first one's picture; frames are each pass's own.
 */
export interface PassOutlines {
  width: number;
  height: number;
  /** Source pixels for one pixel of this grid. */
  factor: number;
  /** The same of the grid on which the two were measured, and which a gap table speaks of. */
  fine_factor: number;
  /** So many frames are taken together. */
  step: number;
  /** Frames of each pass. */
  count: { a: number; b: number };
  /** For each `step` frames; null where it is not known who is in. */
  a: (Stretches | null)[];
  b: (Stretches | null)[];
}

/** Width of the grid at most, and pictures of each pass at most. */
const MOST_WIDE = 480;
const MOST_PICTURES = 600;

/**
 * Two passes' silhouettes on a coarser grid, on which nobody is smaller than they are.
 * @param factor source pixels for one of their pixels
 */
export function outlinesOfPasses(a: Silhouettes, b: Silhouettes, factor: number): PassOutlines {
  const pool = ceil(a.width / MOST_WIDE),
    step = max(1, ceil(max(a.count, b.count) / MOST_PICTURES));
  const width = ceil(a.width / pool),
    height = ceil(a.height / pool);
  const mask = new Uint8Array(a.width * a.height);
  const pooled = (pass: Silhouettes) =>
    Array.from({ length: ceil(pass.count / step) }, (_, n): Stretches | null => {
      const small = new Uint8Array(width * height);
      let known = false;
      for (let f = n * step; f < min(pass.count, (n + 1) * step); f++) {
        const any = pass.mask(f, mask);
        known ||= any !== null;
        if (!any) continue;
        for (let i = 0; i < mask.length; i++)
          if (mask[i]) small[floor(floor(i / a.width) / pool) * width + floor((i % a.width) / pool)] = 1;
      }
      return known ? stretchesOf(small, width) : null;
    });
  const count = { a: a.count, b: b.count };
  return { width, height, factor: factor * pool, fine_factor: factor, step, count, a: pooled(a), b: pooled(b) };
}

function stretchesOf(mask: Uint8Array, width: number): Stretches {
  const out: Stretches = [];
  for (let row = 0; row < mask.length; row += width)
    for (let x = 0; x < width; x++) {
      if (!mask[row + x]) continue;
      const from = x;
      while (x + 1 < width && mask[row + x + 1]) x++;
      out.push(row / width, from, x);
    }
  return out;
}

/** A gap table as bytes: step, rows and columns as 32-bit numbers, then the gaps; all little-endian. */
export function packGaps({ step, rows, columns, gaps }: GapTable): Uint8Array {
  const out = new Uint8Array(12 + 2 * gaps.length);
  const view = new DataView(out.buffer);
  [step, rows, columns].forEach((v, i) => view.setUint32(4 * i, v, true));
  gaps.forEach((g, i) => view.setUint16(12 + 2 * i, g, true));
  return out;
}

/** Reads what `packGaps` wrote; null when it is not whole. */
export function unpackGaps(bytes: ArrayBuffer): GapTable | null {
  if (bytes.byteLength < 12) return null;
  const view = new DataView(bytes);
  const [step, rows, columns] = [0, 4, 8].map((at) => view.getUint32(at, true));
  if (bytes.byteLength !== 12 + 2 * rows * columns) return null;
  return {
    step,
    rows,
    columns,
    gaps: Uint16Array.from({ length: rows * columns }, (_, i) => view.getUint16(12 + 2 * i, true)),
  };
}

/** The same with the second pass first. Both still lie on the picture of the one that was first. */
export function turnedRound({ a, b, count, ...rest }: PassOutlines): PassOutlines {
  return { ...rest, count: { a: count.b, b: count.a }, a: b, b: a };
}

/** A gap table with the second pass first. */
export function turnedTable({ step, rows, columns, gaps }: GapTable): GapTable {
  const turned = Uint16Array.from({ length: gaps.length }, (_, i) => gaps[(i % rows) * columns + floor(i / rows)]);
  return { step, rows: columns, columns: rows, gaps: turned };
}
