import { addressOf as at, Kernels, onceForSize } from '../kernels/kernels';

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
    const count = kernels.run.nextRegion({
      mask: at(arrays.mask),
      width,
      height,
      start,
      queue: at(arrays.queue),
      out: at(arrays.out),
    });
    if (count === 0) return out;
    const [left, top, right, bottom, from] = arrays.out;
    if (count >= least) out.push({ pixels: new Int32Array(arrays.queue.subarray(0, count)), left, top, right, bottom });
    start = from + 1;
  }
}

const roomFor = onceForSize((pixels) =>
  Kernels.with({ mask: ['bytes', pixels], queue: ['words', pixels], out: ['words', 5] }),
);

/** Sums over squares of (2 r + 1) pixels, cut at the picture's edges, divided by how many pixels the square holds. */
export function boxMean(
  values: Uint8Array | Float32Array,
  width: number,
  height: number,
  r: number,
  out: Float32Array,
): Float32Array {
  const { kernels, arrays } = meansFor(width * height);
  arrays.values.set(values);
  kernels.run.boxMeans({
    values: at(arrays.values),
    width,
    height,
    r,
    columns: at(arrays.columns),
    out: at(arrays.out),
  });
  out.set(arrays.out.subarray(0, width * height));
  return out;
}

/** A row is at most as long as all pixels. */
const meansFor = onceForSize((pixels) =>
  Kernels.with({ values: ['floats', pixels], columns: ['floats', pixels + 3], out: ['floats', pixels] }),
);
