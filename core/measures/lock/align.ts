import { Kernels } from '../../base/kernels/kernels';
import { asBytes, type Plane } from '../../base/image/plane';

/** What a patch of the reference looks like, learned by an aligner for finding it again. */
export interface Template {
  /** Where the aligner keeps it. */
  at: number;
  size: number;
  /** Top left pixel of the window in the reference. */
  left: number;
  top: number;
  /** Sum of squares of its grey values less their mean. */
  energy: number;
}

/** What a window's texture can tell: sums over its grey values less their mean, and their slopes to the right and downwards less theirs. */
export interface Texture {
  /** Where the aligner keeps it. */
  at: number;
  /** Products of slope to the right, slope downwards and grey value with each other, 3 x 3, row by row. */
  moments: Float64Array;
  /** Products of the three with the change that growing by 1 and turning by one radian about the window's middle would make. */
  grow: Float64Array;
  turn: Float64Array;
}

/** Result of aligning one template; reused between calls. */
export interface Alignment {
  dx: number;
  dy: number;
  /** Contrast relative to the reference. */
  gain: number;
  /** What is left unexplained, mean square in squared levels. */
  residual: number;
}

/** Bytes before a template's values: what solves a step, the window's place, its level. */
const HEAD_NUMBERS = 12;

/**
 * Finds where small square windows of one picture lie in another, to a small fraction of a pixel.
 *
 * Pictures are looked at through the cubic B-spline, evaluated at the exact fraction of a pixel, so that what is
 * sampled is one continuous smooth picture and the sampling itself adds next to no bias to a sub-pixel shift (Unser
 * 1999). A window is aligned by Gauss-Newton on differences corrected for contrast, with the template's own slopes
 * (inverse compositional form, Baker and Matthews 2004), so that each step costs one sampling and three dot products.
 */
export class PatchAligner {
  private readonly kernels = new Kernels(1 << 20);
  /** Values a row in the kernels' memory: whole fours. */
  private readonly stride: number;
  private readonly mask: number;
  private readonly scratch: number;
  private readonly window: number;
  private readonly sums: number;
  private readonly out: number;
  private result: Float64Array;
  private plane = 0;
  private width = 0;
  private height = 0;

  /** @param size side of the windows in pixels */
  constructor(readonly size: number) {
    const { kernels } = this;
    this.stride = (size + 3) & ~3;
    this.mask = kernels.reserve(4 * this.stride);
    this.scratch = kernels.reserve(4 * this.stride * (size + 3));
    this.window = kernels.reserve(4 * this.stride * size);
    this.sums = kernels.reserve(13 * 8);
    this.out = kernels.reserve(4 * 8);
    this.result = kernels.doubles(this.out, 4);
    kernels.floats(this.mask, size).fill(1);
  }

  /** The picture that is looked at from now on; all must have one size. It may be changed afterwards. */
  show(plane: Plane): void {
    const { width, height } = plane;
    if (!this.plane) {
      this.plane = this.kernels.reserve(width * height);
      this.width = width;
      this.height = height;
    }
    if (width !== this.width || height !== this.height)
      throw new RangeError('All pictures in which patches are looked for must have the same size.');
    this.kernels.bytes(this.plane, width * height).set(asBytes(plane));
  }

  /**
   * Learns the window at (left, top), whole pixels, until `forgetFrom`.
   * @returns null when the window with its margin does not lie wholly inside the picture
   */
  learn(left: number, top: number): Texture | null {
    const { size, stride, kernels } = this;
    if (!(left >= 2 && top >= 2 && left + size + 2 < this.width && top + size + 2 < this.height)) return null;
    const at = kernels.reserve(8 * HEAD_NUMBERS + 3 * 4 * size * stride);
    kernels.run.prepareTemplate({
      plane: this.plane,
      width: this.width,
      left,
      top,
      size,
      stride,
      mask: this.mask,
      scratch: this.scratch,
      window: this.window,
      template: at,
      out: this.sums,
    });
    const [level, xx, xy, xs, yy, ys, ss, ...changes] = kernels.doubles(this.sums, 13);
    kernels.doubles(at, HEAD_NUMBERS).set([left, top, level], 9);
    return {
      at,
      moments: Float64Array.of(xx, xy, xs, xy, yy, ys, xs, ys, ss),
      grow: Float64Array.from(changes.slice(0, 3)),
      turn: Float64Array.from(changes.slice(3)),
    };
  }

  /**
   * How a learned window's step is solved: 3 x 3, row by row, turns the sums of the picture's products with slopes and
   * grey values into shift x, shift y and contrast.
   */
  solveBy({ at }: Texture, solve: Float64Array): void {
    this.kernels.doubles(at, 9).set(solve);
  }

  /** How much is kept so far, for `forgetFrom`. */
  get kept(): number {
    return this.kernels.taken;
  }

  /** Forgets what was learned since `kept` gave this. */
  forgetFrom(kept: number): void {
    this.kernels.release(kept);
  }

  /**
   * Finds where a template lies in the picture shown, near (dx, dy).
   * @param out receives the result; `out.dx`, `out.dy` are the start
   * @param reach how far from the start it may lie, in pixels, across and down
   * @returns false when the template left the picture or the steps did not settle
   */
  align({ at }: Template, out: Alignment, steps: number, reach: number): boolean {
    const { kernels } = this;
    // Learning may have moved the kernels' memory.
    if (this.result.buffer.byteLength === 0) this.result = kernels.doubles(this.out, 4);
    const { result } = this;
    result[0] = out.dx;
    result[1] = out.dy;
    if (
      !kernels.run.alignTemplate({
        plane: this.plane,
        width: this.width,
        height: this.height,
        template: at,
        size: this.size,
        stride: this.stride,
        mask: this.mask,
        scratch: this.scratch,
        steps,
        reach,
        out: this.out,
      })
    )
      return false;
    out.dx = result[0];
    out.dy = result[1];
    out.gain = result[2];
    out.residual = result[3];
    return true;
  }
}
