import { addressOf as at, Kernels } from '../base/kernels/kernels';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { floor, hypot, max, min, round } = Math;

/** How the light of one picture stands to the background's. */
export interface GaugeReading {
  /** log2 of linear light, picture over background, on the unoccupied parts. */
  stops: number;
  /** Share of the usable pixels that agree on it, 0 to 1. */
  share: number;
  /** Pixels that agree. */
  count: number;
}

const BIN = 0.02;
const REACH = 4;
const BINS = round((2 * REACH) / BIN) + 1;
/** Fewer agreeing pixels than this say nothing. */
export const LEAST_SHARE = 0.06;
export const LEAST_PIXELS = 60;

/** What a gauge keeps in the kernels' memory. */
function room(pixels: number, places: number) {
  return Kernels.with({
    luma: ['bytes', pixels],
    seen: ['bytes', pixels],
    places: ['words', places],
    levels: ['floats', places],
    reach: ['floats', places],
    weight: ['floats', places],
    ratios: ['floats', places + 3],
    stops: ['floats', 256],
    bins: ['words', BINS],
    out: ['doubles', 2],
  });
}

/**
 * Reads the change of light between a background and pictures of the same scene, whatever stands in front of part of it.
 *
 * Most of what belongs to the background changed by one factor; what stands in front changed by all sorts of factors.
 * So the commonest ratio is looked for first, then the ratios near it are averaged, each by how surely it is known.
 */
export class LightGauge {
  private readonly base: Float32Array;
  private readonly kernels: Kernels;
  private readonly own: ReturnType<typeof room>['arrays'];

  /**
   * @param stops log2 of light for each code value
   * @param background code values, 0 to 255
   * @param usable 1 where the background may be looked at
   * @param sigma noise in levels at each pixel
   * @param step looks at every so many pixels
   */
  constructor(
    stops: Float32Array,
    background: Float32Array,
    usable: Uint8Array | null,
    sigma: Float32Array | number,
    step = 2,
  ) {
    const slope = slopes(stops);
    const every: number[] = [];
    let low = 40;
    for (; low >= 8; low = low > 16 ? 16 : low / 2) {
      every.length = 0;
      for (let i = 0; i < background.length; i += step)
        if (background[i] >= low && background[i] <= 238 && (!usable || usable[i])) every.push(i);
      if (every.length > (0.2 * background.length) / step) break;
    }
    const { kernels, arrays } = room(background.length, every.length);
    this.kernels = kernels;
    this.own = arrays;
    this.base = new Float32Array(every.length);
    arrays.places.set(every);
    arrays.stops.set(stops);
    for (let k = 0; k < every.length; k++) {
      const i = every[k];
      const noise = hypot(typeof sigma === 'number' ? sigma : sigma[i], 0.3) * slope[round(background[i])];
      this.base[k] = between(stops, background[i]);
      arrays.reach[k] = 3 * noise + 0.02;
      arrays.weight[k] = 1 / (noise ** 2 + 0.01 ** 2);
    }
    arrays.levels.set(this.base);
  }

  get usable(): number {
    return this.base.length;
  }

  /** Light that is known to differ from place to place, in stops by pixel, is taken off from now on. */
  setUneven(stopsAt: (pixel: number) => number): void {
    const { places, levels } = this.own;
    for (let k = 0; k < places.length; k++) levels[k] = this.base[k] + stopsAt(places[k]);
  }

  /** Null when too little of the background is to be seen. */
  read(luma: Uint8Array, seen: Uint8Array | null): GaugeReading | null {
    const { own, kernels } = this;
    const n = this.base.length;
    own.luma.set(luma);
    if (seen) own.seen.set(seen);
    if (
      !kernels.run.readLight({
        luma: at(own.luma),
        seen: seen ? at(own.seen) : 0,
        places: at(own.places),
        levels: at(own.levels),
        reach: at(own.reach),
        weight: at(own.weight),
        stops: at(own.stops),
        count: n,
        ratios: at(own.ratios),
        bins: at(own.bins),
        many: BINS,
        bin: BIN,
        out: at(own.out),
      })
    )
      return null;
    const [stops, count] = own.out;
    if (count < LEAST_PIXELS || count < LEAST_SHARE * n) return null;
    return { stops, share: count / n, count };
  }
}

/** Stops for one level, at each code value. */
export function slopes(stops: Float32Array): Float32Array {
  return Float32Array.from(stops, (_, v) => {
    const a = max(1, v - 1),
      b = max(a + 1, min(255, v + 1));
    return (stops[b] - stops[a]) / (b - a);
  });
}

/** A table's value between two entries. */
export function between(table: Float32Array, v: number): number {
  const i = max(0, min(254, floor(v)));
  return table[i] + (v - i) * (table[i + 1] - table[i]);
}

/** For each code value, the code value it would have had with `stops` more light. */
export function relight(table: Float32Array, stops: number): Float32Array {
  const out = new Float32Array(256);
  let j = 1;
  for (let v = 0; v < 256; v++) {
    const wanted = table[v] + stops;
    while (j < 255 && table[j] < wanted) j++;
    const step = table[j] - table[j - 1];
    const x = step > 0 ? j - 1 + (wanted - table[j - 1]) / step : j;
    out[v] = max(0, min(320, wanted > table[255] ? 255 + (wanted - table[255]) / (table[255] - table[254]) : x));
  }
  return out;
}
