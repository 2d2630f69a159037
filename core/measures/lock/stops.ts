import { median } from '../../base/numeric/quantile';
import type { Pictures } from '../../base/image/stack';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, floor, max, min, round } = Math;

/** A pixel has changed when it lies so many levels, or so many times the grain, outside of what lies round its place before. */
const LEAST_LEVELS = 8;
const GRAINS = 6;
/** Share of the picture that changes at a stop, at least; whoever walks on in a far corner says nothing. */
const LEAST_SHARE = 0.002;
/** So many times more changes from one frame to the next than between any two of the frames on either side. */
const AT_ONCE = 1.5;
const BESIDE = 6;
/** Already among the samples that changed at all, so many times more. */
const ROUGHLY = 1.2;
/**
 * What moves there needs more than so many frames to change as much: nobody goes at four times their pace for one frame.
 * (Over many frames whoever walks changes twice their own area, and whoever jumps in a stop no more.)
 */
const LAGS = [2, 3, 4];
/** Where it moves is seen over so many frames. */
const LONG = 10;
/** Light leaves texture as it is: so much of it is another one, at least. */
const OTHER_TEXTURE = 0.5;
/**
 * A pool of light on a plain wall has another texture, and so has a screen in the picture. Where something moves on either
 * side, by this share of what changed, as much of that lies where it moves; where nothing does, so much goes the other way.
 */
const MOVES = 0.1;
const OTHER_WAY = 0.1;
/** Pictures that lie farther apart than so many small pixels are not compared. */
const FARTHEST = 16;
/** Where things come and go at once more often than this it is a screen, or a picture that breaks. */
const MOST_STOPS = 3;

/** What stops are told by. */
export interface StopInput {
  /** Small pictures of the take. */
  pictures: Pictures;
  /** Share of each frame's samples that changed by more than light does. */
  changes: readonly number[];
  /** Standard deviation of the grain from frame to frame, levels. */
  grain: number;
  /** How far the picture of frame a has moved in frame b, small pixels; null where that is not known. */
  shift: (a: number, b: number) => readonly [number, number] | null;
  /** Frames at which something else is the matter: they repeat, they are broken, time stamps leave a gap before them. */
  doubtful: ReadonlySet<number>;
  /** The least length of a shot, in frames. */
  least: number;
}

/**
 * The first frame after each stop of the camera that shows no other place: there all that moves is somewhere else from
 * one frame to the next, by more than it moves in many frames before and after.
 */
export function findStops(input: StopInput): number[] {
  const { changes, doubtful, least, pictures } = input;
  const found: number[] = [];
  const bound = LEAST_SHARE / 2 + median([...changes.slice(1)]);
  for (let f = max(1, least); f + least <= pictures.count; f++) {
    if (!(changes[f] > bound)) continue;
    const beside = [...changes.slice(max(1, f - BESIDE), f), ...changes.slice(f + 1, f + 1 + BESIDE)];
    if (changes[f] < ROUGHLY * max(...beside)) continue;
    if (Array.from({ length: 2 * BESIDE + 1 }, (_, k) => f - BESIDE + k).some((k) => doubtful.has(k))) continue;
    if (isStop(input, f)) found.push(f);
  }
  return found.length > MOST_STOPS ? [] : found;
}

/** Whether what moves jumps at a frame, and not the light. */
function isStop(input: StopInput, f: number): boolean {
  const { pictures } = input;
  const change = changed(input, f - 1, f);
  if (!change || change.share < LEAST_SHARE || change.otherTexture < OTHER_TEXTURE) return false;
  const share = (a: number, b: number) =>
    a < 0 || b >= pictures.count ? 0 : (changed(input, a, b)?.share ?? Infinity);
  for (let n = 1; n <= BESIDE; n++)
    if (AT_ONCE * max(share(f - 1 - n, f - n), share(f + n - 1, f + n)) >= change.share) return false;
  for (const lag of LAGS) if (max(share(f - 1 - lag, f - 1), share(f, f + lag)) >= change.share) return false;
  const moving = [
    f - 1 - LONG >= 0 && changed(input, f - 1 - LONG, f - 1),
    f + LONG < pictures.count && changed(input, f, f + LONG),
  ];
  const moves = max(...moving.map((m) => (m ? m.share : 0)));
  if (moves <= MOVES * change.share) return change.otherWay > OTHER_WAY;
  let there = 0,
    all = 0;
  change.marks.forEach((m, i) => {
    if (!m) return;
    all++;
    if (moving.some((c) => c && c.marks[i])) there++;
  });
  return there > MOVES * all;
}

