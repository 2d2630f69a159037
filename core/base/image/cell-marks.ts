/** Cells of a grid marked in each frame of a take, a bit each: so that those of a very long take fit into memory. */
export class CellMarks {
  private readonly stride: number;
  private readonly bits: Uint8Array;

  /** @param mark called for each frame in order; gives 1 for the cells that are marked, and may reuse its array */
  constructor(
    readonly frames: number,
    private readonly cells: number,
    mark: (frame: number) => ArrayLike<number>,
  ) {
    this.stride = Math.ceil(cells / 8);
    this.bits = new Uint8Array(frames * this.stride);
    for (let f = 0; f < frames; f++) {
      const marks = mark(f);
      for (let c = 0; c < cells; c++) if (marks[c]) this.bits[f * this.stride + (c >> 3)] |= 1 << (c & 7);
    }
  }

  /** 1 for the cells that are marked in a frame. */
  read(frame: number): Uint8Array {
    const out = new Uint8Array(this.cells);
    for (let c = 0; c < this.cells; c++) out[c] = (this.bits[frame * this.stride + (c >> 3)] >> (c & 7)) & 1;
    return out;
  }
}
