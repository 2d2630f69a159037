/** How far a fine picture differs from the empty one, over squares of pixels; see core/presence/fine.ts for the method. */

// @ts-ignore: decorator
@inline
function at(base: usize, width: i32, x: i32, y: i32): usize {
  return base + (usize(y * width + x) << 2);
}

/** Sums along a row over `r` pixels to both sides, or as many as the part has, divided by how many; four at a time. */
function meansAcross(from: usize, to: usize, width: i32, left: i32, top: i32, right: i32, bottom: i32, r: i32): void {
  const share = f32x4.splat(f32(1.0 / f64(2 * r + 1)));
  for (let y = top; y <= bottom; y++) {
    let x = left;
    while (x <= right) {
      if (x - r >= left && x + 3 + r <= right) {
        let sum = f32x4.splat(0);
        for (let k = -r; k <= r; k++) sum = f32x4.add(sum, v128.load(at(from, width, x + k, y)));
        v128.store(at(to, width, x, y), f32x4.mul(sum, share));
        x += 4;
        continue;
      }
      let sum: f32 = 0,
        n: f32 = 0;
      for (let k = max(left, x - r); k <= min(right, x + r); k++, n += 1) sum += load<f32>(at(from, width, k, y));
      store<f32>(at(to, width, x, y), sum / n);
      x++;
    }
  }
}

/** The same down the columns. */
function meansDown(from: usize, to: usize, width: i32, left: i32, top: i32, right: i32, bottom: i32, r: i32): void {
  for (let y = top; y <= bottom; y++) {
    const first = max(top, y - r),
      last = min(bottom, y + r);
    const share = f32(1.0 / f64(last - first + 1)),
      shares = f32x4.splat(share);
    let x = left;
    for (; x + 3 <= right; x += 4) {
      let sum = f32x4.splat(0);
      for (let k = first; k <= last; k++) sum = f32x4.add(sum, v128.load(at(from, width, x, k)));
      v128.store(at(to, width, x, y), f32x4.mul(sum, shares));
    }
    for (; x <= right; x++) {
      let sum: f32 = 0;
      for (let k = first; k <= last; k++) sum += load<f32>(at(from, width, x, k));
      store<f32>(at(to, width, x, y), sum * share);
    }
  }
}

/** Means over three pixels along rows, then columns, the middle one weighing twice; an edge stands for what is beyond it. */
function soften(from: usize, to: usize, spare: usize, width: i32, left: i32, top: i32, right: i32, bottom: i32): void {
  const quarter = f32x4.splat(0.25);
  for (let y = top; y <= bottom; y++) {
    let x = left;
    while (x <= right) {
      if (x > left && x + 4 <= right) {
        const own = v128.load(at(from, width, x, y));
        const beside = f32x4.add(v128.load(at(from, width, x - 1, y)), v128.load(at(from, width, x + 1, y)));
        v128.store(at(spare, width, x, y), f32x4.mul(quarter, f32x4.add(beside, f32x4.add(own, own))));
        x += 4;
        continue;
      }
      const beside = load<f32>(at(from, width, max(left, x - 1), y)) + load<f32>(at(from, width, min(right, x + 1), y));
      store<f32>(at(spare, width, x, y), (beside + 2 * load<f32>(at(from, width, x, y))) / 4);
      x++;
    }
  }
  for (let y = top; y <= bottom; y++) {
    const above = max(top, y - 1),
      below = min(bottom, y + 1);
    let x = left;
    for (; x + 3 <= right; x += 4) {
      const own = v128.load(at(spare, width, x, y));
      const beside = f32x4.add(v128.load(at(spare, width, x, above)), v128.load(at(spare, width, x, below)));
      v128.store(at(to, width, x, y), f32x4.mul(quarter, f32x4.add(beside, f32x4.add(own, own))));
    }
    for (; x <= right; x++) {
      const beside = load<f32>(at(spare, width, x, above)) + load<f32>(at(spare, width, x, below));
      store<f32>(at(to, width, x, y), (beside + 2 * load<f32>(at(spare, width, x, y))) / 4);
    }
  }
}

