import { NONE } from '../../presence/shade';
import { quantile } from '../../base/numeric/quantile';
import type { OutlineRead } from '../../report/figure-types';
import { edgesOf } from '../../movers/smear';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, floor, hypot, max, min, round, sqrt } = Math;

/** A picture in colour: red, green, blue by turns; `most` stands for white. */
export interface Coloured {
  data: Uint8Array | Uint16Array | Float32Array;
  most: number;
  width: number;
  height: number;
}

export interface StandOutInput {
  picture: Coloured;
  /** The empty picture as it lies in the frame; null where there is none. */
  behind: Coloured | null;
  /** 1 where the figure is, on a grid `factor` times as coarse; and who else, or whose shadow, is where. */
  mask: Uint8Array;
  kinds: Uint8Array;
  gridWidth: number;
  factor: number;
}

/** The outline is known to so many pixels of the grid; both sides of it are read so far from it, and along it. */
const ASTRAY = 3;
const BESIDE = [1.5, 2.5, 3.5];
const ALONG = [-1.5, 0, 1.5];
/** Both sides differ by so many levels, and by so many times what each varies by. */
const LEVELS = 8;
const APART = 1;
/**
 * Beyond the outline, at these distances, the picture is the empty one; more than this, levels, and than so many times
 * what is usual, is somebody.
 */
const BEYOND = [6, 8, 10];
const MORE = 3;
const TIMES = 2.5;
/** So many places of the rest of the picture say what is usual, at least so far from anybody, grid pixels. */
const PLACES = 300;
const AWAY = 12;
/** At so many places of an outline at least is it read. */
const LEAST = 12;

/**
 * How clearly a figure's outline stands out from what lies behind it in one frame: in colour, against what both sides
 * vary by. Where the picture beside the outline is not the empty one, some of the figure was taken for background.
 * @returns null where too little of an outline can be read
 */
export function standOut(input: StandOutInput): Omit<OutlineRead, 'frame'> | null {
  const { picture, factor, mask, gridWidth } = input;
  const edges = edgesOf({ mask, maskWidth: gridWidth, factor });
  const reach = (ASTRAY + 4) * factor;
  const inside = edges.filter(
    ({ x, y }) => x > reach && y > reach && x < picture.width - reach && y < picture.height - reach,
  );
  if (inside.length < LEAST) return null;
  const usual = usualOf(input);
  const read = inside.map((e) => {
    const clear = clearness(picture, e, factor);
    const taken = usual !== null && takenBeyond(input, e) > max(MORE, TIMES * usual);
    return { e, clear: taken ? 0 : clear };
  });
  const poor = read.filter((r) => r.clear < 1);
  const worst = read.reduce((a, b) => (b.clear < a.clear ? b : a));
  return { share: 1 - poor.length / read.length, weakest: poor.length ? { x_px: worst.e.x, y_px: worst.e.y } : null };
}

type Place = ReturnType<typeof edgesOf>[0];

/** How clearly the two sides of a place differ: 1 can just be followed. */
function clearness(picture: Coloured, { x, y, nx, ny }: Place, factor: number): number {
  let best = 0;
  for (let off = -ASTRAY; off <= ASTRAY; off++) {
    const sides = [-1, 1].map((side) => {
      const values: [number, number, number][] = [];
      for (const d of BESIDE)
        for (const a of ALONG) {
          const s = (off + side * d) * factor;
          values.push(at(picture, x + nx * s - ny * a * factor, y + ny * s + nx * a * factor));
        }
      return values;
    });
    for (const channel of CHANNELS) {
      const [a, b] = sides.map((side) => moments(side.map(channel)));
      const step = abs(a.mean - b.mean);
      const spread = sqrt((a.variance + b.variance) / 2);
      best = max(best, min(step / LEVELS, step / max(1e-6, APART * spread)));
    }
  }
  return best;
}

type Colour = readonly [number, number, number];
const CHANNELS: readonly ((c: Colour) => number)[] = [
  (c) => c[0],
  (c) => c[1],
  (c) => c[2],
  (c) => 0.2126 * c[0] + 0.7152 * c[1] + 0.0722 * c[2],
];

function moments(values: readonly number[]) {
  const mean = values.reduce((s, v) => s + v, 0) / values.length;
  return { mean, variance: values.reduce((s, v) => s + (v - mean) ** 2, 0) / values.length };
}

/** Colour of the pixel at a place, levels of 255; beyond the edge that of the edge. */
function at({ data, most, width, height }: Coloured, x: number, y: number): [number, number, number] {
  const i = 3 * (max(0, min(height - 1, floor(y))) * width + max(0, min(width - 1, floor(x))));
  const by = 255 / most;
  return [data[i] * by, data[i + 1] * by, data[i + 2] * by];
}

/** By how much the picture differs from the empty one just outside a place; 0 where somebody is known to be there. */
function takenBeyond({ picture, behind, kinds, gridWidth, factor }: StandOutInput, { x, y, nx, ny }: Place): number {
  const spots: [number, number][] = [];
  const height = kinds.length / gridWidth;
  for (const d of BEYOND)
    for (const a of ALONG) {
      const [u, v] = [x + (nx * d - ny * a) * factor, y + (ny * d + nx * a) * factor];
      const [c, r] = [floor(u / factor), floor(v / factor)];
      if (c < 0 || r < 0 || c >= gridWidth || r >= height || kinds[r * gridWidth + c] !== NONE) return 0;
      spots.push([u, v]);
    }
  return differs(picture, behind!, spots);
}

/** The mean difference of two pictures over some spots, in the channel where it is the greatest, levels. */
function differs(a: Coloured, b: Coloured, spots: readonly (readonly [number, number])[]): number {
  const sums = [0, 0, 0];
  for (const [u, v] of spots) {
    const [p, q] = [at(a, u, v), at(b, u, v)];
    for (let c = 0; c < 3; c++) sums[c] += p[c] - q[c];
  }
  return max(...sums.map(abs)) / spots.length;
}

/** What the picture differs from the empty one by where nobody is: in one of four places it is more. */
function usualOf({ picture, behind, kinds, gridWidth, factor }: StandOutInput): number | null {
  if (!behind) return null;
  const height = kinds.length / gridWidth;
  const out: number[] = [];
  const step = max(1, floor(sqrt((gridWidth * height) / PLACES)));
  for (let y = AWAY; y < height - AWAY; y += step)
    for (let x = AWAY; x < gridWidth - AWAY; x += step) {
      if (!free(kinds, gridWidth, x, y)) continue;
      const spots = BEYOND.flatMap((d) =>
        ALONG.map((a) => [(x + d - BEYOND[1]) * factor, (y + a) * factor] as [number, number]),
      );
      out.push(differs(picture, behind, spots));
    }
  return out.length < 20 ? null : quantile(out, 0.75);
}

function free(kinds: Uint8Array, width: number, x: number, y: number): boolean {
  for (let v = y - AWAY; v <= y + AWAY; v += AWAY / 2)
    for (let u = x - AWAY; u <= x + AWAY; u += AWAY / 2)
      if (kinds[round(v) * width + round(u)] !== NONE && hypot(u - x, v - y) <= AWAY) return false;
  return true;
}
