/** Masks of 0 and 1; see core/base/image/mask.ts, and fills.ts, steady.ts and unlike.ts in core/measures/cover. */

/** Adds bytes to others, each where it lies `count` bytes on. */
// @ts-ignore: decorator
@inline
function addBytes(into: usize, from: usize, count: i32): void {
  let i = 0;
  for (; i + 16 <= count; i += 16)
    v128.store(into + usize(i), i8x16.add(v128.load(into + usize(i)), v128.load(from + usize(i))));
  for (; i < count; i++) store<u8>(into + usize(i), load<u8>(into + usize(i)) + load<u8>(from + usize(i)));
}

// @ts-ignore: decorator
@inline
function takeBytes(into: usize, from: usize, count: i32): void {
  let i = 0;
  for (; i + 16 <= count; i += 16)
    v128.store(into + usize(i), i8x16.sub(v128.load(into + usize(i)), v128.load(from + usize(i))));
  for (; i < count; i++) store<u8>(into + usize(i), load<u8>(into + usize(i)) - load<u8>(from + usize(i)));
}

/**
 * Sets each pixel of `out` to what most of the (2 r + 1) squared pixels of a mask about it are; those beyond the
 * picture's edges do not vote. At most 255 vote. `columns` is scratch of width + 2 r + 16 bytes.
 */
export function majority(mask: usize, width: i32, height: i32, r: i32, columns: usize, out: usize): void {
  memory.fill(columns, 0, usize(width + 2 * r + 16));
  const inner = columns + usize(r);
  for (let y = 0; y < min(r, height); y++) addBytes(inner, mask + usize(y * width), width);
  for (let y = 0; y < height; y++) {
    if (y + r < height) addBytes(inner, mask + usize((y + r) * width), width);
    if (y - r - 1 >= 0) takeBytes(inner, mask + usize((y - r - 1) * width), width);
    const rows = min<i32>(height - 1, y + r) - max<i32>(0, y - r) + 1,
      row = out + usize(y * width);
    const half = i8x16.splat(i8(((2 * r + 1) * rows) >> 1)),
      one = i8x16.splat(1);
    for (let x = 0; x < width; x += 16) {
      let sum = v128.load(columns + usize(x));
      for (let k = 1; k <= 2 * r; k++) sum = i8x16.add(sum, v128.load(columns + usize(x + k)));
      v128.store(row + usize(x), v128.and(i8x16.gt_u(sum, half), one));
    }
    for (let x = 0; x < width; x++) {
      if (x === r && width > 2 * r) x = width - r;
      if (x >= width) break;
      let sum = 0;
      for (let k = 0; k <= 2 * r; k++) sum += load<u8>(columns + usize(x + k));
      const voters = (min<i32>(width - 1, x + r) - max<i32>(0, x - r) + 1) * rows;
      store<u8>(row + usize(x), 2 * sum > voters ? 1 : 0);
    }
  }
}

/** Sets bytes to 1 where they or those `step` bytes further on are, until each looks `window` steps ahead; gives what is left. */
// @ts-ignore: decorator
@inline
function widen(values: usize, count: i32, step: i32, window: i32): i32 {
  let seen = 1;
  for (; 2 * seen <= window; seen *= 2) {
    const ahead = usize(seen * step);
    for (let i: usize = 0; i < usize(count); i += 16)
      v128.store(values + i, v128.or(v128.load(values + i), v128.load(values + i + ahead)));
  }
  return window - seen;
}

/**
 * Sets pixels of `out` to 1 within `reach` of a set one of a mask, across and down. `line` is scratch of width + 4
 * reach + 64 bytes, `rows` of width times height + 4 reach, and 64 more.
 */
export function grow(mask: usize, width: i32, height: i32, reach: i32, line: usize, rows: usize, out: usize): void {
  const window = 2 * reach + 1;
  memory.fill(rows, 0, usize((height + 4 * reach) * width + 64));
  for (let y = 0; y < height; y++) {
    memory.fill(line, 0, usize(width + 4 * reach + 64));
    memory.copy(line + usize(reach), mask + usize(y * width), usize(width));
    const left = usize(widen(line, width + 2 * reach, 1, window));
    const row = rows + usize((y + reach) * width);
    let x = 0;
    for (; x + 16 <= width; x += 16)
      v128.store(row + usize(x), v128.or(v128.load(line + usize(x)), v128.load(line + usize(x) + left)));
    for (; x < width; x++) store<u8>(row + usize(x), load<u8>(line + usize(x)) | load<u8>(line + usize(x) + left));
  }
  const left = usize(widen(rows, (height + 2 * reach) * width, width, window) * width);
  for (let i: usize = 0; i < usize(width * height); i += 16)
    v128.store(out + i, v128.or(v128.load(rows + i), v128.load(rows + i + left)));
}

