import { pictureOf, type Picture } from '../image/picture';
import { toCode, toLight, type Transfer } from '../image/transfer';
import { seededNormal } from '../numeric/random';
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
const { ceil, max, min, round, sqrt } = Math;
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

/** Renders the frames one after the other; gives for each the picture and the share of it that the body covers. */
export function* renderTake(o: TakeOptions): Generator<{ picture: Picture; area: number }> {
  const { width, height, restless, shadow } = o;
  const { light, code } = tableOf(o.curve ?? 'srgb');
  const wall = new RandomTexture(o.seed, 9, o.contrast ?? 26),
    coat = new RandomTexture(o.seed + 77, 6, 22);
  const back = new Float32Array(width * height);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++)
      back[i] = light[max(4, min(250, round(wall.at(x, y) - 118 + (o.level ?? 118))))];
  const normal = seededNormal(o.seed * 31 + 5);
  const grain = Float32Array.from({ length: 1 << 16 }, normal);
  const w2 = ceil(width / 2),
    h2 = ceil(height / 2);
  for (let f = 0; f < o.frames; f++) {
    const gain = 2 ** (o.light?.(f) ?? 0);
    const [red, blue] = o.white?.(f) ?? [0, 0];
    const gainRed = red ? 2 ** red : 1,
      gainBlue = blue ? 2 ** blue : 1;
    const body = o.body?.(f) ?? null;
    const luma = new Uint8Array(width * height),
      cb = new Uint8Array(w2 * h2),
      cr = new Uint8Array(w2 * h2);
    let area = 0;
    let n = (f * 7919) & 0xffff;
    for (let y = 0, i = 0; y < height; y++) {
      for (let x = 0; x < width; x++, i++) {
        let v = restless ? back[i] * restless(f, x, y) : back[i];
        let r = gainRed,
          b = gainBlue;
        if (body) {
          if (shadow) {
            const p = (x - body.x - 0.6 * body.rx) / (1.8 * body.rx),
              q = (y - body.y - body.ry) / (0.16 * body.ry);
            const d = p * p + q * q;
            if (d < 1.21) v *= 1 - shadow * max(0, min(1, 4 * (1.1 - sqrt(d))));
          }
          const p = (x - body.x) / body.rx,
            q = (y - body.y) / body.ry,
            d = p * p + q * q;
          const covered = d > 1.5 ? 0 : max(0, min(1, (1 - sqrt(d)) * min(body.rx, body.ry) + 0.5));
          if (covered > 0) {
            area += covered;
            v +=
              covered *
              ((o.coat ?? 0.45) * light[max(0, min(255, round(coat.at(x - body.x + 400, y - body.y + 400))))] - v);
            r *= 1 + 0.25 * covered;
            b *= 1 - 0.3 * covered;
          }
        }
        v *= gain;
        const g = code[min(CODES, round(CODES * sqrt(v)))];
        const rr = r === 1 ? g : code[min(CODES, round(CODES * sqrt(v * r)))],
          bb = b === 1 ? g : code[min(CODES, round(CODES * sqrt(v * b)))];
        const yy = r === 1 && b === 1 ? g : 0.2126 * rr + 0.7152 * g + 0.0722 * bb;
        luma[i] = max(0, min(255, round(yy + o.grain * grain[(n = (n + 1) & 0xffff)])));
        if (!(x & 1) && !(y & 1)) {
          const c = (y >> 1) * w2 + (x >> 1);
          cb[c] = max(0, min(255, round(128 + (bb - yy) / 1.8556 + 0.4 * o.grain * grain[(n + 999) & 0xffff])));
          cr[c] = max(0, min(255, round(128 + (rr - yy) / 1.5748 + 0.4 * o.grain * grain[(n + 5555) & 0xffff])));
        }
      }
    }
    yield {
      picture: pictureOf(
        { width, height, data: luma },
        { blue: { width: w2, height: h2, data: cb }, red: { width: w2, height: h2, data: cr } },
      ),
      area: area / (width * height),
    };
  }
}
