/** Following small windows of a picture to a fraction of a pixel; see core/lock/align.ts for the method. */

/** Weight of the outer cubic B-spline tap on the left at fraction `f`. */
function outerTap(f: f64): f32 {
  const g = 1 - f;
  return f32((g * g * g) / 6);
}

/** Weight of the inner tap on the left at fraction `f`. */
function innerTap(f: f64): f32 {
  return f32((4 - 6 * f * f + 3 * f * f * f) / 6);
}

/** Smooths across the window's rows, one above and two below: `size + 3` rows of `stride` values at `out`. */
function smoothAcross(plane: usize, width: i32, x0: i32, y0: i32, fraction: f64, size: i32, stride: i32, out: usize): void {
  const a0 = f32x4.splat(outerTap(fraction)), a1 = f32x4.splat(innerTap(fraction));
  const a2 = f32x4.splat(innerTap(1 - fraction)), a3 = f32x4.splat(outerTap(1 - fraction));
  let row = plane + usize((y0 - 1) * width + x0 - 1);
  for (let y = 0; y < size + 3; y++, row += usize(width)) {
    for (let x = 0; x < stride; x += 4, out += 16) {
      const eight = v128.extend_low<u8>(v128.load64_zero(row + usize(x)));
      const left = f32x4.convert_i32x4_u(v128.extend_low<u16>(eight));
      const right = f32x4.convert_i32x4_u(v128.extend_high<u16>(eight));
      let v = f32x4.mul(a0, left);
      v = f32x4.add(v, f32x4.mul(a1, v128.shuffle<f32>(left, right, 1, 2, 3, 4)));
      v = f32x4.add(v, f32x4.mul(a2, v128.shuffle<f32>(left, right, 2, 3, 4, 5)));
      v = f32x4.add(v, f32x4.mul(a3, v128.shuffle<f32>(left, right, 3, 4, 5, 6)));
      v128.store(out, v);
    }
  }
}

function sumOf(v: v128): f64 {
  return f64(f32x4.extract_lane(v, 0)) + f64(f32x4.extract_lane(v, 1)) + f64(f32x4.extract_lane(v, 2)) + f64(f32x4.extract_lane(v, 3));
}

/** Smooths one row of four values down the columns. */
// @ts-ignore: decorator
@inline
function smoothDown(at: usize, step: usize, b0: v128, b1: v128, b2: v128, b3: v128): v128 {
  return f32x4.add(
    f32x4.add(f32x4.mul(b0, v128.load(at)), f32x4.mul(b1, v128.load(at + step))),
    f32x4.add(f32x4.mul(b2, v128.load(at + 2 * step)), f32x4.mul(b3, v128.load(at + 3 * step))),
  );
}

/** The smoothed window whose top left pixel centre is at (left, top), `size` rows of `stride` values. */
export function sampleWindow(plane: usize, width: i32, left: f64, top: f64, size: i32, stride: i32, scratch: usize, out: usize): void {
  const x0 = Math.floor(left), y0 = Math.floor(top);
  smoothAcross(plane, width, i32(x0), i32(y0), left - x0, size, stride, scratch);
  const f = top - y0;
  const b0 = f32x4.splat(outerTap(f)), b1 = f32x4.splat(innerTap(f)), b2 = f32x4.splat(innerTap(1 - f)), b3 = f32x4.splat(outerTap(1 - f));
  const step = usize(stride) << 2;
  const end = out + usize(size) * step;
  for (; out < end; out += 16, scratch += 16) v128.store(out, smoothDown(scratch, step, b0, b1, b2, b3));
}

/** Bytes before a template's values: nine numbers that solve a step, the window's left and top, and its mean level. */
const HEAD: usize = 96;

/**
 * Aligns a template, starting at the shift in out[0] and out[1]. `mask` is one row of 1 within the window and 0 beyond.
 * Leaves shift x, shift y, contrast and what is left unexplained in `out`, four doubles.
 * @returns 1 when it settled within `steps` steps, no further off than `reach`, inside the picture
 */
export function alignTemplate(plane: usize, width: i32, height: i32, template: usize, size: i32, stride: i32, mask: usize, scratch: usize, steps: i32, reach: f64, out: usize): i32 {
  const startX = load<f64>(out), startY = load<f64>(out, 8);
  const count = f64(size * size);
  const step = usize(stride) << 2;
  const plenty = usize(size) * step;
  const level = f32x4.splat(f32(load<f64>(template, 88)));
  let dx = startX, dy = startY;
  for (let round = 0; round < steps; round++) {
    const left = load<f64>(template, 72) + dx, top = load<f64>(template, 80) + dy;
    const x0 = i32(Math.floor(left)), y0 = i32(Math.floor(top));
    if (!(x0 >= 1 && y0 >= 1 && x0 + size + 1 < width && y0 + size + 1 < height)) return 0;
    smoothAcross(plane, width, x0, y0, left - f64(x0), size, stride, scratch);
    const f = top - f64(y0);
    const b0 = f32x4.splat(outerTap(f)), b1 = f32x4.splat(innerTap(f)), b2 = f32x4.splat(innerTap(1 - f)), b3 = f32x4.splat(outerTap(1 - f));
    let sum = f32x4.splat(0), square = sum, sx = sum, sy = sum, st = sum;
    let at = scratch, slopes = template + HEAD;
    for (let y = 0; y < size; y++) {
      for (let x: usize = 0; x < step; x += 16, at += 16, slopes += 16) {
        const v = f32x4.mul(f32x4.sub(smoothDown(at, step, b0, b1, b2, b3), level), v128.load(mask + x));
        sum = f32x4.add(sum, v);
        square = f32x4.add(square, f32x4.mul(v, v));
        sx = f32x4.add(sx, f32x4.mul(v, v128.load(slopes)));
        sy = f32x4.add(sy, f32x4.mul(v, v128.load(slopes + plenty)));
        st = f32x4.add(st, f32x4.mul(v, v128.load(slopes + 2 * plenty)));
      }
    }
    const x = sumOf(sx), y = sumOf(sy), t = sumOf(st);
    const qx = load<f64>(template) * x + load<f64>(template, 8) * y + load<f64>(template, 16) * t;
    const qy = load<f64>(template, 24) * x + load<f64>(template, 32) * y + load<f64>(template, 40) * t;
    const gain = load<f64>(template, 48) * x + load<f64>(template, 56) * y + load<f64>(template, 64) * t;
    if (!(gain > 0.2 && gain < 5)) return 0;
    let mx = -qx / gain, my = -qy / gain;
    const length = Math.sqrt(mx * mx + my * my);
    if (length > 2) {
      mx *= 2 / length;
      my *= 2 / length;
    }
    dx += mx;
    dy += my;
    if (Math.abs(dx - startX) > reach || Math.abs(dy - startY) > reach) return 0;
    // The steps shrink fast once they are short: what is left after one this long is a few thousandths of a pixel.
    if (length < 0.12) {
      const total = sumOf(sum);
      store<f64>(out, dx);
      store<f64>(out, dy, 8);
      store<f64>(out, gain, 16);
      store<f64>(out, Math.max(0, sumOf(square) - (total * total) / count - (qx * x + qy * y + gain * t)) / count, 24);
      return 1;
    }
  }
  return 0;
}
