import type { SmallSize } from '../base/image/picture';
import { addressOf as at, Kernels } from '../base/kernels/kernels';
import { spellOf, type Layers, type Samples } from './samples';

/** Sums over all samples of a take at each pixel, by compiled loops. */
export class SampleSums {
  /** The samples in one light, code values. */
  readonly even: Uint8Array[];
  private readonly kernels: Kernels;
  private readonly own: ReturnType<typeof room>['arrays'];
  private readonly masked: boolean;
  private readonly count: number;
  private readonly pixels: number;

  /** @param tables for each sample, what its code values are in the common light */
  constructor(
    private readonly samples: Samples,
    private readonly size: SmallSize,
    private readonly tables: Float32Array[],
  ) {
    this.count = samples.luma.length;
    this.pixels = size.width * size.height;
    this.masked = samples.seen.some((m) => m);
    const { kernels, arrays } = room(this.count, this.pixels, size.colourWidth * size.colourHeight, this.masked);
    this.kernels = kernels;
    this.own = arrays;
    this.even = samples.luma.map((luma, k) => {
      const out = this.layer(arrays.even, k);
      for (let v = 0; v < 256; v++) arrays.codes[v] = Math.min(255, tables[k][v] + 0.5);
      arrays.luma.set(luma);
      kernels.run.translate({ codes: at(arrays.luma), table: at(arrays.codes), out: at(out), count: this.pixels });
      if (this.masked) {
        const mask = samples.seen[k];
        if (mask) this.layer(arrays.masks, k).set(mask);
        else this.layer(arrays.masks, k).fill(1);
      }
      return out;
    });
  }

  private layer(all: Uint8Array, k: number): Uint8Array {
    return all.subarray(k * this.pixels, (k + 1) * this.pixels);
  }

  /**
   * The value seen most often at each pixel.
   * @param noise spread of one thing's values by brightness, levels, 16 bins. @param extra levels by which they may lie further apart
   * @param sure share of the samples; `unsure` is 1 where fewer agree
   */
  settle(noise: Float32Array, extra: number, sure: number): Omit<Layers, 'trusted'> & { unsure: Uint8Array } {
    const { own, kernels, count, pixels } = this;
    own.noise.set(noise);
    own.unsure.fill(0);
    kernels.run.settle({
      samples: at(own.even),
      masks: this.masked ? at(own.masks) : 0,
      count,
      pixels,
      noise: at(own.noise),
      extra,
      sure,
      hist: at(own.hist),
      middle: at(own.middle),
      reach: at(own.reach),
      unsure: at(own.unsure),
    });
    return { middle: own.middle.slice(), reach: own.reach.slice(), unsure: own.unsure.slice() };
  }

  /**
   * Mean of each pixel over the samples that show its layer, the share of samples that do, how many show the place at all,
   * and their spread, levels.
   */
  averageLuma({ middle, reach }: Pick<Layers, 'middle' | 'reach'>): {
    luma: Float32Array;
    support: Float32Array;
    looks: Float32Array;
    spread: Float32Array;
  } {
    const { own, kernels, pixels, samples } = this;
    own.middle.set(middle);
    for (let i = 0; i < pixels; i++) {
      own.low[i] = middle[i] - reach[i];
      own.high[i] = middle[i] + reach[i];
    }
    for (const sums of [own.sums, own.squares, own.counts, own.seen]) sums.fill(0);
    samples.luma.forEach((luma, k) => {
      own.luma.set(luma);
      own.table.set(this.tables[k]);
      kernels.run.addSample({
        even: at(this.even[k]),
        own: at(own.luma),
        table: at(own.table),
        mask: samples.seen[k] ? at(own.masks) + k * pixels : 0,
        low: at(own.low),
        high: at(own.high),
        middle: at(own.middle),
        sums: at(own.sums),
        squares: at(own.squares),
        counts: at(own.counts),
        seen: at(own.seen),
        count: pixels,
      });
    });
    const luma = new Float32Array(pixels),
      support = new Float32Array(pixels),
      spread = new Float32Array(pixels);
    for (let i = 0; i < pixels; i++) {
      const n = own.counts[i],
        off = n ? own.sums[i] / n : 0;
      // In black, rounding may leave a hair below zero.
      luma[i] = Math.max(0, middle[i] + off);
      support[i] = own.seen[i] ? n / own.seen[i] : 0;
      spread[i] = n > 2 ? Math.sqrt(Math.max(0, own.squares[i] / n - off * off)) : 0;
    }
    return { luma, support, looks: own.seen.slice(), spread };
  }

