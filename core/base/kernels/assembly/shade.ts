/** How unlikely background in shadow is at each fine pixel; see core/presence/labels.ts for the model. */
import { entry, exponential, logarithm } from './label-sums';

/** What a square holds, by running totals: those above and to the left of its corners. */
// @ts-ignore: decorator
@inline
function square(totals: usize, low: usize, up: usize, left: usize, right: usize): f64 {
  const below = load<f64>(totals + low + right) - load<f64>(totals + low + left);
  return below - (load<f64>(totals + up + right) - load<f64>(totals + up + left));
}

/** Colours alone that cost so many nats leave nothing to shadow: somebody, or any border, costs far less. */
const HOPELESS: f32 = 60;

/**
 * How unlikely each pixel is as background in shadow, nats: light taken as evenly as close by (the mean of what is likely
 * shadow within `reach` pixels), or in part, as at a shadow's rim, where background is close by; all colours by as much. `sums`,
 * `weights` and `lit` are room, doubles, a row and a column more than the picture.
 */
export function weighShade(
  light: usize,
  lightBlue: usize,
  lightRed: usize,
  over: usize,
  inside: usize,
  backLuma: usize,
  backBlue: usize,
  backRed: usize,
  sharpness: usize,
  colourSharpness: usize,
  colourSpread: usize,
  evenness: usize,
  slopes: usize,
  asBack: usize,
  back: usize,
  shade: usize,
  slight: f32,
  uneven: f32,
  rim: f32,
  depth: f32,
  tempered: f32,
  odds: f32,
  hint: f32,
  reach: i32,
  width: i32,
  left: i32,
  top: i32,
  right: i32,
  bottom: i32,
  sums: usize,
  weights: usize,
  lit: usize,
  asShade: usize,
): void {
  const stride = usize(right - left + 2) << 3,
    logDepth = logarithm(depth);
  memory.fill(sums, 0, stride);
  memory.fill(weights, 0, stride);
  memory.fill(lit, 0, stride);
  for (let y = top; y <= bottom; y++) {
    let a: f64 = 0,
      n: f64 = 0,
      free: f64 = 0;
    let o = usize(y - top + 1) * stride;
    store<f64>(sums + o, 0);
    store<f64>(weights + o, 0);
    store<f64>(lit + o, 0);
    for (let x = left; x <= right; x++) {
      const i = usize(y * width + x) << 2;
      const r = load<f32>(over + i);
      if (r < f32(-0.5) * slight) {
        const w = f64((load<f32>(shade + i) + f32(0.02)) * load<f32>(evenness + i));
        a += w * f64(r);
        n += w;
      }
      free += f64(load<f32>(back + i));
      o += 8;
      store<f64>(lit + o, load<f64>(lit + o - stride) + free);
      store<f64>(sums + o, load<f64>(sums + o - stride) + a);
      store<f64>(weights + o, load<f64>(weights + o - stride) + n);
    }
  }
  for (let y = top; y <= bottom; y++) {
    const up = usize(max(0, y - top - reach)) * stride,
      low = usize(min(bottom - top + 1, y - top + reach + 1)) * stride;
    for (let x = left; x <= right; x++) {
      const k = usize(y * width + x),
        i = k << 2;
      const r = load<f32>(over + i);
      let cost: f32 = load<f32>(asBack + i) + 60;
      if (r < f32(-0.5) * slight && load<u8>(inside + k)) {
        const a = usize(max(0, x - left - reach)) << 3,
          b = usize(min(right - left + 1, x - left + reach + 1)) << 3;
        const n = square(weights, low, up, a, b);
        const m: f32 = n > 1e-9 ? f32(square(sums, low, up, a, b) / n) : 0;
        if (m < f32(-0.5) * slight) {
          const v = load<f32>(light + i),
            step: f32 = f32(1) / entry(slopes, v);
          // Colours lose as much of their code value as light does.
          const gain = max<f32>(0, v - (r - m) * step) / max<f32>(1, load<f32>(backLuma + i));
          const sharp = load<f32>(colourSharpness + i);
          const zb = (load<f32>(lightBlue + i) - gain * load<f32>(backBlue + i)) * sharp,
            zr = (load<f32>(lightRed + i) - gain * load<f32>(backRed + i)) * sharp;
          const apart = f32(0.5) * (zb * zb + zr * zr);
          if (tempered * apart > HOPELESS) {
            store<f32>(asShade + i, cost);
            continue;
          }
          const noise: f32 = f32(1) / load<f32>(sharpness + i),
            loose = uneven * step;
          const s = sqrt<f32>(noise * noise + loose * loose);
          const off = (r - m) * step / s;
          let p: f32 = (f32(1) - rim) * exponential(f32(-0.5) * off * off) / s;
          // As many as a quarter of those close by make a rim of all of it.
          const area = f64((i32(b - a) >> 3) * (i32(low - up) / i32(stride)));
          const bare = f32(square(lit, low, up, a, b) / area);
          if (r > m) p += min<f32>(1, 4 * bare) * f32(2.5) * rim / max<f32>(2, -m * step);
          const taken = logDepth - m / depth;
          cost = tempered * (apart + load<f32>(colourSpread + i) - logarithm(max<f32>(1e-30, p)) + taken) + odds;
        }
      }
      store<f32>(asShade + i, load<u8>(inside + k) === 2 ? cost + hint : cost);
    }
  }
}
