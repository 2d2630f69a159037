import { addressOf as at, type Kernels } from '../base/kernels/kernels';
import type { Background } from './background';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, floor, max, min, round } = Math;

/** The picture is divided into so many zones for light that does not change alike everywhere. */
export const ZONES_ACROSS = 16;
export const ZONES_DOWN = 9;
/** A zone's light may change this fast, stops a second: a cloud's edge does, a person does not come so slowly. */
const FASTEST = 1.5;
const FADE = 0.995;
/** The field is laid anew when some zone changed by more than this, stops. */
const LAID_WITHIN = 0.002;
/** Pixels of a zone that must be free to say something, */
const LEAST_FREE = 10;
/**
 * and how far they may differ from one to the next, as a multiple of the noise's variance: light changes smoothly from
 * pixel to pixel, while the detail of whatever stands in front is not that of the background.
 */
const ROUGHEST = 1.5;

/** Room that a field takes in the memory of the kernels that hold pictures against the background. */
export function zoneShapes(pixels: number) {
  const zones = ZONES_ACROSS * ZONES_DOWN;
  return {
    luma: ['floats', pixels],
    zoneOf: ['bytes', pixels],
    restless: ['bytes', pixels],
    perStop: ['floats', pixels],
    field: ['floats', pixels],
    stops: ['floats', zones],
    row: ['floats', ZONES_ACROSS],
    sums: ['doubles', zones],
    steps: ['doubles', zones],
    counts: ['words', zones],
    all: ['words', zones],
  } as const;
}

/**
 * What a frame showed, in the memory of the kernels: difference from the expected, in levels and in standard
 * deviations, and how strong it is.
 */
interface Compared {
  readonly kernels: Kernels;
  readonly difference: Float32Array;
  readonly scaled: Float32Array;
  readonly strength: Float32Array;
}

/**
 * Light of each zone beside that of the whole picture, followed from frame to frame by the pixels in which nobody
 * stands: clouds, lamps and sun on part of the picture change slowly, so that what was background a moment ago says
 * what it is now.
 */
export class ZoneField {
  /** Stops by zone, row by row. */
  readonly stops = new Float32Array(ZONES_ACROSS * ZONES_DOWN);
  private readonly own: ReturnType<typeof this.layOut>;
  /** Zones in which enough of the background is to be seen just now. */
  private readonly known = new Uint8Array(ZONES_ACROSS * ZONES_DOWN);
  /** The zones' light as it was last laid over the pixels. */
  private readonly laid = new Float32Array(ZONES_ACROSS * ZONES_DOWN);
  private flat = true;
  private first = true;

  /** @param slope stops for one level at each code value. @param compared what holds the frames against the background */
  constructor(
    private readonly background: Background,
    slope: Float32Array,
    private readonly fps: number,
    private readonly compared: Compared,
  ) {
    const { width, height, luma, restless, known } = background;
    const pixels = width * height;
    const arrays = (this.own = this.layOut(pixels));
    arrays.luma.set(luma);
    // What is not known says nothing of the light either.
    arrays.restless.set(restless.map((r, i) => r || (known[i] ? 0 : 1)));
    for (let i = 0; i < pixels; i++) {
      const x = i % width,
        y = (i - x) / width;
      arrays.perStop[i] = 1 / max(0.004, slope[round(min(255, luma[i]))]);
      arrays.zoneOf[i] = floor((y * ZONES_DOWN) / height) * ZONES_ACROSS + floor((x * ZONES_ACROSS) / width);
    }
  }

  private layOut(pixels: number) {
    return this.compared.kernels.lay(zoneShapes(pixels));
  }

  /** What to add to the background, in levels, in the kernels' memory; null when the light is even. */
  levels(): Float32Array | null {
    return this.flat ? null : this.own.field;
  }

  /** Light of a pixel's zone beside the whole, stops. */
  at = (pixel: number): number => this.stops[this.own.zoneOf[pixel]];

  /**
   * Stops of each zone as its neighbourhood has it, the middle of three by three; NaN where too few zones in view say
   * so. One zone by itself is seldom the light's doing.
   */
  smoothed(): Float32Array {
    return this.stops.map((_, z) => {
      const x = z % ZONES_ACROSS,
        y = (z - x) / ZONES_ACROSS;
      if (!this.known[z]) return NaN;
      const near: number[] = [];
      for (let v = max(0, y - 1); v <= min(ZONES_DOWN - 1, y + 1); v++)
        for (let u = max(0, x - 1); u <= min(ZONES_ACROSS - 1, x + 1); u++)
          if (this.known[v * ZONES_ACROSS + u]) near.push(this.stops[v * ZONES_ACROSS + u]);
      if (near.length < 4) return NaN;
      near.sort((a, b) => a - b);
      return 0.5 * (near[(near.length - 1) >> 1] + near[near.length >> 1]);
    });
  }

  /** Takes what the zones in view have in common out of all and gives it, so that it counts as the whole picture's. */
  takeCommon(): number {
    let sum = 0,
      n = 0;
    this.stops.forEach((s, z) => {
      if (!this.known[z]) return;
      sum += s;
      n++;
    });
    if (n < this.stops.length / 8) return 0;
    const common = sum / n;
    for (let z = 0; z < this.stops.length; z++) this.stops[z] = this.known[z] ? this.stops[z] - common : this.stops[z];
    return common;
  }

  /** Takes in what the frame just compared showed; pixels of a strength above the bound are somebody's. */
  follow(bound: number): void {
    const {
      stops,
      own,
      compared: { kernels, difference, scaled, strength },
    } = this;
    const { sums, steps, counts, all } = own;
    for (const a of [sums, steps, counts, all]) a.fill(0);
    kernels.run.addZones({
      luma: at(own.luma),
      zoneOf: at(own.zoneOf),
      strength: at(strength),
      restless: at(own.restless),
      difference: at(difference),
      scaled: at(scaled),
      perStop: at(own.perStop),
      bound,
      pixels: difference.length,
      sums: at(sums),
      steps: at(steps),
      counts: at(counts),
      all: at(all),
    });
    const most = this.first ? Infinity : FASTEST / this.fps;
    let extent = 0;
    for (let z = 0; z < stops.length; z++) {
      this.known[z] =
        counts[z] >= LEAST_FREE && counts[z] > 0.5 * all[z] && steps[z] < 2 * ROUGHEST * counts[z] ? 1 : 0;
      if (this.known[z]) stops[z] += max(-most, min(most, 0.5 * (sums[z] / counts[z])));
      // What is not confirmed from frame to frame fades, so that no error can build up.
      stops[z] *= FADE;
      extent = max(extent, abs(stops[z]));
    }
    this.first = false;
    this.flat = extent < 0.012;
    if (!this.flat && stops.some((s, z) => abs(s - this.laid[z]) > LAID_WITHIN)) this.spread();
  }

  /** Lays the zones' light over the pixels, smoothly from zone to zone. */
  private spread(): void {
    const {
      background: { width, height },
      stops,
      own,
      compared: { kernels },
    } = this;
    this.laid.set(stops);
    own.stops.set(stops);
    kernels.run.layZones({
      stops: at(own.stops),
      across: ZONES_ACROSS,
      down: ZONES_DOWN,
      perStop: at(own.perStop),
      width,
      height,
      row: at(own.row),
      field: at(own.field),
    });
  }
}
