import { LightGauge, relight } from './gauge';
import { chooseBetweenLayers, type Layers } from './layers';
import type { SmallSize } from '../image/picture';
import { addressOf as at, Kernels } from '../kernels/kernels';
import { findRestless } from './restless';
import type { SteadyReader } from './steady-reader';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, floor, hypot, max, min, sqrt } = Math;

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
  /** Whether some of the frames it was made from had to be laid back on the others. */
  moved: boolean;
  /** Steepness of the picture, levels a pixel. */
  gradient: Float32Array;
  /** The steepest of a pixel's neighbourhood. */
  rough: Float32Array;
}

/** Light that strays by less than this, stops, leaves the median as it is. */
const STEADY = 0.01;
/** So many frames of the take are looked at. */
const SAMPLES = 72;
const LEVEL_BINS = 16;
/** Coding wobbles by this much, levels, even where it seems to keep a picture still. */
const LEAST_NOISE = 0.65;

/** Edges stray by this many levels for each level a pixel of their steepness: coding does that, and more so laying a moved picture back. */
const STILL_SLACK = 0.3;
const MOVED_SLACK = 1.2;

/** Pictures at hand for building the background, in the light of the first estimate. */
export interface Samples {
  frames: number[];
  luma: Uint8Array[];
  blue: Uint8Array[];
  red: Uint8Array[];
  seen: (Uint8Array | null)[];
  /** Light of each against the others, stops. */
  stops: number[];
}

/** A frame that lost more than this share of its fine detail is out of focus, and no background is made from it, */
const SOFT = 0.3;
/** unless fewer than this share of the frames are sharp. */
const LEAST_SHARP = 0.15;

/** Reads evenly spread sharp frames of a take. Null when none has a known place. @param soft share of fine detail lost in a frame */
export function takeSamples(reader: SteadyReader, soft: (frame: number) => number = () => 0): Samples | null {
  const known = Array.from({ length: reader.count }, (_, f) => f).filter((f) => reader.displacement(f) !== null);
  const sharp = known.filter((f) => soft(f) < SOFT);
  const usable = sharp.length >= LEAST_SHARP * known.length ? sharp : known;
  const count = min(SAMPLES, usable.length);
  if (count < 1) return null;
  const out: Samples = { frames: [], luma: [], blue: [], red: [], seen: [], stops: [] };
  for (let k = 0; k < count; k++) {
    const f = usable[floor(((k + 0.5) * usable.length) / count)];
    const p = reader.read(f);
    if (!p) continue;
    out.frames.push(f);
    out.luma.push(p.luma.slice());
    out.blue.push(p.blue.slice());
    out.red.push(p.red.slice());
    out.seen.push(p.seen?.slice() ?? null);
    out.stops.push(0);
  }
  return out;
}

/** Light of each sample against the middle of them all, by the background they share. */
export function evenOutLight(samples: Samples, stops: Float32Array): void {
  const pixels = samples.luma[0].length;
  samples.stops.fill(0);
  for (let round = 0; round < 2; round++) {
    const middle = medianPicture(samples, stops, pixels);
    const gauge = new LightGauge(stops, middle, null, 2, 3);
    samples.luma.forEach((luma, k) => { samples.stops[k] = gauge.read(luma, samples.seen[k])?.stops ?? samples.stops[k]; });
    if (samples.stops.every((s) => abs(s) < STEADY)) break;
  }
}

/** The median over the samples at every third pixel (others are left 0), each brought to the common light. */
function medianPicture(samples: Samples, stops: Float32Array, pixels: number): Float32Array {
  const tables = samples.stops.map((s) => relight(stops, -s));
  const out = new Float32Array(pixels);
  const values = new Float32Array(samples.luma.length);
  for (let i = 0; i < pixels; i += 3) {
    for (let k = 0; k < values.length; k++) values[k] = tables[k][samples.luma[k][i]];
    out[i] = middleOf(values, values.length);
  }
  return out;
}

function middleOf(values: Float32Array, count: number): number {
  const part = values.subarray(0, count).sort();
  return count % 2 ? part[(count - 1) / 2] : (part[count / 2 - 1] + part[count / 2]) / 2;
}

/**
 * Builds the background from samples of evened light: at each pixel the value seen most often; where two values were seen for
 * long, the one that continues what lies round about.
 */
