// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { sqrt } = Math;

/**
 * Solves the normal equations of a least squares fit: a symmetric positive n x n system given row by row, of which the
 * upper half is read (Cholesky); null when it is not positive.
 */
export function solvePositive(normal: Float64Array, right: Float64Array, n: number): Float64Array<ArrayBuffer> | null {
  const l = new Float64Array(n * n);
  for (let i = 0; i < n; i++) {
    for (let j = 0; j <= i; j++) {
      let sum = normal[j * n + i];
      for (let k = 0; k < j; k++) sum -= l[i * n + k] * l[j * n + k];
      if (i === j) {
        if (!(sum > 1e-12)) return null;
        l[i * n + i] = sqrt(sum);
      } else {
        l[i * n + j] = sum / l[j * n + j];
      }
    }
  }
  const y = new Float64Array(n);
  for (let i = 0; i < n; i++) {
    let sum = right[i];
    for (let k = 0; k < i; k++) sum -= l[i * n + k] * y[k];
    y[i] = sum / l[i * n + i];
  }
  const out = new Float64Array(n);
  for (let i = n - 1; i >= 0; i--) {
    let sum = y[i];
    for (let k = i + 1; k < n; k++) sum -= l[k * n + i] * out[k];
    out[i] = sum / l[i * n + i];
  }
  return out;
}