/** Adds a mask to `sums`, each pixel where it was by so much further on. */
export function addShifted(mask: usize, sums: usize, dx: i32, dy: i32, width: i32, height: i32): void {
  const from = max<i32>(0, -dx),
    count = min<i32>(width, width - dx) - from,
    back = dy * width + dx;
  for (let y = max<i32>(0, -dy); y < min<i32>(height, height - dy); y++)
    addBytes(sums + usize(y * width + from), mask + usize(y * width + from + back), count);
}

/** Sets each pixel of `out` to 1 where more than half of the voters of its column (or row, when `vertical`) say so, to `own` where they are even. */
export function asMostSay(said: usize, voters: usize, own: usize, vertical: i32, width: i32, height: i32, out: usize): void {
  for (let y = 0; y < height; y++) {
    const row = usize(y * width);
    for (let x: usize = 0; x < usize(width); x++) {
      const twice = 2 * i32(load<u8>(said + row + x)),
        all = i32(load<u8>(vertical ? voters + usize(y) : voters + x));
      store<u8>(out + row + x, u8(twice > all) | (u8(twice === all) & load<u8>(own + row + x)));
    }
  }
}

/** Counts the pixels in which two masks differ, and sets those of `ever` that the second sets. */
export function changesBetween(before: usize, after: usize, ever: usize, count: i32): i32 {
  const none = i8x16.splat(0);
  let n = 0,
    i: usize = 0;
  for (; i + 16 <= usize(count); i += 16) {
    const a = v128.load(before + i),
      b = v128.load(after + i);
    n += i32.popcnt(i8x16.bitmask(i8x16.ne(v128.xor(a, b), none)));
    v128.store(ever + i, v128.or(v128.load(ever + i), b));
  }
  for (; i < usize(count); i++) {
    const b = load<u8>(after + i);
    n += load<u8>(before + i) ^ b;
    store<u8>(ever + i, load<u8>(ever + i) | b);
  }
  return n;
}

/**
 * Sets pixels of `raw` that are known and whose `wide` is above a limit, in the columns (or rows, unless `across`) of
 * which at least `seen` of their length is known and `much` of that is set. `set` and `knownIn` are scratch, a word for
 * each column or row.
 */
export function setInLines(
  raw: usize,
  known: usize,
  wide: usize,
  width: i32,
  height: i32,
  across: i32,
  seen: f32,
  much: f32,
  limit: f32,
  set: usize,
  knownIn: usize,
): void {
  const lines = across ? width : height,
    least = seen * f32(across ? height : width);
  memory.fill(set, 0, usize(lines) << 2);
  memory.fill(knownIn, 0, usize(lines) << 2);
  for (let y = 0, i: usize = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      const line = usize(across ? x : y) << 2;
      store<i32>(set + line, load<i32>(set + line) + i32(load<u8>(raw + i)));
      store<i32>(knownIn + line, load<i32>(knownIn + line) + i32(load<u8>(known + i)));
    }
  }
  for (let k: usize = 0; k < usize(lines) << 2; k += 4) {
    const n = f32(load<i32>(knownIn + k));
    store<i32>(set + k, i32(n >= least) & i32(f32(load<i32>(set + k)) >= much * n));
  }
  for (let y = 0, i: usize = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      if (!load<i32>(set + (usize(across ? x : y) << 2))) continue;
      const more = i32(load<u8>(known + i)) & i32(load<f32>(wide + (i << 2)) > limit);
      store<u8>(raw + i, load<u8>(raw + i) | u8(more));
    }
  }
}

/** Sets whole columns (or rows, unless `across`) that lie within `reach` of one in which a mask is set. `line` is scratch of a byte for each and twice `reach` more. */
export function widenToBand(mask: usize, width: i32, height: i32, across: i32, reach: i32, line: usize, out: usize): void {
  const lines = across ? width : height;
  memory.fill(line, 0, usize(lines + 2 * reach));
  const inner = line + usize(reach);
  for (let y = 0, i: usize = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      const at = inner + usize(across ? x : y);
      store<u8>(at, load<u8>(at) | load<u8>(mask + i));
    }
  for (let k = 0; k < lines; k++) {
    let any: u8 = 0;
    for (let o = 0; o <= 2 * reach; o++) any |= load<u8>(line + usize(k + o));
    store<u8>(line + usize(k), any);
  }
  for (let y = 0; y < height; y++)
    if (across) memory.copy(out + usize(y * width), line, usize(width));
    else memory.fill(out + usize(y * width), load<u8>(line + usize(y)), usize(width));
}
