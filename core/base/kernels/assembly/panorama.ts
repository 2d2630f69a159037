/** What lies behind an object, and where a picture is something else; see core/base/image/panorama.ts and core/measures/cover/unlike.ts. */

/** So near to the field's edge places are looked at one by one. */
const RIM: f64 = 0.001;

/**
 * Shows a field of (luma, blue, red, 1 where seen) floats as a frame whose pixel (x, y) lies at (u0 + c x - s y, v0 +
 * s x + c y) in it, bilinear over what has been seen. Pixels that mostly have not are 0 in `known` and keep what they
 * showed. Colours are left out unless `coloured`.
 */
export function showPanorama(
  field: usize,
  width: i32,
  height: i32,
  u0: f64,
  v0: f64,
  c: f64,
  s: f64,
  across: i32,
  down: i32,
  coloured: i32,
  luma: usize,
  blue: usize,
  red: usize,
  known: usize,
): void {
  const row = usize(width) << 4;
  const lanes = f32x4(0, 1, 2, 3),
    one = f32x4.splat(1),
    half = f32x4.splat(0.5);
  for (let y = 0; y < down; y++) {
    const startU = u0 - s * f64(y),
      startV = v0 + c * f64(y);
    // Places along a row are counted from a whole pixel of the field: 32 bits hold them to a hundred thousandth.
    const baseU = Math.floor(startU),
      baseV = Math.floor(startV);
    const restU = f32x4.splat(f32(startU - baseU)),
      restV = f32x4.splat(f32(startV - baseV)),
      stepU = f32x4.splat(f32(c)),
      stepV = f32x4.splat(f32(s));
    // From where to where on the row all four pixels about a place are the field's.
    let from: f64 = 0,
      to = f64(across - 1);
    if (c !== 0) {
      const a = (RIM - startU) / c,
        b = (f64(width) - 1 - RIM - startU) / c;
      from = Math.max(from, Math.min(a, b));
      to = Math.min(to, Math.max(a, b));
    } else if (startU < RIM || startU > f64(width) - 1 - RIM) to = -1;
    if (s !== 0) {
      const a = (RIM - startV) / s,
        b = (f64(height) - 1 - RIM - startV) / s;
      from = Math.max(from, Math.min(a, b));
      to = Math.min(to, Math.max(a, b));
    } else if (startV < RIM || startV > f64(height) - 1 - RIM) to = -1;
    const first = i32(Math.ceil(Math.min(from, f64(across)))),
      last = i32(Math.floor(Math.max(to, -1)));
    const origin = field + usize(i32(baseV)) * row + (usize(i32(baseU)) << 4);
    for (let x = 0; x < across; x += 4) {
      const o = usize(y * across + x);
      if (x < first || x + 3 > last) {
        const u = startU + c * f64(x),
          v = startV + s * f64(x),
          many = min<i32>(4, across - x);
        for (let k = 0; k < many; k++)
          showOne(
            field,
            width,
            height,
            u + c * f64(k),
            v + s * f64(k),
            coloured,
            luma + ((o + usize(k)) << 2),
            blue + ((o + usize(k)) << 2),
            red + ((o + usize(k)) << 2),
            known + o + usize(k),
          );
        continue;
      }
      const places = f32x4.add(f32x4.splat(f32(x)), lanes);
      const us = f32x4.add(restU, f32x4.mul(stepU, places)),
        vs = f32x4.add(restV, f32x4.mul(stepV, places));
      const wholeU = f32x4.floor(us),
        wholeV = f32x4.floor(vs);
      const fx = f32x4.sub(us, wholeU),
        fy = f32x4.sub(vs, wholeV);
      const gx = f32x4.sub(one, fx),
        gy = f32x4.sub(one, fy);
      const w0 = f32x4.mul(gx, gy),
        w1 = f32x4.mul(fx, gy),
        w2 = f32x4.mul(gx, fy),
        w3 = f32x4.mul(fx, fy);
      const at = i32x4.add(
        i32x4.mul(i32x4.trunc_sat_f32x4_s(wholeV), i32x4.splat(i32(row))),
        i32x4.shl(i32x4.trunc_sat_f32x4_s(wholeU), 4),
      );
      const a = mixed(
          origin + usize(i32x4.extract_lane(at, 0)),
          row,
          f32x4.extract_lane(w0, 0),
          f32x4.extract_lane(w1, 0),
          f32x4.extract_lane(w2, 0),
          f32x4.extract_lane(w3, 0),
        ),
        b = mixed(
          origin + usize(i32x4.extract_lane(at, 1)),
          row,
          f32x4.extract_lane(w0, 1),
          f32x4.extract_lane(w1, 1),
          f32x4.extract_lane(w2, 1),
          f32x4.extract_lane(w3, 1),
        ),
        d = mixed(
          origin + usize(i32x4.extract_lane(at, 2)),
          row,
          f32x4.extract_lane(w0, 2),
          f32x4.extract_lane(w1, 2),
          f32x4.extract_lane(w2, 2),
          f32x4.extract_lane(w3, 2),
        ),
        e = mixed(
          origin + usize(i32x4.extract_lane(at, 3)),
          row,
          f32x4.extract_lane(w0, 3),
          f32x4.extract_lane(w1, 3),
          f32x4.extract_lane(w2, 3),
          f32x4.extract_lane(w3, 3),
        );
      // From four pixels of four values to four values of four pixels.
      const ab = v128.shuffle<f32>(a, b, 0, 4, 1, 5),
        de = v128.shuffle<f32>(d, e, 0, 4, 1, 5),
        ab2 = v128.shuffle<f32>(a, b, 2, 6, 3, 7),
        de2 = v128.shuffle<f32>(d, e, 2, 6, 3, 7);
      const seen = v128.shuffle<f32>(ab2, de2, 2, 3, 6, 7);
      const is = f32x4.ge(seen, half);
      const shown = i32x4.bitmask(is);
      store<u32>(known + o, packed(is));
      if (shown === 0) continue;
      const factor = f32x4.div(one, f32x4.pmax(half, seen));
      const at4 = o << 2;
      keep(luma + at4, f32x4.mul(factor, v128.shuffle<f32>(ab, de, 0, 1, 4, 5)), is);
      if (!coloured) continue;
      keep(blue + at4, f32x4.mul(factor, v128.shuffle<f32>(ab, de, 2, 3, 6, 7)), is);
      keep(red + at4, f32x4.mul(factor, v128.shuffle<f32>(ab2, de2, 0, 1, 4, 5)), is);
    }
  }
}

