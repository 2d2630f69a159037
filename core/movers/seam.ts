import { betweenPixels } from '../base/image/between-pixels';
import { DistanceField } from '../base/image/distance';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, ceil, hypot, max, min, SQRT2 } = Math;

/** What two passes take up, over all frames that one line must serve. Small pixels, row by row. */
export interface Taken {
  width: number;
  height: number;
  /** 1 where anybody of the first pass is at any time, and the same of the second. */
  a: Uint8Array;
  b: Uint8Array;
  /** Stops by which the second pass is brighter at each pixel, NaN where not known; null when that is not known anywhere. */
  light: Float32Array | null;
}

/** A line that parts two passes. */
export interface SeamLine {
  /** From one edge of the picture to the opposite one, small pixels from its left upper corner. */
  points: [number, number][];
  /** Whether it goes from top to bottom, or from left to right. */
  upright: boolean;
  /** Whether the first pass lies to the left of it (above it). */
  first: boolean;
  /** Width, at its narrowest place, of the widest corridor there is, small pixels. */
  corridor: number;
  /** Twice the way from the line to whoever is nearest to it, and where that is. */
  feather: number;
  narrowest: [number, number];
}

/** The line keeps at least this share of the widest way there is at the narrowest place. */
const KEEPS = 0.95;
/** A step of light of so many stops along the line is as dear as going twice the way. */
const LIGHT_STOPS = 0.05;
/** Being at the narrowest allowed distance all the way is as dear as so much of the way more. */
const CROWDED = 0.6;
/** A line is drawn by so few points that it strays this far, small pixels, at most; less where the corridor asks for it. */
const STRAY = 1.5;
/** A seam nearer to somebody than this, small pixels, is none. */
const LEAST_CLEAR = 1;

/** The line that parts two passes with the widest corridor; null when none parts them. */
export function findSeam(taken: Taken): SeamLine | null {
  const { width, height } = taken;
  const field = new DistanceField(width, height);
  const toA = field.of(taken.a, new Float32Array(width * height)),
    toB = field.of(taken.b, new Float32Array(width * height));
  const views = [true, false].flatMap((upright) => [true, false].map((first) => ({ upright, first })));
  let best: { view: View; clear: Float32Array; widest: Float32Array; most: number } | null = null;
  for (const way of views) {
    const view = viewOf(taken, way.upright, way.first);
    const clear = clearance(view, way.upright ? [toA, toB] : [turned(toA, width, height), turned(toB, width, height)]);
    const widest = widestWays(clear, view.width, view.height);
    const last = widest.subarray((view.height - 1) * view.width);
    const most = last.reduce((a, b) => max(a, b), 0);
    if (most >= LEAST_CLEAR && (!best || most > best.most + 0.01)) best = { view, clear, widest, most };
  }
  if (!best) return null;
  const { view, clear, most } = best;
  // Where neither comes near a seam may lie anywhere.
  const bound = min(most * KEEPS, most - 0.01);
  const path = cheapestWay(clear, view, max(LEAST_CLEAR, bound), most);
  const free = view.upright ? [toA, toB] : [turned(toA, width, height), turned(toB, width, height)];
  return described(simplified(path, clear, view, bound), free, view, most);
}

/** The picture as it is, or with rows and columns exchanged; and which pass lies to the left. */
interface View {
  width: number;
  height: number;
  left: Uint8Array;
  right: Uint8Array;
  light: Float32Array | null;
  upright: boolean;
  first: boolean;
}

function viewOf({ width, height, a, b, light }: Taken, upright: boolean, first: boolean): View {
  const [left, right] = first ? [a, b] : [b, a];
  if (upright) return { width, height, left, right, light, upright, first };
  return {
    width: height,
    height: width,
    left: turned(left, width, height),
    right: turned(right, width, height),
    light: light && turned(light, width, height),
    upright,
    first,
  };
}

/** Rows and columns exchanged. */
function turned<T extends Uint8Array | Float32Array>(values: T, width: number, height: number): T {
  const out = values.slice() as T;
  for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) out[x * height + y] = values[y * width + x];
  return out;
}

/**
 * The distance to whoever is nearer at each pixel through which a line from top to bottom may go: all of the left pass
 * in its row lies left of it, all of the right pass right of it. 0 where it may not.
 */
function clearance({ width, height, left, right }: View, [toA, toB]: Float32Array[]): Float32Array {
  const out = new Float32Array(width * height);
  for (let y = 0; y < height; y++) {
    const row = y * width;
    let from = width - 1,
      to = 0;
    while (from >= 0 && !left[row + from]) from--;
    while (to < width && !right[row + to]) to++;
    for (let x = from + 1; x < to; x++) out[row + x] = min(toA[row + x], toB[row + x]);
  }
  return out;
}

/** For each pixel the narrowest place, at its widest, of ways from the top to it that never go up again. */
function widestWays(clear: Float32Array, width: number, height: number): Float32Array {
  const out = clear.slice();
  for (let y = 1; y < height; y++) {
    const row = y * width,
      above = row - width;
    for (let x = 0; x < width; x++) {
      const from = max(out[above + x], x > 0 ? out[above + x - 1] : 0, x + 1 < width ? out[above + x + 1] : 0);
      out[row + x] = min(clear[row + x], from);
    }
    for (let x = 1; x < width; x++) out[row + x] = max(out[row + x], min(clear[row + x], out[row + x - 1]));
    for (let x = width - 2; x >= 0; x--) out[row + x] = max(out[row + x], min(clear[row + x], out[row + x + 1]));
  }
  return out;
}

