import { sigmaOf } from './robust';
import { solvePositive } from './least-squares';

const { abs, max } = Math;

const ROUNDS = 4;
/** What strays by more than this many spreads is something else. */
const STRAYS = 2.5;

/**
 * The polynomial through points by least squares, its coefficients from the constant on; points that stray from it are
 * left out, round by round. Null where the points do not settle it.
 * @param leastSpread what all points may stray by, the unit of `vs`
 */
export function robustPolynomial(
  us: readonly number[],
  vs: readonly number[],
  degree: number,
  leastSpread: number,
): Float64Array | null {
  const n = degree + 1;
  const weights = new Uint8Array(us.length).fill(1),
    rest = new Float64Array(us.length);
  let fit: Float64Array | null = null;
  for (let round = 0; round < ROUNDS; round++) {
    // A sum of powers stands wherever two powers of the fit make it.
    const powers = new Float64Array(2 * degree + 1),
      right = new Float64Array(n);
    for (let i = 0; i < us.length; i++) {
      if (!weights[i]) continue;
      for (let p = 0, power = 1; p < powers.length; p++, power *= us[i]) {
        powers[p] += power;
        if (p < n) right[p] += power * vs[i];
      }
    }
    const normal = Float64Array.from({ length: n * n }, (_, k) => powers[((k / n) | 0) + (k % n)]);
    fit = solvePositive(normal, right, n);
    if (!fit) return null;
    for (let i = 0; i < us.length; i++) rest[i] = abs(vs[i] - polynomialAt(fit, us[i]));
    const spread = max(leastSpread, sigmaOf(rest));
    for (let i = 0; i < us.length; i++) weights[i] = rest[i] < STRAYS * spread ? 1 : 0;
  }
  return fit;
}

/** The value of a polynomial, its coefficients from the constant on. */
export function polynomialAt(coefficients: ArrayLike<number>, u: number): number {
  let sum = 0;
  for (let p = coefficients.length - 1; p >= 0; p--) sum = sum * u + coefficients[p];
  return sum;
}
