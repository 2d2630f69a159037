// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { sqrt } = Math;

/** Farther than anything in a picture, squared. */
const FAR = 1e12;

/** Gives pictures of one size, pixel by pixel, the distance to what is marked in them. */
export class DistanceField {
  private readonly squares: Float64Array;
  private readonly line: Float64Array;
  private readonly roots: Int32Array;
  private readonly meets: Float64Array;

  constructor(
    private readonly width: number,
    private readonly height: number,
  ) {
    this.squares = new Float64Array(width * height);
    this.line = new Float64Array(width);
    this.roots = new Int32Array(width);
    this.meets = new Float64Array(width + 1);
  }

  /**
   * Distance of each pixel's centre to that of the nearest one that is not 0, pixels; Infinity where none is.
   * Felzenszwalb & Huttenlocher 2012: columns first, then the lower envelope of parabolas along each row.
   */
  of(mask: Uint8Array, out: Float32Array): Float32Array {
    const { width, height, squares } = this;
    for (let x = 0; x < width; x++) {
      let near = FAR;
      for (let y = 0, i = x; y < height; y++, i += width) {
        near = mask[i] ? 0 : near + 1;
        squares[i] = near;
      }
      near = FAR;
      for (let y = height - 1, i = (height - 1) * width + x; y >= 0; y--, i -= width) {
        near = mask[i] ? 0 : near + 1;
        if (near < squares[i]) squares[i] = near;
        squares[i] = squares[i] >= FAR ? FAR : squares[i] * squares[i];
      }
    }
    for (let y = 0; y < height; y++) this.alongRow(y * width, out);
    return out;
  }

  private alongRow(row: number, out: Float32Array): void {
    const { width, squares, line, roots, meets } = this;
    for (let x = 0; x < width; x++) line[x] = squares[row + x];
    let k = -1;
    for (let x = 0; x < width; x++) {
      if (line[x] >= FAR) continue;
      let from = -Infinity;
      while (k >= 0) {
        const r = roots[k];
        from = (line[x] + x * x - line[r] - r * r) / (2 * (x - r));
        if (from > meets[k]) break;
        k--;
        from = -Infinity;
      }
      k++;
      roots[k] = x;
      meets[k] = from;
    }
    if (k < 0) {
      out.fill(Infinity, row, row + width);
      return;
    }
    const last = k;
    k = 0;
    for (let x = 0; x < width; x++) {
      while (k < last && meets[k + 1] < x) k++;
      const d = x - roots[k];
      out[row + x] = sqrt(d * d + line[roots[k]]);
    }
  }
}
