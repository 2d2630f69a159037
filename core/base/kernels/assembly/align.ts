/** Following small windows of a picture to a fraction of a pixel; see core/measures/lock/align.ts for the method. */
import { bytesAt, total } from './lanes';

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
function smoothAcross(
  plane: usize,
  width: i32,
  x0: i32,
  y0: i32,
  fraction: f64,
  size: i32,
  stride: i32,
  out: usize,
): void {
  const a0 = f32x4.splat(outerTap(fraction)),
    a1 = f32x4.splat(innerTap(fraction));
  const a2 = f32x4.splat(innerTap(1 - fraction)),
    a3 = f32x4.splat(outerTap(1 - fraction));
  let row = plane + usize((y0 - 1) * width + x0 - 1);
  for (let y = 0; y < size + 3; y++, row += usize(width)) {
    let left = bytesAt(row);
    for (let x: usize = 0; x < usize(stride); x += 4, out += 16) {
      const right = bytesAt(row + x + 4);
      let v = f32x4.mul(a0, left);
      v = f32x4.add(v, f32x4.mul(a1, v128.shuffle<f32>(left, right, 1, 2, 3, 4)));
      v = f32x4.add(v, f32x4.mul(a2, v128.shuffle<f32>(left, right, 2, 3, 4, 5)));
      v = f32x4.add(v, f32x4.mul(a3, v128.shuffle<f32>(left, right, 3, 4, 5, 6)));
      v128.store(out, v);
      left = right;
    }
  }
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
function sampleWindow(
  plane: usize,
  width: i32,
  left: f64,
  top: f64,
  size: i32,
  stride: i32,
  scratch: usize,
  out: usize,
): void {
  const x0 = Math.floor(left),
    y0 = Math.floor(top);
  smoothAcross(plane, width, i32(x0), i32(y0), left - x0, size, stride, scratch);
  const f = top - y0;
  const b0 = f32x4.splat(outerTap(f)),
    b1 = f32x4.splat(innerTap(f)),
    b2 = f32x4.splat(innerTap(1 - f)),
    b3 = f32x4.splat(outerTap(1 - f));
  const step = usize(stride) << 2;
  const end = out + usize(size) * step;
  for (; out < end; out += 16, scratch += 16) v128.store(out, smoothDown(scratch, step, b0, b1, b2, b3));
}

/** Bytes before a template's values: nine numbers that solve a step, the window's left and top, and its mean level. */
const HEAD: usize = 96;

/** Takes the mean off the values within the mask, sets the rest to 0, and gives the mean. */
function centre(values: usize, size: i32, stride: i32, mask: usize): f64 {
  const step = usize(stride) << 2,
    end = values + usize(size) * step;
  let sum = f32x4.splat(0);
  for (let row = values; row < end; row += step)
    for (let x: usize = 0; x < step; x += 16) sum = f32x4.add(sum, f32x4.mul(v128.load(row + x), v128.load(mask + x)));
  const mean = total(sum) / f64(size * size);
  const level = f32x4.splat(f32(mean));
  for (let row = values; row < end; row += step)
    for (let x: usize = 0; x < step; x += 16)
      v128.store(row + x, f32x4.mul(f32x4.sub(v128.load(row + x), level), v128.load(mask + x)));
  return mean;
}

/** Half of what the windows one pixel after and one before differ by, at `out`. */
function slope(
  plane: usize,
  width: i32,
  left: f64,
  top: f64,
  dx: f64,
  dy: f64,
  size: i32,
  stride: i32,
  scratch: usize,
  window: usize,
  out: usize,
): void {
  sampleWindow(plane, width, left + dx, top + dy, size, stride, scratch, out);
  sampleWindow(plane, width, left - dx, top - dy, size, stride, scratch, window);
  const half = f32x4.splat(0.5);
  for (let i: usize = 0, bytes = usize(size * stride) << 2; i < bytes; i += 16)
    v128.store(out + i, f32x4.mul(half, f32x4.sub(v128.load(out + i), v128.load(window + i))));
}

/**
 * Fills a template's values from the window at (left, top): slope to the right, slope downwards, shape, each less its
 * mean. Leaves in `out`, as doubles: the mean level; the sums of the products xx, xy, xs, yy, ys, ss of the three; and
 * the sums of each of the three with the change that a growth (3) and a turn (3) about the window's middle would make.
 * `window` is scratch for one window.
 */
export function prepareTemplate(
  plane: usize,
  width: i32,
  left: f64,
  top: f64,
  size: i32,
  stride: i32,
  mask: usize,
  scratch: usize,
  window: usize,
  template: usize,
  out: usize,
): void {
  const plenty = usize(size * stride) << 2;
  const right = template + HEAD,
    downwards = right + plenty,
    shape = downwards + plenty;
  slope(plane, width, left, top, 1, 0, size, stride, scratch, window, right);
  slope(plane, width, left, top, 0, 1, size, stride, scratch, window, downwards);
  sampleWindow(plane, width, left, top, size, stride, scratch, shape);
  centre(right, size, stride, mask);
  centre(downwards, size, stride, mask);
  store<f64>(out, centre(shape, size, stride, mask));
  for (let k: usize = 1; k < 13; k++) store<f64>(out + (k << 3), 0);
  const c = f64(size - 1) / 2;
  for (let y = 0; y < size; y++) {
    for (let x = 0; x < size; x++) {
      const i = usize(y * stride + x) << 2;
      const gx = f64(load<f32>(right + i)),
        gy = f64(load<f32>(downwards + i)),
        s = f64(load<f32>(shape + i));
      const u = f64(x) - c,
        v = f64(y) - c;
      const grow = gx * u + gy * v,
        turn = gy * u - gx * v;
      add(out, 1, gx * gx);
      add(out, 2, gx * gy);
      add(out, 3, gx * s);
      add(out, 4, gy * gy);
      add(out, 5, gy * s);
      add(out, 6, s * s);
      add(out, 7, gx * grow);
      add(out, 8, gy * grow);
      add(out, 9, s * grow);
      add(out, 10, gx * turn);
      add(out, 11, gy * turn);
      add(out, 12, s * turn);
    }
  }
}

// @ts-ignore: decorator
@inline
function add(out: usize, k: usize, value: f64): void {
  store<f64>(out + (k << 3), load<f64>(out + (k << 3)) + value);
}

/**
 * Aligns a template, starting at the shift in out[0] and out[1]. `mask` is one row of 1 within the window and 0 beyond.
 * Leaves shift x, shift y, contrast and what is left unexplained in `out`, four doubles.
 * @returns 1 when it settled within `steps` steps, no further off than `reach`, inside the picture
 */
export function alignTemplate(
  plane: usize,
  width: i32,
  height: i32,
  template: usize,
  size: i32,
  stride: i32,
  mask: usize,
  scratch: usize,
  steps: i32,
  reach: f64,
  out: usize,
): i32 {
  const startX = load<f64>(out),
    startY = load<f64>(out, 8);
  const count = f64(size * size);
  const step = usize(stride) << 2;
  const plenty = usize(size) * step;
  const level = f32x4.splat(f32(load<f64>(template, 88)));
  let dx = startX,
    dy = startY;
  for (let round = 0; round < steps; round++) {
    const left = load<f64>(template, 72) + dx,
      top = load<f64>(template, 80) + dy;
    const x0 = i32(Math.floor(left)),
      y0 = i32(Math.floor(top));
    if (!(x0 >= 1 && y0 >= 1 && x0 + size + 1 < width && y0 + size + 1 < height)) return 0;
    smoothAcross(plane, width, x0, y0, left - f64(x0), size, stride, scratch);
    const f = top - f64(y0);
    const b0 = f32x4.splat(outerTap(f)),
      b1 = f32x4.splat(innerTap(f)),
      b2 = f32x4.splat(innerTap(1 - f)),
      b3 = f32x4.splat(outerTap(1 - f));
    let sum = f32x4.splat(0),
      square = sum,
      sx = sum,
      sy = sum,
      st = sum;
    let at = scratch,
      slopes = template + HEAD;
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
    const x = total(sx),
      y = total(sy),
      t = total(st);
    const qx = load<f64>(template) * x + load<f64>(template, 8) * y + load<f64>(template, 16) * t;
    const qy = load<f64>(template, 24) * x + load<f64>(template, 32) * y + load<f64>(template, 40) * t;
    const gain = load<f64>(template, 48) * x + load<f64>(template, 56) * y + load<f64>(template, 64) * t;
    if (!(gain > 0.2 && gain < 5)) return 0;
    let mx = -qx / gain,
      my = -qy / gain;
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
      const all = total(sum);
      store<f64>(out, dx);
      store<f64>(out, dy, 8);
      store<f64>(out, gain, 16);
      store<f64>(out, Math.max(0, total(square) - (all * all) / count - (qx * x + qy * y + gain * t)) / count, 24);
      return 1;
    }
  }
  return 0;
}
