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
/** At a glance each so many pixels are looked at, across and down. */
const GLANCE = 2;
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
    const { near, wide, scratch, square, cut, rest, most } = this;
    this.allow(view, gain, noise);
    this.squares(picture, view, gain);
    const out = new Uint8Array(near.length);
    // By their number and not their sum, so that an object does not grow by half a window.
    if (above(square, ONE, scratch) < FEW * square.length) {
      near.fill(0);
      wide.fill(0);
      return out;
    }
    boxMean(scratch, width, height, 1, most);
    boxMean(square, width, height, 1, near);
    // Where an object is nearly as bright as what it hides, many pixels together tell what a few do not; those that tell by
    // themselves are left out, so that an object does not grow by half of the larger window either.
    leaveOut(near, OTHER, cut, rest);
    boxMean(cut, width, height, 4, wide);
    boxMean(rest, width, height, 4, scratch);
    divide(wide, scratch);
    if (this.mark(view, out) >= LOOK_AGAIN * out.length && moving) this.allowParallax(out, picture, view, gain);
    return out;
  }

  /** Whether a picture is the background at a glance, by some of its pixels, and by what the last test allowed them to differ. */
  isLike({ luma }: SmallPicture, view: View, gain: number): boolean {
    const { width, height } = this.size;
    return glance(luma, view, gain, this.luma, width, height) < FEW * (width / GLANCE) * (height / GLANCE);
  }

  /** Takes out what is explained by a part of the background that shifted by another amount. */
  private allowParallax(out: Uint8Array, picture: SmallPicture, view: View, gain: number): void {
    const { near, size: { width, height } } = this;
    // Every second pixel speaks for the one beside it too.
    for (let y = 0; y < height; y++) {
      for (let x = y & 1, i = y * width + x; x < width; x += 2, i += 2) {
        if (out[i] === 0 || near[i] <= OTHER) continue;
        const limit = min(OTHER_NEAR, EXPLAINED * near[i]);
        for (let k = 0; k < PARALLAX.length; k++) {
          if (!this.meanBelow(limit, picture, view, gain, x, y, PARALLAX[k][0], PARALLAX[k][1])) continue;
          out[i] = 0;
          if (x + 1 < width && near[i + 1] > OTHER) out[i + 1] = 0;
          break;
        }
      }
    }
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
    const { luma: least, colour: leastColour } = this, slack = SLACK * gain;
    for (let y = 0, i = 0; y < height; y++) {
      const up = y > 0 ? width : 0, down = y + 1 < height ? width : 0;
      for (let x = 0; x < width; x++, i++) {
        const l = x > 0 ? i - 1 : i, r = x + 1 < width ? i + 1 : i, a = i - up, b = i + down;
        const v = luma[i];
        let most = abs(v - luma[l]), d = abs(v - luma[r]);
        if (d > most) most = d;
        d = abs(v - luma[a]);
        if (d > most) most = d;
        d = abs(v - luma[b]);
        if (d > most) most = d;
        const step = slack * most;
        const across = abs(blue[r] - blue[l]) + abs(red[r] - red[l]), along = abs(blue[b] - blue[a]) + abs(red[b] - red[a]);
        const tint = SLACK * (across > along ? across : along);
        least[i] = 1 / (base + step * step);
        leastColour[i] = 1 / (tinted + tint * tint);
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

// Loops by themselves: a function that goes on after a long one is not kept optimised by some runtimes.

/** Marks the values above a limit with 1, the others with 0; gives their number. */
function above(values: Float32Array, limit: number, marks: Float32Array): number {
  let n = 0;
  for (let i = 0; i < values.length; i++) {
    const is = values[i] > limit ? 1 : 0;
    marks[i] = is;
    n += is;
  }
  return n;
}

/** Number of pixels of a coarse grid whose luma differs. */
function glance(luma: Uint8Array, { luma: behind, known }: View, gain: number, allowed: Float32Array, width: number, height: number): number {
  let n = 0;
  for (let y = 0; y < height; y += GLANCE) {
    for (let x = y % GLANCE, i = y * width + x; x < width; x += GLANCE, i += GLANCE) {
      const d = luma[i] - gain * behind[i];
      if (d * d * allowed[i] > ONE && known[i] === 1) n++;
    }
  }
  return n;
}

/** Sets `cut` to 0 where a value is above a limit, and `rest` to 1 where it is not. */
function leaveOut(values: Float32Array, limit: number, cut: Float32Array, rest: Float32Array): void {
  for (let i = 0; i < values.length; i++) {
    const strong = values[i] > limit;
    rest[i] = strong ? 0 : 1;
    if (strong) cut[i] = 0;
  }
}

/** Divides sums over windows by how much of the windows counts; those of which next to nothing does are 0. */
function divide(sums: Float32Array, shares: Float32Array): void {
  for (let i = 0; i < sums.length; i++) sums[i] = shares[i] > 0.1 ? sums[i] / shares[i] : 0;
}
