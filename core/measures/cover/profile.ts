import type { Plane } from '../../base/image/plane';
import { median, quantile } from '../../base/numeric/quantile';
import type { Way } from './edges';
import { fitSoftEdge } from './soft-fit';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, floor, max, min, round, sqrt } = Math;

/** Shares of the picture's breadth at which the edge is looked at closely. */
export const LINES_AT = [0.25, 0.5, 0.75];
const BESIDE = [-3, 0, 3];

/** A few lines of every picture at measuring size, along and across, to look at edges closely. */
export class EdgeLines {
  width = 0;
  height = 0;
  private readonly rows: Uint8Array[] = [];
  private readonly columns: Uint8Array[] = [];

  frame({ width, height, data }: Plane): void {
    this.width = width;
    this.height = height;
    const rows = new Uint8Array(LINES_AT.length * BESIDE.length * width),
      columns = new Uint8Array(LINES_AT.length * BESIDE.length * height);
    let k = 0;
    for (const share of LINES_AT) {
      for (const by of BESIDE) {
        const y = max(0, min(height - 1, round(share * (height - 1)) + by)),
          x = max(0, min(width - 1, round(share * (width - 1)) + by));
        rows.set((data as Uint8Array).subarray(y * width, (y + 1) * width), k * width);
        for (let v = 0; v < height; v++) columns[k * height + v] = data[v * width + x];
        k++;
      }
    }
    this.rows.push(rows);
    this.columns.push(columns);
  }

  /** Line `k` of nine (three beside each other at each of the places), along the way of travel. */
  line(frame: number, k: number, vertical: boolean): Uint8Array {
    const long = vertical ? this.height : this.width;
    return (vertical ? this.columns : this.rows)[frame].subarray(k * long, (k + 1) * long);
  }
}

/** Half of the stretch that is looked at about an edge, measuring pixels; and where behind the edge the object shows itself alone. */
const HALF = 70;
const INSIDE_FROM = 40;
/** Object and background must differ by this much, levels, to be told apart along an edge. */
const LEAST_CONTRAST = 22;

/** An edge that is told closely in fewer than this share of the frames, or rises over more pixels, may be a soft one; */
const SEEN_CLOSELY = 0.5;
const SOFT = 28;
/** which must be told in this share of them. */
const SEEN_SOFT = 0.4;

export interface EdgeLook {
  at: number;
  rise: number;
}

/**
 * The place of an edge and its 10 to 90 % rise on one line, in the line's pixels: the share of the object in each
 * pixel from what lies behind it and from the object's own level further in. Null where the two look too much alike.
 * @param behind what the line shows without the object; NaN where that is not known
 * @param outwards +1 when the background lies towards higher positions
 */
export function lookAtEdge(
  line: ArrayLike<number>,
  behind: ArrayLike<number>,
  near: number,
  outwards: 1 | -1,
): EdgeLook | null {
  const inside: number[] = [];
  for (let d = INSIDE_FROM; d < INSIDE_FROM + 30; d++) {
    const x = round(near - outwards * d);
    if (x >= 0 && x < line.length) inside.push(line[x]);
  }
  if (inside.length < 10) return null;
  const level = median(inside);
  const share = new Float32Array(2 * HALF + 1).fill(NaN);
  let known = 0;
  for (let d = -HALF; d <= HALF; d++) {
    const x = round(near) + outwards * d;
    if (x < 1 || x >= line.length - 1) continue;
    const b = behind[x];
    if (Number.isNaN(b) || abs(level - b) < LEAST_CONTRAST) continue;
    share[d + HALF] = (line[x] - b) / (level - b);
    known++;
  }
  if (known < HALF) return null;
  // The share falls outwards: the middle crossing, then the outermost places still above and below.
  const smooth = (i: number) => {
    let sum = 0,
      n = 0;
    for (let k = max(0, i - 1); k <= min(2 * HALF, i + 1); k++)
      if (!Number.isNaN(share[k])) {
        sum += share[k];
        n++;
      }
    return n ? sum / n : NaN;
  };
  let best = -1,
    off = Infinity;
  for (let i = 1; i < 2 * HALF; i++) {
    const a = smooth(i),
      b = smooth(i + 1);
    if (a >= 0.5 && b < 0.5 && abs(i - HALF) < off) {
      best = i;
      off = abs(i - HALF);
    }
  }
  if (best < 0) return null;
  const cross = (level0: number, from: number, step: 1 | -1): number | null => {
    for (let i = from; i > 0 && i < 2 * HALF; i += step) {
      const a = smooth(i),
        b = smooth(i + step);
      if (Number.isNaN(a) || Number.isNaN(b)) return null;
      if ((a - level0) * (b - level0) <= 0 && a !== b) return i + (step * (level0 - a)) / (b - a);
    }
    return null;
  };
  const middle = cross(0.5, best, 1),
    ten = cross(0.1, best, 1),
    ninety = cross(0.9, best + 1, -1);
  if (middle === null) return null;
  const at = round(near) + outwards * (middle - HALF);
  return { at, rise: ten === null || ninety === null ? NaN : max(0, ten - ninety) };
}

