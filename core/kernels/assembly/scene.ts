/** Holding a picture against the background; see core/presence/differ.ts and core/scene. */
import { bytesAt, total, totalOfWhole } from './lanes';

/**
 * What each pixel differs by from the expected, in levels (`difference`) and times `inverse` (`scaled`). `table` turns
 * code values into the background's light; `extra` is added to the expected, unless its address is 0.
 */
export function subtract(
  luma: usize,
  table: usize,
  expected: usize,
  extra: usize,
  inverse: usize,
  difference: usize,
  scaled: usize,
  count: i32,
): void {
  const zero = f32x4.splat(0),
    dark = i32x4.splat(6),
    bright = i32x4.splat(249);
  for (let i = 0; i < count; i += 4, luma += 4, expected += 16, inverse += 16, difference += 16, scaled += 16) {
    let v = f32x4.splat(load<f32>(table + (usize(load<u8>(luma)) << 2)));
    v = f32x4.replace_lane(v, 1, load<f32>(table + (usize(load<u8>(luma, 1)) << 2)));
    v = f32x4.replace_lane(v, 2, load<f32>(table + (usize(load<u8>(luma, 2)) << 2)));
    v = f32x4.replace_lane(v, 3, load<f32>(table + (usize(load<u8>(luma, 3)) << 2)));
    let d = f32x4.sub(v, v128.load(expected));
    if (extra) {
      d = f32x4.sub(d, v128.load(extra));
      extra += 16;
    }
    // What is burnt out or black may be brighter or darker than it can show.
    const code = v128.extend_low<u16>(v128.extend_low<u8>(v128.load32_zero(luma)));
    const beyond = v128.or(
      v128.and(i32x4.lt_s(code, dark), f32x4.gt(d, zero)),
      v128.and(i32x4.gt_s(code, bright), f32x4.lt(d, zero)),
    );
    d = v128.andnot(d, beyond);
    v128.store(difference, d);
    v128.store(scaled, f32x4.mul(d, v128.load(inverse)));
  }
}

/**
 * The stronger of what a pixel says by itself and with its eight neighbours, whose mean counts `share` times nine; the
 * picture's edge is continued. `rows` is scratch of the same size. Up to three values past the end of `rows` and
 * `strength` are overwritten.
 */
export function strengthen(scaled: usize, rows: usize, strength: usize, width: i32, height: i32, share: f32): void {
  const step = usize(width) << 2;
  for (let y = 0; y < height; y++) {
    const row = scaled + usize(y) * step,
      out = rows + usize(y) * step;
    for (let x: usize = 0; x < step; x += 16) {
      v128.store(out + x, f32x4.add(f32x4.add(v128.load(row + x - 4), v128.load(row + x)), v128.load(row + x + 4)));
    }
    const last = step - 4;
    if (width === 1) {
      store<f32>(out, 3 * load<f32>(row));
      continue;
    }
    store<f32>(out, 2 * load<f32>(row) + load<f32>(row, 4));
    store<f32>(out + last, load<f32>(row + last - 4) + 2 * load<f32>(row + last));
  }
  const part = f32x4.splat(share);
  for (let y = 0; y < height; y++) {
    const here = usize(y) * step;
    const up = y > 0 ? here - step : here,
      down = y + 1 < height ? here + step : here;
    for (let x: usize = 0; x < step; x += 16) {
      const mean = f32x4.mul(
        f32x4.add(f32x4.add(v128.load(rows + up + x), v128.load(rows + here + x)), v128.load(rows + down + x)),
        part,
      );
      v128.store(strength + here + x, f32x4.max(f32x4.abs(mean), f32x4.abs(v128.load(scaled + here + x))));
    }
  }
}

/**
 * How much colours differ from the expected beyond `stray`: the background's are brought to the light by `gain`, and
 * `doubt` of their strength is let pass.
 */
