import type { Plane } from '../image/plane';

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

  frame({ width, height, data }: Plane): void {
    if (this.cells.length === 0) {
      this.width = width;
      this.height = height;
      this.across = max(1, round(width / CELL));
      this.down = max(1, round(height / CELL));
    }
    this.look(width, height, data as Uint8Array);
  }

  private look(width: number, height: number, data: Uint8Array): void {
    const { across, down } = this;
    const fine = new Float32Array(across * down), coarse = new Float32Array(across * down);
    const counts = new Uint32Array(across * down);
    for (let y = 2; y < height - 2; y += ROW_STEP) {
      const row = min(down - 1, floor((y * down) / height)) * across;
      for (let c = 0; c < across; c++) {
        const from = max(2, floor((c * width) / across)), to = min(width - 2, floor(((c + 1) * width) / across));
        addRow(data, y * width + from, y * width + to, width, row + c, fine, coarse);
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

/** Adds the squares of the finest and of coarser detail of one row of a cell. */
function addRow(data: Uint8Array, from: number, to: number, width: number, cell: number, fine: Float32Array, coarse: Float32Array): void {
  const below = 2 * width;
  let a = 0, b = 0;
  for (let i = from; i < to; i++) {
    const middle = 4 * data[i];
    const d = middle - data[i - 1] - data[i + 1] - data[i - width] - data[i + width];
    const e = middle - data[i - 2] - data[i + 2] - data[i - below] - data[i + below];
    a += d * d;
    b += e * e;
  }
  fine[cell] += a;
  coarse[cell] += b;
}
