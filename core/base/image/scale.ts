// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, ceil, floor, max, min } = Math;

/**
 * How pictures are made smaller: by a cubic B-spline as wide as two pixels of the result to each side (smooth, so that
 * fine detail does not alias into false movement), or by the mean of what each pixel of the result covers.
 */
export type ScaleBy = 'spline' | 'area';

interface Size {
  width: number;
  height: number;
}

/** What each value along one side is made of: as many weights for each, that come to 1, from a first value on. */
interface Taps {
  count: number;
  first: Int32Array;
  weights: Float32Array;
}

/** The cubic B-spline at a distance (Unser 1999, "Splines: a perfect fit for signal and image processing", equation 3). */
function spline(distance: number): number {
  const d = abs(distance);
  if (d < 1) return (4 - 6 * d * d + 3 * d * d * d) / 6;
  return d < 2 ? (2 - d) ** 3 / 6 : 0;
}

/** @param from values along the side that there are, and that are wanted; their middles keep their places */
function tapsOf(from: number, to: number, by: ScaleBy): Taps {
  const ratio = from / to;
  // Wider than a pixel of the source only where the result is coarser.
  const wide = max(1, ratio);
  const reach = by === 'spline' ? 2 * wide : (wide + 1) / 2;
  const count = min(from, 2 * ceil(reach) + 1);
  const first = new Int32Array(to),
    weights = new Float32Array(to * count);
  for (let n = 0; n < to; n++) {
    const middle = (n + 0.5) * ratio - 0.5;
    first[n] = max(0, min(from - count, floor(middle - reach)));
    let sum = 0;
    const own = weights.subarray(n * count, (n + 1) * count);
    for (let k = floor(middle - reach); k <= ceil(middle + reach); k++) {
      const d = k - middle;
      const w =
        by === 'spline' ? spline(d / wide) : ratio <= 1 ? max(0, 1 - abs(d)) : max(0, min(1, (ratio + 1) / 2 - abs(d)));
      // What lies beyond the edge is like the edge.
      own[max(0, min(from - 1, k)) - first[n]] += w;
      sum += w;
    }
    for (let k = 0; k < count; k++) own[k] /= sum;
  }
  return { count, first, weights };
}

/** Scales planes of bytes from one size to another: first along the rows, then down the columns, rounded once. */
export class Scaler {
  private readonly across: Taps;
  private readonly down: Taps;
  private readonly rows: Float32Array;

  constructor(
    private readonly from: Size,
    private readonly to: Size,
    by: ScaleBy,
  ) {
    this.across = tapsOf(from.width, to.width, by);
    this.down = tapsOf(from.height, to.height, by);
    this.rows = new Float32Array(to.width * from.height);
  }

  /** @param plane `from` in size, row after row @param out `to` in size */
  run(plane: Uint8Array, out: Uint8Array): void {
    const { from, to, across, down, rows } = this;
    if (from.width === to.width && from.height === to.height) {
      out.set(plane.subarray(0, out.length));
      return;
    }
    for (let y = 0, o = 0; y < from.height; y++)
      for (let x = 0, w = 0; x < to.width; x++, o++) {
        let sum = 0;
        for (let k = 0, i = y * from.width + across.first[x]; k < across.count; k++, i++, w++)
          sum += plane[i] * across.weights[w];
        rows[o] = sum;
      }
    for (let y = 0, o = 0; y < to.height; y++) {
      const top = down.first[y] * to.width,
        own = down.weights.subarray(y * down.count, (y + 1) * down.count);
      for (let x = 0; x < to.width; x++, o++) {
        let sum = 0.5;
        for (let k = 0, i = top + x; k < down.count; k++, i += to.width) sum += rows[i] * own[k];
        out[o] = max(0, min(255, sum));
      }
    }
  }
}

/** A picture turned clockwise, row after row. @param plane `size` before it is turned */
export function turned(plane: Uint8Array, { width, height }: Size, degrees: 0 | 90 | 180 | 270): Uint8Array {
  if (degrees === 0) return plane;
  const out = new Uint8Array(width * height);
  if (degrees === 180) {
    for (let i = 0, last = out.length - 1; i <= last; i++) out[i] = plane[last - i];
    return out;
  }
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++)
      out[degrees === 90 ? x * height + height - 1 - y : (width - 1 - x) * height + y] = plane[i];
  return out;
}
