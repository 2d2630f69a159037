/** One step of laying a picture on another by their pixels; see core/base/image/register.ts for the method. */
import { total } from './lanes';

/** Every second of eight floats. */
// @ts-ignore: decorator
@inline
function everySecond(at: usize): v128 {
  return v128.shuffle<f32>(v128.load(at), v128.load(at, 16), 0, 2, 4, 6);
}

/** Eight bytes as whole numbers of two bytes. */
// @ts-ignore: decorator
@inline
function eightAt(at: usize): v128 {
  return v128.extend_low<u8>(v128.load64_zero(at));
}

/** The first of each two of eight whole numbers of two bytes, as floats. */
// @ts-ignore: decorator
@inline
function firsts(eight: v128): v128 {
  return f32x4.convert_i32x4_s(v128.and(eight, i32x4.splat(0xffff)));
}

/** The second of each two. */
// @ts-ignore: decorator
@inline
function seconds(eight: v128): v128 {
  return f32x4.convert_i32x4_s(i32x4.shr_u(eight, 16));
}

/** Adds the lanes' total to the double at `out + 8 k`. */
// @ts-ignore: decorator
@inline
function note(out: usize, k: usize, v: v128): void {
  store<f64>(out + (k << 3), load<f64>(out + (k << 3)) + total(v));
}

/**
 * Sums for one step over every second pixel, as on a chessboard, that is `usable` with its four neighbours: leaves in
 * `out`, doubles, how many there are, how many agree within `cut` levels, their weighted slopes; then of the unknowns
 * shift x, shift y, brightness, size and turn the upper half of the normal equations row by row (15) and the right
 * side (5). Those of size and turn are left 0 unless `whole`. A pixel's weight falls to none where it differs by
 * `cut`, or for edges, squared, by `astray` times the square of their slope more.
 */
