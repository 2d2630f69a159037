import { betweenPixels } from '../image/between-pixels';
import { stopsTable, type Transfer } from '../image/transfer';
import { median } from '../numeric/quantile';
import type { Background } from '../scene/background';
import { relight } from '../scene/gauge';
import type { Figure } from './figures';
import type { FinePicture } from './fine-stack';
import type { PixelBox } from '../image/regions';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { floor, max, min, sqrt } = Math;

/** Where somebody is in one frame: rows of y, first x, last x and kind. */
export type Outline = Pick<Figure, 'rows'>;

/** Luma of the empty picture as finely as figures are outlined, in the light of the reference, code values. */
export interface FineLuma {
  luma: Float32Array;
  /** Spread of a pixel in light that does not change, levels: noise, what moves by itself, and what edges stray by. */
  sigma: Float32Array;
}

/** The same with its colours. */
export interface FineBackground extends FineLuma {
  /** Colour differences, levels; 0 is no colour. */
  blue: Float32Array;
  red: Float32Array;
  /** Noise of the colour differences, levels. */
  colourSigma: number;
}

/** A picture as it lies on the reference frame. */
export type SteadyFine = FinePicture & {
  /** 1 for pixels that the frame shows; null when it shows all of them. */
  seen: Uint8Array | null;
};

export interface FineFrames {
  width: number;
  height: number;
  count: number;
  /** Luma of a frame as it lies on the reference frame, valid until the next call; null where that is not known. */
  read: (frame: number) => Uint8Array | null;
  /** The same with its colours; only a part of it where that is enough, both ends included. */
  look: (frame: number, part?: PixelBox) => SteadyFine | null;
  /** Fine pixels for one small pixel. */
  ratio: number;
}

/** So many frames say what the empty picture is. */
const LOOKS = 50;
/** A pixel must be seen free in so many of them; its own spread is known from so many on. */
const LEAST_FREE = 3;
const LEAST_SPREAD = 10;
/** Levels: rounding to whole ones, in the picture and again in what it was made from, makes up so much at least. */
const LEAST_SIGMA = 1;
const LEAST_COLOUR = 0.6;
/** What was told from small pixels is known that much worse. */
const UNSURE = 2;
/** Free is what lies at least so many small pixels from anybody. */
const AWAY = 2;
/** The lock leaves edges off by so much, fine pixels; where pictures are laid back on each other, by so much. */
const SLACK_PX = 0.25;
const MOVED_SLACK_PX = 0.35;
const BINS = 16;
/** Sixty values know their middle to a sixth. */
const LEAST_VALUES = 60;

/** Factor by which code values of colour go with the light, read at middle grey. */
export const colourGain = (table: Float32Array): number => table[118] / 118;

/**
 * The mean of each pixel over frames in which nobody is near it; where somebody always is, what the small background
 * has there. Noise is one law of brightness for the take, from the spread of what is seen free; what moves by itself
 * spreads more, each pixel as it does.
 */
export function fineBackground(
  frames: FineFrames,
  figures: readonly (readonly Outline[] | null)[],
  light: readonly (number | null)[],
  small: Background,
  curve: Transfer,
): FineBackground {
  const { width, height, count, ratio } = frames;
  const pixels = width * height;
  const planes = () => new Float32Array(pixels);
  const [sum, squares, blue, red, colours] = [planes(), planes(), planes(), planes(), planes()];
  const seen = new Uint16Array(pixels);
  const coded = new CodedAnew(pixels);
  const stops = stopsTable(curve);
  const near = new Uint8Array(small.width * small.height);
  const columns = Int32Array.from({ length: width }, (_, x) => min(small.width - 1, floor((x + 0.5) / ratio)));
  const step = max(1, count / LOOKS);
  for (let k = 0; k < count; k += step) {
    const f = floor(k);
    const all = figures[f],
      stop = light[f];
    if (!all || stop === null) continue;
    const picture = frames.look(f);
    if (!picture) continue;
    const table = relight(stops, -stop),
      gain = colourGain(table);
    markNear(all, small.width, small.height, AWAY, near);
    for (let y = 0, i = 0; y < height; y++) {
      const row = min(small.height - 1, floor((y + 0.5) / ratio)) * small.width;
      for (let x = 0; x < width; x++, i++) {
        if (near[row + columns[x]]) coded.hide(i);
        if (near[row + columns[x]] || (picture.seen && !picture.seen[i])) continue;
        const v = table[picture.luma[i]],
          b = (picture.blue[i] - 128) * gain,
          r = (picture.red[i] - 128) * gain;
        sum[i] += v;
        squares[i] += v * v;
        blue[i] += b;
        red[i] += r;
        colours[i] += b * b + r * r;
        seen[i]++;
        coded.show(i, v, b, r);
      }
    }
  }
  const anew = coded.noise(sum, seen);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      const n = seen[i];
      if (n >= LEAST_FREE) {
        sum[i] /= n;
        blue[i] /= n;
        red[i] /= n;
        squares[i] = (max(0, squares[i] / n - sum[i] ** 2) * n) / (n - 1);
        colours[i] = max(0, colours[i] / n - blue[i] ** 2 - red[i] ** 2) / 2;
      } else {
        const u = (x + 0.5) / ratio - 0.5,
          v = (y + 0.5) / ratio - 0.5;
        sum[i] = betweenPixels(small.luma, small.width, small.height, u, v);
        const half = [small.colourWidth, small.colourHeight, (u - 0.5) / 2, (v - 0.5) / 2] as const;
        blue[i] = betweenPixels(small.blue, ...half) - 128;
        red[i] = betweenPixels(small.red, ...half) - 128;
        squares[i] = (UNSURE * betweenPixels(small.sigma, small.width, small.height, u, v)) ** 2;
      }
    }
  const seeming = noiseOf(sum, squares, colours, seen);
  const law = seeming.law.map((v, bin) => max(v, anew.law[bin])),
    colour = max(seeming.colour, anew.colour);
  const slack = small.moved ? MOVED_SLACK_PX : SLACK_PX;
  const sigma = planes();
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      const across = sum[x + 1 < width ? i + 1 : i] - sum[x > 0 ? i - 1 : i],
        down = sum[y + 1 < height ? i + width : i] - sum[y > 0 ? i - width : i];
      const base = law[min(BINS - 1, floor(max(0, sum[i]) / (256 / BINS)))];
      const own = seen[i] >= LEAST_SPREAD || seen[i] < LEAST_FREE ? max(base, squares[i]) : base;
      sigma[i] = sqrt(max(LEAST_SIGMA ** 2, own) + (slack ** 2 * (across * across + down * down)) / 4);
    }
  return { luma: sum, blue, red, sigma, colourSigma: max(LEAST_COLOUR, sqrt(colour)) };
}

