import type { Matrix } from '../image/picture';
import type { Background } from '../scene/background';
import { between } from '../scene/gauge';
import type { SteadyPicture } from '../scene/steady-reader';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { min } = Math;

/** How red and blue stand to green against the background, in stops. */
export interface WhiteReading { red: number; blue: number }

const STEP = 5;

/** Reads the white of a picture on the pixels in which nobody stands (strength below `bound`); null when too few. */
export function readWhite(picture: SteadyPicture, background: Background, strength: Float32Array, bound: number, stops: Float32Array, matrix: Matrix): WhiteReading | null {
  const { width, height, colourWidth, colourHeight, luma, restless } = background;
  const green = 1 - matrix.red - matrix.blue;
  let red = 0, blue = 0, n = 0;
  for (let c = 0; c < colourWidth * colourHeight; c += STEP) {
    const cx = c % colourWidth, cy = (c - cx) / colourWidth;
    const x = min(width - 1, 2 * cx), y = min(height - 1, 2 * cy);
    const i = y * width + x;
    if (strength[i] > bound || restless[i] || luma[i] < 35 || luma[i] > 225 || (picture.seen && !picture.seen[i])) continue;
    const before = ratios(luma[i], background.blue[c] - 128, background.red[c] - 128, stops, matrix, green);
    const now = ratios(picture.luma[i], picture.blue[c] - 128, picture.red[c] - 128, stops, matrix, green);
    if (!before || !now) continue;
    red += now.red - before.red;
    blue += now.blue - before.blue;
    n++;
  }
  return n >= 30 ? { red: red / n, blue: blue / n } : null;
}

/** Red over green and blue over green in stops; null where a colour is black or burnt out. */
function ratios(y: number, cb: number, cr: number, stops: Float32Array, matrix: Matrix, green: number): WhiteReading | null {
  const r = y + 2 * (1 - matrix.red) * cr, b = y + 2 * (1 - matrix.blue) * cb;
  const g = (y - matrix.red * r - matrix.blue * b) / green;
  if (r < 12 || g < 12 || b < 12 || r > 248 || g > 248 || b > 248) return null;
  const base = between(stops, g);
  return { red: between(stops, r) - base, blue: between(stops, b) - base };
}
