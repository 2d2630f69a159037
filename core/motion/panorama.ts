import { applySimilarity, invertSimilarity, type Similarity } from '../geometry/similarity';
import type { SmallPicture, SmallSize } from '../image/picture';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { cos, floor, max, min, sin } = Math;

/** A panorama as one camera position shows it. Colours lie at the luma pixels. */
export interface View {
  luma: Float32Array;
  blue: Float32Array;
  red: Float32Array;
  /** 1 where the panorama has been seen. */
  known: Uint8Array;
}

/** The share by which the panorama follows what is seen, at least: light and focus change slowly. */
const FOLLOW = 0.12;
/** Widths and heights of the picture that a panorama may reach to each side. */
const REACH_X = 2.2, REACH_Y = 0.8;

/**
 * What lies behind, put together from the pictures of a camera that may move: pixels of the first picture's place, reaching
 * beyond its edges. Poses say where the first picture's content lies in a frame, in small pixels about its centre.
 */
export class Panorama {
  private readonly width: number;
  private readonly height: number;
  private readonly left: number;
  private readonly top: number;
  private readonly planes: [Float32Array, Float32Array, Float32Array];
  private readonly weight: Float32Array;
  readonly view: View;
  /** The pose that the view shows; null when something was added since. */
  private shown: Similarity | null = null;
  /** Whether its colour is shown too. */
  private coloured = false;

  constructor(private readonly size: SmallSize, moving: boolean) {
    this.left = moving ? floor(size.width * REACH_X) : 0;
    this.top = moving ? floor(size.height * REACH_Y) : 0;
    this.width = size.width + 2 * this.left;
    this.height = size.height + 2 * this.top;
    const plane = () => new Float32Array(this.width * this.height);
    this.planes = [plane(), plane(), plane()];
    this.weight = plane();
    const pixels = size.width * size.height;
    this.view = { luma: new Float32Array(pixels), blue: new Float32Array(pixels), red: new Float32Array(pixels), known: new Uint8Array(pixels) };
  }

  /** Shows the panorama as a frame at this pose would see it; what is given is used again. @param colour false where its luma is enough */
  show(pose: Similarity, colour = true): View {
    const { size, width, height, planes, weight, view } = this;
    const last = this.shown;
    if (last && last.dx === pose.dx && last.dy === pose.dy && last.rotation === pose.rotation && last.scale === pose.scale && (this.coloured || !colour)) return view;
    this.shown = { ...pose };
    this.coloured = colour;
    const [l, b, r] = planes;
    if (pose.dx === 0 && pose.dy === 0 && pose.rotation === 0 && pose.scale === 1) return this.showStraight();
    const back = invertSimilarity(pose);
    const c = back.scale * cos(back.rotation), s = back.scale * sin(back.rotation);
    const cx = (size.width - 1) / 2, cy = (size.height - 1) / 2;
    const { luma, blue, red, known } = view;
    const across = size.width;
    for (let y = 0, o = 0; y < size.height; y++) {
      const [u0, v0] = applySimilarity(back, -cx, y - cy);
      let u = u0 + cx + this.left, v = v0 + cy + this.top;
      for (let x = 0; x < across; x++, o++, u += c, v += s) {
        if (!(u >= 0 && v >= 0 && u < width && v < height)) { known[o] = 0; continue; }
        // Cut off, which is the same as rounded down here, and quicker.
        const i = u | 0, j = v | 0;
        const fx = u - i, fy = v - j;
        const p = j * width + i, p1 = i + 1 < width ? p + 1 : p, q = j + 1 < height ? p + width : p, q1 = q + (p1 - p);
        let a0 = (1 - fx) * (1 - fy), a1 = fx * (1 - fy), a2 = (1 - fx) * fy, a3 = fx * fy;
        if (weight[p] === 0 || weight[p1] === 0 || weight[q] === 0 || weight[q1] === 0) {
          if (weight[p] === 0) a0 = 0;
          if (weight[p1] === 0) a1 = 0;
          if (weight[q] === 0) a2 = 0;
          if (weight[q1] === 0) a3 = 0;
          const sum = a0 + a1 + a2 + a3;
          if (sum < 0.5) { known[o] = 0; continue; }
          a0 /= sum;
          a1 /= sum;
          a2 /= sum;
          a3 /= sum;
        }
        known[o] = 1;
        luma[o] = a0 * l[p] + a1 * l[p1] + a2 * l[q] + a3 * l[q1];
        if (!colour) continue;
        blue[o] = a0 * b[p] + a1 * b[p1] + a2 * b[q] + a3 * b[q1];
        red[o] = a0 * r[p] + a1 * r[p1] + a2 * r[q] + a3 * r[q1];
      }
    }
    return view;
  }

