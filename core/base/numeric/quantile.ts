// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { floor, max, min } = Math;

/** The value below which the share `q` of the values lies, between neighbours in proportion; NaN when there are none. */
export function quantile(values: ArrayLike<number>, q: number): number {
  const count = values.length;
  if (count === 0) return NaN;
  const own = new Float64Array(count);
  for (let k = 0; k < count; k++) own[k] = values[k];
  const at = max(0, min(1, q)) * (count - 1);
  const i = floor(at);
  const low = select(own, i);
  return i + 1 < count ? low + (at - i) * (least(own, i + 1) - low) : low;
}

/** The middle of some numbers; the mean of the two middle ones when their count is even. NaN for none. */
export function median(values: ArrayLike<number>): number {
  return quantile(values, 0.5);
}

/**
 * The value that would stand at `place` if the values were sorted; rearranges them so that none before it is larger
 * and none after it smaller (quickselect, Hoare 1961). None may be NaN.
 */
export function select(values: Float64Array | Float32Array, place: number): number {
  let from = 0,
    to = values.length - 1;
  while (from < to) {
    const pivot = values[(from + to) >> 1];
    let i = from,
      j = to;
    while (i <= j) {
      while (values[i] < pivot) i++;
      while (values[j] > pivot) j--;
      if (i <= j) {
        const v = values[i];
        values[i++] = values[j];
        values[j--] = v;
      }
    }
    if (place <= j) to = j;
    else if (place >= i) from = i;
    else break;
  }
  return values[place];
}

function least(values: Float64Array, from: number): number {
  let low = values[from];
  for (let k = from + 1; k < values.length; k++) if (values[k] < low) low = values[k];
  return low;
}
