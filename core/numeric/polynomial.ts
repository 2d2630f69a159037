import { solvePositive } from './least-squares';
import { median } from './quantile';

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
  let weights = us.map(() => 1),
    fit: Float64Array | null = null;
  for (let round = 0; round < ROUNDS; round++) {
    const normal = new Float64Array(n * n),
      right = new Float64Array(n);
    us.forEach((u, i) => {
      for (let p = 0; p < n; p++) {
        right[p] += weights[i] * u ** p * vs[i];
        for (let q = 0; q < n; q++) normal[n * p + q] += weights[i] * u ** (p + q);
      }
    });
    const found = solvePositive(normal, right, n);
    if (!found) return null;
    fit = found;
    const rest = us.map((u, i) => abs(vs[i] - found.reduce((sum, c, p) => sum + c * u ** p, 0)));
    const spread = max(leastSpread, 1.4826 * median(rest));
    weights = rest.map((r) => (r < STRAYS * spread ? 1 : 0));
  }
  return fit;
}
