/** Sums over all samples of a take, pixel by pixel; samples lie one after the other, `pixels` bytes each. See core/scene/sample-sums.ts. */
import { select } from './focus';
import { bytesAt } from './lanes';

/** Turns code values into others by a table of 256 bytes. */
export function translate(codes: usize, table: usize, out: usize, count: i32): void {
  for (let i: usize = 0; i < usize(count); i++) store<u8>(out + i, load<u8>(table + usize(load<u8>(codes + i))));
}

/**
 * The median over the samples at every `step` pixels from the first on, floats; `out` stays as it is elsewhere. `tables`
 * holds 256 floats for each sample, what its code values count as; `values` is scratch for a double of each.
 */
export function middleOfSamples(
  samples: usize,
  tables: usize,
  count: i32,
  pixels: i32,
  step: i32,
  values: usize,
  out: usize,
): void {
  const half = count >> 1;
  for (let i = 0; i < pixels; i += step) {
    for (let k = 0, at = samples + usize(i), table = tables; k < count; k++, at += usize(pixels), table += 1024)
      store<f64>(values + (usize(k) << 3), f64(load<f32>(table + (usize(load<u8>(at)) << 2))));
    let middle = select(values, count, half);
    if (!(count & 1)) {
      let lower = load<f64>(values);
      for (let k = 1; k < half; k++) lower = max(lower, load<f64>(values + (usize(k) << 3)));
      middle = (lower + middle) / 2;
    }
    store<f32>(out + (usize(i) << 2), f32(middle));
  }
}

let bestCentre: f64 = 0;
let bestCount: i32 = 0;

/** The window of +-h levels that holds most of a pixel's values: its mean in `bestCentre`, how many it holds in `bestCount`. */
function densest(hist: usize, low: i32, high: i32, h: i32): void {
  let best = low,
    most = 0,
    sum = 0;
  for (let v = low; v <= min(high, low + h - 1); v++) sum += i32(load<u8>(hist + usize(v)));
  for (let c = low; c <= high; c++) {
    if (c + h <= high) sum += i32(load<u8>(hist + usize(c + h)));
    if (c - h - 1 >= low) sum -= i32(load<u8>(hist + usize(c - h - 1)));
    if (sum > most) {
      most = sum;
      best = c;
    }
  }
  let total = 0,
    weight = 0;
  for (let v = max(low, best - h); v <= min(high, best + h); v++) {
    const n = i32(load<u8>(hist + usize(v)));
    total += n * v;
    weight += n;
  }
  bestCentre = weight ? f64(total) / f64(weight) : f64(best);
  bestCount = most;
}

/**
 * The value seen most often at each pixel (`middle`) and how far values of the same thing lie from it (`reach`).
 * `noise` holds 16 bins of levels, by the middle of what a pixel shows; `extra` widens the windows; `masks` (address
 * 0: none) are laid like the samples, 1 where a sample shows the pixel. `unsure` becomes 1 where less than the share
 * `sure` of the samples agrees. `hist` is scratch of 288 bytes, all 0.
 */
export function settle(
  samples: usize,
  masks: usize,
  count: i32,
  pixels: i32,
  noise: usize,
  extra: i32,
  sure: f64,
  hist: usize,
  middle: usize,
  reach: usize,
  unsure: usize,
): void {
  for (let i = 0; i < pixels; i++) {
    let low = 255,
      high = 0,
      n = 0;
    for (let k = 0, at = usize(i); k < count; k++, at += usize(pixels)) {
      if (masks && !load<u8>(masks + at)) continue;
      const v = i32(load<u8>(samples + at));
      store<u8>(hist + usize(v), load<u8>(hist + usize(v)) + 1);
      n++;
      low = min(low, v);
      high = max(high, v);
    }
    const out = usize(i) << 2;
    if (n === 0) {
      store<f32>(middle + out, f32(load<u8>(samples + usize(i))));
      store<f32>(reach + out, 2);
      continue;
    }
    const h = min(
      14,
      max(2, i32(Math.floor(2.5 * f64(load<f32>(noise + (usize((low + high) >> 5) << 2))) + 0.5))) + extra,
    );
    densest(hist, low, high, h);
    store<f32>(middle + out, f32(bestCentre));
    store<f32>(reach + out, f32(h) + 0.5);
    if (f64(bestCount) < sure * f64(n)) store<u8>(unsure + usize(i), 1);
    memory.fill(hist + usize(low), 0, usize(high - low + 1));
  }
}

/**
 * How often each pixel leaves its middle (`times`), and in which of `spells` spells of the take it leaves or comes
 * back (a bit each in `when`); `away` is laid like the samples, 1 where it is away. Away beyond `far` levels, back
 * within the share `inside` of that. Samples that do not show the pixel (`masks` as above) say nothing.
 */
