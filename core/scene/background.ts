import { LEVEL_BINS, levelBin, sigmaOf, VarianceByLevel } from '../base/numeric/robust';
import type { SmallSize } from '../base/image/picture';
import { addressOf as at, Kernels } from '../base/kernels/kernels';
import { median } from '../base/numeric/quantile';
import { LightGauge, relight } from './gauge';
import { chooseBetweenLayers } from './layers';
import { findRestless } from './restless';
import { SampleSums } from './sample-sums';
import type { Layers, Samples } from './samples';
import type { SteadyReader } from './steady-reader';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, ceil, floor, max, min, sqrt } = Math;

/** What the camera sees when nobody is in, as far as the take shows it, in one light. */
export interface Background {
  width: number;
  height: number;
  colourWidth: number;
  colourHeight: number;
  /** Code values, 0 to 255. */
  luma: Float32Array;
  blue: Float32Array;
  red: Float32Array;
  /** Spread of a pixel in light that does not change, in levels: grain, coding, and what moves by itself. */
  sigma: Float32Array;
  /** The same towards darker values, where that differs. */
  sigmaDown: Float32Array;
  /** Noise of the picture by brightness: 16 bins over 0 to 255, in levels; and of the colour differences. */
  noise: Float32Array;
  colourNoise: number;
  /** 1 where the picture moves by itself. */
  restless: Uint8Array;
  /** For every pixel, the share of the looked-at frames that show the background there. */
  support: Float32Array;
  /** 1 where enough of the looked-at frames show the place at all for anything to be known of it. */
  known: Uint8Array;
  /** Whether some of the frames it was made from had to be laid back on the others. */
  moved: boolean;
  /** Steepness of the picture, levels a pixel. */
  gradient: Float32Array;
  /** The steepest of a pixel's neighbourhood. */
  rough: Float32Array;
}

/** Light that strays by less than this, stops, leaves the median as it is. */
const STEADY = 0.01;
/** Coding wobbles by this much, levels, even where it seems to keep a picture still. */
const LEAST_NOISE = 0.65;

/** Edges stray by this many levels for each level a pixel of their steepness: coding does that, and more so laying a moved picture back. */
const STILL_SLACK = 0.3;
const MOVED_SLACK = 1.2;

/** The light of samples is read from every so many pixels, in pictures large enough. */
const LIGHT_STEP = 9;
const LARGE = 20000;

/** Light of each sample against the middle of them all, by the background they share. */
export function evenOutLight(samples: Samples, stops: Float32Array): void {
  const pixels = samples.luma[0].length;
  const step = pixels >= LARGE ? LIGHT_STEP : LIGHT_STEP / 3;
  samples.stops.fill(0);
  const middles = new Middles(samples, stops, step);
  for (let round = 0; round < 2; round++) {
    const gauge = new LightGauge(stops, middles.read(samples.stops), null, 2, step);
    samples.luma.forEach((luma, k) => {
      samples.stops[k] = gauge.read(luma, samples.seen[k])?.stops ?? samples.stops[k];
    });
    if (samples.stops.every((s) => abs(s) < STEADY)) break;
  }
}

/** Light of samples read again may differ by so much, stops, before the background is built again. */
const EVENED = 0.015;

/**
 * Light of each sample against the background that was made of them: where somebody stood for long before much of the
 * picture, the middle of the samples was theirs. Whether it changed what was known.
 */
export function evenOutAgain(samples: Samples, background: Background, stops: Float32Array): boolean {
  const { luma, sigma, restless } = background;
  const free = restless.map((r, i) => (r || !background.known[i] ? 0 : 1));
  const gauge = new LightGauge(stops, luma, free, sigma, luma.length >= LARGE ? LIGHT_STEP : LIGHT_STEP / 3);
  const again = samples.luma.map((own, k) => gauge.read(own, samples.seen[k])?.stops ?? samples.stops[k]);
  const by = again.map((s, k) => s - samples.stops[k]);
  const common = median(by);
  if (by.every((d) => abs(d - common) < EVENED)) return false;
  samples.stops.splice(0, again.length, ...again);
  return true;
}

/** Medians over samples at every so many pixels. */
class Middles {
  private readonly room;

  /** @param stops log2 of light for each code value. @param step every so many pixels */
  constructor(
    samples: Samples,
    private readonly stops: Float32Array,
    private readonly step: number,
  ) {
    const count = samples.luma.length,
      pixels = samples.luma[0].length;
    this.room = Kernels.with({
      samples: ['bytes', count * pixels],
      tables: ['floats', 256 * count],
      values: ['doubles', count],
      out: ['floats', pixels],
    });
    samples.luma.forEach((luma, k) => this.room.arrays.samples.set(luma, k * pixels));
  }

