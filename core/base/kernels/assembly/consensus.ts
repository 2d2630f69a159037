/**
 * Fitting a pose to what patches say; see core/measures/lock/consensus.ts. A patch's evidence is 14 doubles: its weight, how
 * many directions it fixes (1 or 2), then for each direction the four factors of the pose, the place seen along it,
 * and one over its variance.
 */
const PATCH: usize = 14 * 8;
const SECOND: usize = 6 * 8;

/** How far the place seen along a direction lies from where the pose puts it, px. */
// @ts-ignore: decorator
@inline
function residual(e: usize, pose: usize): f64 {
  return (
    load<f64>(e, 32) -
    (load<f64>(e) * load<f64>(pose) +
      load<f64>(e, 8) * load<f64>(pose, 8) +
      load<f64>(e, 16) * load<f64>(pose, 16) +
      load<f64>(e, 24) * load<f64>(pose, 24))
  );
}

/** A patch's distance from where the pose puts it, in standard deviations, squared. */
// @ts-ignore: decorator
@inline
function distance(o: usize, pose: usize): f64 {
  const r = residual(o + 16, pose);
  const sum = r * r * load<f64>(o + 16, 40);
  if (load<f64>(o, 8) < 2) return sum;
  const q = residual(o + 16 + SECOND, pose);
  return sum + q * q * load<f64>(o + 16 + SECOND, 40);
}

/** How much support a pose has: each patch adds up to its own weight, by the biweight of its distance over `reach`. */
export function supportOf(evidence: usize, count: i32, pose: usize, reach: f64): f64 {
  const square = reach * reach;
  let total: f64 = 0;
  for (let o = evidence, end = evidence + usize(count) * PATCH; o < end; o += PATCH) {
    const m = distance(o, pose) / square;
    if (m < 1) total += load<f64>(o) * (1 - m) * (1 - m) * (load<f64>(o, 8) === 2 ? 1 : 0.6);
  }
  return total;
}

/** Adds one direction's equation with weight `w`; only the upper half is kept. */
// @ts-ignore: decorator
@inline
function accumulate(normal: usize, right: usize, e: usize, w: f64): void {
  const v = load<f64>(e, 32);
  for (let i = 0, row = normal; i < 4; i++, row += 32) {
    const a = w * load<f64>(e + (usize(i) << 3));
    store<f64>(right + (usize(i) << 3), load<f64>(right + (usize(i) << 3)) + a * v);
    for (let j = i; j < 4; j++) {
      const at = row + (usize(j) << 3);
      store<f64>(at, load<f64>(at) + a * load<f64>(e + (usize(j) << 3)));
    }
  }
}

/**
 * Solves a symmetric positive 4 x 4 system of which the upper half is read (Cholesky), into `out`; false, and `out` as
 * it was, when it is not positive. `scratch`: 20 doubles.
 */
export function solveFour(normal: usize, right: usize, scratch: usize, out: usize): bool {
  const y = scratch + 128;
  for (let i: usize = 0; i < 4; i++) {
    for (let j: usize = 0; j <= i; j++) {
      let sum = load<f64>(normal + ((j * 4 + i) << 3));
      for (let k: usize = 0; k < j; k++)
        sum -= load<f64>(scratch + ((i * 4 + k) << 3)) * load<f64>(scratch + ((j * 4 + k) << 3));
      if (i === j) {
        if (!(sum > 1e-12)) return false;
        store<f64>(scratch + ((i * 4 + i) << 3), Math.sqrt(sum));
      } else {
        store<f64>(scratch + ((i * 4 + j) << 3), sum / load<f64>(scratch + ((j * 4 + j) << 3)));
      }
    }
  }
  for (let i: usize = 0; i < 4; i++) {
    let sum = load<f64>(right + (i << 3));
    for (let k: usize = 0; k < i; k++) sum -= load<f64>(scratch + ((i * 4 + k) << 3)) * load<f64>(y + (k << 3));
    store<f64>(y + (i << 3), sum / load<f64>(scratch + ((i * 4 + i) << 3)));
  }
  for (let n: usize = 0; n < 4; n++) {
    const i = 3 - n;
    let sum = load<f64>(y + (i << 3));
    for (let k = i + 1; k < 4; k++) sum -= load<f64>(scratch + ((k * 4 + i) << 3)) * load<f64>(out + (k << 3));
    store<f64>(out + (i << 3), sum / load<f64>(scratch + ((i * 4 + i) << 3)));
  }
  return true;
}

/**
 * Fits a pose around the one at `pose` and puts it there: `rounds` rounds of the biweight, whose reach shrinks from
 * `wide` times `reach` to `reach`. `prior` is what the normal equations (16 doubles, `normal`) hold before any patch;
 * `scratch` has room for 24 doubles. Out, as doubles: weighted count of patches that agree, of all, their number,
 * number of equations, sum of the weighted squares of what is left, sum of their weights.
 */
export function fitPose(
  evidence: usize,
  count: i32,
  pose: usize,
  reach: f64,
  wide: f64,
  rounds: i32,
  prior: usize,
  normal: usize,
  scratch: usize,
  out: usize,
): void {
  const right = scratch + 160;
  for (let round = 0; round < rounds; round++) {
    const bound = reach * max(1, wide * (1 - f64(round) / f64(max(1, rounds - 2))));
    const square = bound * bound;
    memory.copy(normal, prior, 128);
    memory.fill(right, 0, 32);
    let agreeing: f64 = 0,
      found: f64 = 0,
      squares: f64 = 0,
      sure: f64 = 0,
      members = 0,
      equations = 0;
    for (let o = evidence, end = evidence + usize(count) * PATCH; o < end; o += PATCH) {
      const weight = load<f64>(o);
      found += weight;
      const m = distance(o, pose);
      if (m >= square) continue;
      const u = 1 - m / square;
      const say = weight * u * u;
      agreeing += say;
      members++;
      const last = load<f64>(o, 8) === 2 ? o + 16 + SECOND : o + 16;
      for (let e = o + 16; e <= last; e += SECOND) {
        const w = say * load<f64>(e, 40);
        accumulate(normal, right, e, w);
        const r = residual(e, pose);
        squares += w * r * r;
        sure += say;
        equations++;
      }
    }
    store<f64>(out, agreeing);
    store<f64>(out, found, 8);
    store<f64>(out, f64(members), 16);
    store<f64>(out, f64(equations), 24);
    store<f64>(out, squares, 32);
    store<f64>(out, sure, 40);
    if (!solveFour(normal, right, scratch, pose)) return;
  }
}