export function compareColour(
  blue: usize,
  red: usize,
  ownBlue: usize,
  ownRed: usize,
  stray: usize,
  gain: f32,
  doubt: f32,
  colour: usize,
  count: i32,
): void {
  const middle = f32x4.splat(128),
    g = f32x4.splat(gain),
    unsure = f32x4.splat(doubt),
    zero = f32x4.splat(0);
  for (let c = 0; c < count; c += 4, blue += 4, red += 4, ownBlue += 16, ownRed += 16, stray += 16, colour += 16) {
    const ob = f32x4.sub(v128.load(ownBlue), middle),
      or = f32x4.sub(v128.load(ownRed), middle);
    const b = f32x4.sub(f32x4.sub(bytesAt(blue), middle), f32x4.mul(ob, g)),
      r = f32x4.sub(f32x4.sub(bytesAt(red), middle), f32x4.mul(or, g));
    const off = f32x4.sub(f32x4.add(f32x4.abs(b), f32x4.abs(r)), v128.load(stray));
    v128.store(colour, f32x4.max(zero, f32x4.sub(off, f32x4.mul(unsure, f32x4.add(f32x4.abs(ob), f32x4.abs(or))))));
  }
}

/** Raises the strength of the pixels under colours that differ from the expected more than their neighbours alone would let them. */
export function strengthenByColour(
  colour: usize,
  across: i32,
  down: i32,
  width: i32,
  height: i32,
  noise: f32,
  restless: usize,
  strength: usize,
): void {
  for (let y = 0; y < down; y++) {
    const bottom = y === down - 1 ? height : 2 * y + 2;
    const row = colour + (usize(y * across) << 2);
    for (let x = 0; x < across; x++) {
      const at = row + (usize(x) << 2);
      let off = load<f32>(at);
      if (off <= noise) continue;
      if (x > 0 && x < across - 1) off = min<f32>(off, 0.5 * (load<f32>(at - 4) + load<f32>(at + 4)) + 1);
      if (off <= noise) continue;
      const right = x === across - 1 ? width : 2 * x + 2;
      for (let v = 2 * y; v < bottom; v++) {
        for (let u = 2 * x; u < right; u++) {
          const i = usize(v * width + u);
          const z = off / (load<u8>(restless + i) ? 4 * noise : noise) - 1;
          const own = strength + (i << 2);
          if (z > load<f32>(own)) store<f32>(own, z);
        }
      }
    }
  }
}

/**
 * Sums of each zone's difference over its free pixels (`sums`, doubles, in units of `perStop`), how many they are, and
 * how many there are; every third pixel.
 */
export function addZones(
  luma: usize,
  zoneOf: usize,
  strength: usize,
  restless: usize,
  difference: usize,
  perStop: usize,
  bound: f32,
  pixels: i32,
  sums: usize,
  counts: usize,
  all: usize,
): void {
  for (let i: usize = 0; i < usize(pixels); i += 3) {
    const v = load<f32>(luma + (i << 2));
    if (v < 12 || v > 240) continue;
    const z = usize(load<u8>(zoneOf + i));
    store<u32>(all + (z << 2), load<u32>(all + (z << 2)) + 1);
    if (load<f32>(strength + (i << 2)) > bound || load<u8>(restless + i)) continue;
    store<f64>(
      sums + (z << 3),
      load<f64>(sums + (z << 3)) + f64(load<f32>(difference + (i << 2)) / load<f32>(perStop + (i << 2))),
    );
    store<u32>(counts + (z << 2), load<u32>(counts + (z << 2)) + 1);
  }
}

/** Place of a pixel among the middles of so many zones along a line: whole zones and the rest. */
function placeAmong(zones: i32, pixel: i32, pixels: i32): f32 {
  return max<f32>(0, min<f32>(f32(zones) - 1.001, ((f32(pixel) + 0.5) * f32(zones)) / f32(pixels) - 0.5));
}

/**
 * Lays the light of `across` x `down` zones (`stops`) over the pixels, smoothly from zone to zone, in levels:
 * `perStop` is a stop's worth at each. `row` is scratch for a zone row's values.
 */
