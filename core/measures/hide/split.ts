import { DistanceField } from '../../base/image/distance';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, ceil, max, min } = Math;

/** What must lie on either side of a line, over all frames. Small pixels, row by row. */
export interface TwoSides {
  width: number;
  height: number;
  /** In how many frames each pixel is taken by what must lie before the line (left of it, above it), and after it. */
  before: Uint32Array;
  after: Uint32Array;
}

/** A straight line from edge to edge: where it meets the two edges, small pixels. */
export interface Straight {
  upright: boolean;
  from: number;
  to: number;
  /** Its smallest distance from either; negative when it cuts something: then how many pixels of how many frames. */
  margin: number;
}

/** A line leans by so much of its length at most: what hides somebody stands upright, or lies. */
const LEAN = 0.35;
/** Lines are tried every so many pixels, then every pixel about the best. */
const STEP = 3;
/** Of lines as good as each other, within so many pixels, the one that leans least. */
const AS_GOOD = 0.75;

/** The straight line with most room; of those that cut something, the one that cuts least. */
export function straightSplit(sides: TwoSides, upright: boolean): Straight {
  const view = upright ? sides : exchanged(sides);
  const { width, height, before, after } = view;
  const field = new DistanceField(width, height);
  const room = () => new Float32Array(width * height);
  const toBefore = field.of(marked(before), room()),
    toAfter = field.of(marked(after), room());
  const cuts = cutsOf(view);
  const value = (from: number, to: number): number => {
    let least = Infinity,
      cut = 0;
    for (let y = 0; y < height; y++) {
      const x = from + ((to - from) * (y + 0.5)) / height;
      const u = max(0, min(width - 1, x | 0)),
        i = y * width + u;
      cut += cuts[y * (width + 1) + max(0, min(width, Math.round(x)))];
      least = min(least, toBefore[i], toAfter[i]);
    }
    return cut > 0 ? -cut : max(0, least - 0.5);
  };
  const lean = ceil(LEAN * height);
  const tried = (a: number, b: number, step: number, within: number): Straight[] => {
    const out: Straight[] = [];
    for (let from = max(0, a - within); from <= min(width, a + within); from += step) {
      const by = min(within, lean);
      for (let to = max(0, (step > 1 ? from : b) - by); to <= min(width, (step > 1 ? from : b) + by); to += step)
        out.push({ upright, from, to, margin: value(from, to) });
    }
    return out;
  };
  const { from, to } = bestOf(tried(0, 0, STEP, width));
  return bestOf(tried(from, to, 1, STEP));
}

/** The line with most room; of those with as much, the straightest. Of lines that cut, the one that cuts least. */
function bestOf(lines: readonly Straight[]): Straight {
  const most = lines.reduce((m, l) => max(m, l.margin), -Infinity);
  const good = lines.filter((l) => l.margin >= (most > 0 ? max(most - AS_GOOD, most / 2) : most));
  const least = good.reduce((m, l) => min(m, abs(l.to - l.from)), Infinity);
  const straight = good.filter((l) => abs(l.to - l.from) <= least + 0.5);
  // In the middle of those, not at their first.
  return straight[straight.length >> 1];
}

const marked = (counts: Uint32Array) => Uint8Array.from(counts, (n) => (n ? 1 : 0));

/** Rows and columns exchanged. */
function exchanged({ width, height, before, after }: TwoSides): TwoSides {
  const turn = (values: Uint32Array) => {
    const out = new Uint32Array(values.length);
    for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) out[x * height + y] = values[y * width + x];
    return out;
  };
  return { width: height, height: width, before: turn(before), after: turn(after) };
}

/** For each row and each place between its pixels, how many pixels lie on the wrong side, over all frames. */
function cutsOf({ width, height, before, after }: TwoSides): Float64Array {
  const out = new Float64Array((width + 1) * height);
  for (let y = 0; y < height; y++) {
    const row = y * width,
      o = y * (width + 1);
    let wrong = 0;
    for (let x = 0; x < width; x++) wrong += before[row + x];
    out[o] = wrong;
    for (let x = 0; x < width; x++) {
      wrong += after[row + x] - before[row + x];
      out[o + x + 1] = wrong;
    }
  }
  return out;
}
