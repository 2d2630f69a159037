import { median } from '../numeric/quantile';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { max, min } = Math;

/** A pixel is unlike the empty picture from so many levels in one colour on, and from so many standard deviations. */
const LEVELS = 14;
const SIGMAS = 5;
/** A shadow leaves at least this share of the light, in all colours alike to within the second share. */
const SHADE = 0.55;
const GREY = 0.09;
/** Of nine pixels so many must be unlike. */
const MOST = 5;

/** Marks where small colour pictures differ from an empty one, in its light; shadows that stay light are none of it. */
export class Unlike {
  private readonly raw: Uint8Array;
  private readonly columns: Uint8Array;
  private readonly grain: number;
  /** By how many levels of 1 the last picture was brighter than the empty one, in green. */
  gain = 1;

  /** @param empty red, green and blue of the empty picture  @param grain of one picture, levels */
  constructor(
    private readonly empty: Uint8Array,
    private readonly width: number,
    private readonly height: number,
    grain: number,
  ) {
    this.raw = new Uint8Array(width * height);
    this.columns = new Uint8Array(width + 2);
    this.grain = grain;
  }

  /** 1 where something is that the empty picture does not show. */
  mask(rgb: Uint8Array, out: Uint8Array): void {
    const { empty, raw, width, height } = this;
    const gains = [0, 1, 2].map((c) => gainOf(rgb, empty, c));
    this.gain = gains[1];
    const limit = max(LEVELS, SIGMAS * this.grain);
    const [red, green, blue] = gains;
    // Without arrays and calls: it is done for each pixel of each frame.
    for (let i = 0, k = 0; i < raw.length; i++, k += 3) {
      const r = empty[k] * red,
        g = empty[k + 1] * green,
        b = empty[k + 2] * blue;
      const dr = rgb[k] - r,
        dg = rgb[k + 1] - g,
        db = rgb[k + 2] - b;
      if (dr <= limit && dr >= -limit && dg <= limit && dg >= -limit && db <= limit && db >= -limit) {
        raw[i] = 0;
        continue;
      }
      if (dr > 0 || dg > 0 || db > 0) {
        raw[i] = 1;
        continue;
      }
      const pr = (rgb[k] + 8) / (r + 8),
        pg = (rgb[k + 1] + 8) / (g + 8),
        pb = (rgb[k + 2] + 8) / (b + 8);
      const least = pr < pg ? (pr < pb ? pr : pb) : pg < pb ? pg : pb,
        largest = pr > pg ? (pr > pb ? pr : pb) : pg > pb ? pg : pb;
      raw[i] = least > SHADE && largest - least < GREY ? 0 : 1;
    }
    // Three rows of each column, then three columns: what is beyond the picture counts as nothing.
    const { columns } = this;
    for (let y = 0; y < height; y++) {
      const [above, at, below] = [max(0, y - 1) * width, y * width, min(height - 1, y + 1) * width];
      for (let x = 0; x < width; x++)
        columns[x + 1] = raw[at + x] + (y > 0 ? raw[above + x] : 0) + (y < height - 1 ? raw[below + x] : 0);
      for (let x = 0; x < width; x++) out[at + x] = columns[x] + columns[x + 1] + columns[x + 2] >= MOST ? 1 : 0;
    }
  }
}

/** By how much a picture is brighter in one colour, over what most of it shows. */
function gainOf(rgb: Uint8Array, empty: Uint8Array, c: number): number {
  const ratios: number[] = [];
  for (let k = c; k < rgb.length; k += 3 * 37) if (empty[k] > 24 && empty[k] < 245) ratios.push(rgb[k] / empty[k]);
  if (ratios.length < 20) return 1;
  const gain = median(ratios);
  return gain > 0.6 && gain < 1.7 ? gain : 1;
}
