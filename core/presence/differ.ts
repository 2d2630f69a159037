import { largestSteps } from '../image/steps';
import type { Background } from '../scene/background';
import { relight } from '../scene/gauge';
import type { SteadyPicture } from '../scene/steady-reader';
import type { ZoneField } from '../scene/zones';
import { DefocusedBackground } from './defocus';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, hypot, max, min } = Math;

/** From this many standard deviations on, a pixel surely is not background; those beside it need less. */
export const HOT = 6;
export const WARM = 3;
/** Neighbouring pixels share part of their noise: nine of them say this many times more than one. */
const NINE = 2;
/** Edges may lie this far off (small pixels) beside what the lock knows. */
const SLACK_PX = 0.1;
/** Where the camera moved, the picture was laid back by resampling, which changes its edges. */
const MOVED_SLACK_PX = 0.45;
/** From this share of lost detail on a frame counts as soft; then edges may stray by up to so many pixels at full loss. */
const LEAST_SOFT = 0.08;
const SOFT_SLACK_PX = 2.6;
/** And what is far out of focus spreads its light so far that everything differs by some levels. */
const SOFT_LEVELS = 10;
/** From this change of light on, stops, clipping is looked at; a code value above this counts as burnt out. */
const LEAST_RELIT = 0.03;
const BURNT = 243;
/** Colour differences below this many levels say nothing: coding keeps colour coarsely. */
const LEAST_COLOUR = 1.2;

/** Holds a picture against the background, pixel by pixel. Buffers are used again for each frame. */
export class Differ {
  /** Difference from the expected code value, levels; and how many standard deviations it is, seen with its neighbours and colour. */
  readonly difference: Float32Array;
  readonly strength: Float32Array;
  /** How much the colour differs from the expected, levels, at half size. */
  readonly colour: Float32Array;
  private readonly inverse: Float32Array;
  /** Pixels whose spread differs up and down. */
  private readonly leaning: Int32Array;
  /** The background's strongest colour at each pixel, code value. */
  private readonly peak: Uint8Array;
  /** How far colours may stray where the picture was laid back, levels. */
  private readonly stray: Float32Array;
  private readonly scaled: Float32Array;
  private readonly rows: Float32Array;
  private readonly rowsColour: Float32Array;
  private readonly defocused: DefocusedBackground;

  constructor(private readonly background: Background, private readonly stops: Float32Array) {
    const pixels = background.width * background.height;
    const colours = background.colourWidth * background.colourHeight;
    this.difference = new Float32Array(pixels);
    this.strength = new Float32Array(pixels);
    this.colour = new Float32Array(colours);
    this.inverse = new Float32Array(pixels);
    this.scaled = new Float32Array(pixels);
    this.rows = new Float32Array(pixels);
    this.rowsColour = new Float32Array(colours);
    this.defocused = new DefocusedBackground(background);
    const slack = background.moved ? MOVED_SLACK_PX : SLACK_PX;
    this.peak = Uint8Array.from(background.luma, (v, i) => {
      const x = i % background.width, y = (i - x) / background.width;
      const c = min(background.colourHeight - 1, y >> 1) * background.colourWidth + min(background.colourWidth - 1, x >> 1);
      return max(0, min(255, v + max(0, 1.5748 * (background.red[c] - 128), 1.8556 * (background.blue[c] - 128))));
    });
    this.stray = background.moved ? colourSteps(background).map((step) => MOVED_SLACK_PX * step) : new Float32Array(colours);
    const lean: number[] = [];
    for (let i = 0; i < pixels; i++) {
      this.inverse[i] = 1 / hypot(background.sigma[i], slack * background.gradient[i]);
      if (background.sigmaDown[i] !== background.sigma[i]) lean.push(i);
    }
    this.leaning = Int32Array.from(lean);
  }

  /** @param light stops of the picture over the background. @param soft share of the fine detail that the lens has lost in this frame */
  compare(picture: SteadyPicture, light: number, zones: ZoneField | null, soft = 0): void {
    const { background, difference, strength, inverse, scaled, rows, leaning } = this;
    const { width, height } = background;
    const { luma, seen } = picture;
    const table = relight(this.stops, -light);
    const extra = zones?.levels() ?? null;
    const pixels = width * height;
    // Each loop is a function of its own: the runtime makes short functions fast, and long ones again and again.
    const expected = soft > LEAST_SOFT ? this.defocused.nearest(luma, table) : background.luma;
    subtract(luma, table, expected, extra, inverse, difference, scaled);
    if (abs(light) > LEAST_RELIT) this.allowForClipping(light);
    if (soft > LEAST_SOFT) this.allowForSoftness(soft);
    for (const i of leaning) if (difference[i] < 0) scaled[i] = difference[i] / background.sigmaDown[i];
    if (seen) for (let i = 0; i < pixels; i++) if (!seen[i]) difference[i] = scaled[i] = 0;
    sumRows(scaled, rows, width, height);
    strengthen(scaled, rows, strength, width, height);
    this.compareColour(picture, light, soft);
  }

