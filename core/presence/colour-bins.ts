/** Colours come in 32 x 32 x 32 bins, of 8 levels of luma and 4 of each colour difference. */
export const SIDE = 32;
export const BINS = SIDE ** 3;
export const BIN_LEVELS = 8 * 4 * 4;

/** Counts spread over neighbouring bins, by a quarter to each side. @param sides bins along each way, the innermost first */
export function smoothed(bins: ArrayLike<number>, sides: readonly number[] = [SIDE, SIDE, SIDE]): Float64Array {
  let from = Float64Array.from(bins),
    step = 1;
  for (const side of sides) {
    const out = new Float64Array(from.length);
    for (let i = 0; i < out.length; i++) {
      const k = Math.floor(i / step) % side;
      out[i] = 0.5 * from[i] + 0.25 * (from[k > 0 ? i - step : i] + from[k < side - 1 ? i + step : i]);
    }
    from = out;
    step *= side;
  }
  return from;
}
