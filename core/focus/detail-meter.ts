import { asBytes, type Plane } from '../image/plane';
import { Kernels } from '../kernels/kernels';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { floor, max, min, round } = Math;

/** The picture is divided into cells of about this side, in measuring pixels. */
const CELL = 40;
/** Every so many rows are looked at. */
const ROW_STEP = 12;

/** Notes how much fine detail each cell of each picture holds: `frame` for every frame in order, then read `cells`. */
export class DetailMeter {
  across = 0;
  down = 0;
  /** Size of the pictures, measuring pixels. */
  width = 0;
  height = 0;
  /**
   * For each frame, the mean square of the detail in each cell, levels squared, row by row: of the finest (two pixels long), and of
   * coarser (four pixels long), which coding and the resampling of a moving picture leave alone.
   */
  readonly cells: Float32Array[] = [];
  readonly coarse: Float32Array[] = [];

  private kernels: Kernels | null = null;
  /** Five rows of the picture, and two sums, in the kernels' memory. */
  private rows = 0;
  private sums = 0;

  frame(plane: Plane): void {
    const { width, height } = plane;
    if (!this.kernels) {
      this.width = width;
      this.height = height;
      this.across = max(1, round(width / CELL));
      this.down = max(1, round(height / CELL));
      this.kernels = new Kernels(5 * width + 16);
      this.rows = this.kernels.reserve(5 * width);
      this.sums = this.kernels.reserve(16);
    }
    this.look(width, height, asBytes(plane), this.kernels);
  }

  private look(width: number, height: number, data: Uint8Array, kernels: Kernels): void {
    const { across, down, rows } = this;
    const fine = new Float32Array(across * down), coarse = new Float32Array(across * down), counts = new Uint32Array(across * down);
    const own = kernels.bytes(rows, 5 * width), sums = kernels.doubles(this.sums, 2);
    const middle = rows + 2 * width;
    for (let y = 2; y < height - 2; y += ROW_STEP) {
      own.set(data.subarray((y - 2) * width, (y + 3) * width));
      const row = min(down - 1, floor((y * down) / height)) * across;
      for (let c = 0; c < across; c++) {
        const from = max(2, floor((c * width) / across)), to = min(width - 2, floor(((c + 1) * width) / across));
        if (to <= from) continue;
        sums.fill(0);
        kernels.run.addDetail(middle + from, middle + to, width, this.sums);
        fine[row + c] += sums[0];
        coarse[row + c] += sums[1];
        counts[row + c] += to - from;
      }
    }
    for (let k = 0; k < fine.length; k++) {
      fine[k] /= max(1, counts[k]);
      coarse[k] /= max(1, counts[k]);
    }
    this.cells.push(fine);
    this.coarse.push(coarse);
  }
}
