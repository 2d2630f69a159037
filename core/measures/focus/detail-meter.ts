import { asBytes, type Plane } from '../../base/image/plane';
import { addressOf as at, Kernels } from '../../base/kernels/kernels';
import { MemoryStore, type FrameStore } from '../../base/image/stack';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { max, round } = Math;

/** The picture is divided into cells of about this side, in measuring pixels. */
const CELL = 40;
/** Every so many rows are looked at. */
const ROW_STEP = 12;

/** Notes how much fine detail each cell of each picture holds: `frame` for every frame in order, then `read`. */
export class DetailMeter {
  across = 0;
  down = 0;
  /** Size of the pictures, measuring pixels. */
  width = 0;
  height = 0;
  /** Frames given so far. */
  count = 0;

  private room: ReturnType<typeof room> | null = null;
  /** Both kinds of detail of one frame. */
  private both = new Float32Array(0);

  /** @param store where each frame's detail is kept; in memory when left out */
  constructor(private readonly store: FrameStore = new MemoryStore()) {}

  frame(plane: Plane): void {
    const { width, height } = plane;
    if (!this.room) {
      this.width = width;
      this.height = height;
      this.across = max(1, round(width / CELL));
      this.down = max(1, round(height / CELL));
      this.room = room(width * height, this.across * this.down);
      this.both = new Float32Array(2 * this.across * this.down);
    }
    const { kernels, arrays } = this.room;
    arrays.plane.set(asBytes(plane));
    kernels.run.detailOfCells({
      plane: at(arrays.plane),
      width,
      height,
      across: this.across,
      down: this.down,
      step: ROW_STEP,
      sums: at(arrays.sums),
      fine: at(arrays.fine),
      coarse: at(arrays.coarse),
    });
    this.both.set(arrays.fine);
    this.both.set(arrays.coarse, arrays.fine.length);
    this.store.write(this.count++, new Uint8Array(this.both.buffer));
  }

  /**
   * The mean square of a frame's detail in each cell, levels squared, row by row: of the finest (two pixels long), or of
   * coarser (four pixels long), which coding and the resampling of a moving picture leave alone.
   */
  read(frame: number, coarser: boolean): Float32Array {
    this.store.read(frame, new Uint8Array(this.both.buffer));
    const half = this.both.length / 2;
    return this.both.slice(coarser ? half : 0, coarser ? undefined : half);
  }
}

/** A picture and its cells' detail in the kernels' memory. */
function room(pixels: number, cells: number) {
  return Kernels.with({
    plane: ['bytes', pixels],
    sums: ['doubles', 2],
    fine: ['floats', cells],
    coarse: ['floats', cells],
  });
}
