import type { Plane } from '../image/plane';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, floor, hypot, max } = Math;

/**
 * Samples of a picture under a small square window, smoothed by the cubic B-spline.
 *
 * The B-spline kernel is evaluated at the exact fraction of a pixel, so what is sampled is one continuous smooth
 * picture and the sampling itself adds next to no bias to a sub-pixel shift (Unser 1999).
 */
export class WindowSampler {
  /** Column by column: the value at (x, y) of the window is `samples[x * size + y]`. */
  readonly samples: Float32Array;
  private readonly columns: Float64Array;

  /** @param size side of the window in pixels */
  constructor(readonly size: number) {
    this.samples = new Float32Array(size * size);
    this.columns = new Float64Array(size * (size + 3));
  }

  /**
   * Sums over the window that an alignment step needs, in `out`: of the samples, of their squares, and of their products
   * with the template's slopes and shape.
   * @returns false as `sample` does
   */
  sums(plane: Plane, left: number, top: number, template: Template, out: Float64Array): boolean {
    const n = this.size;
    const y0 = floor(top);
    if (!this.fillColumns(plane, left, y0)) return false;
    const fy = top - y0;
    const b0 = splineTap0(fy), b1 = splineTap1(fy), b2 = splineTap1(1 - fy), b3 = splineTap0(1 - fy);
    const { columns } = this;
    const { shape, slopeX, slopeY } = template;
    let sum = 0, square = 0, sx = 0, sy = 0, st = 0;
    for (let x = 0, i = 0, k = 0; x < n; x++) {
      let p = columns[i], q = columns[i + 1], r = columns[i + 2];
      i += 3;
      for (const end = k + n; k < end; k++, i++) {
        const s = columns[i];
        const v = b0 * p + b1 * q + b2 * r + b3 * s;
        p = q;
        q = r;
        r = s;
        sum += v;
        square += v * v;
        sx += v * slopeX[k];
        sy += v * slopeY[k];
        st += v * shape[k];
      }
    }
    out[0] = sum;
    out[1] = square;
    out[2] = sx;
    out[3] = sy;
    out[4] = st;
    return true;
  }

  /**
   * Fills `samples` from the window whose top left pixel centre is at (left, top), fractions allowed.
   * @returns false when the window with its margin does not lie wholly inside the picture
   */
  sample(plane: Plane, left: number, top: number): boolean {
    const n = this.size;
    const y0 = floor(top);
    if (!this.fillColumns(plane, left, y0)) return false;
    const fy = top - y0;
    const b0 = splineTap0(fy), b1 = splineTap1(fy), b2 = splineTap1(1 - fy), b3 = splineTap0(1 - fy);
    const { columns, samples } = this;
    for (let x = 0, k = 0; x < n; x++) {
      for (let y = 0, i = x * (n + 3); y < n; y++, i++, k++) {
        samples[k] = b0 * columns[i] + b1 * columns[i + 1] + b2 * columns[i + 2] + b3 * columns[i + 3];
      }
    }
    return true;
  }

  /** Smooths across the window's rows and one above and two below. */
  private fillColumns(plane: Plane, left: number, y0: number): boolean {
    const n = this.size;
    const x0 = floor(left);
    const { width, height, data } = plane;
    if (!(x0 >= 1 && y0 >= 1 && x0 + n + 1 < width && y0 + n + 1 < height)) return false;
    const fx = left - x0;
    const a0 = splineTap0(fx), a1 = splineTap1(fx), a2 = splineTap1(1 - fx), a3 = splineTap0(1 - fx);
    const { columns } = this;
    const stride = n + 3;
    for (let y = 0; y < stride; y++) {
      let i = (y0 - 1 + y) * width + x0 - 1;
      let p = data[i], q = data[i + 1], r = data[i + 2];
      i += 3;
      for (let o = y, end = i + n; i < end; i++, o += stride) {
        const s = data[i];
        columns[o] = a0 * p + a1 * q + a2 * r + a3 * s;
        p = q;
        q = r;
        r = s;
      }
    }
    return true;
  }
}

/** Weight of the outer B-spline tap on the left at fraction `f`. */
function splineTap0(f: number): number {
  const g = 1 - f;
  return (g * g * g) / 6;
}

/** Weight of the inner B-spline tap on the left at fraction `f`. */
function splineTap1(f: number): number {
  return (4 - 6 * f * f + 3 * f * f * f) / 6;
}

/** What a patch of the reference looks like, prepared for alignment. Arrays have size * size entries, column by column. */
export interface Template {
  size: number;
  /** Top left pixel of the window in the reference. */
  left: number;
  top: number;
  /** Grey values less their mean, in levels of 255. */
  shape: Float32Array;
  /** Horizontal and vertical slope in levels a pixel, less their means. */
  slopeX: Float32Array;
  slopeY: Float32Array;
  /** 3 x 3, row by row: turns the three sums of an alignment step into shift x, shift y and contrast. */
  solve: Float64Array;
  /** Sum of squares of `shape`. */
  energy: number;
}

/** Scratch for one alignment step; nothing is kept in it between calls. */
const SUMS = new Float64Array(5);

/** Result of aligning one template; reused between calls. */
export interface Alignment {
  dx: number;
  dy: number;
  /** Contrast relative to the reference. */
  gain: number;
  /** What is left unexplained, mean square in squared levels. */
  residual: number;
}

/**
 * Finds where a template lies in a picture, near (dx, dy), to a small fraction of a pixel.
 *
 * Gauss-Newton on brightness-gain-corrected differences with the template's own slopes (inverse compositional form,
 * Baker and Matthews 2004), so that each step costs one sampling and three dot products.
 * @param out receives the result; `out.dx`, `out.dy` are the start
 * @returns false when the template left the picture or the steps did not settle
 */
export function alignTemplate(
  plane: Plane, template: Template, sampler: WindowSampler, out: Alignment, steps: number, reach: number,
): boolean {
  const { solve } = template;
  const count = template.shape.length;
  const startX = out.dx;
  const startY = out.dy;
  let dx = startX;
  let dy = startY;
  for (let step = 0; step < steps; step++) {
    if (!sampler.sums(plane, template.left + dx, template.top + dy, template, SUMS)) return false;
    const sum = SUMS[0], square = SUMS[1], sx = SUMS[2], sy = SUMS[3], st = SUMS[4];
    const qx = solve[0] * sx + solve[1] * sy + solve[2] * st;
    const qy = solve[3] * sx + solve[4] * sy + solve[5] * st;
    const gain = solve[6] * sx + solve[7] * sy + solve[8] * st;
    if (!(gain > 0.2 && gain < 5)) return false;
    let mx = -qx / gain;
    let my = -qy / gain;
    const length = hypot(mx, my);
    if (length > 2) {
      mx *= 2 / length;
      my *= 2 / length;
    }
    dx += mx;
    dy += my;
    if (abs(dx - startX) > reach || abs(dy - startY) > reach) return false;
    // The steps shrink fast once they are short: what is left after one this long is a few thousandths of a pixel.
    if (length < 0.12) {
      out.dx = dx;
      out.dy = dy;
      out.gain = gain;
      out.residual = max(0, square - (sum * sum) / count - (qx * sx + qy * sy + gain * st)) / count;
      return true;
    }
  }
  return false;
}
