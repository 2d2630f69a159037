/** Where a picture is something else than the view of what lies behind; see core/measures/cover/unlike.ts. */

// @ts-ignore: decorator
@inline
function at(values: usize, i: i32): f32 {
  return load<f32>(values + (usize(i) << 2));
}

// @ts-ignore: decorator
@inline
function gap(values: usize, a: i32, b: i32): f32 {
  return Mathf.abs(at(values, a) - at(values, b));
}

// @ts-ignore: decorator
@inline
function gaps(values: usize, a: usize, b: usize): v128 {
  return f32x4.abs(f32x4.sub(v128.load(values + a), v128.load(values + b)));
}

/**
 * What each pixel of the view may differ by: one over the variance of luma (`base` and, for edges, `slack` times the
 * largest step to a neighbour, squared) and of colour (`tinted` and `tintSlack` times the step across or along).
 */
export function allowances(
  luma: usize,
  blue: usize,
  red: usize,
  width: i32,
  height: i32,
  slack: f32,
  base: f32,
  tintSlack: f32,
  tinted: f32,
  least: usize,
  leastColour: usize,
): void {
  const one = f32x4.splat(1),
    b4 = f32x4.splat(base),
    t4 = f32x4.splat(tinted),
    s4 = f32x4.splat(slack),
    c4 = f32x4.splat(tintSlack);
  for (let y = 0; y < height; y++) {
    const up = y > 0 ? width : 0,
      down = y + 1 < height ? width : 0;
    let x = 0;
    while (x < width) {
      const i = y * width + x;
      if (x > 0 && x + 5 <= width) {
        const o = usize(i) << 2,
          l = o - 4,
          r = o + 4,
          a = o - (usize(up) << 2),
          b = o + (usize(down) << 2);
        const step = f32x4.mul(
          s4,
          f32x4.pmax(f32x4.pmax(gaps(luma, o, l), gaps(luma, o, r)), f32x4.pmax(gaps(luma, o, a), gaps(luma, o, b))),
        );
        const tint = f32x4.mul(
          c4,
          f32x4.pmax(f32x4.add(gaps(blue, r, l), gaps(red, r, l)), f32x4.add(gaps(blue, b, a), gaps(red, b, a))),
        );
        v128.store(least + o, f32x4.div(one, f32x4.add(b4, f32x4.mul(step, step))));
        v128.store(leastColour + o, f32x4.div(one, f32x4.add(t4, f32x4.mul(tint, tint))));
        x += 4;
        continue;
      }
      const l = x > 0 ? i - 1 : i,
        r = x + 1 < width ? i + 1 : i,
        a = i - up,
        b = i + down;
      const step = slack * max(max(gap(luma, i, l), gap(luma, i, r)), max(gap(luma, i, a), gap(luma, i, b)));
      const tint = tintSlack * max(gap(blue, r, l) + gap(red, r, l), gap(blue, b, a) + gap(red, b, a));
      store<f32>(least + (usize(i) << 2), 1 / (base + step * step));
      store<f32>(leastColour + (usize(i) << 2), 1 / (tinted + tint * tint));
      x++;
    }
  }
}

/**
 * What one pixel of a picture (colours at `c`) differs by from pixel `e` of the view, luma and colour, each squared
 * against its allowance and cut.
 */
// @ts-ignore: decorator
@inline
function square(
  luma: f32,
  b: f32,
  r: f32,
  gain: f32,
  e: i32,
  ownLuma: usize,
  ownBlue: usize,
  ownRed: usize,
  least: usize,
  leastColour: usize,
  cap: f32,
): f32 {
  const d = luma - gain * at(ownLuma, e);
  const k = Mathf.abs(b - at(ownBlue, e)) + Mathf.abs(r - at(ownRed, e));
  return min(cap, d * d * at(least, e)) + min(cap, k * k * at(leastColour, e));
}

/**
 * The squares of all pixels; 0 where the view is not known. Colours of the picture are at half size, `colourAcross` a
 * row. `cut` holds them cut at `wideCap`.
 */
export function squaresOf(
  luma: usize,
  blue: usize,
  red: usize,
  colourAcross: i32,
  ownLuma: usize,
  ownBlue: usize,
  ownRed: usize,
  known: usize,
  width: i32,
  height: i32,
  gain: f32,
  least: usize,
  leastColour: usize,
  cap: f32,
  wideCap: f32,
  squares: usize,
  cut: usize,
): void {
  for (let y = 0, i = 0; y < height; y++) {
    const row = usize((y >> 1) * colourAcross);
    for (let x = 0; x < width; x++, i++) {
      const c = row + usize(x >> 1);
      const own = square(
        f32(load<u8>(luma + usize(i))),
        f32(load<u8>(blue + c)),
        f32(load<u8>(red + c)),
        gain,
        i,
        ownLuma,
        ownBlue,
        ownRed,
        least,
        leastColour,
        cap,
      );
      const v: f32 = load<u8>(known + usize(i)) ? own : 0;
      store<f32>(squares + (usize(i) << 2), v);
      store<f32>(cut + (usize(i) << 2), min(wideCap, v));
    }
  }
}

/** Marks the values above a limit with 1, the others with 0; gives their number. */
export function markAbove(values: usize, count: i32, limit: f32, marks: usize): i32 {
  let n = 0;
  for (let i: usize = 0, end = usize(count) << 2; i < end; i += 4) {
    const is = i32(load<f32>(values + i) > limit);
    store<f32>(marks + i, f32(is));
    n += is;
  }
  return n;
}