/** The largest within `r` pixels along rows, then columns; none is below 0. */
function largest(
  from: usize,
  to: usize,
  spare: usize,
  width: i32,
  left: i32,
  top: i32,
  right: i32,
  bottom: i32,
  r: i32,
): void {
  for (let y = top; y <= bottom; y++) {
    let x = left;
    while (x <= right) {
      if (x - r >= left && x + 3 + r <= right) {
        let most = f32x4.splat(0);
        for (let k = -r; k <= r; k++) most = f32x4.pmax(most, v128.load(at(from, width, x + k, y)));
        v128.store(at(spare, width, x, y), most);
        x += 4;
        continue;
      }
      let most: f32 = 0;
      for (let k = max(left, x - r); k <= min(right, x + r); k++) most = max(most, load<f32>(at(from, width, k, y)));
      store<f32>(at(spare, width, x, y), most);
      x++;
    }
  }
  for (let y = top; y <= bottom; y++) {
    const first = max(top, y - r),
      last = min(bottom, y + r);
    let x = left;
    for (; x + 3 <= right; x += 4) {
      let most = f32x4.splat(0);
      for (let k = first; k <= last; k++) most = f32x4.pmax(most, v128.load(at(spare, width, x, k)));
      v128.store(at(to, width, x, y), most);
    }
    for (; x <= right; x++) {
      let most: f32 = 0;
      for (let k = first; k <= last; k++) most = max(most, load<f32>(at(spare, width, x, k)));
      store<f32>(at(to, width, x, y), most);
    }
  }
}

function rootsOf(values: usize, width: i32, left: i32, top: i32, right: i32, bottom: i32): void {
  for (let y = top; y <= bottom; y++) {
    let x = left;
    for (; x + 3 <= right; x += 4) {
      const here = at(values, width, x, y);
      v128.store(here, f32x4.sqrt(v128.load(here)));
    }
    for (; x <= right; x++) store<f32>(at(values, width, x, y), sqrt<f32>(load<f32>(at(values, width, x, y))));
  }
}

/**
 * Within a part of the picture (both ends included): what a picture, relit by `table`, differs by from the empty one; its
 * means over 9 and 25 pixels; the root of the mean of its squares nearby, its mean over 25 pixels, and the largest of
 * that within `close` pixels. All but the bytes of `picture` are floats, as many as the picture has; `room` is room.
 */
export function differFinely(
  picture: usize,
  luma: usize,
  table: usize,
  width: i32,
  left: i32,
  top: i32,
  right: i32,
  bottom: i32,
  close: i32,
  room: usize,
  difference: usize,
  mean: usize,
  wide: usize,
  power: usize,
  most: usize,
): void {
  for (let y = top; y <= bottom; y++)
    for (let x = left; x <= right; x++) {
      const seen = load<f32>(table + (usize(load<u8>(picture + usize(y * width + x))) << 2));
      const d = seen - load<f32>(at(luma, width, x, y));
      store<f32>(at(difference, width, x, y), d);
      store<f32>(at(most, width, x, y), d * d);
    }
  meansAcross(difference, room, width, left, top, right, bottom, 1);
  meansDown(room, mean, width, left, top, right, bottom, 1);
  meansAcross(difference, room, width, left, top, right, bottom, 2);
  meansDown(room, wide, width, left, top, right, bottom, 2);
  soften(most, power, room, width, left, top, right, bottom);
  // What somebody wears is brighter here and darker there than what lies behind: squares do not cancel.
  rootsOf(power, width, left, top, right, bottom);
  meansAcross(power, room, width, left, top, right, bottom, 2);
  meansDown(room, most, width, left, top, right, bottom, 2);
  largest(most, most, room, width, left, top, right, bottom, close);
}
