/** What lies behind an object, and where a picture is something else; see core/motion and core/cover/unlike.ts. */

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
  let o: usize = 0;
  for (let y = 0; y < down; y++) {
    let u = u0 - s * f64(y),
      v = v0 + c * f64(y);
    for (let x = 0; x < across; x++, o++, u += c, v += s) {
      store<u8>(known + o, 0);
      if (!(u >= 0 && v >= 0 && u < f64(width) && v < f64(height))) continue;
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
      if (seen < 0.5) continue;
      if (seen < 0.99999) sum = f32x4.mul(sum, f32x4.splat(1 / seen));
      store<u8>(known + o, 1);
      store<f32>(luma + (o << 2), f32x4.extract_lane(sum, 0));
      if (!coloured) continue;
      store<f32>(blue + (o << 2), f32x4.extract_lane(sum, 1));
      store<f32>(red + (o << 2), f32x4.extract_lane(sum, 2));
    }
  }
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
