/** A smaller picture, and one laid elsewhere; see core/base/image/picture.ts and core/scene/steady-reader.ts. */
import { bytesAt, total } from './lanes';

/** Sums of `factor` (16 at most) 16-bit numbers from each place on, for `count` places. */
function sumAlong(columns: usize, count: usize, factor: i32, out: usize): void {
  const reach = usize(factor) << 1;
  for (let at = columns, end = columns + (count << 1); at < end; at += 16, out += 16) {
    let sum = v128.load(at);
    for (let k: usize = 2; k < reach; k += 2) sum = i16x8.add(sum, v128.load(at + k));
    v128.store(out, sum);
  }
}

/** Sums down the columns of `count` rows of which each is `step` on, for `used` pixels and up to 15 more: 16-bit numbers at `out`. */
export function sumDown(plane: usize, step: usize, count: i32, used: usize, out: usize): void {
  for (let x: usize = 0; x < used; x += 16, out += 32) {
    let low = i16x8.splat(0),
      high = low;
    let at = plane + x;
    for (let k = 0; k < count; k++, at += step) {
      const row = v128.load(at);
      low = i16x8.add(low, v128.extend_low<u8>(row));
      high = i16x8.add(high, v128.extend_high<u8>(row));
    }
    v128.store(out, low);
    v128.store(out, high, 16);
  }
}

/** The columns' first number once more before it, and after the last what follows in the picture, or the last once more. */
function padEnds(columns: usize, used: usize, width: i32): void {
  store<u16>(columns - 2, load<u16>(columns));
  const end = columns + (used << 1);
  if (i32(used) >= width) store<u16>(end, load<u16>(end - 2));
}

/** Every fourth of sixteen 16-bit numbers, as whole numbers. */
// @ts-ignore: decorator
@inline
function everyFourth(at: usize): v128 {
  const low = v128.load(at),
    high = v128.load(at, 16);
  const four = v128.shuffle<u16>(low, high, 0, 4, 8, 12, 0, 4, 8, 12);
  return v128.extend_low<u16>(four);
}

/** Sixteen 16-bit numbers added up four by four. */
// @ts-ignore: decorator
@inline
function sumsOfFour(at: usize): v128 {
  const low = i32x4.extadd_pairwise_i16x8_u(v128.load(at)),
    high = i32x4.extadd_pairwise_i16x8_u(v128.load(at, 16));
  return i32x4.add(v128.shuffle<i32>(low, high, 0, 2, 4, 6), v128.shuffle<i32>(low, high, 1, 3, 5, 7));
}

/** What two blocks' sums are less their rims, rounded up from a half. */
// @ts-ignore: decorator
@inline
function meansOfTwo(whole: v128, ends: v128, corners: v128, rim: f64, share: f64): v128 {
  const by = f64x2.splat(rim);
  const round = f64x2.sub(f64x2.convert_low_i32x4_s(ends), f64x2.mul(by, f64x2.convert_low_i32x4_s(corners)));
  const sum = f64x2.sub(f64x2.convert_low_i32x4_s(whole), f64x2.mul(by, round));
  return i32x4.trunc_sat_f64x2_u_zero(f64x2.add(f64x2.mul(sum, f64x2.splat(share)), f64x2.splat(0.5)));
}

/** The upper two of four whole numbers. */
// @ts-ignore: decorator
@inline
function upper(four: v128): v128 {
  return v128.shuffle<i32>(four, four, 2, 3, 2, 3);
}

/**
 * A row of `shrinkBlocks` for blocks of four by four, which nearly all pictures are made of, as far as they come in
 * fours. `block` and `beside` are sums down the columns within the blocks, and right above and below them.
 * @returns how many blocks
 */
function shrinkByFour(block: usize, beside: usize, across: i32, rim: f64, share: f64, out: usize): i32 {
  const many = across & ~3;
  for (const end = out + usize(many); out < end; out += 4, block += 32, beside += 32) {
    const whole = sumsOfFour(block);
    let ends = i32x4.splat(0),
      corners = ends;
    if (rim !== 0) {
      ends = i32x4.add(sumsOfFour(beside), i32x4.add(everyFourth(block - 2), everyFourth(block + 8)));
      corners = i32x4.add(everyFourth(beside - 2), everyFourth(beside + 8));
    }
    const low = meansOfTwo(whole, ends, corners, rim, share),
      high = meansOfTwo(upper(whole), upper(ends), upper(corners), rim, share);
    const words = v128.narrow<i32>(v128.shuffle<i32>(low, high, 0, 1, 4, 5), low);
    store<u32>(out, i32x4.extract_lane(v128.narrow<u16>(words, words), 0));
  }
  return many;
}

/**
 * Means, rounded, of blocks of `factor` x `factor` bytes (16 at most a side), `across` x `down` of them from the top
 * left, less `rim` times the rows and columns of pixels right round each block: that takes back the softness of a
 * picture that a smooth kernel made. `columns` is scratch for four times (`width` + 48) 16-bit numbers.
 */
