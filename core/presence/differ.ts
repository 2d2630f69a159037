import { largestSteps } from '../base/image/steps';
import { addressOf as at, Kernels, roomFor } from '../base/kernels/kernels';
import type { Background } from '../scene/background';
import { relight } from '../scene/gauge';
import type { SteadyPicture } from '../scene/steady-reader';
import { zoneShapes, type ZoneField } from '../scene/zones';
import { eachBody } from './bodies';
import { DefocusedBackground } from './defocus';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, max, min, sqrt } = Math;

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

/** So many zone fields may follow what one differ finds. */
const MOST_FIELDS = 3;

/** What a differ keeps in the kernels' memory. */
function room({ width, height, colourWidth, colourHeight }: Background) {
  const pixels = width * height,
    colours = colourWidth * colourHeight;
  return Kernels.with(
    {
      luma: ['bytes', pixels],
      table: ['floats', 256],
      expected: ['floats', pixels],
      inverse: ['floats', pixels],
      restless: ['bytes', pixels],
      difference: ['floats', pixels],
      scaled: ['floats', pixels],
      rows: ['floats', pixels],
      strength: ['floats', pixels],
      blue: ['bytes', colours],
      red: ['bytes', colours],
      ownBlue: ['floats', colours],
      ownRed: ['floats', colours],
      stray: ['floats', colours],
      colour: ['floats', colours],
    },
    MOST_FIELDS * roomFor(zoneShapes(pixels)),
  );
}

/** Holds a picture against the background, pixel by pixel. Buffers are used again for each frame. */
export class Differ {
  /** Difference from the expected code value, levels; and how many standard deviations it is, seen with its neighbours and colour. */
  readonly difference: Float32Array;
  readonly strength: Float32Array;
  /** The difference by itself, standard deviations. */
  readonly scaled: Float32Array;
  /** How much the colour differs from the expected, levels, at half size. */
  readonly colour: Float32Array;
  readonly kernels: Kernels;
  private readonly own: ReturnType<typeof room>['arrays'];
  /** Pixels whose spread differs up and down. */
  private readonly leaning: Int32Array;
  /** The background's strongest colour at each pixel, code value. */
  private readonly peak: Uint8Array;
  private readonly defocused: DefocusedBackground;
  /** Places at half size whose colour is not known. */
  private readonly colourless: number[] = [];

  constructor(
    private readonly background: Background,
    private readonly stops: Float32Array,
  ) {
    const { kernels, arrays } = room(background);
    this.kernels = kernels;
    this.own = arrays;
    this.difference = arrays.difference;
    this.strength = arrays.strength;
    this.scaled = arrays.scaled;
    this.colour = arrays.colour;
    this.defocused = new DefocusedBackground(background);
    background.blue.forEach((_, c) => {
      const x = c % background.colourWidth,
        y = (c - x) / background.colourWidth;
      const i = min(background.height - 1, 2 * y) * background.width + min(background.width - 1, 2 * x);
      if (!background.known[i]) this.colourless.push(c);
    });
    const slack = background.moved ? MOVED_SLACK_PX : SLACK_PX;
    this.peak = Uint8Array.from(background.luma, (v, i) => {
      const x = i % background.width,
        y = (i - x) / background.width;
      const c =
        min(background.colourHeight - 1, y >> 1) * background.colourWidth + min(background.colourWidth - 1, x >> 1);
      return max(0, min(255, v + max(0, 1.5748 * (background.red[c] - 128), 1.8556 * (background.blue[c] - 128))));
    });
    arrays.restless.set(background.restless);
    arrays.ownBlue.set(background.blue);
    arrays.ownRed.set(background.red);
    // How far colours may stray where the picture was laid back, levels.
    if (background.moved) arrays.stray.set(colourSteps(background).map((step) => MOVED_SLACK_PX * step));
    const lean: number[] = [];
    for (let i = 0; i < arrays.inverse.length; i++) {
      const noise = background.sigma[i],
        edge = slack * background.gradient[i];
      arrays.inverse[i] = 1 / sqrt(noise * noise + edge * edge);
      if (background.sigmaDown[i] !== background.sigma[i]) lean.push(i);
    }
    this.leaning = Int32Array.from(lean);
  }

