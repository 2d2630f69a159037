import { LEVEL_BINS, levelBin, VarianceByLevel } from '../base/numeric/robust';
import { betweenPixels } from '../base/image/between-pixels';
import { stopsTable, type Transfer } from '../base/image/transfer';
import type { Background } from '../scene/background';
import { relight } from '../scene/gauge';
import type { Figure } from './figures';
import type { FinePicture } from './fine-stack';
import type { PixelBox } from '../base/image/regions';
import { SwayingColours, type Swaying } from './swaying';

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
  /** Spread of the colour differences of a pixel, levels: noise, and what edges of colour stray by. */
  colourSigma: Float32Array;
  /** Noise of the colour differences, levels. */
  colourNoise: number;
  swaying: Swaying | null;
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
/** Sum of squares that a normal of three dimensions exceeds once in a thousand times (chi square of three degrees). */
const STRAYS = 16.27;
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
  const sways = SwayingColours.of(small, frames);
  const stops = stopsTable(curve);
  const near = new Uint8Array(small.width * small.height);
  const columns = Int32Array.from({ length: width }, (_, x) => min(small.width - 1, floor((x + 0.5) / ratio)));
  const step = max(1, count / LOOKS);
  for (let k = 0; k < count; k += step) {
    const f = floor(k);
    const all = figures[f],
      stop = light[f];
    const picture = all && stop !== null && frames.look(f);
    if (!picture) continue;
    const table = relight(stops, -stop),
      gain = colourGain(table);
    markNear(all, small.width, small.height, AWAY, near);
    sways?.next();
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
        sways?.see(i, v, b, r);
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
  const law = Float32Array.from({ length: LEVEL_BINS }, (_, bin) =>
    max(LEAST_SIGMA ** 2, seeming.luma?.[bin] ?? 0, anew.luma?.[bin] ?? 0),
  );
  const colour = max(LEAST_COLOUR ** 2, seeming.colour ?? 0, anew.colour ?? 0);
  const slack = small.moved ? MOVED_SLACK_PX : SLACK_PX;
  const sigma = planes(),
    colourSigma = planes();
  /** What the edges of a plane stray by at a pixel, variance. */
  const strayed = (plane: Float32Array, x: number, y: number, i: number) => {
    const across = plane[x + 1 < width ? i + 1 : i] - plane[x > 0 ? i - 1 : i],
      down = plane[y + 1 < height ? i + width : i] - plane[y > 0 ? i - width : i];
    return (slack ** 2 * (across * across + down * down)) / 4;
  };
  // What sways is seen where a pixel shows neither what it usually does nor an edge of it that strays.
  const own = (i: number, isOwn: boolean) => {
    const [x, y] = [i % width, floor(i / width)];
    const base = law[levelBin(sum[i])];
    return [
      sqrt((isOwn || seen[i] < LEAST_FREE ? max(base, squares[i]) : base) + strayed(sum, x, y, i)),
      sqrt((isOwn ? max(colour, colours[i]) : colour) + (strayed(blue, x, y, i) + strayed(red, x, y, i)) / 2),
    ] as const;
  };
  const swaying =
    sways?.learned(
      (i, v, b, r) => {
        const [s, c] = own(i, false);
        return (v / s) ** 2 + (b * b + r * r) / (c * c) > STRAYS;
      },
      [sum, blue, red],
    ) ?? null;
  for (let i = 0; i < pixels; i++)
    // What moves by itself spreads as it does, in light and in colour.
    [sigma[i], colourSigma[i]] = own(i, seen[i] >= LEAST_SPREAD && !swaying?.share[i]);
  return { luma: sum, blue, red, sigma, colourSigma, colourNoise: sqrt(colour), swaying };
}

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

  /** Gives what tells the noise of one coding, variances by brightness. @param sum of luma in `seen` looks */
  noise(sum: Float32Array, seen: Uint16Array): Noise {
    const { before, after, counts, pixels } = this;
    const luma = new VarianceByLevel(),
      colour = new VarianceByLevel();
    for (let i = 0; i < pixels; i += 3) {
      const [m, n] = [counts[i], counts[pixels + i]];
      if (m < LEAST_FREE || n < LEAST_FREE) continue;
      const level = sum[i] / seen[i];
      const square = (k: number) => (before[3 * i + k] / m - after[3 * i + k] / n) ** 2 / 2;
      luma.add(level, square(0));
      for (const k of [1, 2]) colour.add(level, square(k));
    }
    return { luma: luma.law(1), colour: colour.overall(1) };
  }
}

/** Variances by brightness, levels squared; null where too few pixels tell. */
interface Noise {
  luma: Float32Array | null;
  /** Of the colour differences, whatever the brightness. */
  colour: number | null;
}

/** The same of what is seen often enough, as each pixel has it. */
function noiseOf(sum: Float32Array, spread: Float32Array, colours: Float32Array, seen: Uint16Array): Noise {
  const luma = new VarianceByLevel(),
    colour = new VarianceByLevel();
  for (let i = 0; i < sum.length; i += 7) {
    if (seen[i] < LEAST_SPREAD) continue;
    luma.add(sum[i], spread[i]);
    colour.add(sum[i], colours[i]);
  }
  return { luma: luma.law('many'), colour: colour.overall('many') };
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