  /** One colour may burn out long before luma does: then the picture cannot get as bright as expected, or was brighter than the background could show. */
  private allowForClipping(light: number): void {
    const { difference, scaled, peak } = this;
    const up = relight(this.stops, max(0, light));
    for (let i = 0; i < scaled.length; i++) if (up[peak[i]] > BURNT && (light > 0 ? difference[i] < 0 : difference[i] > 0)) difference[i] = scaled[i] = 0;
  }

  /** A picture out of focus differs wherever there is detail close by. */
  private allowForSoftness(soft: number): void {
    const { difference, scaled, inverse, background } = this;
    for (let i = 0; i < scaled.length; i++) scaled[i] = difference[i] / hypot(1 / inverse[i], SOFT_SLACK_PX * soft * background.rough[i], SOFT_LEVELS * soft * soft);
  }

  private compareColour({ blue, red }: SteadyPicture, light: number, soft: number): void {
    const { background, colour, rowsColour, strength, stray } = this;
    const { colourWidth, colourHeight, width, height, restless } = background;
    const gain = 2 ** (light / 2.1), doubt = min(1, 0.6 * abs(light));
    const count = colourWidth * colourHeight;
    for (let c = 0; c < count; c++) {
      const ownBlue = background.blue[c] - 128, ownRed = background.red[c] - 128;
      let b = blue[c] - 128 - ownBlue * gain, r = red[c] - 128 - ownRed * gain;
      if (b < 0) b = -b;
      if (r < 0) r = -r;
      let off = b + r - stray[c];
      // The further the light is off, the less is known of what a strong colour becomes.
      if (doubt > 0) off -= doubt * (abs(ownBlue) + abs(ownRed));
      colour[c] = off > 0 ? off : 0;
    }
    for (let y = 0; y < colourHeight; y++) {
      const row = y * colourWidth, last = row + colourWidth - 1;
      rowsColour[row] = colour[row];
      for (let i = row + 1; i < last; i++) {
        const own = colour[i], round = 0.5 * (colour[i - 1] + colour[i + 1]) + 1;
        rowsColour[i] = own < round ? own : round;
      }
      rowsColour[last] = colour[last];
    }
    const noise = max(LEAST_COLOUR, 1.6 * background.colourNoise) * (soft > LEAST_SOFT ? 1 + 6 * soft : 1);
    // Few colours differ: the others' pixels need no look.
    for (let y = 0; y < colourHeight; y++) {
      const bottom = y === colourHeight - 1 ? height : 2 * y + 2;
      for (let x = 0, c = y * colourWidth; x < colourWidth; x++, c++) {
        const off = rowsColour[c];
        if (off <= noise) continue;
        const right = x === colourWidth - 1 ? width : 2 * x + 2;
        for (let v = 2 * y; v < bottom; v++) {
          for (let i = v * width + 2 * x, end = v * width + right; i < end; i++) {
            const z = off / (restless[i] ? 4 * noise : noise) - 1;
            if (z > strength[i]) strength[i] = z;
          }
        }
      }
    }
  }
}

/** The largest step of colour from each pixel to one beside it, both differences together, levels. */
function colourSteps({ blue, red, colourWidth, colourHeight }: Background): Float32Array {
  return largestSteps(colourWidth, colourHeight, (a, b) => abs(blue[a] - blue[b]) + abs(red[a] - red[b]));
}

/** What each pixel differs by from the expected, in levels, and in standard deviations. */
function subtract(luma: Uint8Array, table: Float32Array, expected: Float32Array, extra: Float32Array | null, inverse: Float32Array, difference: Float32Array, scaled: Float32Array): void {
  for (let i = 0; i < luma.length; i++) {
    const v = luma[i];
    let d = table[v] - expected[i];
    if (extra) d -= extra[i];
    // What is burnt out or black may be brighter or darker than it can show.
    if ((v < 6 && d > 0) || (v > 249 && d < 0)) d = 0;
    difference[i] = d;
    scaled[i] = d * inverse[i];
  }
}

/** Sums of three neighbours of a row. */
function sumRows(scaled: Float32Array, rows: Float32Array, width: number, height: number): void {
  for (let y = 0; y < height; y++) {
    const row = y * width, last = row + width - 1;
    let before = scaled[row], here = before;
    for (let i = row; i < last; i++) {
      const after = scaled[i + 1];
      rows[i] = before + here + after;
      before = here;
      here = after;
    }
    rows[last] = before + here + here;
  }
}

/** The stronger of what a pixel says by itself and with its eight neighbours. */
function strengthen(scaled: Float32Array, rows: Float32Array, strength: Float32Array, width: number, height: number): void {
  const share = NINE / 9;
  for (let y = 0; y < height; y++) {
    const up = y > 0 ? -width : 0, down = y + 1 < height ? width : 0;
    for (let i = y * width, end = i + width; i < end; i++) {
      let mean = (rows[i + up] + rows[i] + rows[i + down]) * share;
      if (mean < 0) mean = -mean;
      let own = scaled[i];
      if (own < 0) own = -own;
      strength[i] = mean > own ? mean : own;
    }
  }
}
