/** How pictures that follow each other differ; see core/measures/file/facts.ts. */

/**
 * Counts the differences of `count` bytes against those before, -255 to 255, in 511 numbers, and keeps the bytes in
 * place of those before.
 */
export function countChanges(now: usize, before: usize, count: usize, counts: usize): void {
  memory.fill(counts, 0, 511 * 4);
  const zero = counts + 255 * 4;
  for (let i: usize = 0; i < count; i++) {
    const bin = zero + usize((i32(load<u8>(now + i)) - i32(load<u8>(before + i))) << 2);
    store<u32>(bin, load<u32>(bin) + 1);
  }
  memory.copy(before, now, count);
}
