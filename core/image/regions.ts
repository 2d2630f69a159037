import { addressOf as at, Kernels, onceForSize } from '../kernels/kernels';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { max, min } = Math;

/** A connected set of pixels. */
export interface Region {
  pixels: Int32Array;
  left: number;
  top: number;
  /** Both ends included. */
  right: number;
  bottom: number;
}

/** Connected sets (sides and corners touch) of the pixels that are not 0, with at least `least` of them. */
export function findRegions(mask: Uint8Array, width: number, height: number, least = 1): Region[] {
  const { kernels, arrays } = roomFor(mask.length);
  arrays.mask.set(mask);
  const out: Region[] = [];
  for (let start = 0; ;) {
    const count = kernels.run.nextRegion(at(arrays.mask), width, height, start, at(arrays.queue), at(arrays.out));
    if (count === 0) return out;
    const [left, top, right, bottom, from] = arrays.out;
    if (count >= least) out.push({ pixels: new Int32Array(arrays.queue.subarray(0, count)), left, top, right, bottom });
    start = from + 1;
  }
}

const roomFor = onceForSize((pixels) => Kernels.with({ mask: ['bytes', pixels], queue: ['words', pixels], out: ['words', 5] }));

/** Sums over squares of (2 r + 1) pixels, cut at the picture's edges, divided by how many pixels the square holds. */
export function boxMean(values: Uint8Array | Float32Array, width: number, height: number, r: number, out: Float32Array): Float32Array {
  // Sums down each column, moved on row by row, and along them.
  const columns = new Float64Array(width);
  for (let y = 0; y < min(r, height); y++) addRow(columns, values, y * width, 1);
  for (let y = 0; y < height; y++) {
    if (y + r < height) addRow(columns, values, (y + r) * width, 1);
    if (y - r - 1 >= 0) addRow(columns, values, (y - r - 1) * width, -1);
    meansAlong(columns, r, min(height - 1, y + r) - max(0, y - r) + 1, out, y * width);
  }
  return out;
}

function addRow(sums: Float64Array, values: Uint8Array | Float32Array, from: number, sign: number): void {
  for (let x = 0, i = from; x < sums.length; x++, i++) sums[x] += sign * values[i];
}

/** Means of 2 r + 1 columns of so many rows, cut at both ends. */
function meansAlong(columns: Float64Array, r: number, rows: number, out: Float32Array, from: number): void {
  const width = columns.length, whole = 1 / ((2 * r + 1) * rows);
  let sum = 0;
  for (let x = 0; x < min(r, width); x++) sum += columns[x];
  for (let x = 0, i = from; x < width; x++, i++) {
    if (x + r < width) sum += columns[x + r];
    if (x > r) sum -= columns[x - r - 1];
    out[i] = x >= r && x + r < width ? sum * whole : sum / ((min(width - 1, x + r) - max(0, x - r) + 1) * rows);
  }
}