  /** The picture, code values; others than every so many pixels are 0. @param light that of each sample, stops, which is taken off */
  read(light: readonly number[]): Float32Array {
    const {
      kernels,
      arrays: { samples, tables, values, out },
    } = this.room;
    light.forEach((s, k) => tables.set(relight(this.stops, -s), 256 * k));
    kernels.run.middleOfSamples({
      samples: at(samples),
      tables: at(tables),
      count: light.length,
      pixels: out.length,
      step: this.step,
      values: at(values),
      out: at(out),
    });
    return out;
  }
}

/**
 * Builds the background from samples of evened light: at each pixel the value seen most often; where two values were
 * seen for long, the one that continues what lies round about.
 */
export function buildBackground(samples: Samples, reader: SteadyReader, stops: Float32Array): Background {
  const { width, height, colourWidth, colourHeight } = reader.size;
  const pixels = width * height;
  const sums = new SampleSums(
    samples,
    reader.size,
    samples.stops.map((s) => relight(stops, -s)),
  );
  const moved = samples.seen.some((m) => m);
  const seeming = pairNoise(sums.even);
  const codedAnew = codingNoise(sums.even, samples.seen, seeming);
  const atLeast = (law: Float32Array) => law.map((v, bin) => max(v, codedAnew[bin]));
  const layers = chooseBetweenLayers(sums, samples.seen, width, height, atLeast(seeming), moved ? 3 : 0);
  const { luma, support, looks, spread } = sums.averageLuma(layers);
  const { blue, red } = sums.averageColour(layers);
  const noise = atLeast(noiseByLevel(luma, spread, support));
  const gradient = gradients(luma, width, height);
  const slack = moved ? MOVED_SLACK : STILL_SLACK;
  const { restless, up, down } = findRestless(
    sums,
    layers.middle,
    layers.reach,
    gradient.map((g) => slack * g),
    width,
    height,
  );
  const sigma = new Float32Array(pixels),
    sigmaDown = new Float32Array(pixels);
  for (let i = 0; i < pixels; i++) {
    const base = noise[levelBin(luma[i])];
    const own = max(base, min((moved ? 6 : 3) * base, 1.1 * spread[i]));
    sigma[i] = restless[i] ? max(own, up[i]) : own;
    sigmaDown[i] = restless[i] ? max(own, down[i]) : own;
  }
  return {
    width,
    height,
    colourWidth,
    colourHeight,
    luma,
    blue,
    red,
    sigma,
    sigmaDown,
    noise,
    restless,
    support,
    known: knownOf(looks),
    colourNoise: colourNoise(samples, sums.even, layers, reader.size, blue, red),
    moved,
    gradient,
    rough: steepestNearby(gradient, width, height),
  };
}

/** What fewer frames show than this share of the most, or than so many, is not known. */
const LEAST_LOOKS = 3;
const SHARE_OF_LOOKS = 0.125;

/** @param looks how many of the looked-at frames show each place */
function knownOf(looks: Float32Array): Uint8Array {
  const most = looks.reduce((m, n) => max(m, n), 0);
  const least = min(most, max(LEAST_LOOKS, SHARE_OF_LOOKS * most));
  return Uint8Array.from(looks, (n) => (n >= least ? 1 : 0));
}

/** Noise between neighbouring samples by brightness, in levels: a first idea of how far values of one thing lie apart. */
function pairNoise(even: Uint8Array[]): Float32Array {
  const counts = Array.from({ length: LEVEL_BINS }, () => new Uint32Array(64));
  for (let k = 1; k < even.length; k++) {
    const a = even[k - 1],
      b = even[k];
    for (let i = (k * 7) % 11; i < a.length; i += 11) counts[a[i] >> 4][min(63, abs(a[i] - b[i]))]++;
  }
  return smoothBins(
    counts.map((c) => {
      const total = c.reduce((s, n) => s + n, 0);
      if (total < 200) return NaN;
      // The lower quartile of a normal's absolute differences is 0.45 of its spread; movers touch it least.
      let seen = 0,
        d = 0;
      while (d < 63 && seen + c[d] < 0.25 * total) seen += c[d++];
      return (d + (0.25 * total - seen) / max(1, c[d]) - 0.5) / 0.4506;
    }),
  );
}

/** What differs by so many levels from before and after has passed before a pixel. */
const PASSED = 25;
/** Somebody's legs, or their arm and their body, pass a pixel so often at most. */
const MOST_TIMES = 2;
/** Before and after it stays still: its values lie within so many standard deviations of the noise that there seems to be. */
const STILL_SIGMAS = 4;
/**
 * Noise that coding leaves between two codings of one thing, by brightness, levels; 0 where nothing tells. Coding repeats
 * what stays, noise and all, so that a still picture seems to have none; what was hidden for a while is coded anew, with
 * other noise. It is told by pixels that something passed before.
 * @param seeming noise of what stays, by brightness, levels
 */
