// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, floor, hypot, max, min, round } = Math;

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

/**
 * Reads the change of light between a background and pictures of the same scene, whatever stands in front of part of it.
 *
 * Most of what belongs to the background changed by one factor; what stands in front changed by all sorts of factors. So the
 * commonest ratio is looked for first, then the ratios near it are averaged, each by how surely it is known.
 */
export class LightGauge {
  private readonly places: Int32Array;
  private readonly base: Float32Array;
  private readonly levels: Float32Array;
  private readonly reach: Float32Array;
  private readonly weight: Float32Array;
  private readonly bins = new Float64Array(BINS);

  /**
   * @param stops log2 of light for each code value
   * @param background code values, 0 to 255
   * @param usable 1 where the background may be looked at
   * @param sigma noise in levels at each pixel
   * @param step looks at every so many pixels
   */
  constructor(private readonly stops: Float32Array, background: Float32Array, usable: Uint8Array | null, sigma: Float32Array | number, step = 2) {
    const slope = slopes(stops);
    const every: number[] = [];
    let low = 40;
    for (; low >= 8; low = low > 16 ? 16 : low / 2) {
      every.length = 0;
      for (let i = 0; i < background.length; i += step) if (background[i] >= low && background[i] <= 238 && (!usable || usable[i])) every.push(i);
      if (every.length > (0.2 * background.length) / step) break;
    }
    this.places = Int32Array.from(every);
    this.base = Float32Array.from(every, (i) => between(stops, background[i]));
    this.levels = this.base.slice();
    const noise = (i: number) => hypot(typeof sigma === 'number' ? sigma : sigma[i], 0.3) * slope[round(background[i])];
    this.reach = Float32Array.from(every, (i) => 3 * noise(i) + 0.02);
    this.weight = Float32Array.from(every, (i) => 1 / (noise(i) ** 2 + 0.01 ** 2));
  }

  get usable(): number {
    return this.places.length;
  }

  /** Light that is known to differ from place to place, in stops by pixel, is taken off from now on. */
  setUneven(at: (pixel: number) => number): void {
    for (let k = 0; k < this.places.length; k++) this.levels[k] = this.base[k] + at(this.places[k]);
  }

  /** Null when too little of the background is to be seen. */
  read(luma: Uint8Array, seen: Uint8Array | null): GaugeReading | null {
    const { places, levels, reach, weight, bins, stops } = this;
    const n = places.length;
    bins.fill(0);
    for (let k = 0; k < n; k++) {
      const v = luma[places[k]];
      // What is black or burnt out says nothing of the light.
      if (v < 6 || v > 245) continue;
      const bin = round((stops[v] - levels[k] + REACH) / BIN);
      if (bin >= 0 && bin < BINS) bins[bin]++;
    }
    let best = -1, most = 0;
    for (let b = 3; b < BINS - 3; b++) {
      const sum = bins[b] + bins[b - 1] + bins[b + 1] + 0.7 * (bins[b - 2] + bins[b + 2]) + 0.4 * (bins[b - 3] + bins[b + 3]);
      if (sum > most) {
        most = sum;
        best = b;
      }
    }
    if (best < 0) return null;
    let centre = best * BIN - REACH;
    let count = 0;
    for (let round = 0; round < 4; round++) {
      let sum = 0, total = 0;
      count = 0;
      const wide = round === 0 ? 2 : 1;
      for (let k = 0; k < n; k++) {
        const place = places[k];
        const v = luma[place];
        if (v < 6 || v > 245 || (seen && !seen[place])) continue;
        const r = stops[v] - levels[k] - centre;
        if (r > wide * reach[k] || r < -wide * reach[k]) continue;
        sum += r * weight[k];
        total += weight[k];
        count++;
      }
      if (total === 0) return null;
      centre += sum / total;
      if (round > 0 && abs(sum / total) < 0.0003) break;
    }
    if (count < LEAST_PIXELS || count < LEAST_SHARE * n) return null;
    return { stops: centre, share: count / n, count };
  }
}

/** Stops for one level, at each code value. */
export function slopes(stops: Float32Array): Float32Array {
  return Float32Array.from(stops, (_, v) => {
    const a = max(1, v - 1), b = min(255, v + 1);
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