/** The four values of a place of the field, by the shares of the four pixels about it. */
// @ts-ignore: decorator
@inline
function mixed(at: usize, row: usize, w0: f32, w1: f32, w2: f32, w3: f32): v128 {
  return f32x4.add(
    f32x4.add(f32x4.mul(f32x4.splat(w0), v128.load(at)), f32x4.mul(f32x4.splat(w1), v128.load(at, 16))),
    f32x4.add(f32x4.mul(f32x4.splat(w2), v128.load(at + row)), f32x4.mul(f32x4.splat(w3), v128.load(at + row, 16))),
  );
}

/** One pixel of a view, anywhere. */
function showOne(
  field: usize,
  width: i32,
  height: i32,
  u: f64,
  v: f64,
  coloured: i32,
  luma: usize,
  blue: usize,
  red: usize,
  known: usize,
): void {
  store<u8>(known, 0);
  if (!(u >= 0 && v >= 0 && u < f64(width) && v < f64(height))) return;
  const row = usize(width) << 4;
  const i = i32(u),
    j = i32(v);
  const fx = f32(u - f64(i)),
    fy = f32(v - f64(j));
  const at = field + usize(j) * row + (usize(i) << 4);
  const right: usize = i + 1 < width ? 16 : 0,
    below = j + 1 < height ? row : 0;
  const top = f32x4.add(
    f32x4.mul(f32x4.splat((1 - fx) * (1 - fy)), v128.load(at)),
    f32x4.mul(f32x4.splat(fx * (1 - fy)), v128.load(at + right)),
  );
  const bottom = f32x4.add(
    f32x4.mul(f32x4.splat((1 - fx) * fy), v128.load(at + below)),
    f32x4.mul(f32x4.splat(fx * fy), v128.load(at + below + right)),
  );
  let sum = f32x4.add(top, bottom);
  const seen = f32x4.extract_lane(sum, 3);
  if (seen < 0.5) return;
  sum = f32x4.mul(sum, f32x4.splat(1 / seen));
  store<u8>(known, 1);
  store<f32>(luma, f32x4.extract_lane(sum, 0));
  if (!coloured) return;
  store<f32>(blue, f32x4.extract_lane(sum, 1));
  store<f32>(red, f32x4.extract_lane(sum, 2));
}

/** Four truths as four bytes of 0 and 1. */
// @ts-ignore: decorator
@inline
function packed(is: v128): u32 {
  const ones = v128.and(is, i32x4.splat(1));
  const narrow = i8x16.narrow_i16x8_u(i16x8.narrow_i32x4_u(ones, ones), i32x4.splat(0));
  return u32(i32x4.extract_lane(narrow, 0));
}