/** Two pictures of one size, and how many whole pixels the second has moved against the first. */
interface Two {
  before: Uint8Array;
  after: Uint8Array;
  width: number;
  height: number;
  dx: number;
  dy: number;
}

/** What differs between two frames, but for the camera's own movement between them. */
function changed({ pictures, shift, grain }: StopInput, a: number, b: number) {
  const moved = shift(a, b);
  if (!moved || abs(moved[0]) > FARTHEST || abs(moved[1]) > FARTHEST) return null;
  const [before, after] = [a, b].map((f) => Uint8Array.from(pictures.read(f).luma));
  const two = { before, after, ...pictures.size, dx: round(moved[0]), dy: round(moved[1]) };
  const marks = marksOf(two, max(LEAST_LEVELS, GRAINS * grain));
  return { ...told(two, marks), marks };
}

/** 1 at the pixels that are lighter than all round their place before, -1 where darker, by more than `bound` levels. */
function marksOf(two: Two, bound: number): Int8Array {
  const { before, after, width, height } = two;
  const light = inLightOf(two);
  const marks = new Int8Array(width * height);
  eachInside(two, 1, (i, at) => {
    const now = after[i];
    // Nearly all pixels keep to their own.
    if (abs(now - light[before[at]]) <= bound) return;
    let least = 255,
      most = 0;
    for (let row = at - width; row <= at + width; row += width) {
      for (let k = row - 1; k <= row + 1; k++) {
        least = min(least, before[k]);
        most = max(most, before[k]);
      }
    }
    if (now > light[most] + bound) marks[i] = 1;
    else if (now < light[least] - bound) marks[i] = -1;
  });
  return marks;
}

/** Code values are taken together by sixteens; fewer pixels do not say what becomes of them. */
const STEP = 16;
const LEAST_PIXELS = 20;

/** What each code value before has become after, in the middle: a step of light changes dark and bright by as many stops, not levels. */
function inLightOf(two: Two): Float32Array {
  const bins = Array.from({ length: 256 / STEP }, () => ({ before: [] as number[], after: [] as number[] }));
  eachInside(two, 3, (i, at) => {
    const bin = bins[floor(two.before[at] / STEP)];
    bin.before.push(two.before[at]);
    bin.after.push(two.after[i]);
  });
  const known = bins
    .filter((b) => b.before.length >= LEAST_PIXELS)
    .map((b): [number, number] => [median(b.before), median(b.after)]);
  if (known.length === 0) return Float32Array.from({ length: 256 }, (_, v) => v);
  return Float32Array.from({ length: 256 }, (_, v) => {
    const k = known.findIndex(([from]) => from >= v);
    // Beyond what is seen it goes on as it ended.
    if (k <= 0) {
      const [from, to] = k < 0 ? known[known.length - 1] : known[0];
      return to + v - from;
    }
    const [[a, c], [b, d]] = [known[k - 1], known[k]];
    return c + ((v - a) / (b - a)) * (d - c);
  });
}

/** How much is marked in blocks, how much of that goes the other way than most, and how much of its texture is another. */
function told({ before, after, width, ...two }: Two, marks: Int8Array) {
  let up = 0,
    down = 0,
    old = 0,
    own = 0,
    both = 0;
  const beside = (i: number, step: number) => marks[i - step] === marks[i] || marks[i + step] === marks[i];
  const texture = (p: Uint8Array, i: number) => 4 * p[i] - p[i - 1] - p[i + 1] - p[i - width] - p[i + width];
  eachInside({ before, after, width, ...two }, 1, (i, at) => {
    if (!marks[i] || !beside(i, 1) || !beside(i, width)) return;
    if (marks[i] > 0) up++;
    else down++;
    const s = texture(before, at),
      t = texture(after, i);
    old += s * s;
    own += t * t;
    both += s * t;
  });
  const sum = up + down;
  return {
    share: sum / marks.length,
    otherWay: sum ? min(up, down) / sum : 0,
    otherTexture: old * own > 0 ? 1 - max(0, both) ** 2 / (old * own) : 0,
  };
}

/** Goes through every so many pixels of the second picture that have neighbours in both, with their index in each. */
function eachInside({ width, height, dx, dy }: Two, step: number, use: (i: number, at: number) => void): void {
  for (let y = max(1, 1 + dy); y < min(height - 1, height - 1 + dy); y += step)
    for (let x = max(1, 1 + dx); x < min(width - 1, width - 1 + dx); x += step)
      use(y * width + x, (y - dy) * width + x - dx);
}
