import { addressOf as at, Kernels, onceForSize } from '../kernels/kernels';
import { asBytes, type Plane } from './plane';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { ceil, floor, max, min, round, sqrt } = Math;

/** One picture as it is measured: full-range luma, and a small picture with colour for seeing who is in. */
export interface Picture {
  luma: Plane & { data: Uint8Array };
  small: SmallPicture;
}

/** Sizes of a small picture and its colour planes, which are half as large. */
export interface SmallSize {
  width: number;
  height: number;
  colourWidth: number;
  colourHeight: number;
  /** Measuring pixels for one small pixel. */
  factor: number;
}

/** One small picture: full-range luma and the two colour differences (128 is no colour). */
export interface SmallPicture { luma: Uint8Array; blue: Uint8Array; red: Uint8Array }

/** About this many pixels are enough to see a performer and their shadow. */
export const SMALL_PIXELS = 32400;

/** The small size that goes with a measuring size. */
export function smallSize(width: number, height: number): SmallSize {
  const factor = max(1, round(sqrt((width * height) / SMALL_PIXELS)));
  const small = { width: max(1, floor(width / factor)), height: max(1, floor(height / factor)) };
  return { ...small, colourWidth: ceil(small.width / 2), colourHeight: ceil(small.height / 2), factor };
}

/** A picture of one plane, with its colour differences at half size or without. */
export function pictureOf(luma: Plane, colour: { blue: Plane; red: Plane } | null = null): Picture {
  const size = smallSize(luma.width, luma.height);
  const data = asBytes(luma);
  const half = (plane: Plane | undefined) => (plane ? shrinkBytes(plane, size.factor, size.colourWidth, size.colourHeight) : new Uint8Array(size.colourWidth * size.colourHeight).fill(128));
  return { luma: { ...luma, data }, small: { luma: smallLuma({ ...luma, data }, size), blue: half(colour?.blue), red: half(colour?.red) } };
}

/** The luma of a small picture: means of whole blocks. `size` is the one that goes with the picture's. */
export function smallLuma(luma: Picture['luma'], size: SmallSize): Uint8Array {
  const { width, data } = luma;
  if (size.factor > MOST_COMPILED) return shrinkBytes(luma, size.factor, size.width, size.height);
  const { kernels, arrays } = roomFor(data.length);
  arrays.plane.set(data);
  kernels.run.shrinkBlocks(at(arrays.plane), width, size.factor, size.width, size.height, at(arrays.columns), at(arrays.out));
  return arrays.out.slice(0, size.width * size.height);
}

/** Sums of larger blocks do not fit into what the compiled loop adds up in; no camera's picture is so narrow. */
const MOST_COMPILED = 16;
/** A row is at most as long as all pixels. */
const roomFor = onceForSize((pixels) => Kernels.with({ plane: ['bytes', pixels], columns: ['bytes', 2 * pixels + 64], out: ['bytes', pixels] }));

/** How luma and colour differences make red, green and blue: the shares of red and blue in luma. */
export interface Matrix { red: number; blue: number }
export const BT709: Matrix = { red: 0.2126, blue: 0.0722 };
export const BT601: Matrix = { red: 0.299, blue: 0.114 };

/** Averages blocks of `factor` x `factor` bytes, rounded; blocks over the edge hold what there is of them. */
function shrinkBytes({ data, width: stride, height: rows }: Plane, factor: number, width: number, height: number): Uint8Array {
  const out = new Uint8Array(width * height);
  for (let y = 0, o = 0; y < height; y++) {
    const top = min(y * factor, rows - 1), bottom = min(rows, top + factor);
    for (let x = 0; x < width; x++, o++) {
      const left = min(x * factor, stride - 1), right = min(stride, left + factor);
      let sum = 0;
      for (let v = top; v < bottom; v++) for (let i = v * stride + left; i < v * stride + right; i++) sum += data[i];
      out[o] = sum / ((bottom - top) * (right - left)) + 0.5;
    }
  }
  return out;
}
