import { betweenPixels } from '../image/between-pixels';
import { stopsTable, type Transfer } from '../image/transfer';
import type { Background } from '../scene/background';
import { relight } from '../scene/gauge';
import type { Figure } from './figures';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { floor, max, min, sqrt } = Math;

/** Where somebody is in one frame: rows of y, first x, last x and kind. */
export type Outline = Pick<Figure, 'rows'>;

/** The empty picture as finely as figures are outlined, in the light of the reference. */
export interface FineBackground {
  luma: Float32Array;
  /** Spread of a pixel in light that does not change, levels. */
  sigma: Float32Array;
}

export interface FineFrames {
  width: number;
  height: number;
  count: number;
  /** A frame's picture as it lies on the reference frame, valid until the next call; null where that is not known. */
  read: (frame: number) => Uint8Array | null;
  /** Fine pixels for one small pixel. */
  ratio: number;
}

/** So many frames say what the empty picture is. */
const LOOKS = 50;
/** A pixel must be seen free in so many of them. */
const LEAST_FREE = 3;
const LEAST_SIGMA = 0.7;
/** What was told from small pixels is known that much worse. */
const UNSURE = 1.6;
/** Free is what lies at least so many small pixels from anybody. */
const AWAY = 2;

/**
 * The mean of each pixel over frames in which nobody is near it; where somebody always is, what the small background
 * has there.
 */
export function fineBackground(
  frames: FineFrames,
  figures: readonly (readonly Outline[] | null)[],
  light: readonly (number | null)[],
  small: Background,
  curve: Transfer,
): FineBackground {
  const { width, height, count, ratio } = frames;
  const pixels = width * height;
  const sum = new Float32Array(pixels),
    squares = new Float32Array(pixels),
    seen = new Uint16Array(pixels);
  const stops = stopsTable(curve);
  const near = new Uint8Array(small.width * small.height);
  const step = max(1, count / LOOKS);
  for (let k = 0; k < count; k += step) {
    const f = floor(k);
    const all = figures[f],
      stop = light[f];
    if (!all || stop === null) continue;
    const picture = frames.read(f);
    if (!picture) continue;
    const table = relight(stops, -stop);
    markNear(all, small.width, small.height, near);
    for (let y = 0, i = 0; y < height; y++) {
      const row = min(small.height - 1, floor((y + 0.5) / ratio)) * small.width;
      for (let x = 0; x < width; x++, i++) {
        if (near[row + min(small.width - 1, floor((x + 0.5) / ratio))]) continue;
        const v = table[picture[i]];
        sum[i] += v;
        squares[i] += v * v;
        seen[i]++;
      }
    }
  }
  const luma = new Float32Array(pixels),
    sigma = new Float32Array(pixels);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      if (seen[i] >= LEAST_FREE) {
        luma[i] = sum[i] / seen[i];
        sigma[i] = max(LEAST_SIGMA, sqrt(max(0, squares[i] / seen[i] - luma[i] ** 2)));
      } else {
        const u = (x + 0.5) / ratio - 0.5,
          v = (y + 0.5) / ratio - 0.5;
        luma[i] = betweenPixels(small.luma, small.width, small.height, u, v);
        sigma[i] = max(LEAST_SIGMA, UNSURE * betweenPixels(small.sigma, small.width, small.height, u, v));
      }
    }
  return { luma, sigma };
}

/** 1 for small pixels in or near somebody. */
function markNear(figures: readonly Outline[], width: number, height: number, out: Uint8Array): void {
  out.fill(0);
  for (const { rows } of figures)
    for (let k = 0; k < rows.length; k += 4)
      for (let y = max(0, rows[k] - AWAY); y <= min(height - 1, rows[k] + AWAY); y++)
        out.fill(1, y * width + max(0, rows[k + 1] - AWAY), y * width + min(width - 1, rows[k + 2] + AWAY) + 1);
}