export function shrinkBlocks(
  plane: usize,
  width: i32,
  height: i32,
  factor: i32,
  across: i32,
  down: i32,
  rim: f64,
  columns: usize,
  out: usize,
): void {
  const used = usize(across * factor),
    step = usize(width),
    side = usize(factor) << 1,
    room = usize(width + 48) << 1;
  const shown = min(used + 1, usize(width));
  const share = 1 / ((f64(factor) - 2 * rim) * (f64(factor) - 2 * rim));
  const block = columns + 16,
    beside = block + room,
    blockSums = beside + room,
    besideSums = blockSums + room;
  for (let j = 0; j < down; j++) {
    const top = j * factor;
    sumDown(plane + usize(top) * step, step, factor, shown, block);
    padEnds(block, used, width);
    if (rim !== 0) {
      const above = max(0, top - 1),
        below = min(height - 1, top + factor);
      sumDown(plane + usize(above) * step, usize(below - above) * step, 2, shown, beside);
      padEnds(beside, used, width);
    }
    let at: usize = 0;
    if (factor === 4) {
      const done = usize(shrinkByFour(block, beside, across, rim, share, out));
      at = done * side;
      out += done;
      if (at === used << 1) continue;
    }
    const left = i32(used) - i32(at >> 1);
    sumAlong(block + at, left, factor, blockSums + at);
    if (rim !== 0) sumAlong(beside + at, left, factor, besideSums + at);
    for (; at < used << 1; at += side, out++) {
      let sum = f64(load<u16>(blockSums + at));
      if (rim !== 0) {
        const ends = load<u16>(block + at - 2) + load<u16>(block + at + side),
          corners = load<u16>(beside + at - 2) + load<u16>(beside + at + side);
        sum -= rim * (f64(ends) + f64(load<u16>(besideSums + at)) - rim * f64(corners));
      }
      store<u8>(out, u8(max(0, min(255, sum * share + 0.5))));
    }
  }
}

/**
 * Brings luma of broadcast range (16 to 235; what lies beyond is cut) into the whole range of a byte, in place; up to
 * 15 bytes past the end are written.
 */
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

/**
 * Halves a picture: each pixel out is the mean of two by two, rounded (an odd row or column at the end is left out).
 * Sixteen bytes past the end of the picture may be read, and up to 15 past the end of `out` are written.
 */
export function halve(plane: usize, width: i32, height: i32, out: usize): void {
  const across = width >> 1,
    down = height >> 1;
  const two = i16x8.splat(2);
  for (let y = 0; y < down; y++) {
    const above = plane + usize(2 * y * width),
      to = out + usize(y * across);
    for (let x: usize = 0; x < usize(across); x += 16) {
      const a = above + 2 * x,
        b = a + usize(width);
      const low = i16x8.add(i16x8.extadd_pairwise_i8x16_u(v128.load(a)), i16x8.extadd_pairwise_i8x16_u(v128.load(b)));
      const high = i16x8.add(
        i16x8.extadd_pairwise_i8x16_u(v128.load(a, 16)),
        i16x8.extadd_pairwise_i8x16_u(v128.load(b, 16)),
      );
      v128.store(
        to + x,
        v128.narrow<u16>(i16x8.shr_u(i16x8.add(low, two), 2), i16x8.shr_u(i16x8.add(high, two), 2)),
      );
    }
  }
}

/**
 * Lays a picture on another place: pixel (x, y) of what is made, `across` x `down` bytes, lies at (u0 + c x - s y, v0 +
 * s x + c y) in it and is the cubic through its sixteen neighbours. `cubic` holds the four weights, floats, of each of 65
 * fractions. Where those are not all the picture's own it is the nearest pixel, and 0 in `seen` (address 0: not told).
 */
export function layPicture(
  plane: usize,
  width: i32,
  height: i32,
  u0: f64,
  v0: f64,
  c: f64,
  s: f64,
  across: i32,
  down: i32,
  cubic: usize,
  out: usize,
  seen: usize,
): void {
  const row = usize(width);
  for (let y = 0; y < down; y++) {
    let u = u0 - s * f64(y),
      v = v0 + c * f64(y);
    for (let x = 0; x < across; x++, out++, u += c, v += s) {
      const i = i32(Math.floor(u)),
        j = i32(Math.floor(v));
      const inside = i >= 1 && j >= 1 && i < width - 2 && j < height - 2;
      if (seen) store<u8>(seen++, u8(inside));
      if (!inside) {
        const nearX = max<i32>(0, min<i32>(width - 1, i32(Math.floor(u + 0.5)))),
          nearY = max<i32>(0, min<i32>(height - 1, i32(Math.floor(v + 0.5))));
        store<u8>(out, load<u8>(plane + usize(nearY) * row + usize(nearX)));
        continue;
      }
      const a = v128.load(cubic + (usize((u - f64(i)) * 64 + 0.5) << 4)),
        down4 = cubic + (usize((v - f64(j)) * 64 + 0.5) << 4);
      const at = plane + usize(j - 1) * row + usize(i - 1);
      const columns = f32x4.add(
        f32x4.add(
          f32x4.mul(v128.load32_splat(down4), bytesAt(at)),
          f32x4.mul(v128.load32_splat(down4, 4), bytesAt(at + row)),
        ),
        f32x4.add(
          f32x4.mul(v128.load32_splat(down4, 8), bytesAt(at + 2 * row)),
          f32x4.mul(v128.load32_splat(down4, 12), bytesAt(at + 3 * row)),
        ),
      );
      const sum = total(f32x4.mul(a, columns));
      store<u8>(out, u8(max<f64>(0, min<f64>(255, sum + 0.5))));
    }
  }
}