/** The middle of a normal's squares, variances (of a chi square of one degree). */
const MIDDLE_SQUARE = 0.4549;

/**
 * What each pixel showed before anybody hid it for the first time, and after they did for the last: two codings of one
 * thing. What stays is repeated, noise and all, and shows no noise by itself.
 */
class CodedAnew {
  private readonly before: Float32Array;
  private readonly after: Float32Array;
  private readonly counts: Uint16Array;
  private readonly hidden: Uint8Array;

  constructor(private readonly pixels: number) {
    this.before = new Float32Array(3 * pixels);
    this.after = new Float32Array(3 * pixels);
    this.counts = new Uint16Array(2 * pixels);
    this.hidden = new Uint8Array(pixels);
  }

  hide(i: number): void {
    this.hidden[i] = 1;
    this.counts[this.pixels + i] = 0;
    this.after.fill(0, 3 * i, 3 * i + 3);
  }

  show(i: number, luma: number, blue: number, red: number): void {
    const { hidden, pixels } = this;
    const into = hidden[i] ? this.after : this.before;
    into[3 * i] += luma;
    into[3 * i + 1] += blue;
    into[3 * i + 2] += red;
    this.counts[hidden[i] ? pixels + i : i]++;
  }

  /** Variance of one coding by brightness, and of its colour differences; 0 where nothing tells. @param sum of luma in `seen` looks */
  noise(sum: Float32Array, seen: Uint16Array): { law: number[]; colour: number } {
    const { before, after, counts, pixels } = this;
    const bins: number[][] = Array.from({ length: BINS }, () => []),
      chroma: number[] = [];
    for (let i = 0; i < pixels; i += 3) {
      const [m, n] = [counts[i], counts[pixels + i]];
      if (m < LEAST_FREE || n < LEAST_FREE) continue;
      const apart = [0, 1, 2].map((k) => (before[3 * i + k] / m - after[3 * i + k] / n) ** 2 / 2);
      bins[min(BINS - 1, floor(max(0, sum[i] / seen[i]) / (256 / BINS)))].push(apart[0]);
      chroma.push(apart[1], apart[2]);
    }
    const all = bins.flat();
    if (all.length < LEAST_VALUES) return { law: bins.map(() => 0), colour: 0 };
    const middle = (values: number[]) => median(values) / MIDDLE_SQUARE;
    return { law: bins.map((v) => middle(v.length < LEAST_VALUES ? all : v)), colour: middle(chroma) };
  }
}

/** Variance of luma by brightness, and of the colour differences: the middle of what is seen often enough. */
function noiseOf(luma: Float32Array, spread: Float32Array, colours: Float32Array, seen: Uint16Array) {
  const bins: number[][] = Array.from({ length: BINS }, () => []),
    chroma: number[] = [];
  for (let i = 0; i < luma.length; i += 7) {
    if (seen[i] < LEAST_SPREAD) continue;
    bins[min(BINS - 1, floor(max(0, luma[i]) / (256 / BINS)))].push(spread[i]);
    chroma.push(colours[i]);
  }
  const all = bins.flat();
  const overall = all.length ? median(all) : LEAST_SIGMA ** 2;
  return {
    law: bins.map((v) => (v.length >= LEAST_VALUES ? median(v) : overall)),
    colour: chroma.length ? median(chroma) : 0,
  };
}

/** 1 for small pixels in somebody or so near them. @param away small pixels, across and down */
export function markNear(
  figures: readonly Outline[],
  width: number,
  height: number,
  away: number,
  out: Uint8Array,
): void {
  out.fill(0);
  for (const { rows } of figures)
    for (let k = 0; k < rows.length; k += 4)
      for (let y = max(0, rows[k] - away); y <= min(height - 1, rows[k] + away); y++)
        out.fill(1, y * width + max(0, rows[k + 1] - away), y * width + min(width - 1, rows[k + 2] + away) + 1);
}
