/** Holding a picture against the background; see core/presence/differ.ts. */
import { bytesAt, totalOfWhole } from './lanes';

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
      v128.store(strength + here + x, f32x4.pmax(f32x4.abs(mean), f32x4.abs(v128.load(scaled + here + x))));
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
    v128.store(colour, f32x4.pmax(zero, f32x4.sub(off, f32x4.mul(unsure, f32x4.add(f32x4.abs(ob), f32x4.abs(or))))));
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
