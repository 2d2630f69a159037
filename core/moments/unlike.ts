import { median } from '../numeric/quantile';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, max, min } = Math;

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
    this.grain = grain;
  }

  /** 1 where something is that the empty picture does not show. */
  mask(rgb: Uint8Array, out: Uint8Array): void {
    const { empty, raw, width, height } = this;
    const gains = [0, 1, 2].map((c) => gainOf(rgb, empty, c));
    this.gain = gains[1];
    const limit = max(LEVELS, SIGMAS * this.grain);
    for (let i = 0, k = 0; i < raw.length; i++, k += 3) {
      let most = 0,
        dark = true,
        [least, largest] = [Infinity, 0];
      for (let c = 0; c < 3; c++) {
        const was = empty[k + c] * gains[c],
          is = rgb[k + c];
        most = max(most, abs(is - was));
        const ratio = (is + 8) / (was + 8);
        least = min(least, ratio);
        largest = max(largest, ratio);
        if (ratio > 1) dark = false;
      }
      raw[i] = most > limit && !(dark && least > SHADE && largest - least < GREY) ? 1 : 0;
    }
    for (let y = 0, i = 0; y < height; y++)
      for (let x = 0; x < width; x++, i++) {
        let n = 0;
        for (let v = max(0, y - 1); v <= min(height - 1, y + 1); v++)
          for (let u = max(0, x - 1); u <= min(width - 1, x + 1); u++) n += raw[v * width + u];
        out[i] = n >= MOST ? 1 : 0;
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