export function buildBackground(samples: Samples, reader: SteadyReader, stops: Float32Array): Background {
  const { width, height, colourWidth, colourHeight } = reader.size;
  const pixels = width * height;
  const tables = samples.stops.map((s) => relight(stops, -s));
  const even = samples.luma.map((luma, k) => {
    const out = new Uint8Array(pixels);
    const table = tables[k];
    for (let i = 0; i < pixels; i++) out[i] = min(255, table[luma[i]] + 0.5);
    return out;
  });
  const moved = samples.seen.some((m) => m);
  const grain = pairNoise(even);
  const layers = chooseBetweenLayers(even, samples.seen, width, height, grain, moved ? 3 : 0);
  const luma = new Float32Array(pixels), support = new Float32Array(pixels), spread = new Float32Array(pixels);
  averageLuma(samples, even, tables, layers, luma, support, spread);
  const blue = new Float32Array(colourWidth * colourHeight), red = new Float32Array(blue.length);
  averageColour(samples, even, layers, reader.size, blue, red);
  const noise = noiseByLevel(luma, spread, support);
  const gradient = gradients(luma, width, height);
  const slack = moved ? MOVED_SLACK : STILL_SLACK;
  const { restless, up, down } = findRestless(even, layers.middle, layers.reach, gradient.map((g) => slack * g), width, height);
  const sigma = new Float32Array(pixels), sigmaDown = new Float32Array(pixels);
  for (let i = 0; i < pixels; i++) {
    const base = noise[min(LEVEL_BINS - 1, floor(luma[i] / 16))];
    const own = max(base, min((moved ? 6 : 3) * base, 1.1 * spread[i]));
    sigma[i] = restless[i] ? max(own, up[i]) : own;
    sigmaDown[i] = restless[i] ? max(own, down[i]) : own;
  }
  return {
    width, height, colourWidth, colourHeight, luma, blue, red, sigma, sigmaDown, noise, restless, support,
    colourNoise: colourNoise(samples, blue, red), moved, gradient, rough: steepestNearby(gradient, width, height),
  };
}

/** Mean of each pixel over the samples that show its layer, the share of samples that do, and their spread. */
function averageLuma(samples: Samples, even: Uint8Array[], tables: Float32Array[], layers: Layers, luma: Float32Array, support: Float32Array, spread: Float32Array): void {
  const pixels = luma.length;
  const { kernels, arrays: own } = Kernels.with({
    even: ['bytes', pixels], luma: ['bytes', pixels], mask: ['bytes', pixels], table: ['floats', 256], low: ['floats', pixels], high: ['floats', pixels], middle: ['floats', pixels],
    sums: ['floats', pixels], squares: ['floats', pixels], counts: ['floats', pixels], seen: ['floats', pixels],
  });
  own.middle.set(layers.middle);
  for (let i = 0; i < pixels; i++) {
    own.low[i] = layers.middle[i] - layers.reach[i];
    own.high[i] = layers.middle[i] + layers.reach[i];
  }
  for (let k = 0; k < even.length; k++) {
    const mask = samples.seen[k];
    own.even.set(even[k]);
    own.luma.set(samples.luma[k]);
    own.table.set(tables[k]);
    if (mask) own.mask.set(mask);
    kernels.run.addSample(at(own.even), at(own.luma), at(own.table), mask ? at(own.mask) : 0, at(own.low), at(own.high), at(own.middle), at(own.sums), at(own.squares), at(own.counts), at(own.seen), pixels);
  }
  for (let i = 0; i < pixels; i++) {
    const n = own.counts[i], off = n ? own.sums[i] / n : 0;
    luma[i] = layers.middle[i] + off;
    support[i] = own.seen[i] ? n / own.seen[i] : 0;
    spread[i] = n > 2 ? sqrt(max(0, own.squares[i] / n - off * off)) : 0;
  }
}

