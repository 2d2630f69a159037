import type { Matrix } from '../../base/image/picture';
import type { Background } from '../../scene/background';
import type { SteadyPicture } from '../../scene/steady-reader';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { floor, min } = Math;

/** How red and blue stand to green against the background, in stops. */
export interface WhiteReading {
  red: number;
  blue: number;
}

const STEP = 5;
const LEAST_PLACES = 30;
/** A colour below or above these code values is black or burnt out. */
const DARKEST = 12;
const BRIGHTEST = 248;

/** Reads the white of pictures against a background. */
export class WhiteGauge {
  /** Pixels that can be read, and their colours' place in the half-size planes. */
  private readonly places: Int32Array;
  private readonly colours: Int32Array;
  /** The background's red and blue over green there, stops. */
  private readonly red: Float32Array;
  private readonly blue: Float32Array;
  private readonly ratios = { red: 0, blue: 0 };
  private readonly green: number;

  constructor(
    background: Background,
    private readonly stops: Float32Array,
    private readonly matrix: Matrix,
  ) {
    this.green = 1 - matrix.red - matrix.blue;
    const { width, height, colourWidth, colourHeight, luma, restless, known } = background;
    const places: number[] = [],
      colours: number[] = [],
      red: number[] = [],
      blue: number[] = [];
    for (let c = 0; c < colourWidth * colourHeight; c += STEP) {
      const cx = c % colourWidth,
        cy = (c - cx) / colourWidth;
      const i = min(height - 1, 2 * cy) * width + min(width - 1, 2 * cx);
      if (
        restless[i] ||
        !known[i] ||
        luma[i] < 35 ||
        luma[i] > 225 ||
        !this.readRatios(luma[i], background.blue[c] - 128, background.red[c] - 128)
      )
        continue;
      places.push(i);
      colours.push(c);
      red.push(this.ratios.red);
      blue.push(this.ratios.blue);
    }
    this.places = Int32Array.from(places);
    this.colours = Int32Array.from(colours);
    this.red = Float32Array.from(red);
    this.blue = Float32Array.from(blue);
  }

  /** The white of a picture on the pixels in which nobody stands (strength up to `bound`); null when too few. */
  read(picture: SteadyPicture, strength: Float32Array, bound: number): WhiteReading | null {
    const { places, colours, ratios } = this;
    let red = 0,
      blue = 0,
      n = 0;
    for (let k = 0; k < places.length; k++) {
      const i = places[k],
        c = colours[k];
      if (strength[i] > bound || (picture.seen && !picture.seen[i])) continue;
      if (!this.readRatios(picture.luma[i], picture.blue[c] - 128, picture.red[c] - 128)) continue;
      red += ratios.red - this.red[k];
      blue += ratios.blue - this.blue[k];
      n++;
    }
    return n >= LEAST_PLACES ? { red: red / n, blue: blue / n } : null;
  }

  /** Leaves red over green and blue over green, stops, in `ratios`; false where a colour is black or burnt out. */
  private readRatios(y: number, cb: number, cr: number): boolean {
    const { matrix, stops, green, ratios } = this;
    const r = y + 2 * (1 - matrix.red) * cr,
      b = y + 2 * (1 - matrix.blue) * cb;
    const g = (y - matrix.red * r - matrix.blue * b) / green;
    if (r < DARKEST || g < DARKEST || b < DARKEST || r > BRIGHTEST || g > BRIGHTEST || b > BRIGHTEST) return false;
    const base = inside(stops, g);
    ratios.red = inside(stops, r) - base;
    ratios.blue = inside(stops, b) - base;
    return true;
  }
}

/** A table's value between two of its entries; the place lies well inside. */
function inside(table: Float32Array, v: number): number {
  const i = floor(v);
  return table[i] + (v - i) * (table[i + 1] - table[i]);
}