  /** @param light stops of the picture over the background. @param soft share of the fine detail that the lens has lost in this frame */
  compare(picture: SteadyPicture, light: number, zones: ZoneField | null, soft = 0): void {
    const {
      background,
      difference,
      own,
      leaning,
      kernels: { run },
    } = this;
    const { width, height } = background;
    const { luma, seen } = picture;
    const { scaled } = own;
    const table = relight(this.stops, -light);
    const extra = zones?.levels() ?? null;
    const pixels = width * height;
    own.luma.set(luma);
    own.table.set(table);
    own.expected.set(soft > LEAST_SOFT ? this.defocused.nearest(luma, table) : background.luma);
    run.subtract({
      luma: at(own.luma),
      table: at(own.table),
      expected: at(own.expected),
      extra: extra ? at(extra) : 0,
      inverse: at(own.inverse),
      difference: at(difference),
      scaled: at(scaled),
      count: pixels,
    });
    if (abs(light) > LEAST_RELIT) this.allowForClipping(light);
    if (soft > LEAST_SOFT) this.allowForSoftness(soft);
    for (const i of leaning) if (difference[i] < 0) scaled[i] = difference[i] / background.sigmaDown[i];
    const { known } = background;
    if (seen) for (let i = 0; i < pixels; i++) if (!seen[i] || !known[i]) difference[i] = scaled[i] = 0;
    run.strengthen({
      scaled: at(scaled),
      rows: at(own.rows),
      strength: at(own.strength),
      width,
      height,
      share: NINE / 9,
    });
    this.compareColour(picture, light, soft);
    if (seen) for (let i = 0; i < pixels; i++) if (!seen[i] || !known[i]) this.strength[i] = 0;
  }

  /** What lies inside somebody's outline is theirs, though it may look like the background: it counts as surely different. */
  occupy(figures: Parameters<typeof eachBody>[0]): void {
    eachBody(figures, this.background.width, (first, last) => this.strength.fill(Infinity, first, last + 1));
  }

  /** How many pixels are stronger than the bound. */
  countAbove(bound: number): number {
    return this.kernels.run.countAbove({ values: at(this.own.strength), count: this.strength.length, bound });
  }

  /**
   * One colour may burn out long before luma does: then the picture cannot get as bright as expected, or was brighter
   * than the background could show.
   */
  private allowForClipping(light: number): void {
    const {
      difference,
      peak,
      own: { scaled },
    } = this;
    const up = relight(this.stops, max(0, light));
    for (let i = 0; i < scaled.length; i++)
      if (up[peak[i]] > BURNT && (light > 0 ? difference[i] < 0 : difference[i] > 0)) difference[i] = scaled[i] = 0;
  }

  /** A picture out of focus differs wherever there is detail close by. */
  private allowForSoftness(soft: number): void {
    const {
      difference,
      background,
      own: { scaled, inverse },
    } = this;
    const levels = (SOFT_LEVELS * soft * soft) ** 2;
    for (let i = 0; i < scaled.length; i++)
      scaled[i] =
        difference[i] / sqrt(1 / inverse[i] ** 2 + (SOFT_SLACK_PX * soft * background.rough[i]) ** 2 + levels);
  }

  private compareColour({ blue, red }: SteadyPicture, light: number, soft: number): void {
    const {
      background: { colourWidth, colourHeight, width, height, colourNoise },
      own,
      kernels: { run },
    } = this;
    own.blue.set(blue);
    own.red.set(red);
    // The further the light is off, the less is known of what a strong colour becomes.
    const doubt = min(1, 0.6 * abs(light));
    run.compareColour({
      blue: at(own.blue),
      red: at(own.red),
      ownBlue: at(own.ownBlue),
      ownRed: at(own.ownRed),
      stray: at(own.stray),
      gain: 2 ** (light / 2.1),
      doubt,
      colour: at(own.colour),
      count: colourWidth * colourHeight,
    });
    for (const c of this.colourless) this.colour[c] = 0;
    const noise = max(LEAST_COLOUR, 1.6 * colourNoise) * (soft > LEAST_SOFT ? 1 + 6 * soft : 1);
    run.strengthenByColour({
      colour: at(own.colour),
      across: colourWidth,
      down: colourHeight,
      width,
      height,
      noise,
      restless: at(own.restless),
      strength: at(own.strength),
    });
  }
}

/** The largest step of colour from each pixel to one beside it, both differences together, levels. */
function colourSteps({ blue, red, colourWidth, colourHeight }: Background): Float32Array {
  return largestSteps(colourWidth, colourHeight, (a, b) => abs(blue[a] - blue[b]) + abs(red[a] - red[b]));
}