export function layZones(
  stops: usize,
  across: i32,
  down: i32,
  perStop: usize,
  width: i32,
  height: i32,
  row: usize,
  field: usize,
): void {
  for (let y = 0; y < height; y++) {
    const v = placeAmong(down, y, height);
    const j = i32(v);
    const fy = v - f32(j);
    for (let k = 0; k < across; k++) {
      const at = stops + (usize(j * across + k) << 2);
      const top = load<f32>(at);
      store<f32>(row + (usize(k) << 2), top + fy * (load<f32>(at + (usize(across) << 2)) - top));
    }
    for (let x = 0; x < width; x++) {
      const u = placeAmong(across, x, width);
      const k = i32(u);
      const left = load<f32>(row + (usize(k) << 2));
      const o = usize(y * width + x) << 2;
      store<f32>(
        field + o,
        (left + (u - f32(k)) * (load<f32>(row + (usize(k) << 2), 4) - left)) * load<f32>(perStop + o),
      );
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

/** How many of `count` values lie above `bound`. */
export function countAbove(values: usize, count: i32, bound: f32): i32 {
  const limit = f32x4.splat(bound);
  let found = i32x4.splat(0);
  let i = 0;
  for (; i + 4 <= count; i += 4) found = i32x4.sub(found, f32x4.gt(v128.load(values + (usize(i) << 2)), limit));
  let sum = totalOfWhole(found);
  for (; i < count; i++) if (load<f32>(values + (usize(i) << 2)) > bound) sum++;
  return sum;
}

/**
 * Reads the change of light at `count` places: the commonest ratio, then the weighted mean of the ratios near it.
 * `stops` is log2 of light by code value, `levels` the background's stops at each place; `seen` is 1 where the picture
 * is, address 0 stands for everywhere. `bins` is scratch for `many` numbers of a width of `bin` stops round 0,
 * `ratios` for one of each place and three more. Leaves the stops in out[0] and how many agree in out[1].
 * @returns 1 when it could be read
 */
export function readLight(
  luma: usize,
  seen: usize,
  places: usize,
  levels: usize,
  reach: usize,
  weight: usize,
  stops: usize,
  count: i32,
  ratios: usize,
  bins: usize,
  many: i32,
  bin: f64,
  out: usize,
): i32 {
  const half = f64(many >> 1) * bin;
  memory.fill(bins, 0, usize(many) << 2);
  for (let k: usize = 0; k < usize(count); k++) {
    const place = load<u32>(places + (k << 2));
    const v = usize(load<u8>(luma + place));
    // What is black or burnt out says nothing of the light.
    if (v < 6 || v > 245) {
      store<f32>(ratios + (k << 2), Infinity);
      continue;
    }
    const r = load<f32>(stops + (v << 2)) - load<f32>(levels + (k << 2));
    store<f32>(ratios + (k << 2), seen && !load<u8>(seen + place) ? Infinity : r);
    const b = i32(Math.floor((f64(r) + half) / bin + 0.5));
    if (b >= 0 && b < many) store<u32>(bins + (usize(b) << 2), load<u32>(bins + (usize(b) << 2)) + 1);
  }
  for (let k = usize(count); k & 3; k++) store<f32>(ratios + (k << 2), Infinity);
  let best = -1;
  let most: f64 = 0;
  for (let b = 3; b < many - 3; b++) {
    const at = bins + (usize(b) << 2);
    const sum =
      f64(load<u32>(at) + load<u32>(at - 4) + load<u32>(at + 4)) +
      0.7 * f64(load<u32>(at - 8) + load<u32>(at + 8)) +
      0.4 * f64(load<u32>(at - 12) + load<u32>(at + 12));
    if (sum > most) {
      most = sum;
      best = b;
    }
  }
  if (best < 0) return 0;
  let centre = f64(best) * bin - half;
  let agree = 0;
  for (let round = 0; round < 4; round++) {
    const middle = f32x4.splat(f32(centre)),
      wide = f32x4.splat(round === 0 ? 2 : 1);
    let sums = f32x4.splat(0),
      totals = sums,
      found = i32x4.splat(0);
    for (let k: usize = 0, end = usize(count) << 2; k < end; k += 16) {
      const r = f32x4.sub(v128.load(ratios + k), middle);
      const near = f32x4.le(f32x4.abs(r), f32x4.mul(wide, v128.load(reach + k)));
      const w = v128.and(near, v128.load(weight + k));
      sums = f32x4.add(sums, f32x4.mul(v128.and(near, r), w));
      totals = f32x4.add(totals, w);
      found = i32x4.sub(found, near);
    }
    const weights = total(totals);
    if (weights === 0) return 0;
    const step = total(sums) / weights;
    agree = totalOfWhole(found);
    centre += step;
    if (round > 0 && Math.abs(step) < 0.0003) break;
  }
  store<f64>(out, centre);
  store<f64>(out, f64(agree), 8);
  return 1;
}
