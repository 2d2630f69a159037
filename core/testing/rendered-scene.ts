import type { Similarity } from '../base/geometry/similarity';
import { applySimilarity, invertSimilarity } from '../base/geometry/similarity';
import type { Plane } from '../base/image/plane';
import { seededNormal, seededRandom } from '../base/numeric/random';

const { ceil, floor, max, min } = Math;

const TABLE = 512;
const FAR = 1 << 20;
const tables = new Map<number, Float32Array>();

/** The random numbers of a seed, drawn once: scenes are often described anew for every frame. */
function tableOf(seed: number): Float32Array {
  let table = tables.get(seed);
  if (!table) {
    table = new Float32Array(TABLE * TABLE);
    const random = seededRandom(seed);
    for (let i = 0; i < table.length; i++) table[i] = random() * 2 - 1;
    if (tables.size > 20) tables.clear();
    tables.set(seed, table);
  }
  return table;
}

/** A smooth random picture that can be looked up anywhere: the ground truth for tests of movement. */
export class RandomTexture {
  private readonly values: Float32Array;

  /** @param blotch size of the finest detail, in pixels */
  constructor(
    seed: number,
    private readonly blotch: number,
    private readonly contrast: number,
  ) {
    this.values = tableOf(seed);
  }

  /** Grey level at (x, y): three sizes of detail, each interpolated by the cubic B-spline. */
  at(x: number, y: number): number {
    const { values } = this;
    const u = x / this.blotch,
      v = y / this.blotch;
    return (
      118 +
      this.contrast *
        (octave(values, u, v) +
          1.2 * octave(values, u / 2.7 + 91, v / 2.7 + 17) +
          1.5 * octave(values, u / 7.3 + 33, v / 7.3 + 71))
    );
  }

  /** Grey levels along a line of the picture, from (x, y) on in steps of `step` to the right: as `at`, but faster. */
  along(x: number, y: number, step: number, out: Float64Array): void {
    const { values } = this;
    const u = x / this.blotch,
      v = y / this.blotch,
      s = step / this.blotch;
    out.fill(118);
    addOctave(values, u, v, s, this.contrast, out);
    addOctave(values, u / 2.7 + 91, v / 2.7 + 17, s / 2.7, 1.2 * this.contrast, out);
    addOctave(values, u / 7.3 + 33, v / 7.3 + 71, s / 7.3, 1.5 * this.contrast, out);
  }
}

/** Adds one size of detail along a line: across it is blended once for every place of the table. */
function addOctave(values: Float32Array, u: number, v: number, step: number, weight: number, out: Float64Array): void {
  const mask = TABLE - 1;
  const j = ((v + FAR) | 0) - FAR,
    from = ((u + FAR) | 0) - FAR - 1;
  const f = v - j;
  const b0 = weight * outer(f),
    b1 = weight * inner(f),
    b2 = weight * inner(1 - f),
    b3 = weight * outer(1 - f);
  const r0 = ((j - 1) & mask) * TABLE,
    r1 = (j & mask) * TABLE,
    r2 = ((j + 1) & mask) * TABLE,
    r3 = ((j + 2) & mask) * TABLE;
  const line = new Float64Array(ceil(out.length * step) + 5);
  for (let k = 0; k < line.length; k++) {
    const c = (from + k) & mask;
    line[k] = b0 * values[r0 + c] + b1 * values[r1 + c] + b2 * values[r2 + c] + b3 * values[r3 + c];
  }
  for (let x = 0; x < out.length; x++) {
    const at = u - from + x * step,
      i = at | 0,
      g = at - i;
    out[x] += outer(g) * line[i - 1] + inner(g) * line[i] + inner(1 - g) * line[i + 1] + outer(1 - g) * line[i + 2];
  }
}

function octave(values: Float32Array, u: number, v: number): number {
  // Rounding down by truncation is several times faster than the library's.
  const i = ((u + FAR) | 0) - FAR,
    j = ((v + FAR) | 0) - FAR;
  const mask = TABLE - 1;
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
  const r0 = ((j - 1) & mask) * TABLE,
    r1 = (j & mask) * TABLE,
    r2 = ((j + 1) & mask) * TABLE,
    r3 = ((j + 2) & mask) * TABLE;
  return (
    outer(fy) * (a0 * values[r0 + x0] + a1 * values[r0 + x1] + a2 * values[r0 + x2] + a3 * values[r0 + x3]) +
    inner(fy) * (a0 * values[r1 + x0] + a1 * values[r1 + x1] + a2 * values[r1 + x2] + a3 * values[r1 + x3]) +
    inner(1 - fy) * (a0 * values[r2 + x0] + a1 * values[r2 + x1] + a2 * values[r2 + x2] + a3 * values[r2 + x3]) +
    outer(1 - fy) * (a0 * values[r3 + x0] + a1 * values[r3 + x1] + a2 * values[r3 + x2] + a3 * values[r3 + x3])
  );
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
  const level = pose.rotation === 0 && !wind;
  const still = pose.dx === 0 && pose.dy === 0 && level && pose.scale === 1;
  const kept = still ? stillBackground(options) : null;
  const line = new Float64Array(width);
  for (let y = 0; y < height; y++) {
    if (level && !kept) {
      const [u, w] = applySimilarity(back, -cx, y - cy);
      background.along(u + 300, w + 300, back.scale, line);
    }
    let n = floor(random() * GRAIN.length);
    for (let x = 0; x < width; x++) {
      let v: number;
      if (mover && box && x >= box.x && x < box.x + box.width && y >= box.y && y < box.y + box.height) {
        v = mover.texture.at(x - box.x, y - box.y);
      } else if (kept) {
        v = kept[y * width + x];
      } else if (level) {
        v = line[x];
      } else {
        let [u, w] = applySimilarity(back, x - cx, y - cy);
        if (wind) {
          const [a, b] = wind(frame, u + cx, w + cy);
          u += a;
          w += b;
        }
        v = background.at(u + 300, w + 300);
      }
      data[y * width + x] = max(0, min(255, (v * light + options.grain * GRAIN[n++ & (GRAIN.length - 1)] + 0.5) | 0));
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
  const line = new Float64Array(width);
  for (let y = 0; y < height; y++) {
    background.along(300 - (width - 1) / 2, y - (height - 1) / 2 + 300, 1, line);
    values.set(line, y * width);
  }
  kept = { options, values };
  return values;
}
