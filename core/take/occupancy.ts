import { CellMarks } from '../base/image/cell-marks';
import type { Background } from '../scene/background';
import type { Figure } from '../presence/figures';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { floor, max, min } = Math;

/** Share of a cell that must move by itself before it counts as occupied always. */
const RESTLESS_SHARE = 0.2;

/** For each frame the cells of a grid over the picture in which somebody or their shadow stands, or which move by themselves. */
export function occupancy(
  figures: readonly (Figure[] | null)[],
  background: Background,
  across: number,
  down: number,
): CellMarks {
  const cellOf = (x: number, y: number) =>
    floor((y * down) / background.height) * across + floor((x * across) / background.width);
  const own = new Float32Array(across * down),
    size = new Float32Array(across * down);
  for (let i = 0; i < background.restless.length; i++) {
    const x = i % background.width;
    const c = cellOf(x, (i - x) / background.width);
    size[c]++;
    own[c] += background.restless[i];
  }
  const always = Uint8Array.from(own, (o, c) => (o > RESTLESS_SHARE * size[c] ? 1 : 0));
  return new CellMarks(figures.length, always.length, (f) => {
    const all = figures[f],
      cells = always.slice();
    if (!all) return cells.fill(1);
    for (const figure of all) {
      for (let k = 0; k < figure.rows.length; k += 4) {
        const y = figure.rows[k];
        const last = min(background.width - 1, figure.rows[k + 2] + 1);
        for (let c = cellOf(max(0, figure.rows[k + 1] - 1), y); c <= cellOf(last, y); c++) cells[c] = 1;
      }
    }
    return cells;
  });
}
