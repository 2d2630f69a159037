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

/** A part of a picture, pixels, both ends included. */
export interface PixelBox {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

/** Connected sets (sides and corners touch) of the pixels that are not 0, with `least` to `most` of them. */
export function findRegions(
  mask: Uint8Array,
  width: number,
  height: number,
  least = 1,
  most: number = mask.length,
): Region[] {
  const { kernels, arrays } = roomFor(mask.length);
  arrays.mask.set(mask);
  const count = kernels.run.listRegions({
    mask: at(arrays.mask),
    width,
    height,
    least: Math.ceil(least),
    most: Math.floor(most),
    runs: at(arrays.runs),
    sets: at(arrays.sets),
    pixels: at(arrays.pixels),
  });
  const out: Region[] = [];
  for (let k = 0; k < count; k++) {
    const [pixels, left, top, right, bottom, from] = arrays.sets.subarray(SET * k, SET * (k + 1));
    if (pixels >= least && pixels <= most)
      out.push({ pixels: new Int32Array(arrays.pixels.subarray(from, from + pixels)), left, top, right, bottom });
  }
  return out;
}

/** Words for a run and for a set; there are at most as many of each as pixels. */
const RUN = 3,
  SET = 6;

const roomFor = onceForSize((pixels) =>
  Kernels.with({
    mask: ['bytes', pixels],
    runs: ['words', RUN * pixels],
    sets: ['words', SET * pixels],
    pixels: ['words', pixels],
  }),
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