function codingNoise(even: Uint8Array[], seen: (Uint8Array | null)[], seeming: Float32Array): Float32Array {
  const part = even.length >> 3;
  const none = new Float32Array(LEVEL_BINS);
  if (part < 1) return none;
  const [start, end] = [even.slice(0, part), even.slice(even.length - part)];
  const shown = [...seen.slice(0, part), ...seen.slice(even.length - part)].filter((m) => m !== null);
  const variance = new VarianceByLevel();
  for (let i = 0; i < even[0].length; i += 2) {
    if (shown.some((m) => !m[i])) continue;
    const before = median(start.map((e) => e[i])),
      after = median(end.map((e) => e[i]));
    const still = STILL_SIGMAS * seeming[levelBin(before)];
    if (start.some((e) => abs(e[i] - before) > still) || end.some((e) => abs(e[i] - after) > still)) continue;
    let times = 0,
      away = false;
    even.forEach((e, k) => {
      if (seen[k] && !seen[k][i]) return;
      const isAway = abs(e[i] - before) > PASSED && abs(e[i] - after) > PASSED;
      if (isAway && !away) times++;
      away = isAway;
    });
    // What moves by itself comes and goes.
    if (times > 0 && times <= MOST_TIMES) variance.add(before, (before - after) ** 2 / 2);
  }
  return variance.law(1)?.map(sqrt) ?? none;
}

/** Spread of what stays still, by brightness, over the whole take: the middle of the quieter half of the pixels, in levels. */
function noiseByLevel(luma: Float32Array, spread: Float32Array, support: Float32Array): Float32Array {
  const values = Array.from({ length: LEVEL_BINS }, () => ({
    list: new Float32Array(ceil(luma.length / 3)),
    count: 0,
  }));
  for (let i = 0; i < luma.length; i += 3) {
    if (!(support[i] > 0.5)) continue;
    const bin = values[levelBin(luma[i])];
    bin.list[bin.count++] = spread[i];
  }
  return smoothBins(
    values.map(({ list, count }) => (count < 40 ? NaN : 1.1 * list.subarray(0, count).sort()[floor(0.35 * count)])),
  );
}

/** Fills bins that nothing is known of from the nearest known, and keeps all above the error of rounding. */
function smoothBins(bins: number[]): Float32Array {
  return Float32Array.from(bins, (v, i) => {
    if (Number.isFinite(v)) return max(LEAST_NOISE, v);
    for (let d = 1; d < bins.length; d++)
      for (const j of [i - d, i + d]) if (Number.isFinite(bins[j])) return max(LEAST_NOISE, bins[j]);
    return 1;
  });
}

/** Spread of the colour differences about the background's, levels, where luma says that it is the background that is seen. */
function colourNoise(
  samples: Samples,
  even: Uint8Array[],
  { middle, reach }: Pick<Layers, 'middle' | 'reach'>,
  { width, height, colourWidth }: SmallSize,
  blue: Float32Array,
  red: Float32Array,
): number {
  const values = new Float32Array(2 * samples.blue.length * ceil(blue.length / 53));
  let n = 0;
  samples.blue.forEach((b, k) => {
    for (let c = k % 53; c < blue.length; c += 53) {
      const x = c % colourWidth,
        y = (c - x) / colourWidth;
      const i = min(height - 1, 2 * y) * width + min(width - 1, 2 * x);
      if (abs(even[k][i] - middle[i]) > reach[i]) continue;
      values[n++] = abs(b[c] - blue[c]);
      values[n++] = abs(samples.red[k][c] - red[c]);
    }
  });
  return n ? max(0.4, sigmaOf(values.subarray(0, n))) : 0.5;
}

function gradients(luma: Float32Array, width: number, height: number): Float32Array {
  const out = new Float32Array(luma.length);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const h = luma[x + 1 < width ? i + 1 : i] - luma[x > 0 ? i - 1 : i];
      const v = luma[y + 1 < height ? i + width : i] - luma[y > 0 ? i - width : i];
      out[i] = 0.5 * sqrt(h * h + v * v);
    }
  }
  return out;
}

/** Largest value in squares of 2 x 3 + 1 pixels. */
function steepestNearby(values: Float32Array, width: number, height: number): Float32Array {
  const rows = new Float32Array(values.length),
    out = new Float32Array(values.length);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      for (let u = max(0, x - 3); u <= min(width - 1, x + 3); u++)
        rows[y * width + x] = max(rows[y * width + x], values[y * width + u]);
  for (let y = 0; y < height; y++)
    for (let v = max(0, y - 3); v <= min(height - 1, y + 3); v++)
      for (let x = 0; x < width; x++) out[y * width + x] = max(out[y * width + x], rows[v * width + x]);
  return out;
}
