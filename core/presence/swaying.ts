import { boxMean, findRegions } from '../image/regions';
import { median } from '../numeric/quantile';
import type { Background } from '../scene/background';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { floor, log, max, min } = Math;

/** Colours come in 16 bins of luma, and 8 of each colour difference from -64 to 64: 16 levels each. */
const LUMA_BINS = 16;
const SIDE = 8;
export const SWAYING_BINS = LUMA_BINS * SIDE * SIDE;
const BIN_LEVELS = 16 ** 3;
/** Nats of a colour that was never seen: its pixel's own normal says how likely it is. */
const NEVER = -1e4;

/** What sways may lie so many small pixels beside where it was seen to. */
const REACH = 3;

/** What moves by itself, place by place: leaves, water, a screen. */
export interface Swaying {
  /** How likely it is to be it that a pixel shows, 0 to 1. */
  share: Float32Array;
  /** The place of each pixel, and how densely colours lie there, bin by bin: logarithms, per level of luma and of both differences. */
  place: Uint32Array;
  densities: Float32Array;
}

const within = (bin: number, side: number) => max(0, min(side - 1, floor(bin)));

/** The bin of a colour: luma, 0 to 255, and colour differences, 0 for none; as the compiled loops have it. */
export function swayingBin(luma: number, blue: number, red: number): number {
  return (within(luma / 16, LUMA_BINS) * SIDE + within((blue + 64) / 16, SIDE)) * SIDE + within((red + 64) / 16, SIDE);
}

/** Learns the colours of what moves by itself from looks at a take, each place by itself. */
export class SwayingColours {
  private readonly share: Float32Array;
  private readonly place: Uint32Array;
  private readonly places: number;
  /** How many pixels were seen of each place, and how many away. */
  private readonly seen: Float64Array;
  private readonly looks: Uint16Array[] = [];
  private now = new Uint16Array(0);

  /** @param fine size of the pictures @param ratio of its pixels for a small one. Null where nothing moves by itself. */
  static of(small: Background, fine: { width: number; height: number; ratio: number }): SwayingColours | null {
    return small.restless?.includes(1) ? new SwayingColours(small, fine) : null;
  }

  private constructor({ restless, width, height }: Background, fine: { width: number; height: number; ratio: number }) {
    const near = boxMean(restless, width, height, REACH, new Float32Array(width * height));
    // A bush, or a screen, is a place.
    const placeOf = new Uint32Array(near.length);
    const all = findRegions(
      Uint8Array.from(near, (n) => (n > 0 ? 1 : 0)),
      width,
      height,
      1,
    );
    all.forEach(({ pixels }, p) => {
      for (const i of pixels) placeOf[i] = p;
    });
    this.share = new Float32Array(fine.width * fine.height);
    this.place = new Uint32Array(this.share.length);
    for (let y = 0, i = 0; y < fine.height; y++)
      for (let x = 0; x < fine.width; x++, i++) {
        const u = min(width - 1, floor((x + 0.5) / fine.ratio)),
          v = min(height - 1, floor((y + 0.5) / fine.ratio));
        this.share[i] = near[v * width + u];
        this.place[i] = placeOf[v * width + u];
      }
    this.places = all.length;
    this.seen = new Float64Array(2 * all.length);
  }

  /** Begins another look. */
  next(): void {
    this.now = new Uint16Array(this.places * SWAYING_BINS);
    this.looks.push(this.now);
  }

  /** Whether something may move by itself at a pixel. */
  at(i: number): boolean {
    return this.share[i] > 0;
  }

  /** One pixel where that may be, and nobody is. @param away whether it shows something else than it usually does */
  see(i: number, luma: number, blue: number, red: number, away: boolean): void {
    const { place, now, seen } = this;
    seen[2 * place[i]]++;
    if (!away) return;
    seen[2 * place[i] + 1]++;
    now[place[i] * SWAYING_BINS + swayingBin(luma, blue, red)]++;
  }

  /**
   * Colours of what sways as often as in the middle look, so that whoever passes once is not among them. Colours that were
   * never seen of it are left to each pixel's own normal.
   */
  learned(): Swaying {
    const { looks, places, share, place, seen } = this;
    const values = new Float64Array(looks.length);
    const middle = Float32Array.from({ length: places * SWAYING_BINS }, (_, k) => {
      let any = 0;
      for (let n = 0; n < looks.length; n++) any |= values[n] = looks[n][k];
      return any ? median(values) : 0;
    });
    const densities = new Float32Array(middle.length);
    const often = new Float32Array(places);
    for (let p = 0; p < places; p++) {
      // Colours fill their bins; what lies at a bin's edge may be found in the next.
      const own = smoothed(middle.subarray(p * SWAYING_BINS, (p + 1) * SWAYING_BINS));
      const all = own.reduce((n, v) => n + v, 0);
      own.forEach((v, k) => {
        densities[p * SWAYING_BINS + k] = v > 0 ? log(v / (all * BIN_LEVELS)) : NEVER;
      });
      often[p] = all > 0 ? seen[2 * p + 1] / seen[2 * p] : 0;
    }
    return { share: share.map((s, i) => s * often[place[i]]), place, densities };
  }
}

/** Counts spread over neighbouring bins, by a quarter to each side. */
function smoothed(bins: Float32Array): Float32Array {
  let from = bins;
  for (const [step, side] of [
    [1, SIDE],
    [SIDE, SIDE],
    [SIDE * SIDE, LUMA_BINS],
  ] as const) {
    const out = new Float32Array(from.length);
    for (let k = 0; k < from.length; k++) {
      const own = floor(k / step) % side;
      out[k] = 0.5 * from[k] + 0.25 * (from[own > 0 ? k - step : k] + from[own < side - 1 ? k + step : k]);
    }
    from = out;
  }
  return from;
}
