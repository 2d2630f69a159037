import { boxMean, findRegions } from '../base/image/regions';
import { median, quantile } from '../base/numeric/quantile';
import type { Background } from '../scene/background';
import { smoothed } from './colour-bins';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { floor, log, max, min, round } = Math;

/** Colours come in 16 bins of luma, and 8 of each colour difference from -64 to 64: 16 levels each. */
const LUMA_BINS = 16;
const SIDE = 8;
export const SWAYING_BINS = LUMA_BINS * SIDE * SIDE;
const BIN_LEVELS = 16 ** 3;
/**
 * A place sways all the while if it does so by this share of the usual in its quietest looks, one in ten. Measured: leaves
 * 0.84 to 0.92, on open clips; an arm that taps, in the stand-in's picture, 0.54; edges that stray 0.
 */
const STEADILY = 0.75;
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

/** What one look shows of the pixels where something may move by itself; `seen` where it shows them, with nobody near. */
interface Look {
  luma: Uint8Array;
  blue: Int8Array;
  red: Int8Array;
  seen: Uint8Array;
}

/** Learns the colours of what moves by itself from looks at a take, each place by itself. */
export class SwayingColours {
  /** How near each of these pixels is to the middle of its place, 0 to 1; which place; and which pixel of the picture. */
  private readonly near: Float32Array;
  private readonly place: Uint32Array;
  private readonly pixels: Uint32Array;
  private readonly indexOf: Int32Array;
  private readonly places: number;
  private readonly looks: Look[] = [];

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
    this.places = all.length;
    this.indexOf = new Int32Array(fine.width * fine.height).fill(-1);
    const pixels: number[] = [],
      smallOf: number[] = [];
    for (let y = 0, i = 0; y < fine.height; y++)
      for (let x = 0; x < fine.width; x++, i++) {
        const u = min(width - 1, floor((x + 0.5) / fine.ratio)),
          v = min(height - 1, floor((y + 0.5) / fine.ratio));
        if (near[v * width + u] === 0) continue;
        this.indexOf[i] = pixels.length;
        pixels.push(i);
        smallOf.push(v * width + u);
      }
    this.pixels = Uint32Array.from(pixels);
    this.near = Float32Array.from(smallOf, (i) => near[i]);
    this.place = Uint32Array.from(smallOf, (i) => placeOf[i]);
  }

  /** Begins another look. */
  next(): void {
    const { length } = this.pixels;
    this.looks.push({
      luma: new Uint8Array(length),
      blue: new Int8Array(length),
      red: new Int8Array(length),
      seen: new Uint8Array(length),
    });
  }

  /** One pixel in which nobody is, in the light of the reference. */
  see(i: number, luma: number, blue: number, red: number): void {
    const k = this.indexOf[i];
    if (k < 0) return;
    const look = this.looks[this.looks.length - 1];
    look.luma[k] = max(0, min(255, round(luma)));
    look.blue[k] = max(-128, min(127, round(blue)));
    look.red[k] = max(-128, min(127, round(red)));
    look.seen[k] = 1;
  }

  /** What these pixels show most of the time: medians of luma and of both colour differences; NaN where no look shows them. */
  private usual(): Float32Array {
    const out = new Float32Array(3 * this.pixels.length);
    for (let k = 0; k < this.pixels.length; k++) {
      const seen = this.looks.filter((look) => look.seen[k]);
      out.set([seen.map((l) => l.luma[k]), seen.map((l) => l.blue[k]), seen.map((l) => l.red[k])].map(median), 3 * k);
    }
    return out;
  }

  /**
   * Colours of what sways as often as in the middle look, where a place sways all the while: an arm rests between its
   * gestures, and whoever passes is gone again. Colours that were never seen of it are left to each pixel's own normal.
   * @param isAway whether a pixel strays, by so much from what it usually shows
   * @param planes luma and colour differences of the background: where something sways they become what is usual there
   */
  learned(
    isAway: (i: number, luma: number, blue: number, red: number) => boolean,
    [luma, blue, red]: readonly [Float32Array, Float32Array, Float32Array],
  ): Swaying {
    const usual = this.usual();
    const { looks, places, place, pixels, near, indexOf } = this;
    // Share of each place that is away, look by look.
    const shares = Array.from({ length: places }, (): number[] => []);
    const counts = looks.map((look) => {
      const own = new Uint16Array(places * SWAYING_BINS),
        seen = new Uint32Array(places),
        away = new Uint32Array(places);
      pixels.forEach((i, k) => {
        if (!look.seen[k]) return;
        const colour = [look.luma[k], look.blue[k], look.red[k]] as const;
        seen[place[k]]++;
        if (!isAway(i, colour[0] - usual[3 * k], colour[1] - usual[3 * k + 1], colour[2] - usual[3 * k + 2])) return;
        away[place[k]]++;
        own[place[k] * SWAYING_BINS + swayingBin(...colour)]++;
      });
      shares.forEach((all, p) => seen[p] && all.push(away[p] / seen[p]));
      return own;
    });
    const values = new Float64Array(looks.length);
    const middle = Float32Array.from({ length: places * SWAYING_BINS }, (_, k) => {
      let any = 0;
      for (let n = 0; n < looks.length; n++) any |= values[n] = counts[n][k];
      return any ? median(values) : 0;
    });
    const densities = new Float32Array(middle.length);
    const often = new Float32Array(places);
    for (let p = 0; p < places; p++) {
      // Colours fill their bins; what lies at a bin's edge may be found in the next.
      const own = smoothed(middle.subarray(p * SWAYING_BINS, (p + 1) * SWAYING_BINS), [SIDE, SIDE, LUMA_BINS]);
      const all = own.reduce((n, v) => n + v, 0);
      own.forEach((v, k) => {
        densities[p * SWAYING_BINS + k] = v > 0 ? log(v / (all * BIN_LEVELS)) : NEVER;
      });
      const share = median(shares[p]);
      often[p] = all > 0 && quantile(shares[p], 0.1) >= STEADILY * share ? share : 0;
    }
    pixels.forEach((i, k) => {
      if (often[place[k]] > 0 && !Number.isNaN(usual[3 * k]))
        [luma[i], blue[i], red[i]] = usual.subarray(3 * k, 3 * k + 3);
    });
    const share = Float32Array.from(indexOf, (k) => (k < 0 ? 0 : near[k] * often[place[k]]));
    return { share, place: Uint32Array.from(indexOf, (k) => (k < 0 ? 0 : place[k])), densities };
  }
}