export function countLeaving(
  samples: usize,
  masks: usize,
  count: i32,
  pixels: i32,
  middle: usize,
  far: usize,
  inside: f32,
  spells: i32,
  away: usize,
  times: usize,
  when: usize,
): void {
  for (let i = 0; i < pixels; i++) {
    const own = load<f32>(middle + (usize(i) << 2)),
      out = load<f32>(far + (usize(i) << 2));
    const back = inside * out;
    let was = 0,
      left = 0,
      bits = 0;
    for (let k = 0, at = usize(i); k < count; k++, at += usize(pixels)) {
      if (masks && !load<u8>(masks + at)) {
        store<u8>(away + at, 0);
        continue;
      }
      const off = Mathf.abs(f32(load<u8>(samples + at)) - own);
      const now = i32(off > (was ? back : out));
      store<u8>(away + at, u8(now));
      if (now !== was) {
        left += now;
        bits |= 1 << ((k * spells) / count);
        was = now;
      }
    }
    store<f32>(times + (usize(i) << 2), f32(left));
    store<u8>(when + usize(i), u8(bits));
  }
}

/** Whether a sample shows a pixel, in a spell that is trusted there. */
// @ts-ignore: decorator
@inline
function counts(k: i32, spells: usize, trust: u32, masks: usize, pixels: usize, i: usize): bool {
  if (!(load<u32>(spells + (usize(k) << 2)) & trust)) return false;
  return !masks || load<u8>(masks + usize(k) * pixels + i) !== 0;
}

/**
 * Mean colour over the samples whose luma shows the layer, where enough do; samples of blue and red lie one after the
 * other, `across` x `down` bytes each. `gains` brings each sample's colours to the common light. Only samples count
 * whose bit of `spells` (a word a sample) is set in the pixel's `trusted` (a word a pixel), and which show it: `masks` as above.
 */
export function averageColour(
  samples: usize,
  masks: usize,
  blues: usize,
  reds: usize,
  gains: usize,
  spells: usize,
  trusted: usize,
  count: i32,
  width: i32,
  height: i32,
  across: i32,
  down: i32,
  middle: usize,
  reach: usize,
  blue: usize,
  red: usize,
): void {
  const pixels = usize(width * height),
    colours = usize(across * down);
  for (let y = 0; y < down; y++) {
    for (let x = 0; x < across; x++) {
      const i = usize(min(height - 1, 2 * y) * width + min(width - 1, 2 * x)),
        c = usize(y * across + x);
      const own = load<f32>(middle + (i << 2)),
        far = load<f32>(reach + (i << 2));
      const trust = load<u32>(trusted + (i << 2));
      let all = 0;
      for (let k = 0; k < count; k++) if (counts(k, spells, trust, masks, pixels, i)) all++;
      let b: f64 = 0,
        r: f64 = 0;
      let n = 0,
        left = all;
      for (let k = 0; k < count; k++) {
        if (!counts(k, spells, trust, masks, pixels, i)) continue;
        const before = n + left--;
        if (Mathf.abs(f32(load<u8>(samples + usize(k) * pixels + i)) - own) > far && 4 * before > all) continue;
        const gain = f64(load<f32>(gains + (usize(k) << 2)));
        b += (f64(load<u8>(blues + usize(k) * colours + c)) - 128) * gain;
        r += (f64(load<u8>(reds + usize(k) * colours + c)) - 128) * gain;
        n++;
      }
      store<f32>(blue + (c << 2), f32(n ? 128 + b / f64(n) : 128));
      store<f32>(red + (c << 2), f32(n ? 128 + r / f64(n) : 128));
    }
  }
}

/**
 * Adds what one sample shows, as differences from the layer's middle, where it lies between `low` and `high`: sums,
 * squares, counts, and how often the pixel was seen at all (`mask` is 1 there; address 0 stands for everywhere).
 */
export function addSample(
  even: usize,
  own: usize,
  table: usize,
  mask: usize,
  low: usize,
  high: usize,
  middle: usize,
  sums: usize,
  squares: usize,
  counts: usize,
  seen: usize,
  count: i32,
): void {
  const one = f32x4.splat(1);
  for (let i = 0; i < count; i += 4) {
    const at = usize(i) << 2;
    let t = f32x4.splat(load<f32>(table + (usize(load<u8>(own + usize(i))) << 2)));
    t = f32x4.replace_lane(t, 1, load<f32>(table + (usize(load<u8>(own + usize(i), 1)) << 2)));
    t = f32x4.replace_lane(t, 2, load<f32>(table + (usize(load<u8>(own + usize(i), 2)) << 2)));
    t = f32x4.replace_lane(t, 3, load<f32>(table + (usize(load<u8>(own + usize(i), 3)) << 2)));
    const v = bytesAt(even + usize(i));
    const shown = mask ? f32x4.ne(bytesAt(mask + usize(i)), f32x4.splat(0)) : i32x4.splat(-1);
    const inside = v128.and(shown, v128.and(f32x4.ge(v, v128.load(low + at)), f32x4.le(v, v128.load(high + at))));
    const off = v128.and(inside, f32x4.sub(t, v128.load(middle + at)));
    v128.store(sums + at, f32x4.add(v128.load(sums + at), off));
    v128.store(squares + at, f32x4.add(v128.load(squares + at), f32x4.mul(off, off)));
    v128.store(counts + at, f32x4.add(v128.load(counts + at), v128.and(inside, one)));
    v128.store(seen + at, f32x4.add(v128.load(seen + at), v128.and(shown, one)));
  }
}
