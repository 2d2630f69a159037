import type { Similarity } from '../geometry/similarity';
import { applySimilarity, invertSimilarity } from '../geometry/similarity';
import type { Plane } from '../image/plane';
import { seededNormal, seededRandom } from '../numeric/random';

const { floor, max, min, round } = Math;

/** A smooth random picture that can be looked up anywhere: the ground truth for tests of movement. */
export class RandomTexture {
  private readonly size = 512;
  private readonly values: Float32Array;

  /** @param blotch size of the finest detail, in pixels */
  constructor(
    seed: number,
    private readonly blotch: number,
    private readonly contrast: number,
  ) {
    const random = seededRandom(seed);
    this.values = Float32Array.from({ length: this.size * this.size }, () => random() * 2 - 1);
  }

  /** Grey level at (x, y): three sizes of detail, each interpolated by the cubic B-spline. */
  at(x: number, y: number): number {
    return (
      118 +
      this.contrast *
        (this.octave(x / this.blotch, y / this.blotch) +
          1.2 * this.octave(x / this.blotch / 2.7 + 91, y / this.blotch / 2.7 + 17) +
          1.5 * this.octave(x / this.blotch / 7.3 + 33, y / this.blotch / 7.3 + 71))
    );
  }

  private octave(u: number, v: number): number {
    const i = floor(u),
      j = floor(v);
    const mask = this.size - 1;
    const fx = u - i,
      fy = v - j;
    const a0 = outer(fx),
      a1 = inner(fx),
      a2 = inner(1 - fx),
      a3 = outer(1 - fx);
    const x0 = (i - 1) & mask,
      x1 = i & mask,
      x2 = (i + 1) & mask,
      x3 = (i + 2) & mask;
    let sum = 0;
    for (let q = 0; q < 4; q++) {
      const row = ((j - 1 + q) & mask) * this.size;
      const { values } = this;
      const across = a0 * values[row + x0] + a1 * values[row + x1] + a2 * values[row + x2] + a3 * values[row + x3];
      sum += (q === 0 ? outer(fy) : q === 1 ? inner(fy) : q === 2 ? inner(1 - fy) : outer(1 - fy)) * across;
    }
    return sum;
  }
}

/** The cubic B-spline's outer and inner tap at fraction `f`. */
function outer(f: number): number {
  const g = 1 - f;
  return (g * g * g) / 6;
}

function inner(f: number): number {
  return (4 - 6 * f * f + 3 * f * f * f) / 6;
}

export interface SceneOptions {
  width: number;
  height: number;
  background: RandomTexture;
  /** Standard deviation of grain, in levels. */
  grain: number;
  seed: number;
  /** Something in front, in frame pixels: where it is at a frame, and its own texture. */
  mover?: { texture: RandomTexture; at: (frame: number) => { x: number; y: number; width: number; height: number } };
  /** Extra movement of parts of the background (foliage), in pixels, at a place of the frame. */
  wind?: (frame: number, x: number, y: number) => [number, number];
  /** Brightness factor at a frame. */
  light?: (frame: number) => number;
}

/** Renders frame `frame` of a scene whose camera has moved by `pose` against the first frame. */
export function renderFrame(options: SceneOptions, pose: Similarity, frame: number): Plane {
  const { width, height, background, mover, wind } = options;
  const data = new Uint8Array(width * height);
  const back = invertSimilarity(pose);
  const random = seededRandom(options.seed * 1000 + frame);
  const light = options.light?.(frame) ?? 1;
  const box = mover?.at(frame);
  const cx = (width - 1) / 2;
  const cy = (height - 1) / 2;
  const still = pose.dx === 0 && pose.dy === 0 && pose.rotation === 0 && pose.scale === 1 && !wind;
  const kept = still ? stillBackground(options) : null;
  for (let y = 0; y < height; y++) {
    let n = floor(random() * GRAIN.length);
    for (let x = 0; x < width; x++) {
      let v: number;
      if (mover && box && x >= box.x && x < box.x + box.width && y >= box.y && y < box.y + box.height) {
        v = mover.texture.at(x - box.x, y - box.y);
      } else if (kept) {
        v = kept[y * width + x];
      } else {
        let [u, w] = applySimilarity(back, x - cx, y - cy);
        if (wind) {
          const [a, b] = wind(frame, u + cx, w + cy);
          u += a;
          w += b;
        }
        v = background.at(u + 300, w + 300);
      }
      data[y * width + x] = max(0, min(255, round(v * light + options.grain * GRAIN[n++ & (GRAIN.length - 1)])));
    }
  }
  return { width, height, data };
}

const GRAIN = Float32Array.from({ length: 1 << 16 }, seededNormal(77));
let kept: { options: SceneOptions; values: Float32Array } | null = null;

/** The background where nothing moves, rendered once for a scene. */
function stillBackground(options: SceneOptions): Float32Array {
  if (kept?.options === options) return kept.values;
  const { width, height, background } = options;
  const values = new Float32Array(width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      values[y * width + x] = background.at(x - (width - 1) / 2 + 300, y - (height - 1) / 2 + 300);
  kept = { options, values };
  return values;
}
