import type { Matrix } from '../../base/image/picture';
import { median } from '../../base/numeric/quantile';
import type { Figure } from '../../presence/figures';
import type { Run } from '../../report/types';
import type { Background } from '../../scene/background';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, ceil, floor, log2, max, min } = Math;

/** A clear run of some take, with what it is ranked by. */
export interface Candidate {
  take: number;
  run: Run;
  seconds: number;
  /** Light of the run against the wished light, stops; null when the two takes were not compared. */
  stops: number | null;
  /** Movement of the camera inside the run, source pixels. */
  moved_px: number;
  /** The less the better. */
  cost: number;
}

export interface TakeForPlate {
  clear: readonly Run[];
  stops: readonly (number | null)[];
  displacement: readonly (number | null)[];
  fps: number;
  /** This take's light less that of the take the plate is for, stops: 0 for that take itself, null when not known. */
  gap?: number | null;
  /** Minutes between the rolling of the two. */
  minutes?: number;
  /** Grain against that of the take the plate is for, as a ratio; 1 or unknown costs nothing. */
  grain?: number | null;
}

/** A run this long, seconds, gives all the averaging that is worth having. */
const LONG_SECONDS = 2;
/** What stands for a gap of light that is not known, stops. */
const UNKNOWN_GAP = 0.2;
/** Light wanders by about this much in a minute out of doors; so does what lies about. */
const COST_A_MINUTE = 0.05;

/**
 * Clear runs of one or several takes, the best first: near in light and time to the take they are for, still, long,
 * and of the same grain.
 */
export function rankClearRuns(takes: readonly TakeForPlate[]): Candidate[] {
  return takes
    .flatMap((t, take) => {
      const all = t.stops.filter((v): v is number => v !== null);
      const middle = all.length ? median(all) : 0;
      const gap = t.gap === undefined ? 0 : t.gap;
      return t.clear.map((run): Candidate => {
        const part = (values: readonly (number | null)[]) =>
          values.slice(run.start, run.end + 1).filter((v): v is number => v !== null);
        const stops = part(t.stops),
          moved = part(t.displacement);
        const own = stops.length ? stops.reduce((s, v) => s + v, 0) / stops.length - middle : 0;
        const light = gap === null ? null : gap + own;
        const far = moved.length ? max(...moved) - min(...moved) : 0;
        const seconds = (run.end - run.start + 1) / t.fps;
        const grain = t.grain && t.grain > 0 ? abs(log2(t.grain)) : 0;
        const cost =
          abs(light ?? UNKNOWN_GAP) * 10 +
          far +
          max(0, LONG_SECONDS - seconds) +
          COST_A_MINUTE * (t.minutes ?? 0) +
          0.5 * grain +
          0.01 * take;
        return { take, run, seconds, stops: light, moved_px: far, cost };
      });
    })
    .sort((a, b) => a.cost - b.cost);
}

/** So many frames at most are averaged: more take longer and lower the grain hardly further. */
export const MOST_FRAMES = 16;
/** Pixels this close to a figure, small pixels, are not taken for background. */
const MARGIN = 2;

/** Frames spread evenly over a run. */
export function spreadFrames(run: Run, most = MOST_FRAMES): number[] {
  const count = run.end - run.start + 1;
  const n = min(most, count);
  return Array.from({ length: n }, (_, k) => run.start + floor(((k + 0.5) * count) / n));
}

/** Which small pixels of a frame are free of figures and what is close to them: 1 or 0. */
export function freePixels(figures: readonly Figure[], width: number, height: number): Uint8Array {
  const free = new Uint8Array(width * height).fill(1);
  for (const figure of figures) {
    for (let k = 0; k < figure.rows.length; k += 4) {
      const [y, from, to] = [figure.rows[k], figure.rows[k + 1], figure.rows[k + 2]];
      for (let v = max(0, y - MARGIN); v <= min(height - 1, y + MARGIN); v++) {
        free.fill(0, v * width + max(0, from - MARGIN), v * width + min(width - 1, to + MARGIN) + 1);
      }
    }
  }
  return free;
}

/**
 * Frames from which a plate can be stitched: again and again the one that shows most of what is not seen often enough yet.
 * @param usable frames whose camera position and light are near enough
 * @param wanted how often each pixel should be seen, if it can be
 */
export function chooseStitchFrames(
  figures: readonly (readonly Figure[] | null)[],
  usable: readonly number[],
  width: number,
  height: number,
  wanted = 5,
): number[] {
  // A look at every so many frames is enough: neighbours show the same.
  const step = max(1, ceil(usable.length / 120));
  const looks = usable
    .filter((_, k) => k % step === 0)
    .flatMap((f) => {
      const all = figures[f];
      return all ? [{ f, free: freePixels(all, width, height) }] : [];
    });
  const seen = new Uint8Array(width * height);
  const chosen: number[] = [];
  while (chosen.length < MOST_FRAMES && looks.length > 0) {
    let best = -1,
      most = 0;
    looks.forEach(({ free }, k) => {
      let gain = 0;
      for (let i = 0; i < free.length; i++) if (free[i] && seen[i] < wanted) gain += seen[i] === 0 ? 4 : 1;
      if (gain > most) {
        most = gain;
        best = k;
      }
    });
    if (best < 0) break;
    const [{ f, free }] = looks.splice(best, 1);
    for (let i = 0; i < free.length; i++) if (free[i] && seen[i] < 255) seen[i]++;
    chosen.push(f);
  }
  return chosen.sort((a, b) => a - b);
}

/** A spot is taken for background when it is off by no more than this many standard deviations and levels. */
const LIKE_SIGMAS = 4;
const LIKE_LEVELS = 3;

/**
 * Takes out of `free` what looks unlike the background in a full-size frame, figures too small to count as such with it.
 * @param data red, green, blue. @param most the value of white. @param relight background code value for each code value of this frame
 */
export function takeOutUnlike(
  free: Uint8Array,
  data: Uint8Array | Uint16Array,
  width: number,
  height: number,
  most: number,
  background: Background,
  matrix: Matrix,
  relight: Float32Array,
): void {
  const w = background.width,
    h = background.height;
  const off = new Uint8Array(w * h);
  const green = 1 - matrix.red - matrix.blue;
  for (let y = 0, i = 0; y < h; y++) {
    const y0 = floor((y * height) / h),
      y1 = floor(((y + 1) * height) / h);
    for (let x = 0; x < w; x++, i++) {
      if (background.restless[i]) continue;
      const x0 = floor((x * width) / w),
        x1 = floor(((x + 1) * width) / w);
      let sum = 0,
        n = 0;
      for (let v = y0; v < y1; v++) {
        for (let u = x0; u < x1; u++, n++) {
          const k = 3 * (v * width + u);
          sum += matrix.red * data[k] + green * data[k + 1] + matrix.blue * data[k + 2];
        }
      }
      const code = n ? (255 * sum) / n / most : background.luma[i];
      const low = max(0, min(254, floor(code)));
      const even = relight[low] + (code - low) * (relight[low + 1] - relight[low]);
      if (
        abs(even - background.luma[i]) >
        LIKE_LEVELS + LIKE_SIGMAS * background.sigma[i] + 0.5 * background.gradient[i]
      )
        off[i] = 1;
    }
  }
  for (let y = 0, i = 0; y < h; y++) {
    for (let x = 0; x < w; x++, i++) {
      if (!off[i]) continue;
      for (let v = max(0, y - 1); v <= min(h - 1, y + 1); v++)
        free.fill(0, v * w + max(0, x - 1), v * w + min(w - 1, x + 1) + 1);
    }
  }
}
