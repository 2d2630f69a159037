// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { floor, max, min } = Math;

/** The value below which the share `q` of the values lies, between neighbours in proportion; NaN when there are none. */
export function quantile(values: ArrayLike<number>, q: number): number {
  const count = values.length;
  if (count === 0) return NaN;
  const sorted = new Float64Array(count);
  for (let k = 0; k < count; k++) sorted[k] = values[k];
  sorted.sort();
  const at = max(0, min(1, q)) * (sorted.length - 1);
  const i = floor(at);
  return i + 1 < sorted.length ? sorted[i] + (at - i) * (sorted[i + 1] - sorted[i]) : sorted[i];
}
