import { median } from './quantile';

/** Standard deviation of a normal distribution divided by its median absolute deviation: 1 / 0.67449. */
const SIGMA_OF_MAD = 1.4826;
/** Median of a squared standard normal (chi square of one degree). */
const MEDIAN_SQUARE = 0.4549;

/** Standard deviation from the middle of residuals, in their unit: the median absolute deviation. @param off absolute residuals */
export const sigmaOf = (off: ArrayLike<number>): number => SIGMA_OF_MAD * median(off);

/** Standard deviation of a normal distribution whose median absolute deviation is known, in its unit. */
export const sigmaOfMad = (mad: number): number => SIGMA_OF_MAD * mad;

/**
 * Standard deviation of the readings of a path from one frame to the next, in their unit; 0 for too few. Second
 * differences cancel what drifts; a second difference has six variances of a reading.
 */
export function frameSigma(path: readonly (number | null)[]): number {
  const off: number[] = [];
  for (let f = 2; f < path.length; f++) {
    const [a, b, c] = [path[f - 2], path[f - 1], path[f]];
    if (a !== null && b !== null && c !== null) off.push(Math.abs(a - 2 * b + c));
  }
  return off.length ? sigmaOf(off) / Math.sqrt(6) : 0;
}

/** Code values come in so many bins of brightness. */
export const LEVEL_BINS = 16;
export const levelBin = (level: number): number =>
  Math.min(LEVEL_BINS - 1, Math.max(0, Math.floor((level * LEVEL_BINS) / 256)));

/** Fewer values do not tell their median to a sixth of a standard deviation (its error is 1.2533 of one by the root of their number). */
export const ENOUGH = 60;

/** Variance of noise by brightness, from squares of what one pixel strays by: their median, so that movers hardly count. */
export class VarianceByLevel {
  private readonly bins: number[][] = Array.from({ length: LEVEL_BINS }, () => []);

  /** @param square variance of one reading, as this pixel has it @param level code value, 0 to 255 */
  add(level: number, square: number): void {
    this.bins[levelBin(level)].push(square);
  }

  /**
   * Variances by brightness, levels squared; a bin with too few values has that of all. Null for too few in all.
   * @param degrees of freedom of each square: 1 for a difference of two readings; many for a pixel's own variance
   */
  law(degrees: 1 | 'many'): Float32Array | null {
    const overall = this.overall(degrees);
    return overall === null
      ? null
      : Float32Array.from(this.bins, (v) => (v.length < ENOUGH ? overall : middleOf(v, degrees)));
  }

  /** The same whatever the brightness. */
  overall(degrees: 1 | 'many'): number | null {
    const all = this.bins.flat();
    return all.length < ENOUGH ? null : middleOf(all, degrees);
  }
}

const middleOf = (squares: number[], degrees: 1 | 'many') => median(squares) / (degrees === 1 ? MEDIAN_SQUARE : 1);
