/** Detail of a picture's cells; see core/measures/focus/detail-meter.ts. */

/**
 * Squares of the finest detail (four times a pixel less its neighbours) and of coarser (neighbours two away) along a
 * part of a row, from pixel address `from` up to `to`: two doubles are added to at `out`.
 */
function addDetail(from: usize, to: usize, width: usize, out: usize): void {
  let fine = i32x4.splat(0),
    coarse = fine;
  let at = from;
  for (; at + 8 <= to; at += 8) {
    const middle = i16x8.shl(v128.load_ext<u8>(at), 2);
    const d = i16x8.sub(
      i16x8.sub(middle, i16x8.add(v128.load_ext<u8>(at - 1), v128.load_ext<u8>(at + 1))),
      i16x8.add(v128.load_ext<u8>(at - width), v128.load_ext<u8>(at + width)),
    );
    const e = i16x8.sub(
      i16x8.sub(middle, i16x8.add(v128.load_ext<u8>(at - 2), v128.load_ext<u8>(at + 2))),
      i16x8.add(v128.load_ext<u8>(at - 2 * width), v128.load_ext<u8>(at + 2 * width)),
    );
    fine = i32x4.add(fine, i32x4.dot_i16x8_s(d, d));
    coarse = i32x4.add(coarse, i32x4.dot_i16x8_s(e, e));
  }
  let a = addLanes(fine),
    b = addLanes(coarse);
  for (; at < to; at++) {
    const middle = 4 * i32(load<u8>(at));
    const d =
      middle - i32(load<u8>(at - 1)) - i32(load<u8>(at + 1)) - i32(load<u8>(at - width)) - i32(load<u8>(at + width));
    const e =
      middle -
      i32(load<u8>(at - 2)) -
      i32(load<u8>(at + 2)) -
      i32(load<u8>(at - 2 * width)) -
      i32(load<u8>(at + 2 * width));
    a += f64(d * d);
    b += f64(e * e);
  }
  store<f64>(out, load<f64>(out) + a);
  store<f64>(out, load<f64>(out, 8) + b, 8);
}

/**
 * Detail of each cell of a picture divided into `across` x `down` cells, from every `step`th row: mean squares, finest
 * in `fine` and coarser in `coarse`, floats. `sums` is scratch for two doubles.
 */
export function detailOfCells(
  plane: usize,
  width: i32,
  height: i32,
  across: i32,
  down: i32,
  step: i32,
  sums: usize,
  fine: usize,
  coarse: usize,
): void {
  let y = 2;
  for (let j = 0; j < down; j++) {
    const first = y;
    for (let c = 0; c < across; c++) {
      const from = max(2, (c * width) / across),
        to = min(width - 2, ((c + 1) * width) / across);
      let count = 0;
      store<f64>(sums, 0);
      store<f64>(sums, 0, 8);
      for (y = first; y < height - 2 && (j === down - 1 || (y * down) / height === j); y += step) {
        if (to <= from) continue;
        const row = plane + usize(y * width);
        addDetail(row + usize(from), row + usize(to), usize(width), sums);
        count += to - from;
      }
      const at = usize(j * across + c) << 2,
        many = f64(max(1, count));
      store<f32>(fine + at, f32(load<f64>(sums) / many));
      store<f32>(coarse + at, f32(load<f64>(sums, 8) / many));
    }
  }
}

function addLanes(v: v128): f64 {
  return (
    f64(i32x4.extract_lane(v, 0)) +
    f64(i32x4.extract_lane(v, 1)) +
    f64(i32x4.extract_lane(v, 2)) +
    f64(i32x4.extract_lane(v, 3))
  );
}
