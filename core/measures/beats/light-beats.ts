import { stopsTable, type Transfer } from '../../base/image/transfer';
import { median } from '../../base/numeric/quantile';
import type { Beat } from '../../report/moment-types';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, ceil, floor, max, min } = Math;

/** The picture is read in so many cells across. */
const ACROSS = 24;
/** A step of light is so many stops at least, and so many times what cells vary by from frame to frame. */
const STEP_STOPS = 0.1;
const STEP_SIGMAS = 6;
/** What lies so many frames before and after says what it was and is. */
const AROUND = 5;
/** So many cells side by side must step together. */
const LEAST_CELLS = 3;

/** Light changes all of a cell by as much: its pixels differ by less than this share of the change. */
const EVEN = 0.4;
/** A cell that changes by so many stops from one frame to the next is looked at. */
const CHANGE_STOPS = 0.04;

/** A step of light, with the middles of the cells that step, source pixels. */
export type LightStep = Omit<Beat, 'time_s'> & { stops: number; cells: [number, number][] };

/** Finds steps of light in parts of the picture: what is lit goes on looking as it did, brighter or darker. */
export class LightBeats {
  private readonly cells: (Float32Array | null)[] = [];
  /** Whether each cell changed evenly, as light does, from the frame before. */
  private readonly even: Uint8Array[] = [];
  readonly side: number;
  readonly columns: number;
  private readonly rows: number;
  private readonly stops: Float32Array;
  private last: Float32Array | null = null;

  constructor(
    private readonly width: number,
    height: number,
    curve: Transfer,
  ) {
    this.side = max(4, ceil(width / ACROSS));
    this.columns = floor(width / this.side);
    this.rows = floor(height / this.side);
    this.stops = stopsTable(curve);
  }

  /** The next frame; null where nothing of it is known. Gives 1 for each cell whose light changed since the last one. */
  frame(picture: Uint8Array | null): Uint8Array {
    const { side, columns, rows, width, stops, last } = this;
    const even = new Uint8Array(columns * rows);
    this.even.push(even);
    if (!picture) {
      this.cells.push(null);
      this.last = null;
      return even;
    }
    const now = new Float32Array(picture.length);
    for (let i = 0; i < now.length; i++) now[i] = stops[picture[i]];
    const out = new Float32Array(columns * rows);
    for (let r = 0; r < rows; r++)
      for (let c = 0; c < columns; c++) {
        let sum = 0,
          change = 0,
          squares = 0;
        for (let y = r * side; y < (r + 1) * side; y++)
          for (let i = y * width + c * side, end = i + side; i < end; i++) {
            sum += now[i];
            if (!last) continue;
            const d = now[i] - last[i];
            change += d;
            squares += d * d;
          }
        const n = side * side;
        out[r * columns + c] = sum / n;
        const mean = change / n;
        if (abs(mean) > CHANGE_STOPS && squares / n - mean * mean < (EVEN * mean) ** 2) even[r * columns + c] = 1;
      }
    this.cells.push(out);
    this.last = now;
    return even;
  }

  /** The steps, each with where it happens. @param factor source pixels for one pixel of the pictures */
  beats(factor: number): LightStep[] {
    const { cells, even, columns, rows, side } = this;
    const steps: { frame: number; cell: number; stops: number }[] = [];
    for (let cell = 0; cell < columns * rows; cell++) {
      const values = cells.map((c) => (c ? c[cell] : NaN));
      const jumps = values.slice(1).map((v, k) => abs(v - values[k]));
      const known = jumps.filter((j) => !Number.isNaN(j));
      if (known.length < 2 * AROUND) continue;
      const limit = max(STEP_STOPS, STEP_SIGMAS * 1.05 * median(known));
      for (let f = 1; f < values.length; f++) {
        if (!(jumps[f - 1] > limit / 3) || !even[f][cell]) continue;
        const before = values.slice(max(0, f - AROUND), f),
          after = values.slice(f + 1, f + 1 + AROUND);
        if (before.length < 2 || after.length < 2 || [...before, ...after].some(Number.isNaN)) continue;
        const [was, is] = [median(before), median(after)];
        const step = is - was;
        // It is there at once, and it was not before: the first frame that is nearer to what it becomes.
        const half = (was + is) / 2;
        const here = step > 0 ? values[f] > half && values[f - 1] <= half : values[f] < half && values[f - 1] >= half;
        const steady = max(spread(before), spread(after));
        if (here && abs(step) > limit && abs(step) > 3 * steady) steps.push({ frame: f, cell, stops: step });
      }
    }
    const out: LightStep[] = [];
    for (const f of [...new Set(steps.map((s) => s.frame))].sort((a, b) => a - b)) {
      // What comes within a frame is one step.
      const last = out.at(-1);
      const own = steps.filter((s) => abs(s.frame - f) <= 1);
      if (own.length < LEAST_CELLS || (last && f - last.frame <= 2)) continue;
      const main = own.filter((s) => s.frame === f).length >= own.length / 2 ? f : f + 1;
      const at = own.map((s) => [s.cell % columns, floor(s.cell / columns)]);
      const [left, right] = [min(...at.map((p) => p[0])), max(...at.map((p) => p[0]))];
      const [top, bottom] = [min(...at.map((p) => p[1])), max(...at.map((p) => p[1]))];
      out.push({
        frame: main,
        kind: 'light',
        strength: min(1, abs(median(own.map((s) => s.stops))) / 0.5),
        x: left * side * factor,
        y: top * side * factor,
        width: (right - left + 1) * side * factor,
        height: (bottom - top + 1) * side * factor,
        stops: median(own.map((s) => s.stops)),
        cells: at.map(([c, r]) => [(c + 0.5) * side * factor, (r + 0.5) * side * factor]),
      });
    }
    return out;
  }
}

const spread = (values: readonly number[]) => max(...values) - min(...values);
