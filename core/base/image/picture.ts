import { addressOf as at, Kernels } from '../kernels/kernels';
import { asBytes, type Plane } from './plane';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { ceil, floor, max, min, round, sqrt } = Math;

/** One picture as it is measured: full-range luma, and a small picture with colour for seeing who is in. */
export interface Picture {
  luma: Plane & { data: Uint8Array };
  small: SmallPicture;
  /** Where that was asked for: colour differences of the fine size, blue below red. */
  fineColour?: Uint8Array;
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
export interface SmallPicture {
  luma: Uint8Array;
  blue: Uint8Array;
  red: Uint8Array;
}

/** About this many pixels are enough to see a performer and their shadow. */
export const SMALL_PIXELS = 32400;

/** The small size that goes with a measuring size. */
export function smallSize(width: number, height: number): SmallSize {
  const factor = max(1, round(sqrt((width * height) / SMALL_PIXELS)));
  const small = { width: max(1, floor(width / factor)), height: max(1, floor(height / factor)) };
  return { ...small, colourWidth: ceil(small.width / 2), colourHeight: ceil(small.height / 2), factor };
}

/** The size of fine pictures that goes with a measuring size: about twice as fine as small ones. */
export function fineSize(width: number, height: number) {
  const smallFactor = smallSize(width, height).factor;
  const factor = min(smallFactor, max(2, round(smallFactor / 2)));
  return { width: floor(width / factor), height: floor(height / factor), factor, smallFactor };
}

/** Sums of larger blocks do not fit into what the compiled loop adds up in; no camera's picture is so narrow. */
const MOST_COMPILED = 16;

/** Variance of the cubic B-spline, in pixels squared. */
const SPLINE_VARIANCE = 1 / 3;

/**
 * How much to take off a block's sides so that the spline and the block together spread as far as the block alone
 * would: blocks are n pixels wide, whose centres have a variance of (n^2 - 1) / 12, and the block n^2 / 12.
 */
function rimFor(n: number): number {
  const wanted = (n * n) / 12 - SPLINE_VARIANCE;
  return (n * ((n * n - 1) / 12 - wanted)) / (2 * (((n + 1) / 2) ** 2 - wanted));
}

/** Colour differences of broadcast range in the whole range. */
const WIDENED = Uint8Array.from({ length: 256 }, (_, c) => max(0, min(255, round(128 + ((c - 128) * 255) / 224))));

/**
 * Takes in the luma of pictures of one size as they were decoded: brings it into full range, and makes the small one
 * (means of whole blocks).
 */
export class LumaIntake {
  readonly size: SmallSize;
  private readonly rim: number;
  private readonly room;

  /**
   * @param broadcast whether what is given is of broadcast range, 16 to 235
   * @param smoothed whether it was made from a larger one by a cubic B-spline: that softness is kept from the small one
   */
  constructor(
    readonly width: number,
    readonly height: number,
    private readonly broadcast: boolean,
    smoothed: boolean,
  ) {
    this.size = smallSize(width, height);
    this.rim = smoothed ? rimFor(this.size.factor) : 0;
    this.room = Kernels.with({
      plane: ['bytes', width * height],
      columns: ['bytes', 8 * (width + 48)],
      small: ['bytes', this.size.width * this.size.height],
    });
  }

  /** One picture; what is given is overwritten by the next. */
  take(decoded: Uint8Array): { luma: Picture['luma']; small: Uint8Array } {
    const {
      width,
      height,
      size: { factor, width: across, height: down },
    } = this;
    const {
      kernels,
      arrays: { plane, columns, small },
    } = this.room;
    plane.set(decoded);
    if (this.broadcast) kernels.run.widenLuma({ plane: at(plane), count: plane.length });
    const luma = { width, height, data: plane };
    if (factor > MOST_COMPILED) return { luma, small: shrinkBytes(luma, factor, across, down) };
    kernels.run.shrinkBlocks({
      plane: at(plane),
      width,
      height,
      factor,
      across,
      down,
      rim: this.rim,
      columns: at(columns),
      out: at(small),
    });
    return { luma, small };
  }
}

/** Brings colour differences of pictures of one size from broadcast range into full range. */
export class ColourIntake {
  private readonly room;

  /** @param bytes of one picture's colour differences */
  constructor(bytes: number) {
    this.room = Kernels.with({ colours: ['bytes', bytes], widened: ['bytes', WIDENED.length] });
    this.room.arrays.widened.set(WIDENED);
  }

  /** Those of one picture; overwritten by the next. */
  widen(decoded: Uint8Array): Uint8Array {
    const { kernels, arrays } = this.room;
    const { colours, widened } = arrays;
    colours.set(decoded);
    kernels.run.translate({ codes: at(colours), table: at(widened), out: at(colours), count: colours.length });
    return colours;
  }
}

let intake: LumaIntake | null = null;

/** A picture of one plane, with its colour differences at half size or without. */
export function pictureOf(plane: Plane, colour: { blue: Plane; red: Plane } | null = null): Picture {
  const { width, height } = plane;
  if (intake?.width !== width || intake.height !== height) intake = new LumaIntake(width, height, false, false);
  const { factor, colourWidth, colourHeight } = intake.size;
  const data = asBytes(plane);
  const half = (own: Plane | undefined) =>
    own ? shrinkBytes(own, factor, colourWidth, colourHeight) : new Uint8Array(colourWidth * colourHeight).fill(128);
  return {
    luma: { width, height, data },
    small: { luma: intake.take(data).small.slice(), blue: half(colour?.blue), red: half(colour?.red) },
  };
}

/** How luma and colour differences make red, green and blue: the shares of red and blue in luma. */
export interface Matrix {
  red: number;
  blue: number;
}
export const BT709: Matrix = { red: 0.2126, blue: 0.0722 };
export const BT601: Matrix = { red: 0.299, blue: 0.114 };

/** Averages blocks of `factor` x `factor` bytes, rounded; blocks over the edge hold what there is of them. */
function shrinkBytes(
  { data, width: stride, height: rows }: Plane,
  factor: number,
  width: number,
  height: number,
): Uint8Array {
  const out = new Uint8Array(width * height);
  for (let y = 0, o = 0; y < height; y++) {
    const top = min(y * factor, rows - 1),
      bottom = min(rows, top + factor);
    for (let x = 0; x < width; x++, o++) {
      const left = min(x * factor, stride - 1),
        right = min(stride, left + factor);
      let sum = 0;
      for (let v = top; v < bottom; v++) for (let i = v * stride + left; i < v * stride + right; i++) sum += data[i];
      out[o] = sum / ((bottom - top) * (right - left)) + 0.5;
    }
  }
  return out;
}
