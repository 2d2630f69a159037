import { boxMean } from '../../base/image/regions';
import { stopsTable, type Transfer } from '../../base/image/transfer';
import { median } from '../../base/numeric/quantile';
import { eachBody, eachRun } from '../../presence/bodies';
import type { Figure } from '../../presence/figures';
import type { Thrown } from '../../report/pair-types';
import type { Run } from '../../report/types';
import type { Background } from '../../scene/background';
import { between } from '../../scene/gauge';
import type { SteadyPicture } from '../../scene/steady-reader';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, max, min } = Math;

/** A picture of a pass laid on the pass's own background, with who is in it; its frame in the pass. */
export interface PassPicture {
  frame: number;
  picture: SteadyPicture;
  figures: readonly Pick<Figure, 'rows' | 'body'>[];
}

/** Light is read over squares of so many small pixels to each side, of which at least this share is nobody's. */
const REACH = 4;
const LEAST_FREE = 0.5;
/** So near to somebody their rim is in the pixels, and what it throws does not count as light. */
const RIM = 3;
/** What differs in light alone keeps its texture: what is left varies by less than this, stops. */
const EVENLY = 0.2;
/** Light is thrown by whoever is in when it changes by this much, stops, and by this many times what it does while nobody is in. */
const LEAST_STOPS = 0.1;
const TIMES = 2;
/** And over at least this share of the picture. */
const LEAST_AREA = 0.003;
/** Fewer small pixels of a body are nobody. */
const LEAST_BODY = 12;
const LEVELS = { low: 12, high: 242 };

/**
 * The light that whoever is in a pass throws, or takes away, in a part of the picture, beyond their own outline and that of
 * their shadow; null where they change nothing there.
 * @param beyond 1 at the small pixels that matter. @param factor source pixels for one small pixel
 */
export function thrownLight(
  pictures: readonly PassPicture[],
  { background, curve }: { background: Background; curve: Transfer },
  beyond: Uint8Array,
  factor: number,
): Thrown | null {
  const stops = stopsTable(curve);
  const levels = background.luma.map((v) => between(stops, v));
  const read = pictures.map((p) => {
    const somebody = standsBefore(p.figures, background.width, beyond);
    return { ...p, somebody, light: changeOf(p, background, stops, levels, somebody ? eachRun : eachBody) };
  });
  const empty = read.filter((p) => !p.somebody);
  const { usual, itself } = withoutAnybody(empty, levels.length);
  for (const { figures } of empty)
    eachBody(figures, background.width, (first, last) => itself.fill(Infinity, first, last + 1));
  const found = read.flatMap(({ frame, light, somebody }) => {
    if (!somebody) return [];
    let n = 0,
      most = 0,
      at = -1;
    light.forEach((own, i) => {
      const v = own - usual[i];
      if (!beyond[i] || !(abs(v) > max(LEAST_STOPS, TIMES * itself[i]))) return;
      n++;
      if (abs(v) > abs(most)) [most, at] = [v, i];
    });
    return n >= LEAST_AREA * light.length ? [{ frame, stops: most, at }] : [];
  });
  if (found.length === 0) return null;
  const worst = found.reduce((a, b) => (abs(b.stops) > abs(a.stops) ? b : a));
  const { width } = background;
  return {
    runs: runsAmong(
      pictures.map((p) => p.frame),
      // What is dark while nothing is thrown is what the background was learned in.
      found.filter((f) => f.stops > 0 === worst.stops > 0).map((f) => f.frame),
    ),
    frame: worst.frame,
    stops: worst.stops,
    x_px: ((worst.at % width) + 0.5) * factor,
    y_px: (Math.floor(worst.at / width) + 0.5) * factor,
    seen_empty: read.some((p) => !p.somebody),
  };
}

/**
 * Light at each small pixel while nobody is in, stops from the background's, which may have been learned in what somebody
 * throws; and by how much clouds and lamps change it by themselves.
 */
function withoutAnybody(
  empty: readonly { light: Float32Array }[],
  count: number,
): { usual: Float32Array; itself: Float32Array } {
  const usual = new Float32Array(count),
    itself = new Float32Array(count);
  for (let i = 0; i < count; i++) {
    const seen = empty.flatMap(({ light }) => (Number.isNaN(light[i]) ? [] : [light[i]]));
    if (seen.length === 0) continue;
    usual[i] = seen.reduce((sum, v) => sum + v, 0) / seen.length;
    itself[i] = seen.reduce((most, v) => max(most, abs(v - usual[i])), 0);
  }
  return { usual, itself };
}

/** Whether anybody's body is in the part that is the pass's own. */
function standsBefore(figures: PassPicture['figures'], width: number, beyond: Uint8Array): boolean {
  let n = 0;
  eachBody(figures, width, (first, last) => {
    for (let i = first; i <= last; i++) if (!beyond[i]) n++;
  });
  return n >= LEAST_BODY;
}

/**
 * Stops by which a picture is brighter than the background at each small pixel, less what all of it is; NaN where it cannot
 * be told. @param eachHidden bodies with their shadows; bodies alone while nobody throws any
 */
function changeOf(
  { picture, figures }: PassPicture,
  { width, height, luma, restless }: Background,
  stops: Float32Array,
  levels: Float32Array,
  eachHidden: typeof eachRun,
): Float32Array {
  const count = width * height;
  const free = picture.seen?.slice() ?? new Uint8Array(count).fill(1);
  for (let i = 0; i < count; i++)
    if (restless[i] || luma[i] < LEVELS.low || luma[i] > LEVELS.high || picture.luma[i] > LEVELS.high) free[i] = 0;
  eachHidden(figures, width, (first, last) => {
    const y = (first / width) | 0;
    for (let v = max(0, y - RIM); v <= min(height - 1, y + RIM); v++)
      free.fill(0, v * width + max(0, (first % width) - RIM), v * width + min(width - 1, (last % width) + RIM) + 1);
  });
  const gain = new Float32Array(count),
    square = new Float32Array(count);
  for (let i = 0; i < count; i++) {
    if (!free[i]) continue;
    gain[i] = stops[picture.luma[i]] - levels[i];
    square[i] = gain[i] * gain[i];
  }
  const mean = (values: Float32Array | Uint8Array) => boxMean(values, width, height, REACH, new Float32Array(count));
  const [share, sum, squares] = [mean(free), mean(gain), mean(square)];
  const out = new Float32Array(count).fill(NaN);
  const known: number[] = [];
  for (let i = 0; i < count; i++) {
    if (!free[i] || share[i] < LEAST_FREE) continue;
    const own = sum[i] / share[i];
    if (squares[i] / share[i] - own * own >= EVENLY * EVENLY) continue;
    out[i] = own;
    if (i % 7 === 0) known.push(own);
  }
  const common = known.length ? median(known) : 0;
  for (let i = 0; i < count; i++) out[i] -= common;
  return out;
}

/** Runs of frames that follow each other among those that were looked at. */
export function runsAmong(looked: readonly number[], found: readonly number[]): Run[] {
  const out: Run[] = [];
  let last = -2;
  for (const frame of found) {
    const k = looked.indexOf(frame);
    if (out.length && k === last + 1) out[out.length - 1].end = frame;
    else out.push({ start: frame, end: frame });
    last = k;
  }
  return out;
}
