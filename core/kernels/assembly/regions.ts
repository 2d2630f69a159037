/**
 * Fills the next connected set (sides and corners touch) of bytes that are not 0, looking from pixel `start` on; what
 * belongs to it is set to 0 in `mask` and listed in `queue`. Leaves its left, top, right and bottom ends, and the
 * pixel it was found at, in `out`, five words.
 * @returns how many pixels it has; 0 when there is none left
 */
export function nextRegion(mask: usize, width: i32, height: i32, start: i32, queue: usize, out: usize): i32 {
  const count = width * height;
  let i = start;
  while (i < count && !load<u8>(mask + usize(i))) i++;
  if (i === count) return 0;
  store<i32>(out, i, 16);
  store<u8>(mask + usize(i), 0);
  store<i32>(queue, i);
  let head = 0,
    tail = 1,
    left = width,
    top = height,
    right = 0,
    bottom = 0;
  while (head < tail) {
    const p = load<i32>(queue + (usize(head++) << 2));
    const y = p / width,
      x = p - y * width;
    left = min<i32>(left, x);
    right = max<i32>(right, x);
    top = min<i32>(top, y);
    bottom = max<i32>(bottom, y);
    const from = x > 0 ? -1 : 0,
      to = x + 1 < width ? 1 : 0;
    for (let row = y > 0 ? p - width : p, last = y + 1 < height ? p + width : p; row <= last; row += width) {
      for (let o = row + from; o <= row + to; o++) {
        if (!load<u8>(mask + usize(o))) continue;
        store<u8>(mask + usize(o), 0);
        store<i32>(queue + (usize(tail++) << 2), o);
      }
    }
  }
  store<i32>(out, left);
  store<i32>(out, top, 4);
  store<i32>(out, right, 8);
  store<i32>(out, bottom, 12);
  return tail;
}
