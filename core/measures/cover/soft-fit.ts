// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, exp, floor, max, min } = Math;

/** A soft edge on a line: its middle and its 10 to 90 % rise, the line's pixels. */
export interface SoftEdge {
  at: number;
  rise: number;
}

/** Rises that are tried, pixels; a factor of about 1.4 apart. */
const RISES = [16, 23, 32, 45, 64, 90, 128, 181, 256];
/** 10 to 90 % of a logistic curve lie so many of its units apart: 2 ln 9. */
const UNITS = 4.394;
/** How far from where the masks have it the middle may lie: far inside, for their rim is where next to nothing is covered. */
const INWARDS = 0.75;
const OUTWARDS = 24;
const STEP = 8;
/** Pixels that are looked at, each so many. */
const EVERY = 3;
/** A pixel that differs by more levels than this is something else. */
const ASTRAY = 14;
/** What is left must be this much less than without an edge there. */
const BETTER = 0.4;
const LEAST_PIXELS = 60;
/** Pixels over which the object's level may change by one unit, and what holds it even. */
const TILT = 200;
const EVEN = 4;

/**
 * Finds an edge so soft that no stretch beside it shows the object alone: each pixel is what lies behind, and a share
 * of the object's own level that rises as a logistic curve. Middle and rise by trying, the level by least squares.
 * @param seen lines beside each other, and `behind` what they show without the object; NaN where that is not known
 * @param near where masks have the object's rim
 * @param outwards +1 when the background lies towards higher positions
 * @returns null where no such edge explains the lines
 */
export function fitSoftEdge(
  seen: readonly ArrayLike<number>[],
  behind: readonly ArrayLike<number>[],
  near: number,
  outwards: 1 | -1,
): SoftEdge | null {
  const long = seen[0].length;
  const values: number[] = [],
    backs: number[] = [],
    places: number[] = [];
  for (let x = 1; x < long - 1; x += EVERY) {
    for (let k = 0; k < seen.length; k++) {
      if (Number.isNaN(behind[k][x])) continue;
      values.push(seen[k][x]);
      backs.push(behind[k][x]);
      places.push(x);
    }
  }
  if (values.length < LEAST_PIXELS) return null;
  const v = Float64Array.from(values),
    b = Float64Array.from(backs),
    x = Float64Array.from(places);
  let best = { at: NaN, rise: NaN, cost: Infinity };
  const tried = (at: number, rise: number) => {
    const cost = costOf(v, b, x, at, (outwards * UNITS) / rise);
    if (cost < best.cost) best = { at, rise, cost };
  };
  const inner = near - outwards * INWARDS * max(...RISES),
    outer = near + outwards * OUTWARDS;
  for (const rise of RISES) for (let at = min(inner, outer); at <= max(inner, outer); at += STEP) tried(at, rise);
  const { at: coarse, rise: first } = best;
  for (const by of [0.84, 1, 1.19]) for (let d = -6; d <= 6; d += 2) tried(coarse + d, first * by);
  let none = 0;
  for (let i = 0; i < v.length; i++) none += min(ASTRAY * ASTRAY, (v[i] - b[i]) ** 2);
  const atRim = best.rise < 1.1 * RISES[0] || best.rise > max(...RISES) || best.at < 0 || best.at > long - 1;
  return atRim || best.cost > BETTER * none ? null : { at: best.at, rise: best.rise };
}

/**
 * What an edge leaves unexplained, each pixel's part cut off. The object's level, which may rise or fall along the
 * line, is the one that leaves least.
 */
function costOf(v: Float64Array, b: Float64Array, x: Float64Array, at: number, slope: number): number {
  let aa = 0,
    au = 0,
    uu = 0,
    ra = 0,
    ru = 0;
  const n = v.length;
  for (let i = 0; i < n; i++) {
    const a = shareAt((x[i] - at) * slope);
    if (a < 0.02) continue;
    const u = (a * (x[i] - at)) / TILT,
      r = v[i] - b[i] + a * b[i];
    aa += a * a;
    au += a * u;
    uu += u * u;
    ra += a * r;
    ru += u * r;
  }
  if (aa < 1) return Infinity;
  // A little weight keeps the level even where too little of the object is in to tell.
  uu += EVEN;
  const det = aa * uu - au * au;
  const level = (uu * ra - au * ru) / det,
    tilt = (aa * ru - au * ra) / det / TILT;
  let cost = 0;
  for (let i = 0; i < n; i++) {
    const a = shareAt((x[i] - at) * slope);
    const r = v[i] - b[i] - a * (level + tilt * (x[i] - at) - b[i]);
    cost += min(ASTRAY * ASTRAY, r * r);
  }
  return cost;
}

const FINE = 32;
const ENDS = 8;
const CURVE = Float64Array.from({ length: 2 * ENDS * FINE + 1 }, (_, k) => 1 / (1 + exp(k / FINE - ENDS)));

/** The logistic curve, 1 far inside and 0 far outside. */
function shareAt(t: number): number {
  return abs(t) >= ENDS ? (t < 0 ? 1 : 0) : CURVE[floor((t + ENDS) * FINE)];
}
