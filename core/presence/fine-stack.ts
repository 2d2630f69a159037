import { asBytes, type Plane } from '../base/image/plane';
import { fineSize } from '../base/image/picture';
import { addressOf as at, Kernels } from '../base/kernels/kernels';
import { MemoryStore, type FrameStore } from '../base/image/stack';

/** One picture half as fine as it is measured: luma, and colour differences (128 is no colour) of the same size. */
export interface FinePicture {
  luma: Uint8Array;
  blue: Uint8Array;
  red: Uint8Array;
}

/** All pictures of a take, half as fine as they are measured, in order: filled frame by frame. */
export class FineStack {
  width = 0;
  height = 0;
  /** Measuring pixels for one fine pixel, and for one of the small pictures that figures are found in. */
  factor = 1;
  smallFactor = 1;
  count = 0;
  private bytes = new Uint8Array(0);
  private at = -1;
  private none = new Uint8Array(0);
  private room: { kernels: Kernels; arrays: { plane: Uint8Array; out: Uint8Array } } | null = null;

  constructor(private readonly store: FrameStore = new MemoryStore()) {}

  /** @param colours blue below red, of the fine size; none where only luma is asked for, or the picture has none */
  frame(plane: Plane, colours: Uint8Array | null = null): void {
    if (this.count === 0) {
      Object.assign(this, fineSize(plane.width, plane.height));
      const pixels = this.width * this.height;
      this.bytes = new Uint8Array(colours ? 3 * pixels : pixels);
    }
    const pixels = this.width * this.height;
    if (this.factor === 2) {
      // What nearly every take comes to.
      this.room ??= Kernels.with({ plane: ['bytes', plane.width * plane.height + 32], out: ['bytes', pixels + 16] });
      const { kernels, arrays } = this.room;
      arrays.plane.set(asBytes(plane));
      kernels.run.halve({ plane: at(arrays.plane), width: plane.width, height: plane.height, out: at(arrays.out) });
      this.bytes.set(arrays.out.subarray(0, pixels));
    } else shrink(asBytes(plane), plane.width, this.factor, this.width, this.height, this.bytes);
    if (colours) this.bytes.set(colours, pixels);
    this.store.write(this.count++, this.bytes);
    this.at = -1;
  }

  /** The luma of a frame, valid until the next call. */
  read(frame: number): Uint8Array {
    return this.look(frame).luma;
  }

  /** The picture of a frame, valid until the next call; where its colours were not kept it has none. */
  look(frame: number): FinePicture {
    const pixels = this.width * this.height;
    if (frame !== this.at) this.store.read(frame, this.bytes);
    this.at = frame;
    const plane = (k: number) =>
      this.bytes.length > pixels ? this.bytes.subarray(k * pixels, (k + 1) * pixels) : this.colourless();
    return { luma: this.bytes.subarray(0, pixels), blue: plane(1), red: plane(2) };
  }

  private colourless(): Uint8Array {
    if (!this.none.length) this.none = new Uint8Array(this.width * this.height).fill(128);
    return this.none;
  }
}

/** Means of blocks of pixels, rounded. */
function shrink(
  plane: Uint8Array,
  stride: number,
  factor: number,
  width: number,
  height: number,
  out: Uint8Array,
): void {
  const share = 1 / (factor * factor);
  for (let y = 0, o = 0; y < height; y++)
    for (let x = 0; x < width; x++, o++) {
      let sum = 0;
      for (let v = y * factor; v < (y + 1) * factor; v++)
        for (let i = v * stride + x * factor, end = i + factor; i < end; i++) sum += plane[i];
      out[o] = sum * share + 0.5;
    }
}