/** Sets `cut` to 0 where a value is above a limit, and `rest` to 1 where it is not. */
export function leaveOut(values: usize, count: i32, limit: f32, cut: usize, rest: usize): void {
  for (let i: usize = 0, end = usize(count) << 2; i < end; i += 4) {
    const keep: f32 = load<f32>(values + i) > limit ? 0 : 1;
    store<f32>(rest + i, keep);
    store<f32>(cut + i, keep * load<f32>(cut + i));
  }
}

/** Divides sums over windows by how much of the windows counts; those of which next to nothing does are 0. */
export function divideBy(sums: usize, shares: usize, count: i32): void {
  for (let i: usize = 0, end = usize(count) << 2; i < end; i += 4) {
    const share = load<f32>(shares + i);
    store<f32>(sums + i, share > 0.1 ? load<f32>(sums + i) / share : 0);
  }
}

/** Means over squares of 2 r + 1 pixels, cut at the picture's edges. `columns` is scratch of `width` and three more floats. */
export function boxMeans(values: usize, width: i32, height: i32, r: i32, columns: usize, out: usize): void {
  const step = usize(width) << 2;
  memory.fill(columns, 0, step);
  for (let y = 0; y < min(r, height); y++) addTo(columns, values + usize(y) * step, step, 1);
  for (let y = 0; y < height; y++) {
    if (y + r < height) addTo(columns, values + usize(y + r) * step, step, 1);
    if (y - r - 1 >= 0) addTo(columns, values + usize(y - r - 1) * step, step, -1);
    const rows = min<i32>(height - 1, y + r) - max<i32>(0, y - r) + 1;
    const whole: f32 = 1 / f32(i32(2 * r + 1) * rows);
    let sum: f32 = 0;
    for (let x = 0; x < min(r, width); x++) sum += at(columns, x);
    for (let x = 0; x < width; x++) {
      if (x + r < width) sum += at(columns, x + r);
      if (x > r) sum -= at(columns, x - r - 1);
      const mean =
        x >= r && x + r < width ? sum * whole : sum / f32((min<i32>(width - 1, x + r) - max<i32>(0, x - r) + 1) * rows);
      store<f32>(out + (usize(y * width + x) << 2), mean);
    }
  }
}

function addTo(columns: usize, row: usize, bytes: usize, sign: f32): void {
  const s = f32x4.splat(sign);
  let i: usize = 0;
  for (; i + 16 <= bytes; i += 16)
    v128.store(columns + i, f32x4.add(v128.load(columns + i), f32x4.mul(s, v128.load(row + i))));
  for (; i < bytes; i += 4) store<f32>(columns + i, load<f32>(columns + i) + sign * load<f32>(row + i));
}

/**
 * Marks in `out` the known pixels of which the nine nearest, most of them by themselves, or many and the nearest
 * besides, are something else; gives their number.
 */
export function markOther(
  known: usize,
  near: usize,
  most: usize,
  wide: usize,
  count: i32,
  other: f32,
  otherWide: f32,
  otherNear: f32,
  out: usize,
): i32 {
  let n = 0;
  for (let i = 0; i < count; i++) {
    const close = at(near, i);
    const is =
      i32(load<u8>(known + usize(i)) !== 0) &
      ((i32(close > other) & i32(at(most, i) > 0.5)) | (i32(at(wide, i) > otherWide) & i32(close > otherNear)));
    store<u8>(out + usize(i), u8(is));
    n += is;
  }
  return n;
}

/**
 * Takes out of `out` what the view explains when it is shifted by one of `many` shifts (x and y, a byte each): the
 * mean of the nine differences is then below `most`, and below the share `explained` of what it was. Every second
 * pixel speaks for the one beside it too.
 */
export function explainByShift(
  out: usize,
  near: usize,
  luma: usize,
  blue: usize,
  red: usize,
  colourAcross: i32,
  ownLuma: usize,
  ownBlue: usize,
  ownRed: usize,
  known: usize,
  width: i32,
  height: i32,
  gain: f32,
  least: usize,
  leastColour: usize,
  cap: f32,
  shifts: usize,
  many: i32,
  other: f32,
  most: f32,
  explained: f32,
): void {
  for (let y = 0; y < height; y++) {
    for (let x = y & 1; x < width; x += 2) {
      const i = y * width + x;
      if (!load<u8>(out + usize(i)) || at(near, i) <= other) continue;
      const top = max(0, y - 1),
        bottom = min(height - 1, y + 1),
        left = max(0, x - 1),
        right = min(width - 1, x + 1);
      const limit = min(most, explained * at(near, i)) * f32((bottom - top + 1) * (right - left + 1));
      for (let k = 0; k < many; k++) {
        const dx = i32(load<i8>(shifts + usize(2 * k))),
          dy = i32(load<i8>(shifts + usize(2 * k), 1));
        let sum: f32 = 0;
        for (let v = top; v <= bottom && sum < limit; v++) {
          const row = usize((v >> 1) * colourAcross),
            from = max(0, min(height - 1, v - dy)) * width;
          for (let u = left; u <= right && sum < limit; u++) {
            const e = from + max(0, min(width - 1, u - dx));
            if (!load<u8>(known + usize(e))) continue;
            const c = row + usize(u >> 1);
            sum += square(
              f32(load<u8>(luma + usize(v * width + u))),
              f32(load<u8>(blue + c)),
              f32(load<u8>(red + c)),
              gain,
              e,
              ownLuma,
              ownBlue,
              ownRed,
              least,
              leastColour,
              cap,
            );
          }
        }
        if (sum >= limit) continue;
        store<u8>(out + usize(i), 0);
        if (x + 1 < width && at(near, i + 1) > other) store<u8>(out + usize(i), 0, 1);
        break;
      }
    }
  }
}
