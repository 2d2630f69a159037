/** Sums that the loops over labels share. */

const LN2: f32 = 0.6931472;

/** e to the power of x, for x from -80 to 0 or little more; off by less than 2e-5 of itself. */
// @ts-ignore: decorator
@inline
export function exponential(x: f32): f32 {
  const t = max<f32>(-80, x) * f32(1.442695);
  const whole = floor<f32>(t),
    f = t - whole;
  const p = f32(1) + f * (f32(0.6931472) + f * (f32(0.2402265) + f * (f32(0.0555041) + f * (f32(0.0096181) + f * f32(0.0013333)))));
  return p * reinterpret<f32>((i32(whole) + 127) << 23);
}

/** Natural logarithm of x above 0, off by less than 1e-4. */
// @ts-ignore: decorator
@inline
export function logarithm(x: f32): f32 {
  const bits = reinterpret<i32>(x);
  const m = reinterpret<f32>((bits & 0x7fffff) | 0x3f800000);
  // Of a number from 1 to 2, by the series of the area tangent about its middle.
  const s = (m - f32(1.4142135)) / (m + f32(1.4142135)),
    q = s * s;
  return (f32((bits >> 23) - 127) + f32(0.5)) * LN2 + 2 * s * (1 + q * (f32(0.3333333) + q * f32(0.2)));
}

/** A table's value between two of its 256 entries. */
// @ts-ignore: decorator
@inline
export function between(table: usize, v: f32): f32 {
  const i = min<i32>(254, max<i32>(0, i32(v)));
  const own = load<f32>(table + (usize(i) << 2));
  return own + (v - f32(i)) * (load<f32>(table + (usize(i) << 2) + 4) - own);
}

// @ts-ignore: decorator
@inline
export function entry(table: usize, v: f32): f32 {
  return load<f32>(table + (usize(min<i32>(255, max<i32>(1, i32(v + f32(0.5))))) << 2));
}

/** The code value that has so many stops, by a table that rises. */
export function codeOf(table: usize, wanted: f32): f32 {
  let low = 0,
    high = 255;
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (load<f32>(table + (usize(middle) << 2)) < wanted) low = middle;
    else high = middle;
  }
  const a = load<f32>(table + (usize(low) << 2)),
    b = load<f32>(table + (usize(high) << 2));
  return max<f32>(0, min<f32>(255, f32(low) + (b > a ? (wanted - a) / (b - a) : 0)));
}

// @ts-ignore: decorator
@inline
export function binOf(v: f32, b: f32, r: f32): usize {
  const y = min<i32>(31, max<i32>(0, i32(v) >> 3)),
    u = min<i32>(31, max<i32>(0, (i32(b + 128.5) - 64) >> 2)),
    w = min<i32>(31, max<i32>(0, (i32(r + 128.5) - 64) >> 2));
  return usize((((y << 5) + u) << 5) + w);
}

/** As core/presence/swaying.ts has it. */
// @ts-ignore: decorator
@inline
export function swayingBin(v: f32, b: f32, r: f32): usize {
  const y = min<i32>(15, max<i32>(0, i32(v) >> 4)),
    u = min<i32>(7, max<i32>(0, i32(floor<f32>(b + 64)) >> 4)),
    w = min<i32>(7, max<i32>(0, i32(floor<f32>(r + 64)) >> 4));
  return usize((((y << 3) + u) << 3) + w);
}
