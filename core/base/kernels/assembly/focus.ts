/** Values by their place in order; see core/measures/focus/measure.ts. */

/** The value that would stand at `place` if the doubles were sorted; rearranges them (quickselect, Hoare 1961). */
export function select(values: usize, count: i32, place: i32): f64 {
  let from = 0,
    to = count - 1;
  while (from < to) {
    const pivot = load<f64>(values + (usize((from + to) >> 1) << 3));
    let i = from,
      j = to;
    while (i <= j) {
      while (load<f64>(values + (usize(i) << 3)) < pivot) i++;
      while (load<f64>(values + (usize(j) << 3)) > pivot) j--;
      if (i <= j) {
        const a = values + (usize(i++) << 3),
          b = values + (usize(j--) << 3);
        const v = load<f64>(a);
        store<f64>(a, load<f64>(b));
        store<f64>(b, v);
      }
    }
    if (place <= j) to = j;
    else if (place >= i) from = i;
    else break;
  }
  return load<f64>(values + (usize(place) << 3));
}

/**
 * The value below which the share `q` of the doubles lies, between neighbours in proportion; rearranges them. There
 * must be one at least.
 */
export function quantileOf(values: usize, count: i32, q: f64): f64 {
  const at = q * f64(count - 1);
  const i = i32(at);
  const low = select(values, count, i);
  if (i + 1 >= count) return low;
  let next = load<f64>(values + (usize(i + 1) << 3));
  for (let k = i + 2; k < count; k++) next = min(next, load<f64>(values + (usize(k) << 3)));
  return low + (at - f64(i)) * (next - low);
}

/** Detail of a cell without the grain's, in the light of the first frame. */
// @ts-ignore: decorator
@inline
function amplitude(energy: f32, grain: f64, gain: f64): f64 {
  return gain * Math.sqrt(max(0, f64(energy) - grain));
}

/**
 * Each cell over the frames in which it is free (`taken` is 0): how many, the sum of its energies, the sum of the
 * frames' grain, and the 0.9 quantile of its detail without the grain's. `energies` and `taken` hold `cells` numbers a
 * frame, floats and bytes; `grain` and `gain` doubles for each frame; `values` is scratch for as many. Out: four
 * doubles for each cell.
 */
export function cellsOverFrames(
  energies: usize,
  taken: usize,
  frames: i32,
  cells: i32,
  grain: usize,
  gain: usize,
  values: usize,
  out: usize,
): void {
  for (let k = 0; k < cells; k++, out += 32) {
    let count = 0,
      energy: f64 = 0,
      noise: f64 = 0;
    for (let f = 0, at = usize(k); f < frames; f++, at += usize(cells)) {
      if (load<u8>(taken + at)) continue;
      const own = load<f32>(energies + (at << 2)),
        ground = load<f64>(grain + (usize(f) << 3));
      store<f64>(values + (usize(count++) << 3), amplitude(own, ground, load<f64>(gain + (usize(f) << 3))));
      energy += f64(own);
      noise += ground;
    }
    store<f64>(out, f64(count));
    store<f64>(out, energy, 8);
    store<f64>(out, noise, 16);
    store<f64>(out, count ? quantileOf(values, count, 0.9) : 0, 24);
  }
}

/**
 * Each frame over the chosen cells that are free in it: how many, the middle of their detail against each cell's best,
 * and the middle distance from that. `chosen` holds the cells' numbers (words), `best` a double for each cell;
 * `values` is scratch for `many` doubles. Out: three doubles for each frame.
 */
export function framesOverCells(
  energies: usize,
  taken: usize,
  frames: i32,
  cells: i32,
  grain: usize,
  gain: usize,
  chosen: usize,
  many: i32,
  best: usize,
  values: usize,
  out: usize,
): void {
  for (let f = 0, row: usize = 0; f < frames; f++, row += usize(cells), out += 24) {
    const ground = load<f64>(grain + (usize(f) << 3)),
      own = load<f64>(gain + (usize(f) << 3));
    let count = 0;
    for (let n = 0; n < many; n++) {
      const k = usize(load<u32>(chosen + (usize(n) << 2))),
        at = row + k;
      if (load<u8>(taken + at)) continue;
      store<f64>(
        values + (usize(count++) << 3),
        amplitude(load<f32>(energies + (at << 2)), ground, own) / load<f64>(best + (k << 3)),
      );
    }
    store<f64>(out, f64(count));
    if (count === 0) continue;
    const middle = quantileOf(values, count, 0.5);
    for (let n: usize = 0; n < usize(count) << 3; n += 8)
      store<f64>(values + n, Math.abs(load<f64>(values + n) - middle));
    store<f64>(out, middle, 8);
    store<f64>(out, quantileOf(values, count, 0.5), 16);
  }
}
