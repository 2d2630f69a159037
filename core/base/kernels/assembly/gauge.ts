/** The light of a picture; see core/scene/gauge.ts. */
import { total, totalOfWhole } from './lanes';

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
