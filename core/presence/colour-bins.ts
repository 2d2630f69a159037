/** Colours come in 32 x 32 x 32 bins, of 8 levels of luma and 4 of each colour difference. */
export const SIDE = 32;
export const BINS = SIDE ** 3;
export const BIN_LEVELS = 8 * 4 * 4;

/** Counts spread over neighbouring bins, by a quarter to each side. */
export function smoothed(bins: ArrayLike<number>): Float64Array {
  let from = Float64Array.from(bins);
  for (const step of [1, SIDE, SIDE * SIDE]) {
    const out = new Float64Array(BINS);
    for (let i = 0; i < BINS; i++) {
      const k = Math.floor(i / step) % SIDE;
      out[i] = 0.5 * from[i] + 0.25 * (from[k > 0 ? i - step : i] + from[k < SIDE - 1 ? i + step : i]);
    }
    from = out;
  }
  return from;
}