/** Mean colour over the samples that show the layer, where enough do. */
function averageColour(samples: Samples, even: Uint8Array[], layers: Layers, { width, height, colourWidth, colourHeight }: SmallSize, blue: Float32Array, red: Float32Array): void {
  const count = even.length;
  const gains = samples.stops.map((s) => 2 ** (-s / 2.1));
  for (let y = 0, c = 0; y < colourHeight; y++) {
    for (let x = 0; x < colourWidth; x++, c++) {
      const i = min(height - 1, 2 * y) * width + min(width - 1, 2 * x);
      const middle = layers.middle[i], reach = layers.reach[i];
      let b = 0, r = 0, n = 0;
      for (let k = 0; k < count; k++) {
        if (abs(even[k][i] - middle) > reach && n + count - k > count / 4) continue;
        b += (samples.blue[k][c] - 128) * gains[k];
        r += (samples.red[k][c] - 128) * gains[k];
        n++;
      }
      blue[c] = n ? 128 + b / n : 128;
      red[c] = n ? 128 + r / n : 128;
    }
  }
}

/** Noise between neighbouring samples by brightness, in levels: a first idea of how far values of one thing lie apart. */
function pairNoise(even: Uint8Array[]): Float32Array {
  const counts = Array.from({ length: LEVEL_BINS }, () => new Uint32Array(64));
  for (let k = 1; k < even.length; k++) {
    const a = even[k - 1], b = even[k];
    for (let i = (k * 7) % 11; i < a.length; i += 11) counts[a[i] >> 4][min(63, abs(a[i] - b[i]))]++;
  }
  return smoothBins(counts.map((c) => {
    const total = c.reduce((s, n) => s + n, 0);
    if (total < 200) return NaN;
    // The lower quartile of a normal's absolute differences is 0.45 of its spread; movers touch it least.
    let seen = 0, d = 0;
    while (d < 63 && seen + c[d] < 0.25 * total) seen += c[d++];
    return (d + (0.25 * total - seen) / max(1, c[d]) - 0.5) / 0.4506;
  }));
}

/** Spread of what stays still, by brightness, over the whole take: the middle of the quieter half of the pixels, in levels. */
function noiseByLevel(luma: Float32Array, spread: Float32Array, support: Float32Array): Float32Array {
  const values: number[][] = Array.from({ length: LEVEL_BINS }, () => []);
  for (let i = 0; i < luma.length; i += 3) if (support[i] > 0.5) values[min(LEVEL_BINS - 1, floor(luma[i] / 16))].push(spread[i]);
  return smoothBins(values.map((v) => {
    if (v.length < 40) return NaN;
    v.sort((a, b) => a - b);
    return 1.1 * v[floor(0.35 * v.length)];
  }));
}

/** Fills bins that nothing is known of from the nearest known, and keeps all above the error of rounding. */
function smoothBins(bins: number[]): Float32Array {
  return Float32Array.from(bins, (v, i) => {
    if (Number.isFinite(v)) return max(LEAST_NOISE, v);
    for (let d = 1; d < bins.length; d++) for (const j of [i - d, i + d]) if (Number.isFinite(bins[j])) return max(LEAST_NOISE, bins[j]);
    return 1;
  });
}

function colourNoise(samples: Samples, blue: Float32Array, red: Float32Array): number {
  const values: number[] = [];
  samples.blue.forEach((b, k) => {
    for (let c = k % 53; c < blue.length; c += 53) values.push(abs(b[c] - blue[c]), abs(samples.red[k][c] - red[c]));
  });
  values.sort((a, b) => a - b);
  return values.length ? max(0.4, values[floor(values.length / 2)] / 0.6745) : 0.5;
}

function gradients(luma: Float32Array, width: number, height: number): Float32Array {
  const out = new Float32Array(luma.length);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const h = luma[x + 1 < width ? i + 1 : i] - luma[x > 0 ? i - 1 : i];
      const v = luma[y + 1 < height ? i + width : i] - luma[y > 0 ? i - width : i];
      out[i] = 0.5 * hypot(h, v);
    }
  }
  return out;
}

/** Largest value in squares of 2 x 3 + 1 pixels. */
function steepestNearby(values: Float32Array, width: number, height: number): Float32Array {
  const rows = new Float32Array(values.length), out = new Float32Array(values.length);
  for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) for (let u = max(0, x - 3); u <= min(width - 1, x + 3); u++) rows[y * width + x] = max(rows[y * width + x], values[y * width + u]);
  for (let y = 0; y < height; y++) for (let v = max(0, y - 3); v <= min(height - 1, y + 3); v++) for (let x = 0; x < width; x++) out[y * width + x] = max(out[y * width + x], rows[v * width + x]);
  return out;
}
