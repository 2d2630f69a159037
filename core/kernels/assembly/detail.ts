/** Sums over rows of a picture; see core/focus/detail-meter.ts and core/media-facts/facts.ts. */

/**
 * Squares of the finest detail (four times a pixel less its neighbours) and of coarser (neighbours two away) along a part of a row,
 * from pixel address `from` up to `to`: two doubles are added to at `out`.
 */
export function addDetail(from: usize, to: usize, width: usize, out: usize): void {
  let fine = i32x4.splat(0), coarse = fine;
  let at = from;
  for (; at + 8 <= to; at += 8) {
    const middle = i16x8.shl(v128.load_ext<u8>(at), 2);
    const d = i16x8.sub(i16x8.sub(middle, i16x8.add(v128.load_ext<u8>(at - 1), v128.load_ext<u8>(at + 1))), i16x8.add(v128.load_ext<u8>(at - width), v128.load_ext<u8>(at + width)));
    const e = i16x8.sub(i16x8.sub(middle, i16x8.add(v128.load_ext<u8>(at - 2), v128.load_ext<u8>(at + 2))), i16x8.add(v128.load_ext<u8>(at - 2 * width), v128.load_ext<u8>(at + 2 * width)));
    fine = i32x4.add(fine, i32x4.dot_i16x8_s(d, d));
    coarse = i32x4.add(coarse, i32x4.dot_i16x8_s(e, e));
  }
  let a = addLanes(fine), b = addLanes(coarse);
  for (; at < to; at++) {
    const middle = 4 * i32(load<u8>(at));
    const d = middle - i32(load<u8>(at - 1)) - i32(load<u8>(at + 1)) - i32(load<u8>(at - width)) - i32(load<u8>(at + width));
    const e = middle - i32(load<u8>(at - 2)) - i32(load<u8>(at + 2)) - i32(load<u8>(at - 2 * width)) - i32(load<u8>(at + 2 * width));
    a += f64(d * d);
    b += f64(e * e);
  }
  store<f64>(out, load<f64>(out) + a);
  store<f64>(out, load<f64>(out, 8) + b, 8);
}

function addLanes(v: v128): f64 {
  return f64(i32x4.extract_lane(v, 0)) + f64(i32x4.extract_lane(v, 1)) + f64(i32x4.extract_lane(v, 2)) + f64(i32x4.extract_lane(v, 3));
}

/** Counts the differences of `count` bytes against those before, -255 to 255, in 511 numbers, and keeps the bytes in place of those before. */
export function countChanges(now: usize, before: usize, count: usize, counts: usize): void {
  memory.fill(counts, 0, 511 * 4);
  const zero = counts + 255 * 4;
  for (let i: usize = 0; i < count; i++) {
    const bin = zero + usize((i32(load<u8>(now + i)) - i32(load<u8>(before + i))) << 2);
    store<u32>(bin, load<u32>(bin) + 1);
  }
  memory.copy(before, now, count);
}
