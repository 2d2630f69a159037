import { median, quantile } from '../base/numeric/quantile';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, floor, hypot, max, min, round } = Math;

/** A picture of somebody and the empty picture, luma at full size, with a coarser mask of where they are. */
export interface SmearInput {
  picture: Float32Array;
  behind: Float32Array;
  width: number;
  height: number;
  mask: Uint8Array;
  maskWidth: number;
  /** Pixels for one pixel of the mask. */
  factor: number;
  /** How they move there, pixels a frame. */
  pace: readonly [number, number] | null;
  /** Grain of one picture, levels. */
  noise: number;
}

export interface Smear {
  /** Rise of the edges that lie across the way, and of those that lie along it, 10 to 90 %, pixels; null where none tells. */
  along: number | null;
  across: number | null;
  /** What movement alone makes of it. */
  blur: number | null;
}

/** Slower than this, pixels a frame, nothing smears. */
const SLOW = 0.5;
/** Edges that lie across the way, and along it, by the share of the way in their normal. */
const ACROSS = 0.75;
const ALONG = 0.35;
/** An edge must stand out by so many levels, and so many standard deviations of the grain. */
const LEVELS = 10;
const SIGMAS = 4;
/** What is inside may vary by this share of how much it stands out. */
const EVEN = 0.5;
/** So many edges must be read; no more than so many are. */
const LEAST = 8;
const MOST = 400;
/** Of a straight rise the middle half is read. */
const MIDDLE = 0.8 / 0.5;

/**
 * How far somebody's edges are smeared along their way. What a shutter smears rises straight; its middle half says how
 * far, and the rise that still edges have is taken off as variances are.
 */
export function smearOf(input: SmearInput): Smear {
  const { pace } = input;
  const speed = pace ? hypot(...pace) : 0;
  const edges = edgesOf(input);
  const way = pace && speed > SLOW ? ([pace[0] / speed, pace[1] / speed] as const) : null;
  const cos = (e: Edge) => (way ? e.nx * way[0] + e.ny * way[1] : 0);
  const across = rises(
    input,
    edges.filter((e) => abs(cos(e)) < ALONG),
    null,
    0,
  );
  if (!way) return { along: across, across, blur: across === null ? null : 0 };
  const beside = edges.filter((e) => abs(cos(e)) > ACROSS);
  // A shutter is open for all of a frame at most. Once it is known for how much, what is inside is read close to the edge.
  const first = rises(input, beside, way, speed);
  const along = first === null ? null : rises(input, beside, way, min(speed, first / 0.8));
  return { along, across, blur: along === null ? null : smearFrom(along, across ?? USUAL_RISE) };
}

/** A still edge rises within so many pixels, where none of them tells. */
export const USUAL_RISE = 2;
/** As its middle half says, a soft edge rises over so many of its standard deviations. */
const SOFT = 2 * 0.6745 * MIDDLE;
/** Halvings with which a smear is found. */
const HALVINGS = 24;

/**
 * The smear, 10 to 90 %, pixels, that makes a still edge, soft as a lens leaves it, rise as it does: the rise of a
 * straight ramp over a normal one is asked for, both as their middle halves say.
 */
export function smearFrom(along: number, still: number): number {
  const sigma = max(0.05, still / SOFT);
  // Where it stands at x from the middle of a ramp as long as b.
  const shareAt = (x: number, b: number) => (sigma / b) * (under((x + b / 2) / sigma) - under((x - b / 2) / sigma));
  let [low, high] = [0, along / 0.8];
  for (let k = 0; k < HALVINGS; k++) {
    const b = (low + high) / 2;
    if (b > 0 && shareAt(along / MIDDLE / 2, b) < 0.75) high = b;
    else low = b;
  }
  return along <= still ? 0 : 0.8 * low;
}

/** The normal curve's own integral, twice: z times its sum up to z, and its height there. */
const under = (z: number) => z * sumTo(z) + Math.exp((-z * z) / 2) / Math.sqrt(2 * Math.PI);

/** The sum of the normal curve up to z, to 1e-7 (Abramowitz and Stegun, 26.2.17). */
function sumTo(z: number): number {
  const t = 1 / (1 + 0.2316419 * abs(z));
  const tail =
    ((((1.330274429 * t - 1.821255978) * t + 1.781477937) * t - 0.356563782) * t + 0.31938153) *
    t *
    (Math.exp((-z * z) / 2) / Math.sqrt(2 * Math.PI));
  return z > 0 ? 1 - tail : tail;
}

/** A place on somebody's outline, full-size pixels. */
export interface Edge {
  x: number;
  y: number;
  /** Pointing away from them. */
  nx: number;
  ny: number;
}

/** Places along the outline, with the way out of it. */
export function edgesOf({ mask, maskWidth: w, factor }: Pick<SmearInput, 'mask' | 'maskWidth' | 'factor'>): Edge[] {
  const h = floor(mask.length / w);
  const at = (x: number, y: number) => (x < 0 || y < 0 || x >= w || y >= h ? 0 : mask[y * w + x]);
  const out: Edge[] = [];
  for (let y = 2; y < h - 2; y++)
    for (let x = 2; x < w - 2; x++) {
      if (!mask[y * w + x] || (at(x - 1, y) && at(x + 1, y) && at(x, y - 1) && at(x, y + 1))) continue;
      let [gx, gy] = [0, 0];
      for (let v = -2; v <= 2; v++)
        for (let u = -2; u <= 2; u++)
          if (at(x + u, y + v)) {
            gx -= u;
            gy -= v;
          }
      const g = hypot(gx, gy);
      if (g > 4) out.push({ x: (x + 0.5) * factor, y: (y + 0.5) * factor, nx: gx / g, ny: gy / g });
    }
  if (out.length <= MOST) return out;
  return Array.from({ length: MOST }, (_, k) => out[floor(((k + 0.5) * out.length) / MOST)]);
}