  /** Mean colour over the samples that show the layer, where enough do: of those of the pixel's trusted spells. */
  averageColour({ middle, reach, trusted }: Layers): { blue: Float32Array; red: Float32Array } {
    const { own, kernels, count, samples, size } = this;
    const colours = size.colourWidth * size.colourHeight;
    own.middle.set(middle);
    own.reach.set(reach);
    own.trusted.set(trusted);
    samples.blue.forEach((blue, k) => {
      own.spells[k] = 1 << spellOf(k, count);
      own.blues.set(blue, k * colours);
      own.reds.set(samples.red[k], k * colours);
      own.gains[k] = 2 ** (-samples.stops[k] / 2.1);
    });
    kernels.run.averageColour({
      samples: at(own.even),
      masks: this.masked ? at(own.masks) : 0,
      blues: at(own.blues),
      reds: at(own.reds),
      gains: at(own.gains),
      spells: at(own.spells),
      trusted: at(own.trusted),
      count,
      width: size.width,
      height: size.height,
      across: size.colourWidth,
      down: size.colourHeight,
      middle: at(own.middle),
      reach: at(own.reach),
      blue: at(own.blue),
      red: at(own.red),
    });
    return { blue: own.blue.slice(), red: own.red.slice() };
  }

  /**
   * How often each pixel leaves its middle, and in which of so many spells of the take it leaves or comes back, a bit each.
   * @param far levels from the middle that count as away; it is back within the share `inside` of that
   * @returns `away` for each sample, 1 where it is away
   */
  countLeaving(
    middle: Float32Array,
    far: Float32Array,
    inside: number,
    spells: number,
  ): { away: Uint8Array[]; times: Float32Array; when: Uint8Array } {
    const { own, kernels, count, pixels } = this;
    own.middle.set(middle);
    own.low.set(far);
    kernels.run.countLeaving({
      samples: at(own.even),
      masks: this.masked ? at(own.masks) : 0,
      count,
      pixels,
      middle: at(own.middle),
      far: at(own.low),
      inside,
      spells,
      away: at(own.away),
      times: at(own.sums),
      when: at(own.unsure),
    });
    return {
      away: this.even.map((_, k) => this.layer(own.away, k)),
      times: own.sums.slice(),
      when: own.unsure.slice(),
    };
  }
}

function room(count: number, pixels: number, colours: number, masked: boolean) {
  return Kernels.with({
    even: ['bytes', count * pixels],
    masks: ['bytes', masked ? count * pixels : 0],
    away: ['bytes', count * pixels],
    blues: ['bytes', count * colours],
    reds: ['bytes', count * colours],
    noise: ['floats', 16],
    hist: ['bytes', 288],
    gains: ['floats', count],
    spells: ['words', count],
    trusted: ['words', pixels],
    table: ['floats', 256],
    codes: ['bytes', 256],
    luma: ['bytes', pixels],
    middle: ['floats', pixels],
    reach: ['floats', pixels],
    low: ['floats', pixels],
    high: ['floats', pixels],
    unsure: ['bytes', pixels],
    sums: ['floats', pixels],
    squares: ['floats', pixels],
    counts: ['floats', pixels],
    seen: ['floats', pixels],
    blue: ['floats', colours],
    red: ['floats', colours],
  });
}
