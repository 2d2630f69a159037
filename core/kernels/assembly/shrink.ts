/** A smaller picture; see core/image/picture.ts. */

/** Sums of `factor` (16 at most) 16-bit numbers from each place on, for `count` places, in place. */
function sumAlong(columns: usize, count: usize, factor: i32): void {
  const reach = usize(factor) << 1;
  for (let at = columns, end = columns + (count << 1); at < end; at += 16) {
    let sum = v128.load(at);
    for (let k: usize = 2; k < reach; k += 2) sum = i16x8.add(sum, v128.load(at + k));
    v128.store(at, sum);
  }
}

/**
 * Means, rounded, of blocks of `factor` x `factor` bytes (16 at most a side), `across` x `down` of them from the top left. `columns` is scratch
 * for a row of 16-bit sums and 32 more.
 */
export function shrinkBlocks(plane: usize, width: i32, factor: i32, across: i32, down: i32, columns: usize, out: usize): void {
  const used = usize(across * factor), share = 1 / f64(factor * factor), step = usize(width), side = usize(factor) << 1;
  for (let j = 0; j < down; j++, plane += step * usize(factor)) {
    for (let x: usize = 0; x < used; x += 16) {
      let low = i16x8.splat(0), high = low;
      let at = plane + x;
      for (let k = 0; k < factor; k++, at += step) {
        const row = v128.load(at);
        low = i16x8.add(low, v128.extend_low<u8>(row));
        high = i16x8.add(high, v128.extend_high<u8>(row));
      }
      v128.store(columns + (x << 1), low);
      v128.store(columns + (x << 1), high, 16);
    }
    sumAlong(columns, used, factor);
    for (let at = columns, end = columns + (used << 1); at < end; at += side, out++) store<u8>(out, u8(f64(load<u16>(at)) * share + 0.5));
  }
}

/** Brings luma of broadcast range (16 to 235; what lies beyond is cut) into the whole range of a byte, in place; up to 15 bytes past the end are written. */
export function widenLuma(plane: usize, count: i32): void {
  const black = i8x16.splat(16);
  // 255 / 219 as a share of 2 in 15 bits: no value comes out otherwise than rounded.
  const gain = i16x8.splat(19077);
  for (let at = plane, end = plane + usize(count); at < end; at += 16) {
    const above = i8x16.sub_sat_u(v128.load(at), black);
    const low = i16x8.q15mulr_sat_s(i16x8.shl(v128.extend_low<u8>(above), 1), gain);
    const high = i16x8.q15mulr_sat_s(i16x8.shl(v128.extend_high<u8>(above), 1), gain);
    v128.store(at, v128.narrow<u16>(low, high));
  }
}
