import { maskOf } from '../presence/kinds';
import { toLight, type Transfer } from '../base/image/transfer';
import { boxMean } from '../base/image/regions';
import { BODY, SHADOW } from '../presence/shade';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { floor, max, min, round } = Math;

export interface CutoutInput {
  /** Red, green, blue. */
  data: Uint8Array | Uint16Array;
  most: 255 | 65535;
  width: number;
  height: number;
  /** Luma of the picture and of the empty one, levels of 255. */
  luma: Float32Array;
  behind: Float32Array;
  kinds: Uint8Array;
  gridWidth: number;
  factor: number;
  curve: Transfer;
}

/** Depth of a shadow is the mean over so many pixels to each side. */
const AROUND = 3;

/**
 * A figure cut out of its picture, at the picture's size: the figure opaque, its shadow black, as opaque as the light it
 * takes is of all there is, in linear light. Red, green, blue, alpha.
 */
export function cutOut(input: CutoutInput): Uint8Array | Uint16Array {
  const { data, most, width, height, luma, behind, kinds, gridWidth, factor, curve } = input;
  const body = softened(kinds, BODY, gridWidth),
    shade = softened(kinds, SHADOW, gridWidth);
  const light = Float32Array.from({ length: 256 }, (_, v) => toLight(curve, v / 255));
  const code = (v: number) => light[max(0, min(255, round(v)))];
  const taken = Float32Array.from(luma, (v, i) => max(0, 1 - code(v) / max(1e-4, code(behind[i]))));
  const depth = boxMean(taken, width, height, AROUND, new Float32Array(taken.length));
  const out = most === 255 ? new Uint8Array(4 * luma.length) : new Uint16Array(4 * luma.length);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      const [gx, gy] = [(x + 0.5) / factor - 0.5, (y + 0.5) / factor - 0.5];
      const a = valueAt(body, gridWidth, gx, gy);
      const b = (1 - a) * valueAt(shade, gridWidth, gx, gy) * depth[i];
      const all = a + b;
      if (all <= 0) continue;
      // Over black: of the colour what the figure has of it.
      for (let c = 0; c < 3; c++) out[4 * i + c] = round((data[3 * i + c] * a) / all);
      out[4 * i + 3] = round(most * min(1, all));
    }
  return out;
}

/** A mask of one kind with edges that rise over two pixels of the grid. */
function softened(kinds: Uint8Array, kind: number, width: number): Float32Array {
  const mask = maskOf(kinds, kind);
  return boxMean(mask, width, floor(kinds.length / width), 1, new Float32Array(mask.length)).map((v) =>
    max(0, min(1, 1.6 * v - 0.3)),
  );
}

function valueAt(values: Float32Array, width: number, x: number, y: number): number {
  const height = floor(values.length / width);
  const c = max(0, min(width - 2, floor(x))),
    r = max(0, min(height - 2, floor(y)));
  const a = max(0, min(1, x - c)),
    b = max(0, min(1, y - r));
  const i = r * width + c;
  return (
    (values[i] * (1 - a) + values[i + 1] * a) * (1 - b) + (values[i + width] * (1 - a) + values[i + width + 1] * a) * b
  );
}
