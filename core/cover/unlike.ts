import type { SmallPicture, SmallSize } from '../image/picture';
import { boxMean } from '../image/regions';
import type { View } from '../motion/panorama';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, max, min } = Math;

/** Edges may lie this far off, small pixels, or be this much softer in the panorama, which was put together from many pictures. */
const SLACK = 0.5;
/** Mean square of nine pixels' differences, luma and colour, each against its noise, from which they are something else. */
const OTHER = 7;
const CAP = 40;
/** Most of the nine must each differ by this. */
const ONE = 2.5;
/** Fewer pixels than this share that differ at all are nothing. */
const FEW = 0.001;
/** The same over 81 pixels, with each difference cut, and what the nine nearest must show besides. */
const OTHER_WIDE = 2.2;
const OTHER_NEAR = 1.6;
const WIDE_CAP = 6;
/** Where this share of a line is covered, less is enough. */
const MUCH = 0.35;
const LESS_WIDE = 1.2;
const LEAST_COLOUR = 1.4;
/** What lies nearer or further than the rest shifts by another amount when the camera moves, small pixels. */
const PARALLAX: [number, number][] = [[1, 0], [-1, 0], [0, 1], [0, -1], [2, 0], [-2, 0]];
/** A shift explains what differs when it leaves this share of it, or less. */
const EXPLAINED = 0.3;
/** Other shifts are looked at when more than this share seems to be something else. */
const LOOK_AGAIN = 0.01;

/** Tells where a picture is something else than the background. Buffers are used again. */
export class UnlikeTest {
  private readonly luma: Float32Array;
  private readonly colour: Float32Array;
  private readonly square: Float32Array;
  private readonly cut: Float32Array;
  private readonly near: Float32Array;
  private readonly wide: Float32Array;
  private readonly scratch: Float32Array;
  private readonly most: Float32Array;
  private readonly rest: Float32Array;

  constructor(private readonly size: SmallSize) {
    const plane = () => new Float32Array(size.width * size.height);
    [this.luma, this.colour, this.square, this.cut, this.near, this.wide, this.scratch, this.most, this.rest] = [plane(), plane(), plane(), plane(), plane(), plane(), plane(), plane(), plane()];
  }

  /**
   * 1 where the picture is something else; 0 too where the background is not known.
   * @param noise spread of luma, levels. @param moving whether parts of the background may have shifted by themselves
   */
  test(picture: SmallPicture, view: View, gain: number, noise: number, moving: boolean): Uint8Array {
    const { width, height } = this.size;
    const { near, wide, scratch, square, cut, rest } = this;
    this.allow(view, gain, noise);
    this.squares(picture, view, gain);
    let many = 0;
    for (let i = 0; i < square.length; i++) if (square[i] > ONE) many++;
    if (many < FEW * square.length) {
      near.fill(0);
      wide.fill(0);
      return new Uint8Array(near.length);
    }
    boxMean(square, width, height, 1, near);
    // By their number and not their sum, so that an object does not grow by half a window.
    for (let i = 0; i < square.length; i++) scratch[i] = square[i] > ONE ? 1 : 0;
    boxMean(scratch, width, height, 1, this.most);
    // Where an object is nearly as bright as what it hides, many pixels together tell what a few do not; those that tell by
    // themselves are left out, so that an object does not grow by half of the larger window either.
    for (let i = 0; i < near.length; i++) {
      const strong = near[i] > OTHER;
      rest[i] = strong ? 0 : 1;
      if (strong) cut[i] = 0;
    }
    boxMean(cut, width, height, 4, wide);
    boxMean(rest, width, height, 4, scratch);
    for (let i = 0; i < wide.length; i++) wide[i] = scratch[i] > 0.1 ? wide[i] / scratch[i] : 0;
    const out = new Uint8Array(near.length);
    const n = this.mark(view, out);
    if (!moving || n < LOOK_AGAIN * out.length) return out;
    for (let y = 0, i = 0; y < height; y++) {
      for (let x = 0; x < width; x++, i++) {
        if (!out[i] || near[i] <= OTHER) continue;
        const limit = min(OTHER_NEAR, EXPLAINED * near[i]);
        for (const [dx, dy] of PARALLAX) {
          if (this.meanBelow(limit, picture, view, gain, x, y, dx, dy)) { out[i] = 0; break; }
        }
      }
    }
    return out;
  }