/** The way from top to bottom that costs the least: short, in little light apart, and not too near anybody. One x, y a pixel. */
function cheapestWay(clear: Float32Array, { width, height, light }: View, bound: number, most: number): number[] {
  const cost = new Float32Array(width * height).fill(Infinity),
    from = new Int32Array(width * height).fill(-1);
  const dear = (i: number) => {
    if (clear[i] < bound) return Infinity;
    const apart = light ? abs(light[i]) : 0;
    return 1 + (Number.isNaN(apart) ? 1 : apart / LIGHT_STOPS) + CROWDED * min(1, most / clear[i]) ** 2;
  };
  for (let x = 0; x < width; x++) cost[x] = dear(x);
  for (let y = 0; y < height; y++) {
    const row = y * width;
    const reach = (to: number, by: number, length: number, own: number) => {
      const c = cost[by] + length * own;
      if (c < cost[to]) {
        cost[to] = c;
        from[to] = by;
      }
    };
    if (y > 0)
      for (let x = 0; x < width; x++) {
        const own = dear(row + x);
        if (own === Infinity) continue;
        const up = row + x - width;
        reach(row + x, up, 1, own);
        if (x > 0) reach(row + x, up - 1, SQRT2, own);
        if (x + 1 < width) reach(row + x, up + 1, SQRT2, own);
      }
    for (let x = 1; x < width; x++) reach(row + x, row + x - 1, 1, dear(row + x));
    for (let x = width - 2; x >= 0; x--) reach(row + x, row + x + 1, 1, dear(row + x));
  }
  let at = (height - 1) * width;
  for (let i = at; i < cost.length; i++) if (cost[i] < cost[at]) at = i;
  const path: number[] = [];
  for (; at >= 0; at = from[at]) path.push(at);
  return path.reverse();
}

/** A path as few points, none of whose stretches comes nearer to anybody than the path may (Ramer 1972; Douglas & Peucker 1973). */
function simplified(path: readonly number[], clear: Float32Array, { width }: View, bound: number): [number, number][] {
  const at = (k: number): [number, number] => [path[k] % width, (path[k] - (path[k] % width)) / width];
  const out: [number, number][] = [at(0)];
  const part = (i: number, j: number) => {
    const [ax, ay] = at(i),
      [bx, by] = at(j);
    const length = hypot(bx - ax, by - ay) || 1;
    let far = 0,
      worst = i;
    for (let k = i + 1; k < j; k++) {
      const [x, y] = at(k);
      const d = abs((bx - ax) * (y - ay) - (by - ay) * (x - ax)) / length;
      if (d > far) [far, worst] = [d, k];
    }
    if (j - i > 1 && (far > STRAY || narrow([ax, ay], [bx, by], clear, width) < max(LEAST_CLEAR, bound - 0.75))) {
      const middle = worst > i ? worst : (i + j) >> 1;
      part(i, middle);
      part(middle, j);
    } else out.push([bx, by]);
  };
  part(0, path.length - 1);
  return out;
}

/** The least clearance along a stretch. */
function narrow([ax, ay]: [number, number], [bx, by]: [number, number], clear: Float32Array, width: number): number {
  let least = Infinity;
  eachStep([ax, ay], [bx, by], (x, y) => {
    least = min(least, betweenPixels(clear, width, clear.length / width, x, y));
  });
  return least;
}

/** Calls `step` along a stretch, every half pixel, both ends included. */
function eachStep([ax, ay]: [number, number], [bx, by]: [number, number], step: (x: number, y: number) => void): void {
  const steps = max(1, ceil(2 * hypot(bx - ax, by - ay)));
  for (let k = 0; k <= steps; k++) step(ax + ((bx - ax) * k) / steps, ay + ((by - ay) * k) / steps);
}

/** A line in its own picture, with how wide its corridor is. Distances are to pixels' edges, half a pixel nearer than their centres. */
function described(line: [number, number][], [toA, toB]: Float32Array[], view: View, most: number): SeamLine {
  const { width, height, upright, first } = view;
  let feather = Infinity,
    narrowest = line[0];
  for (let k = 0; k + 1 < line.length; k++)
    eachStep(line[k], line[k + 1], (x, y) => {
      // No distance at all, where one of them is in none of these frames, is as good as infinite.
      const [a, b] = [toA, toB].map((field) => {
        const d = betweenPixels(field, width, height, x, y);
        return Number.isFinite(d) ? d - 0.5 : Infinity;
      });
      if (2 * min(a, b) < feather) {
        feather = 2 * min(a, b);
        narrowest = [x, y];
      }
    });
  // From pixels' middles to the picture's edges.
  const inner = line.map(([x, y]): [number, number] => [x + 0.5, y + 0.5]);
  const shown: [number, number][] = [[inner[0][0], 0], ...inner, [inner[inner.length - 1][0], height]];
  const own = ([x, y]: [number, number]): [number, number] => (upright ? [x, y] : [y, x]);
  return {
    points: shown.map(own),
    upright,
    first,
    // A way goes through pixels' middles: half a pixel wider or narrower.
    corridor: 2 * most - 0.5,
    feather: max(0, min(feather, 2 * most - 0.5)),
    narrowest: own([narrowest[0] + 0.5, narrowest[1] + 0.5]),
  };
}
