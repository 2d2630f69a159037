import type { Run } from '../report/types';
import { findSeam, type SeamLine } from './seam';
import type { Silhouettes } from './silhouettes';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { ceil, max, min } = Math;

/** Frames of both passes that are seen together: of the first, and how many frames later the second starts. */
export interface Together {
  a: Silhouettes;
  b: Silhouettes;
  slide: number;
  /** Frames of the first that have one of the second. */
  run: Run;
}

/** When each pixel is first and last taken by a pass, in frames of the first pass. */
interface Times {
  first: Int32Array;
  last: Int32Array;
}

/** The line of a shot, and the frames in which it must move because none serves them all. */
export interface ShotSeam {
  line: SeamLine | null;
  moving: Run[];
}

/** Pixels are pooled two by two while runs are tried. */
const POOL = 2;

/** The seam that serves as many frames as can be, and those that it does not serve. @param light stops by which the second is brighter */
export function seamOfShot(together: Together, light: Float32Array | null): ShotSeam {
  const { a, b, slide, run } = together;
  const { width, height } = a;
  const times = [timesOf(a, run, 0), timesOf(b, run, slide)];
  const whole = findSeam({ width, height, a: outside(times[0], null), b: outside(times[1], null), light });
  if (whole) return { line: whole, moving: [] };
  const small = { width: ceil(width / POOL), height: ceil(height / POOL) };
  const pooled = times.map((t) => pool(t, width, height));
  const without = shortestRun(run, (cut) => parts(outside(pooled[0], cut), outside(pooled[1], cut), small));
  if (!without) return { line: null, moving: [run] };
  // What was found among pooled pixels may want a frame more at full size.
  for (let more = 0; more < 12; more++) {
    const cut = { start: max(run.start, without.start - more), end: min(run.end, without.end + more) };
    const line = findSeam({ width, height, a: outside(times[0], cut), b: outside(times[1], cut), light });
    if (line) return { line, moving: unserved(together, line, cut) };
  }
  return { line: null, moving: [run] };
}

/** A line that is held for a run of frames. */
export interface HeldLine {
  run: Run;
  line: SeamLine;
}

/** More lines than these are no few key frames any more: then it is drawn by hand. */
const MOST_LINES = 12;

/**
 * Where a line must move: as few lines as can be, each held for as long as it serves, one after the other. Frames in which
 * the two overlap have none.
 * @param runs the frames that the shot's own line does not serve
 */
export function heldLines(together: Together, runs: readonly Run[], light: Float32Array | null): HeldLine[] {
  const { width, height } = together.a;
  const small = { width: ceil(width / POOL), height: ceil(height / POOL) };
  const out: HeldLine[] = [];
  for (const run of runs) {
    let start = run.start;
    while (start <= run.end && out.length < MOST_LINES) {
      const held = longestFrom(together, { start, end: run.end }, small);
      let line: SeamLine | null = null,
        end = held;
      // What was found among pooled pixels may want a frame less at full size.
      for (; end >= start && !line; end--) {
        const [a, b] = takenIn(together, { start, end });
        line = findSeam({ width, height, a, b, light });
      }
      if (line) out.push({ run: { start, end: end + 1 }, line });
      start = line ? end + 2 : start + 1;
    }
  }
  return out;
}

/** The last frame up to which one line serves from the start of a run on; the frame before it when it serves not even that. */
function longestFrom(together: Together, { start, end }: Run, small: { width: number; height: number }): number {
  const { width, height } = together.a;
  const [a, b] = [0, 1].map(() => new Uint8Array(small.width * small.height));
  for (let f = start; f <= end; f++) {
    takenIn(together, { start: f, end: f }).forEach((mask, k) => {
      const into = k === 0 ? a : b;
      for (let y = 0, i = 0; y < height; y++)
        for (let x = 0; x < width; x++, i++) if (mask[i]) into[((y / POOL) | 0) * small.width + ((x / POOL) | 0)] = 1;
    });
    if (!parts(a, b, small)) return f - 1;
  }
  return end;
}

/** 1 for whatever each pass takes up in some frames. */
function takenIn({ a, b, slide }: Together, run: Run): [Uint8Array, Uint8Array] {
  const pixels = a.width * a.height;
  const mask = new Uint8Array(pixels);
  return [a, b].map((pass, k) => {
    const out = new Uint8Array(pixels);
    for (let f = run.start; f <= run.end; f++)
      if (pass.mask(k === 0 ? f : f - slide, mask)) for (let i = 0; i < pixels; i++) out[i] |= mask[i];
    return out;
  }) as [Uint8Array, Uint8Array];
}

function timesOf(pass: Silhouettes, run: Run, slide: number): Times {
  const pixels = pass.width * pass.height;
  const first = new Int32Array(pixels).fill(0x7fffffff),
    last = new Int32Array(pixels).fill(-1);
  const mask = new Uint8Array(pixels);
  for (let f = run.start; f <= run.end; f++) {
    if (!pass.mask(f - slide, mask)) continue;
    for (let i = 0; i < pixels; i++) {
      if (!mask[i]) continue;
      if (first[i] > f) first[i] = f;
      last[i] = f;
    }
  }
  return { first, last };
}

