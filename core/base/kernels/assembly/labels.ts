/** Background, shadow or somebody at each fine pixel; see core/presence/labels.ts for the model. */
import { between, binOf, exponential, logarithm, swayingBin } from './label-sums';

/**
 * Within a part of the picture (both ends included): light and colour of each pixel in the background's light, stops over
 * the background, and how unlikely each pixel is as background and as somebody, nats. What is not `inside` is background;
 * what is not `seen` (0: all is) says nothing. `swaying` (0: nothing does) is how likely each pixel shows what moves by itself.
 * @param tempered share of what a pixel says that is news beside its neighbours
 */
export function weighPixels(
  luma: usize,
  blue: usize,
  red: usize,
  seen: usize,
  inside: usize,
  table: usize,
  gain: f32,
  backLuma: usize,
  backBlue: usize,
  backRed: usize,
  backStops: usize,
  sharpness: usize,
  spread: usize,
  colourSharpness: usize,
  stops: usize,
  densities: usize,
  swaying: usize,
  swayingPlace: usize,
  swayingDensities: usize,
  tempered: f32,
  odds: f32,
  hint: f32,
  width: i32,
  left: i32,
  top: i32,
  right: i32,
  bottom: i32,
  light: usize,
  lightBlue: usize,
  lightRed: usize,
  over: usize,
  asBack: usize,
  asBody: usize,
): void {
  for (let y = top; y <= bottom; y++) {
    for (let x = left; x <= right; x++) {
      const i = usize(y * width + x),
        o = i << 2;
      const v = load<f32>(table + (usize(load<u8>(luma + i)) << 2));
      const b = (f32(load<u8>(blue + i)) - 128) * gain,
        r = (f32(load<u8>(red + i)) - 128) * gain;
      store<f32>(light + o, v);
      store<f32>(lightBlue + o, b);
      store<f32>(lightRed + o, r);
      store<f32>(over + o, between(stops, min<f32>(255, max<f32>(0, v))) - load<f32>(backStops + o));
      const c = load<f32>(colourSharpness + o);
      const z = (v - load<f32>(backLuma + o)) * load<f32>(sharpness + o),
        zb = (b - load<f32>(backBlue + o)) * c,
        zr = (r - load<f32>(backRed + o)) * c;
      let cost = f32(0.5) * (z * z + zb * zb + zr * zr) + load<f32>(spread + o);
      const sways: f32 = swaying ? load<f32>(swaying + o) : 0;
      if (sways > 0) {
        // A mixture of its own normal and of what sways close by, from its likelier part on.
        const own = logarithm(1 - sways) - cost,
          bin = swayingBin(v, b, r) + (usize(load<u32>(swayingPlace + o)) << 10),
          other = logarithm(sways) + load<f32>(swayingDensities + (bin << 2));
        const most = max<f32>(own, other);
        cost = -(most + logarithm(1 + exponential(min<f32>(own, other) - most)));
      }
      const back = tempered * cost;
      let body = odds - tempered * load<f32>(densities + (binOf(v, b, r) << 2));
      const said = load<u8>(inside + i);
      if (said === 3) body += hint;
      if (!said || (seen && !load<u8>(seen + i))) body = back + 50;
      store<f32>(asBack + o, back);
      store<f32>(asBody + o, body);
    }
  }
}

/** How far two pixels differ that lie side by side, in variances of noise: in the picture, or against the background where that is less. */
// @ts-ignore: decorator
@inline
function apart(
  i: usize,
  k: usize,
  light: usize,
  blue: usize,
  red: usize,
  backLuma: usize,
  backBlue: usize,
  backRed: usize,
  sharp: f32,
  colourSharp: f32,
): f32 {
  const v = load<f32>(light + i) - load<f32>(light + k),
    b = load<f32>(blue + i) - load<f32>(blue + k),
    r = load<f32>(red + i) - load<f32>(red + k);
  const dv = v - load<f32>(backLuma + i) + load<f32>(backLuma + k),
    db = b - load<f32>(backBlue + i) + load<f32>(backBlue + k),
    dr = r - load<f32>(backRed + i) + load<f32>(backRed + k);
  const s = sharp * sharp,
    c = colourSharp * colourSharp;
  return min<f32>(v * v * s + (b * b + r * r) * c, dv * dv * s + (db * db + dr * dr) * c);
}

/** What a border costs that the picture changes at by so many variances. */
// @ts-ignore: decorator
@inline
function borderCost(apart: f32, agree: f32, least: f32, fall: f32): f32 {
  return agree * (least + (1 - least) * exponential(fall * apart));
}