  /** The first picture's own place: nothing needs to be laid anew. */
  private showStraight(): View {
    this.coloured = true;
    const { size, width, planes: [l, b, r], weight, view } = this;
    for (let y = 0, o = 0; y < size.height; y++) {
      for (let x = 0, p = (y + this.top) * width + this.left; x < size.width; x++, o++, p++) {
        view.luma[o] = l[p];
        view.blue[o] = b[p];
        view.red[o] = r[p];
        view.known[o] = weight[p] > 0 ? 1 : 0;
      }
    }
    return view;
  }

  /**
   * Takes in what a frame at this pose shows where `free` says that nothing stands in front; null takes all of it.
   * @param gain factor that brings the frame's luma to the panorama's light
   */
  add(picture: SmallPicture, pose: Similarity, free: Uint8Array | null, gain: number): void {
    const { size, width, height, planes, weight } = this;
    this.shown = null;
    if (pose.dx === 0 && pose.dy === 0 && pose.rotation === 0 && pose.scale === 1) return this.addStraight(picture, free, gain);
    const [l, b, r] = planes;
    const { luma, blue, red } = picture;
    const cx = (size.width - 1) / 2, cy = (size.height - 1) / 2;
    // Every pixel of the panorama that the frame may show.
    const back = invertSimilarity(pose);
    const corners = [[-cx, -cy], [cx, -cy], [cx, cy], [-cx, cy]].map(([x, y]) => applySimilarity(back, x, y));
    const fromX = max(0, floor(min(...corners.map((p) => p[0])) + cx + this.left)), toX = min(width - 1, floor(max(...corners.map((p) => p[0])) + cx + this.left) + 1);
    const fromY = max(0, floor(min(...corners.map((p) => p[1])) + cy + this.top)), toY = min(height - 1, floor(max(...corners.map((p) => p[1])) + cy + this.top) + 1);
    const c = pose.scale * cos(pose.rotation), s = pose.scale * sin(pose.rotation);
    for (let y = fromY; y <= toY; y++) {
      const [u0, v0] = applySimilarity(pose, fromX - cx - this.left, y - cy - this.top);
      let u = u0 + cx, v = v0 + cy;
      for (let x = fromX, p = y * width + fromX; x <= toX; x++, p++, u += c, v += s) {
        if (!(u >= 0 && v >= 0 && u < size.width && v < size.height)) continue;
        const i = u | 0, j = v | 0;
        const fx = u - i, fy = v - j;
        // The frame's own last row and column count when it lies on them.
        if ((i + 1 >= size.width || j + 1 >= size.height) && !(fx < 0.01 && fy < 0.01)) continue;
        const o = j * size.width + i, o1 = i + 1 < size.width ? o + 1 : o, q = j + 1 < size.height ? o + size.width : o, q1 = q + (o1 - o);
        if (free !== null && (free[o] === 0 || free[o1] === 0 || free[q] === 0 || free[q1] === 0)) continue;
        const value = gain * ((1 - fy) * ((1 - fx) * luma[o] + fx * luma[o1]) + fy * ((1 - fx) * luma[q] + fx * luma[q1]));
        const k = min(size.colourHeight - 1, j >> 1) * size.colourWidth + min(size.colourWidth - 1, i >> 1);
        const n = weight[p] + 1, share = n * FOLLOW > 1 ? FOLLOW : 1 / n;
        l[p] += share * (value - l[p]);
        b[p] += share * (blue[k] - b[p]);
        r[p] += share * (red[k] - r[p]);
        weight[p] = n;
      }
    }
  }

  /** Takes in a frame at the first picture's own place. */
  private addStraight({ luma, blue, red }: SmallPicture, free: Uint8Array | null, gain: number): void {
    const { size, width, planes: [l, b, r], weight } = this;
    for (let y = 0, o = 0; y < size.height; y++) {
      const row = min(size.colourHeight - 1, y >> 1) * size.colourWidth;
      for (let x = 0, p = (y + this.top) * width + this.left; x < size.width; x++, o++, p++) {
        if (free !== null && free[o] === 0) continue;
        const k = row + (x >> 1), n = weight[p] + 1, share = n * FOLLOW > 1 ? FOLLOW : 1 / n;
        l[p] += share * (gain * luma[o] - l[p]);
        b[p] += share * (blue[k] - b[p]);
        r[p] += share * (red[k] - r[p]);
        weight[p] = n;
      }
    }
  }
}
