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
    for (let y = 0, o = 0; y < size.height; y++) {
      const [u0, v0] = applySimilarity(back, -cx, y - cy);
      let u = u0 + cx + this.left, v = v0 + cy + this.top;
      for (let x = 0; x < size.width; x++, o++, u += c, v += s) {
        const i = floor(u), j = floor(v);
        view.known[o] = 0;
        if (i < 0 || j < 0 || i >= width || j >= height) continue;
        const fx = u - i, fy = v - j;
        const p = j * width + i, right = i + 1 < width ? 1 : 0, below = j + 1 < height ? width : 0;
        const a0 = weight[p] > 0 ? (1 - fx) * (1 - fy) : 0, a1 = weight[p + right] > 0 ? fx * (1 - fy) : 0;
        const a2 = weight[p + below] > 0 ? (1 - fx) * fy : 0, a3 = weight[p + right + below] > 0 ? fx * fy : 0;
        const sum = a0 + a1 + a2 + a3;
        if (sum < 0.5) continue;
        view.known[o] = 1;
        view.luma[o] = (a0 * l[p] + a1 * l[p + right] + a2 * l[p + below] + a3 * l[p + right + below]) / sum;
        if (!colour) continue;
        view.blue[o] = (a0 * b[p] + a1 * b[p + right] + a2 * b[p + below] + a3 * b[p + right + below]) / sum;
        view.red[o] = (a0 * r[p] + a1 * r[p + right] + a2 * r[p + below] + a3 * r[p + right + below]) / sum;
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
    const [l, b, r] = planes;
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
        const i = floor(u), j = floor(v);
        if (i < 0 || j < 0 || i + 1 >= size.width || j + 1 >= size.height) {
          // The frame's own last row and column, when it lies on them.
          if (!(i >= 0 && j >= 0 && i < size.width && j < size.height && u - i < 0.01 && v - j < 0.01)) continue;
        }
        const o = j * size.width + i, right = i + 1 < size.width ? 1 : 0, below = j + 1 < size.height ? size.width : 0;
        if (free && !(free[o] && free[o + right] && free[o + below] && free[o + right + below])) continue;
        const fx = u - i, fy = v - j;
        const value = gain * ((1 - fy) * ((1 - fx) * picture.luma[o] + fx * picture.luma[o + right]) + fy * ((1 - fx) * picture.luma[o + below] + fx * picture.luma[o + right + below]));
        const k = min(size.colourHeight - 1, j >> 1) * size.colourWidth + min(size.colourWidth - 1, i >> 1);
        const n = weight[p] + 1;
        const share = max(FOLLOW, 1 / n);
        l[p] += share * (value - l[p]);
        b[p] += share * (picture.blue[k] - b[p]);
        r[p] += share * (picture.red[k] - r[p]);
        weight[p] = n;
      }
    }
  }
}