/** What it costs, nats, that a pixel and the one to its right, or below it, are not both somebody's: little where they differ. */
export function weighBorders(
  light: usize,
  lightBlue: usize,
  lightRed: usize,
  backLuma: usize,
  backBlue: usize,
  backRed: usize,
  sharpness: usize,
  inside: usize,
  colourSharpness: usize,
  agree: f32,
  least: f32,
  contrast: f32,
  width: i32,
  left: i32,
  top: i32,
  right: i32,
  bottom: i32,
  across: usize,
  down: usize,
): void {
  const fall: f32 = f32(-0.5) / (contrast * contrast);
  for (let y = top; y <= bottom; y++) {
    for (let x = left; x <= right; x++) {
      const k = inside + usize(y * width + x),
        i = usize(y * width + x) << 2;
      const own = load<u8>(k);
      const s = load<f32>(sharpness + i),
        c = load<f32>(colourSharpness + i);
      let a: f32 = 0,
        d: f32 = 0;
      if (x < right && (own || load<u8>(k + 1)))
        a = borderCost(
          apart(i, i + 4, light, lightBlue, lightRed, backLuma, backBlue, backRed, s, c),
          agree,
          least,
          fall,
        );
      if (y < bottom && (own || load<u8>(k + width)))
        d = borderCost(
          apart(i, i + (usize(width) << 2), light, lightBlue, lightRed, backLuma, backBlue, backRed, s, c),
          agree,
          least,
          fall,
        );
      store<f32>(across + i, a);
      store<f32>(down + i, d);
    }
  }
}

/** A first idea of how likely each pixel is background, somebody, shadow: by itself. */
export function firstLabels(
  asBack: usize,
  asBody: usize,
  over: usize,
  slight: f32,
  width: i32,
  left: i32,
  top: i32,
  right: i32,
  bottom: i32,
  back: usize,
  body: usize,
  shade: usize,
): void {
  for (let y = top; y <= bottom; y++) {
    for (let x = left; x <= right; x++) {
      const i = usize(y * width + x) << 2;
      const p: f32 = f32(1) / (f32(1) + exponential(min<f32>(60, load<f32>(asBody + i) - load<f32>(asBack + i))));
      const dark: f32 = load<f32>(over + i) < -slight ? f32(0.5) * p : 0;
      store<f32>(back + i, 1 - p);
      store<f32>(shade + i, dark);
      store<f32>(body + i, p - dark);
    }
  }
}

/** Below this many nats under the likeliest a kind does not count: e to the power of it is 1e-6. */
const NEGLIGIBLE: f32 = -14;

// @ts-ignore: decorator
@inline
function likely(nats: f32): f32 {
  return nats > NEGLIGIBLE ? (nats === 0 ? 1 : exponential(nats)) : 0;
}

/** One round of the mean field: how likely each pixel is each of the three, by itself and by its four neighbours. */
export function settleLabels(
  asBack: usize,
  asBody: usize,
  asShade: usize,
  inside: usize,
  across: usize,
  down: usize,
  agree: f32,
  backwards: i32,
  width: i32,
  left: i32,
  top: i32,
  right: i32,
  bottom: i32,
  back: usize,
  body: usize,
  shade: usize,
): void {
  const row = usize(width) << 2;
  for (let v = top; v <= bottom; v++) {
    const y = backwards ? bottom + top - v : v;
    for (let u = left; u <= right; u++) {
      const x = backwards ? right + left - u : u;
      const i = usize(y * width + x) << 2;
      if (!load<u8>(inside + (i >> 2))) continue;
      // Expected costs of the border to somebody, and to the other two.
      let others: f32 = 0,
        bodies: f32 = 0,
        backs: f32 = 0,
        shades: f32 = 0;
      if (x > left) {
        const w = load<f32>(across + i - 4),
          p = load<f32>(body + i - 4);
        bodies += w * p;
        others += w * (1 - p);
        backs += load<f32>(back + i - 4);
        shades += load<f32>(shade + i - 4);
      }
      if (x < right) {
        const w = load<f32>(across + i),
          p = load<f32>(body + i + 4);
        bodies += w * p;
        others += w * (1 - p);
        backs += load<f32>(back + i + 4);
        shades += load<f32>(shade + i + 4);
      }
      if (y > top) {
        const w = load<f32>(down + i - row),
          p = load<f32>(body + i - row);
        bodies += w * p;
        others += w * (1 - p);
        backs += load<f32>(back + i - row);
        shades += load<f32>(shade + i - row);
      }
      if (y < bottom) {
        const w = load<f32>(down + i),
          p = load<f32>(body + i + row);
        bodies += w * p;
        others += w * (1 - p);
        backs += load<f32>(back + i + row);
        shades += load<f32>(shade + i + row);
      }
      const c0 = load<f32>(asBack + i) + bodies + agree * shades,
        c1 = load<f32>(asBody + i) + others,
        c2 = load<f32>(asShade + i) + bodies + agree * backs;
      const least = min<f32>(c0, min<f32>(c1, c2));
      const p0 = likely(least - c0),
        p1 = likely(least - c1),
        p2 = likely(least - c2);
      const t: f32 = f32(1) / (p0 + p1 + p2);
      store<f32>(back + i, p0 * t);
      store<f32>(body + i, p1 * t);
      store<f32>(shade + i, p2 * t);
    }
  }
}

/** The likeliest of the three for each pixel: 0 background, 1 somebody, 2 shadow. */
export function pickLabels(
  back: usize,
  body: usize,
  shade: usize,
  width: i32,
  left: i32,
  top: i32,
  right: i32,
  bottom: i32,
  kind: usize,
): void {
  for (let y = top; y <= bottom; y++) {
    for (let x = left; x <= right; x++) {
      const k = usize(y * width + x),
        i = k << 2;
      const p0 = load<f32>(back + i),
        p1 = load<f32>(body + i),
        p2 = load<f32>(shade + i);
      store<u8>(kind + k, p1 >= p0 && p1 >= p2 ? 1 : p2 > p0 ? 2 : 0);
    }
  }
}
