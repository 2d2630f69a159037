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
  private room: ReturnType<typeof room> | null = null;
  private bytes = new Uint8Array(0);

  constructor(private readonly store: FrameStore = new MemoryStore()) {}

  frame(plane: Plane): void {
    if (!this.room) {
      this.smallFactor = smallSize(plane.width, plane.height).factor;
      this.factor = Math.max(1, Math.round(this.smallFactor / 2));
      this.width = Math.floor(plane.width / this.factor);
      this.height = Math.floor(plane.height / this.factor);
      this.room = room(plane, this.width * this.height);
      this.bytes = new Uint8Array(this.width * this.height);
    }
    const { kernels, arrays } = this.room;
    arrays.plane.set(asBytes(plane));
    kernels.run.shrinkBlocks({
      plane: at(arrays.plane),
      width: plane.width,
      height: plane.height,
      factor: this.factor,
      across: this.width,
      down: this.height,
      rim: 0,
      columns: at(arrays.columns),
      out: at(arrays.fine),
    });
    this.bytes.set(arrays.fine);
    this.store.write(this.count++, this.bytes);
  }

  /** The picture of a frame, valid until the next call. */
  read(frame: number): Uint8Array {
    this.store.read(frame, this.bytes);
    return this.bytes;
  }
}

/** A picture and its blocks in the kernels' memory. */
function room({ width, height }: Plane, blocks: number) {
  return Kernels.with({
    plane: ['bytes', width * height],
    columns: ['bytes', 8 * (width + 48)],
    fine: ['bytes', blocks],
  });
}
