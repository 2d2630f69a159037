/** Means of a grid's cells; see core/measures/focus/covered.ts. */
import { sumDown } from './picture';

/**
 * The mean of each cell's bytes, floats, row by row. `columns` and `rows` are the first of each cell's columns and rows,
 * and the first after the last, 32-bit numbers; no cell is higher than 257 rows. `sums` is scratch for `width` and 16
 * more 16-bit numbers.
 */
export function meansOfCells(
  luma: usize,
  width: i32,
  columns: usize,
  rows: usize,
  across: i32,
  down: i32,
  sums: usize,
  out: usize,
): void {
  for (let r = 0; r < down; r++, rows += 4) {
    const top = load<u32>(rows),
      high = load<u32>(rows, 4) - top;
    sumDown(luma + usize(top) * usize(width), usize(width), high, usize(width), sums);
    for (let c = 0, edge = columns; c < across; c++, edge += 4, out += 4) {
      const left = load<u32>(edge),
        right = load<u32>(edge, 4);
      let sum: u32 = 0;
      for (let x = left; x < right; x++) sum += load<u16>(sums + (usize(x) << 1));
      const count = high * (right - left);
      store<f32>(out, count ? f32(f64(sum) / f64(count)) : 0);
    }
  }
}
