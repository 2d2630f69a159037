import { asBytes, type Plane } from '../image/plane';
import { smallSize } from '../image/picture';
import { addressOf as at, Kernels } from '../kernels/kernels';
import { MemoryStore, type FrameStore } from '../scene/stack';

/** Luma of all pictures of a take, half as fine as they are measured, in order: filled frame by frame. */
export class FineStack {
  width = 0;
  height = 0;
  /** Measuring pixels for one fine pixel, and for one of the small pictures that figures are found in. */
  factor = 1;
  smallFactor = 1;
  count = 0;
  private bytes = new Uint8Array(0);
  private room: { kernels: Kernels; arrays: { plane: Uint8Array; out: Uint8Array } } | null = null;

  constructor(private readonly store: FrameStore = new MemoryStore()) {}

  frame(plane: Plane): void {
    if (this.count === 0) {
      this.smallFactor = smallSize(plane.width, plane.height).factor;
      this.factor = Math.max(1, Math.round(this.smallFactor / 2));
      this.width = Math.floor(plane.width / this.factor);
      this.height = Math.floor(plane.height / this.factor);
      this.bytes = new Uint8Array(this.width * this.height);
    }
    if (this.factor === 2) {
      // What nearly every take comes to.
      this.room ??= Kernels.with({
        plane: ['bytes', plane.width * plane.height + 32],
        out: ['bytes', this.bytes.length + 16],
      });
      const { kernels, arrays } = this.room;
      arrays.plane.set(asBytes(plane));
      kernels.run.halve({ plane: at(arrays.plane), width: plane.width, height: plane.height, out: at(arrays.out) });
      this.bytes.set(arrays.out.subarray(0, this.bytes.length));
    } else shrink(asBytes(plane), plane.width, this.factor, this.width, this.height, this.bytes);
    this.store.write(this.count++, this.bytes);
  }

  /** The picture of a frame, valid until the next call. */
  read(frame: number): Uint8Array {
    this.store.read(frame, this.bytes);
    return this.bytes;
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