/** What scaling to measuring size and the smoothing above add to a rise, pixels. */
const OWN_RISE = 2.4;

export interface EdgePath {
  /** The edge at each of the places along the breadth, measuring pixels; null where it is not to be seen. */
  lines: (number | null)[][];
  softness: number | null;
  /** Softness that movement and defocus make, when the speed varies enough to tell. */
  byMotion: number | null;
  byDefocus: number | null;
}

/**
 * Follows an edge closely.
 * @param coarse where the edge is at each of the places in each frame, to a few pixels
 * @param behindFrame for a frame, another one that shows what is behind the edge, by how much its content lies further
 *   back, and how much brighter, a factor, the frame is
 */
export function followEdge(
  lines: EdgeLines,
  coarse: readonly (readonly (number | null)[])[],
  way: Way,
  leading: boolean,
  behindFrame: (frame: number) => { frame: number; shift: number; gain: number } | null,
): EdgePath {
  const vertical = way === 90 || way === 270,
    forwards = way === 0 || way === 90;
  const outwards: 1 | -1 = forwards === leading ? 1 : -1;
  const long = vertical ? lines.height : lines.width;
  const behinds = BESIDE.map(() => new Float32Array(long));
  let rises: { rise: number; speed: number }[] = [];
  /** Goes through all frames; `look` tells where the edge is on lines beside each other. */
  const through = (look: (seen: Uint8Array[], near: number) => EdgeLook[]) => {
    rises = [];
    return coarse.map((path, place) =>
      path.map((near, f) => {
        if (near === null) return null;
        const source = behindFrame(f);
        if (!source) return near;
        const seen = BESIDE.map((_, by) => {
          const k = place * BESIDE.length + by;
          setBehind(lines.line(source.frame, k, vertical), source, behinds[by]);
          return lines.line(f, k, vertical);
        });
        const looks = look(seen, near);
        if (looks.length === 0) return null;
        const previous = path[f - 1] ?? null,
          next = path[f + 1] ?? null;
        const speed = previous !== null && next !== null ? abs(next - previous) / 2 : NaN;
        for (const l of looks) if (!Number.isNaN(l.rise)) rises.push({ rise: l.rise, speed });
        return median(looks.map((l) => l.at));
      }),
    );
  };
  const close = through((seen, near) =>
    seen.flatMap((line, by) => {
      const look = lookAtEdge(line, behinds[by], near, outwards);
      return look && abs(look.at - near) < 0.02 * long + 6 ? [look] : [];
    }),
  );
  let out = close.map((path, place) => path.map((v, f) => v ?? coarse[place][f]));
  const asked = coarse.flat().filter((v) => v !== null).length,
    found = close.flat().filter((v) => v !== null).length;
  if (found < SEEN_CLOSELY * asked || (rises.length > 3 && median(rises.map((r) => r.rise)) > SOFT)) {
    const [before, near] = [rises, out];
    out = through((seen, at) => {
      const soft = fitSoftEdge(seen, behinds, at, outwards);
      return soft ? [soft] : [];
    });
    const told = out.flat().filter((v) => v !== null).length;
    // What is not soft after all, or seldom to be told, stays as it was.
    if (told < SEEN_SOFT * asked || median(rises.map((r) => r.rise)) < SOFT) [rises, out] = [before, near];
  }
  if (rises.length < 4) return { lines: out, softness: null, byMotion: null, byDefocus: null };
  const own = (r: number) => sqrt(max(0, r * r - OWN_RISE * OWN_RISE));
  const softness = own(median(rises.map((r) => r.rise)));
  return {
    lines: out,
    softness,
    ...tellApart(rises.filter((r) => !Number.isNaN(r.speed)).map((r) => ({ rise: own(r.rise), speed: r.speed }))),
  };
}

/** What a line shows in another frame, as far further back and as much brighter as that is told. */
function setBehind(other: Uint8Array, { shift, gain }: { shift: number; gain: number }, out: Float32Array): void {
  for (let x = 0; x < out.length; x++) {
    const u = x - shift,
      i = floor(u);
    out[x] = i < 0 || i + 1 >= other.length ? NaN : gain * (other[i] + (u - i) * (other[i + 1] - other[i]));
  }
}

/** Movement blurs in proportion to the speed, defocus does not: squares add. */
function tellApart(rises: { rise: number; speed: number }[]): { byMotion: number | null; byDefocus: number | null } {
  const none = { byMotion: null, byDefocus: null };
  if (rises.length < 12) return none;
  const speeds = rises.map((r) => r.speed),
    usual = median(speeds);
  if (usual < 1 || quantile(speeds, 0.9) - quantile(speeds, 0.1) < 0.5 * usual) return none;
  let n = 0,
    sx = 0,
    sy = 0,
    xx = 0,
    xy = 0;
  for (const { rise, speed } of rises) {
    const x = speed * speed,
      y = rise * rise;
    n++;
    sx += x;
    sy += y;
    xx += x * x;
    xy += x * y;
  }
  const slope = max(0, (n * xy - sx * sy) / (n * xx - sx * sx)),
    rest = max(0, (sy - slope * sx) / n);
  return { byMotion: sqrt(slope) * usual, byDefocus: sqrt(rest) };
}
