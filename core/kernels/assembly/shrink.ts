/** A smaller picture; see core/image/picture.ts. */

/**
 * Means, rounded, of blocks of `factor` x `factor` bytes (22 at most a side), `across` x `down` of them from the top left. `columns` is scratch
 * for a row of 16-bit sums and 16 more.
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
    for (let i = 0, at = columns; i < across; i++, out++) {
      let sum: u32 = 0;
      for (const end = at + side; at < end; at += 2) sum += u32(load<u16>(at));
      store<u8>(out, u8(f64(sum) * share + 0.5));
    }
  }
}