/** The usual rise over some edges, read along the way or, without one, straight across each. Null when too few can be read. */
function rises(
  input: SmearInput,
  edges: readonly Edge[],
  way: readonly [number, number] | null,
  speed: number,
): number | null {
  const found = edges.flatMap((e) => {
    const sign = way && e.nx * way[0] + e.ny * way[1] < 0 ? -1 : 1;
    const r = riseAt(input, e, way ? [sign * way[0], sign * way[1]] : [e.nx, e.ny], speed);
    return r === null ? [] : [r];
  });
  return found.length < LEAST ? null : median(found);
}

/** Rise of one edge, 10 to 90 %, pixels, along a way out of the figure. */
function riseAt(input: SmearInput, { x, y }: Edge, [ux, uy]: readonly [number, number], speed: number): number | null {
  const { factor, noise } = input;
  const near = speed / 2 + 2 * factor;
  const room = max(8, min(40, speed / 2)) + factor;
  const inner = round(near + room),
    outer = round(near + max(8, 2 * factor));
  const size = inner + outer + 1;
  const seen = new Float32Array(size),
    empty = new Float32Array(size);
  for (let k = 0; k < size; k++) {
    const s = k - inner;
    // Three lines beside each other: grain.
    for (let p = -1; p <= 1; p++) {
      const i = placeOf(input, x + ux * s - uy * p, y + uy * s + ux * p);
      if (!i) return null;
      seen[k] += valueOf(input.picture, input.width, i) / 3;
      empty[k] += valueOf(input.behind, input.width, i) / 3;
    }
  }
  const inside = seen.subarray(0, round(room));
  const own = median(inside);
  const least = max(LEVELS, (SIGMAS * noise) / Math.sqrt(3));
  const from = Math.abs(own - median(empty));
  if (from < least || (quantile(inside, 0.9) - quantile(inside, 0.1)) / 2 > EVEN * from) return null;
  // How much of each pixel is theirs; what lies behind is known pixel by pixel.
  const line = new Float32Array(size);
  for (let k = 0; k < size; k++) {
    const apart = own - empty[k];
    if (abs(apart) < least / 2) return null;
    line[k] = (seen[k] - empty[k]) / apart;
  }
  // From outside in: where it first comes to a quarter, and to three quarters.
  const share = (k: number) => line[k];
  for (let k = line.length - 1; k >= line.length - 4; k--) if (abs(share(k)) > 0.25) return null;
  const crossing = (value: number): number | null => {
    for (let k = line.length - 2; k >= 1; k--)
      if (share(k) >= value && share(k - 1) >= value * 0.8)
        return k + (share(k) - value) / max(1e-6, share(k) - share(k + 1));
    return null;
  };
  const [low, high] = [crossing(0.25), crossing(0.75)];
  return low === null || high === null ? null : max(0, MIDDLE * (low - high));
}

/** Between which pixels a place lies: the upper left one, and the shares of the next; null outside the picture. */
function placeOf({ width, height }: SmearInput, x: number, y: number): readonly [number, number, number] | null {
  const u = x - 0.5,
    v = y - 0.5;
  const c = floor(u),
    r = floor(v);
  return c < 0 || r < 0 || c + 1 >= width || r + 1 >= height ? null : [r * width + c, u - c, v - r];
}

function valueOf(values: Float32Array, width: number, [i, a, b]: readonly [number, number, number]): number {
  return (
    (values[i] * (1 - a) + values[i + 1] * a) * (1 - b) + (values[i + width] * (1 - a) + values[i + width + 1] * a) * b
  );
}

/**
 * Fine detail of somebody: the root of the mean square of steps from pixel to pixel well inside them, grain taken off;
 * null where too little of them is well inside.
 */
export function detailOf({ picture, width, height, mask, maskWidth: w, factor, noise }: SmearInput): number | null {
  const h = floor(mask.length / w);
  let sum = 0,
    n = 0;
  for (let y = 2; y < h - 2; y++)
    for (let x = 2; x < w - 2; x++) {
      if (!mask[y * w + x]) continue;
      let inside = true;
      for (let v = -2; v <= 2 && inside; v += 2)
        for (let u = -2; u <= 2; u += 2) if (!mask[(y + v) * w + x + u]) inside = false;
      if (!inside) continue;
      const right = min(width - 2, floor((x + 1) * factor)),
        below = min(height - 2, floor((y + 1) * factor));
      for (let b = floor(y * factor); b < below; b++)
        for (let a = floor(x * factor); a < right; a++) {
          const i = b * width + a;
          // Two pixels apart: coding smooths what is nearer.
          const gx = picture[i + 1] - picture[i - 1],
            gy = picture[i + width] - picture[i - width];
          sum += gx * gx + gy * gy;
          n++;
        }
    }
  return n < 50 ? null : Math.sqrt(max(0, sum / n - 4 * noise * noise));
}
