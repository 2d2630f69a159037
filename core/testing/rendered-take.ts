import { pictureOf, type Picture } from '../base/image/picture';
import { toCode, toLight, type Transfer } from '../base/image/transfer';
import { seededNormal } from '../base/numeric/random';
import { RandomTexture } from './rendered-scene';

/** A take whose truth is known: a textured wall in changing light, and somebody who crosses it with a shadow. */
export interface TakeOptions {
  width: number;
  height: number;
  frames: number;
  seed: number;
  /** Grain in levels. */
  grain: number;
  /** Mean brightness of the wall, code value, and contrast of its texture. */
  level?: number;
  contrast?: number;
  curve?: Transfer;
  /** Stops of light at a frame. */
  light?: (frame: number) => number;
  /** Stops of red and of blue beside green at a frame. */
  white?: (frame: number) => [number, number];
  /** Where somebody is: centre and half size in pixels (an ellipse), or null. */
  body?: (frame: number) => { x: number; y: number; rx: number; ry: number } | null;
  /** Light of the body's coat, 1 for as bright as the wall; 0.45 by default. Its colour is another in any case. */
  coat?: number;
  /** Light that the shadow takes, 0 to 1. */
  shadow?: number;
  /** Light of a part of the picture that moves by itself. */
  restless?: (frame: number, x: number, y: number) => number;
}

const CODES = 4096;
const { ceil, floor, max, min, round, sqrt } = Math;
const tables = new Map<Transfer, { light: Float32Array; code: Float32Array }>();

function tableOf(curve: Transfer) {
  let t = tables.get(curve);
  if (!t) {
    t = {
      light: Float32Array.from({ length: 256 }, (_, v) => toLight(curve, v / 255)),
      code: Float32Array.from({ length: CODES + 1 }, (_, k) => 255 * toCode(curve, (k / CODES) ** 2)),
    };
    tables.set(curve, t);
  }
  return t;
}

interface Wall {
  /** Light of the wall at every pixel. */
  back: Float32Array;
  coat: RandomTexture;
  grain: Float32Array;
  light: Float32Array;
  code: Float32Array;
}

/** Renders the frames one after the other; gives for each the picture and the share of it that the body covers. */
export function* renderTake(o: TakeOptions): Generator<{ picture: Picture; area: number }> {
  const { width, height } = o;
  const { light, code } = tableOf(o.curve ?? 'srgb');
  const texture = new RandomTexture(o.seed, 9, o.contrast ?? 26),
    coat = new RandomTexture(o.seed + 77, 6, 22);
  const back = new Float32Array(width * height);
  const line = new Float64Array(width);
  for (let y = 0, i = 0; y < height; y++) {
    texture.along(0, y, 1, line);
    for (let x = 0; x < width; x++, i++) back[i] = light[max(4, min(250, round(line[x] - 118 + (o.level ?? 118))))];
  }
  const normal = seededNormal(o.seed * 31 + 5);
  const grain = Float32Array.from({ length: 1 << 16 }, normal);
  for (let f = 0; f < o.frames; f++) yield renderOne(o, { back, coat, grain, light, code }, f);
}

/** A frame's light and colour of the body and its shadow: red, green and blue of a pixel come from these. */
interface Paint {
  /** Light of every pixel. */
  value: Float32Array;
  /** Share of every pixel that the body covers; null where nobody is. */
  covered: Float32Array | null;
  area: number;
}

function renderOne(o: TakeOptions, wall: Wall, f: number): { picture: Picture; area: number } {
  const { width, height } = o;
  const paint = paintBody(o, wall, f);
  const [red, blue] = o.white?.(f) ?? [0, 0];
  const w2 = ceil(width / 2),
    h2 = ceil(height / 2);
  const luma = new Uint8Array(width * height),
    cb = new Uint8Array(w2 * h2),
    cr = new Uint8Array(w2 * h2);
  const gains = { all: 2 ** (o.light?.(f) ?? 0), red: red ? 2 ** red : 1, blue: blue ? 2 ** blue : 1 };
  for (let y = 0; y < height; y++) develop(y, o, wall, paint, gains, (f * 7919 + y * width) & 0xffff, luma, cb, cr);
  const picture = pictureOf(
    { width, height, data: luma },
    { blue: { width: w2, height: h2, data: cb }, red: { width: w2, height: h2, data: cr } },
  );
  return { picture, area: paint.area / (width * height) };
}

function paintBody(o: TakeOptions, { back, coat, light }: Wall, f: number): Paint {
  const { width, height, restless, shadow } = o;
  const body = o.body?.(f) ?? null;
  const value = back.slice();
  if (restless) for (let i = 0; i < value.length; i++) value[i] *= restless(f, i % width, floor(i / width));
  if (!body) return { value, covered: null, area: 0 };
  const covered = new Float32Array(value.length);
  let area = 0;
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      if (shadow) {
        const p = (x - body.x - 0.6 * body.rx) / (1.8 * body.rx),
          q = (y - body.y - body.ry) / (0.16 * body.ry);
        const d = p * p + q * q;
        if (d < 1.21) value[i] *= 1 - shadow * max(0, min(1, 4 * (1.1 - sqrt(d))));
      }
      const p = (x - body.x) / body.rx,
        q = (y - body.y) / body.ry,
        d = p * p + q * q;
      if (d > 1.5) continue;
      const c = max(0, min(1, (1 - sqrt(d)) * min(body.rx, body.ry) + 0.5));
      if (c === 0) continue;
      area += c;
      covered[i] = c;
      const cloth = light[max(0, min(255, round(coat.at(x - body.x + 400, y - body.y + 400))))];
      value[i] += c * ((o.coat ?? 0.45) * cloth - value[i]);
    }
  }
  return { value, covered, area };
}

/** One line of the picture as a camera would write it, with grain; `n` is where its grain begins. */
function develop(
  y: number,
  o: TakeOptions,
  { code, grain }: Wall,
  { value, covered }: Paint,
  gains: { all: number; red: number; blue: number },
  n: number,
  luma: Uint8Array,
  cb: Uint8Array,
  cr: Uint8Array,
): void {
  const { width } = o;
  const w2 = ceil(width / 2);
  for (let x = 0, i = y * width; x < width; x++, i++) {
    const v = value[i] * gains.all,
      c = covered ? covered[i] : 0;
    const r = gains.red * (1 + 0.25 * c),
      b = gains.blue * (1 - 0.3 * c);
    const g = code[min(CODES, (CODES * sqrt(v) + 0.5) | 0)];
    const rr = r === 1 ? g : code[min(CODES, (CODES * sqrt(v * r) + 0.5) | 0)],
      bb = b === 1 ? g : code[min(CODES, (CODES * sqrt(v * b) + 0.5) | 0)];
    const yy = r === 1 && b === 1 ? g : 0.2126 * rr + 0.7152 * g + 0.0722 * bb;
    luma[i] = level(yy + o.grain * grain[(n = (n + 1) & 0xffff)]);
    if (!(x & 1) && !(y & 1)) {
      const k = (y >> 1) * w2 + (x >> 1);
      cb[k] = level(128 + (bb - yy) / 1.8556 + 0.4 * o.grain * grain[(n + 999) & 0xffff]);
      cr[k] = level(128 + (rr - yy) / 1.5748 + 0.4 * o.grain * grain[(n + 5555) & 0xffff]);
    }
  }
}

/** The nearest level of 0 to 255; rounding by truncation is several times faster than the library's. */
function level(v: number): number {
  return max(0, min(255, (v + 0.5) | 0));
}