  /**
   * While the camera pans, the columns (or rows) in which much is known to be covered are looked at again with less doubt: something
   * as large as that seldom ends where it is as bright as what it hides. Call after `test`, for the same picture.
   */
  lookAgain(raw: Uint8Array, { known }: View, across: boolean): void {
    const { width, height } = this.size;
    const lines = across ? width : height, long = across ? height : width;
    const at = (line: number, k: number) => (across ? k * width + line : line * width + k);
    for (let line = 0; line < lines; line++) {
      let n = 0, seen = 0;
      for (let k = 0; k < long; k++) {
        seen += known[at(line, k)];
        n += raw[at(line, k)];
      }
      if (seen < 0.3 * long || n < MUCH * seen) continue;
      for (let k = 0; k < long; k++) {
        const i = at(line, k);
        if (known[i] && this.wide[i] > LESS_WIDE) raw[i] = 1;
      }
    }
  }

  private mark({ known }: View, out: Uint8Array): number {
    const { near, wide, most } = this;
    let n = 0;
    for (let i = 0; i < out.length; i++) {
      if (!known[i] || !((near[i] > OTHER && most[i] > 0.5) || (wide[i] > OTHER_WIDE && near[i] > OTHER_NEAR))) continue;
      out[i] = 1;
      n++;
    }
    return n;
  }

  /** What each pixel may differ by: one over the variance of luma and of colour. */
  private allow({ luma, blue, red }: View, gain: number, noise: number): void {
    const { width, height } = this.size;
    const base = noise * noise, tinted = 4 * LEAST_COLOUR * LEAST_COLOUR;
    for (let y = 0, i = 0; y < height; y++) {
      const up = y > 0 ? width : 0, down = y + 1 < height ? width : 0;
      for (let x = 0; x < width; x++, i++) {
        const l = x > 0 ? i - 1 : i, r = x + 1 < width ? i + 1 : i, a = i - up, b = i + down;
        const v = luma[i];
        const step = SLACK * gain * max(max(abs(v - luma[l]), abs(v - luma[r])), max(abs(v - luma[a]), abs(v - luma[b])));
        const tint = SLACK * max(abs(blue[r] - blue[l]) + abs(red[r] - red[l]), abs(blue[b] - blue[a]) + abs(red[b] - red[a]));
        this.luma[i] = 1 / (base + step * step);
        this.colour[i] = 1 / (tinted + tint * tint);
      }
    }
  }

  /** Whether the mean of the nine differences about a pixel, with the background shifted, is below a limit; most are not at the first. */
  private meanBelow(limit: number, { luma, blue, red }: SmallPicture, view: View, gain: number, x: number, y: number, dx: number, dy: number): boolean {
    const { width, height, colourWidth, colourHeight } = this.size;
    const top = max(0, y - 1), bottom = min(height - 1, y + 1), left = max(0, x - 1), right = min(width - 1, x + 1);
    const most = limit * (bottom - top + 1) * (right - left + 1);
    let sum = 0;
    for (let v = top; v <= bottom; v++) {
      const row = min(colourHeight - 1, v >> 1) * colourWidth, from = max(0, min(height - 1, v - dy)) * width;
      for (let u = left; u <= right; u++) {
        const e = from + max(0, min(width - 1, u - dx));
        if (!view.known[e]) continue;
        const d = luma[v * width + u] - gain * view.luma[e];
        const c = row + min(colourWidth - 1, u >> 1);
        const k = abs(blue[c] - view.blue[e]) + abs(red[c] - view.red[e]);
        sum += min(CAP, d * d * this.luma[e]) + min(CAP, k * k * this.colour[e]);
        if (sum >= most) return false;
      }
    }
    return sum < most;
  }

  private squares({ luma, blue, red }: SmallPicture, view: View, gain: number): void {
    const { width, height, colourWidth, colourHeight } = this.size;
    const { square, cut } = this;
    for (let y = 0, i = 0; y < height; y++) {
      const row = min(colourHeight - 1, y >> 1) * colourWidth;
      for (let x = 0; x < width; x++, i++) {
        if (!view.known[i]) {
          square[i] = cut[i] = 0;
          continue;
        }
        const d = luma[i] - gain * view.luma[i];
        const c = row + min(colourWidth - 1, x >> 1);
        const k = abs(blue[c] - view.blue[i]) + abs(red[c] - view.red[i]);
        const a = min(CAP, d * d * this.luma[i]), b = min(CAP, k * k * this.colour[i]);
        square[i] = a + b;
        cut[i] = min(WIDE_CAP, a + b);
      }
    }
  }
}