export function stepEquations(
  expected: usize,
  seen: usize,
  usable: usize,
  width: i32,
  height: i32,
  cut: f32,
  astray: f32,
  whole: i32,
  out: usize,
): void {
  memory.fill(out, 0, 23 * 8);
  const zero = f32x4.splat(0),
    one = f32x4.splat(1),
    quarter = f32x4.splat(-0.25),
    square = f32x4.splat(cut * cut),
    loose = f32x4.splat(astray),
    limit = f32x4.splat(cut);
  const cx = f32(width - 1) / 2,
    cy = f32(height - 1) / 2;
  const lanes = f32x4(0, 2, 4, 6),
    places = i32x4(0, 2, 4, 6),
    low = i32x4.splat(0xffff);
  for (let y = 1; y < height - 1; y++) {
    let count = zero,
      agree = zero,
      slopes = zero;
    let n00 = zero,
      n01 = zero,
      n02 = zero,
      n03 = zero,
      n04 = zero,
      n11 = zero,
      n12 = zero,
      n13 = zero,
      n14 = zero,
      n22 = zero,
      n23 = zero,
      n24 = zero,
      n33 = zero,
      n34 = zero,
      n44 = zero;
    let r0 = zero,
      r1 = zero,
      r2 = zero,
      r3 = zero,
      r4 = zero;
    const v = f32x4.splat(f32(y) - cy);
    for (let x = 1 + (y & 1); x < width - 1; x += 8) {
      const i = usize(y * width + x);
      const column = i32x4.add(i32x4.splat(x), places);
      const across = eightAt(usable + i);
      // Two bytes for a pixel and the one to its right: all four neighbours and it are usable where both are left.
      const free = v128.and(
        v128.and(v128.and(across, i32x4.shr_u(across, 16)), eightAt(usable + i - 1)),
        v128.and(eightAt(usable + i - usize(width)), eightAt(usable + i + usize(width))),
      );
      const use = v128.and(
        i32x4.gt_s(v128.and(free, low), i32x4.splat(0)),
        i32x4.lt_s(column, i32x4.splat(width - 1)),
      );
      count = f32x4.add(count, v128.and(use, one));
      const o = expected + (i << 2),
        row = usize(width) << 2;
      const own = eightAt(seen + i);
      // Nothing of what lies past the picture's end may come in: as floats it may be no number, and stays none times 0.
      const e = v128.and(use, everySecond(o)),
        r = v128.and(use, f32x4.sub(firsts(own), e));
      // Content that lies further right by d is darker by the slope times d.
      const alongRow = f32x4.add(
        f32x4.sub(everySecond(o + 4), everySecond(o - 4)),
        f32x4.sub(seconds(own), firsts(eightAt(seen + i - 1))),
      );
      const alongColumn = f32x4.add(
        f32x4.sub(everySecond(o + row), everySecond(o - row)),
        f32x4.sub(firsts(eightAt(seen + i + usize(width))), firsts(eightAt(seen + i - usize(width)))),
      );
      const a = f32x4.mul(quarter, v128.and(use, alongRow)),
        b = f32x4.mul(quarter, v128.and(use, alongColumn));
      const steep = f32x4.add(f32x4.mul(a, a), f32x4.mul(b, b));
      // An edge that is still a little off must not be taken for something else: it knows best where the picture lies.
      const left = f32x4.pmax(
        zero,
        f32x4.sub(one, f32x4.div(f32x4.mul(r, r), f32x4.add(square, f32x4.mul(loose, steep)))),
      );
      const w = v128.and(use, f32x4.mul(left, left));
      const counts = v128.and(f32x4.gt(w, zero), f32x4.lt(f32x4.abs(r), limit));
      agree = f32x4.add(agree, v128.and(counts, one));
      slopes = f32x4.add(slopes, f32x4.mul(w, steep));
      const wa = f32x4.mul(w, a),
        wb = f32x4.mul(w, b),
        we = f32x4.mul(w, e);
      n00 = f32x4.add(n00, f32x4.mul(wa, a));
      n01 = f32x4.add(n01, f32x4.mul(wa, b));
      n02 = f32x4.add(n02, f32x4.mul(wa, e));
      n11 = f32x4.add(n11, f32x4.mul(wb, b));
      n12 = f32x4.add(n12, f32x4.mul(wb, e));
      n22 = f32x4.add(n22, f32x4.mul(we, e));
      r0 = f32x4.add(r0, f32x4.mul(wa, r));
      r1 = f32x4.add(r1, f32x4.mul(wb, r));
      r2 = f32x4.add(r2, f32x4.mul(we, r));
      if (!whole) continue;
      const u = f32x4.add(f32x4.splat(f32(x) - cx), lanes);
      const c = f32x4.add(f32x4.mul(a, u), f32x4.mul(b, v)),
        d = f32x4.sub(f32x4.mul(b, u), f32x4.mul(a, v));
      const wc = f32x4.mul(w, c),
        wd = f32x4.mul(w, d);
      n03 = f32x4.add(n03, f32x4.mul(wa, c));
      n04 = f32x4.add(n04, f32x4.mul(wa, d));
      n13 = f32x4.add(n13, f32x4.mul(wb, c));
      n14 = f32x4.add(n14, f32x4.mul(wb, d));
      n23 = f32x4.add(n23, f32x4.mul(we, c));
      n24 = f32x4.add(n24, f32x4.mul(we, d));
      n33 = f32x4.add(n33, f32x4.mul(wc, c));
      n34 = f32x4.add(n34, f32x4.mul(wc, d));
      n44 = f32x4.add(n44, f32x4.mul(wd, d));
      r3 = f32x4.add(r3, f32x4.mul(wc, r));
      r4 = f32x4.add(r4, f32x4.mul(wd, r));
    }
    note(out, 0, count);
    note(out, 1, agree);
    note(out, 2, slopes);
    note(out, 3, n00);
    note(out, 4, n01);
    note(out, 5, n02);
    note(out, 6, n03);
    note(out, 7, n04);
    note(out, 8, n11);
    note(out, 9, n12);
    note(out, 10, n13);
    note(out, 11, n14);
    note(out, 12, n22);
    note(out, 13, n23);
    note(out, 14, n24);
    note(out, 15, n33);
    note(out, 16, n34);
    note(out, 17, n44);
    note(out, 18, r0);
    note(out, 19, r1);
    note(out, 20, r2);
    note(out, 21, r3);
    note(out, 22, r4);
  }
}