/** Stores the lanes for which it is so; the others keep what they hold. */
// @ts-ignore: decorator
@inline
function keep(at: usize, values: v128, is: v128): void {
  v128.store(at, v128.bitselect(values, v128.load(at), is));
}

/**
 * What is expected of a frame: a view in its light; and where it may be compared, where the view is known and nothing
 * covers it. Gives the number of such pixels.
 */
export function expectView(
  luma: usize,
  known: usize,
  covered: usize,
  gain: f32,
  count: i32,
  expected: usize,
  usable: usize,
): i32 {
  const g = f32x4.splat(gain),
    one = i8x16.splat(1);
  let n = 0,
    i: usize = 0;
  for (; i + 16 <= usize(count); i += 16) {
    for (let k: usize = 0; k < 64; k += 16)
      v128.store(expected + (i << 2) + k, f32x4.mul(g, v128.load(luma + (i << 2) + k)));
    const may = v128.and(v128.andnot(v128.load(known + i), v128.load(covered + i)), one);
    v128.store(usable + i, may);
    n += i32.popcnt(i8x16.bitmask(i8x16.neg(may)));
  }
  for (; i < usize(count); i++) {
    store<f32>(expected + (i << 2), gain * load<f32>(luma + (i << 2)));
    const may = load<u8>(known + i) & (1 - load<u8>(covered + i));
    store<u8>(usable + i, may);
    n += may;
  }
  return n;
}

/**
 * Takes a frame into the field: pixel (x, y) of it, from `fromX` to `toX` and `fromY` to `toY`, lies at (u0 + c x - s
 * y, v0 + s x + c y) in the frame. Where `free` (address 0: everywhere) is 1 on all the frame's pixels that count; the
 * first looks are averaged, then the field follows by `follow`. `weight` holds how often each pixel was seen.
 */
export function addToPanorama(
  field: usize,
  weight: usize,
  width: i32,
  fromX: i32,
  toX: i32,
  fromY: i32,
  toY: i32,
  u0: f64,
  v0: f64,
  c: f64,
  s: f64,
  luma: usize,
  blue: usize,
  red: usize,
  free: usize,
  across: i32,
  down: i32,
  colourAcross: i32,
  colourDown: i32,
  gain: f32,
  follow: f32,
): void {
  for (let y = fromY; y <= toY; y++) {
    let u = u0 + c * f64(fromX) - s * f64(y),
      v = v0 + s * f64(fromX) + c * f64(y);
    for (let x = fromX; x <= toX; x++, u += c, v += s) {
      if (!(u >= 0 && v >= 0 && u < f64(across) && v < f64(down))) continue;
      const i = i32(u),
        j = i32(v);
      const fx = f32(u - f64(i)),
        fy = f32(v - f64(j));
      // The frame's own last row and column count when it lies on them.
      if ((i + 1 >= across || j + 1 >= down) && !(fx < 0.01 && fy < 0.01)) continue;
      const o = usize(j * across + i),
        right: usize = i + 1 < across && fx > 0 ? 1 : 0,
        below: usize = j + 1 < down && fy > 0 ? usize(across) : 0;
      if (
        free &&
        !(
          load<u8>(free + o) &&
          load<u8>(free + o + right) &&
          load<u8>(free + o + below) &&
          load<u8>(free + o + below + right)
        )
      )
        continue;
      const value =
        gain *
        ((1 - fy) * ((1 - fx) * f32(load<u8>(luma + o)) + fx * f32(load<u8>(luma + o + right))) +
          fy * ((1 - fx) * f32(load<u8>(luma + o + below)) + fx * f32(load<u8>(luma + o + below + right))));
      const k = usize(min(colourDown - 1, j >> 1) * colourAcross + min(colourAcross - 1, i >> 1));
      const p = usize(y * width + x);
      const n = load<f32>(weight + (p << 2)) + 1;
      const share = f32x4.splat(n * follow > 1 ? follow : 1 / n);
      const at = field + (p << 4);
      const before = v128.load(at);
      const now = f32x4.replace_lane(
        f32x4.replace_lane(f32x4.replace_lane(f32x4.splat(1), 0, value), 1, f32(load<u8>(blue + k))),
        2,
        f32(load<u8>(red + k)),
      );
      v128.store(at, f32x4.replace_lane(f32x4.add(before, f32x4.mul(share, f32x4.sub(now, before))), 3, 1));
      store<f32>(weight + (p << 2), n);
    }
  }
}