/** 1 for what is taken in some frame outside a run; in any frame where that is null. */
function outside({ first, last }: Times, run: Run | null): Uint8Array {
  return Uint8Array.from(first, (f, i) => (last[i] >= 0 && (!run || f < run.start || last[i] > run.end) ? 1 : 0));
}

function pool({ first, last }: Times, width: number, height: number): Times {
  const across = ceil(width / POOL),
    down = ceil(height / POOL);
  const out = { first: new Int32Array(across * down).fill(0x7fffffff), last: new Int32Array(across * down).fill(-1) };
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      const o = ((y / POOL) | 0) * across + ((x / POOL) | 0);
      out.first[o] = min(out.first[o], first[i]);
      out.last[o] = max(out.last[o], last[i]);
    }
  return out;
}

/** The shortest run that must be left out for the rest to be possible; null when even a single frame is impossible. */
function shortestRun(run: Run, possible: (without: Run) => boolean): Run | null {
  let best: Run | null = null;
  let end = run.start;
  for (let start = run.start; start <= run.end; start++) {
    end = max(end, start);
    while (end <= run.end && !possible({ start, end })) end++;
    if (end > run.end) break;
    if (!best || end - start < best.end - best.start) best = { start, end };
  }
  return best && best.end - best.start < run.end - run.start ? best : null;
}

/** Whether some line from edge to edge has all of one on one side and all of the other on the other. */
function parts(a: Uint8Array, b: Uint8Array, { width, height }: { width: number; height: number }): boolean {
  return [true, false].some((upright) =>
    [true, false].some((first) => reaches(first ? a : b, first ? b : a, width, height, upright)),
  );
}

/** Whether a line from top to bottom (from left to right) goes through pixels that have the first pass before them only. */
function reaches(left: Uint8Array, right: Uint8Array, width: number, height: number, upright: boolean): boolean {
  const lines = upright ? height : width,
    long = upright ? width : height;
  const [along, across] = upright ? [1, width] : [width, 1];
  let open = new Uint8Array(long).fill(1);
  for (let l = 0; l < lines; l++) {
    const row = l * across;
    let from = long - 1,
      to = 0;
    while (from >= 0 && !left[row + from * along]) from--;
    while (to < long && !right[row + to * along]) to++;
    const next = new Uint8Array(long);
    let any = false;
    for (let k = from + 1; k < to; k++)
      if (open[k] || (k > 0 && open[k - 1]) || (k + 1 < long && open[k + 1])) {
        next.fill(1, from + 1, to);
        any = true;
        break;
      }
    if (!any) return false;
    open = next;
  }
  return true;
}

/** The frames of a run in which somebody is on the wrong side of a line, or on it. */
export function unserved(
  { a, b, slide }: Together,
  line: Pick<SeamLine, 'points' | 'upright' | 'first'>,
  run: Run,
): Run[] {
  const { width, height } = a;
  const sides = sidesOf(line, width, height);
  const [wrongA, wrongB] = line.first ? [1, -1] : [-1, 1];
  const mask = new Uint8Array(width * height);
  const crosses = (pass: Silhouettes, frame: number, wrong: number) => {
    if (!pass.mask(frame, mask)) return false;
    for (let i = 0; i < mask.length; i++) if (mask[i] && (sides[i] === wrong || sides[i] === 0)) return true;
    return false;
  };
  const out: Run[] = [];
  for (let f = run.start; f <= run.end; f++) {
    if (!crosses(a, f, wrongA) && !crosses(b, f - slide, wrongB)) continue;
    const last = out.at(-1);
    if (last && last.end === f - 1) last.end = f;
    else out.push({ start: f, end: f });
  }
  return out;
}

/** -1 for pixels before a line (to the left of it, above it), 1 for those after it, 0 for those it goes through. */
export function sidesOf(
  { points, upright }: Pick<SeamLine, 'points' | 'upright'>,
  width: number,
  height: number,
): Int8Array {
  const lines = upright ? height : width,
    long = upright ? width : height;
  const out = new Int8Array(width * height);
  const from = new Float64Array(lines).fill(Infinity),
    to = new Float64Array(lines).fill(-Infinity);
  for (let k = 0; k + 1 < points.length; k++) {
    const [p, q] = [points[k], points[k + 1]].map(([x, y]) => (upright ? [x, y] : [y, x]));
    for (let l = max(0, Math.floor(min(p[1], q[1]))); l <= min(lines - 1, Math.floor(max(p[1], q[1]))); l++) {
      // The stretch within this row of pixels.
      const at = (y: number) =>
        q[1] === p[1]
          ? null
          : p[0] + ((q[0] - p[0]) * (max(min(p[1], q[1]), min(max(p[1], q[1]), y)) - p[1])) / (q[1] - p[1]);
      for (const x of q[1] === p[1] ? [p[0], q[0]] : [at(l)!, at(l + 1)!]) {
        from[l] = min(from[l], x);
        to[l] = max(to[l], x);
      }
    }
  }
  for (let l = 0; l < lines; l++)
    for (let k = 0; k < long; k++) {
      const i = upright ? l * width + k : k * width + l;
      out[i] = k + 1 <= from[l] ? -1 : k >= to[l] ? 1 : 0;
    }
  return out;
}
