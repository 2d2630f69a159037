import { sigmaOf } from '../../base/numeric/robust';
import { polynomialAt, robustPolynomial } from '../../base/numeric/polynomial';
import { median } from '../../base/numeric/quantile';
import { nearestWay, travelDirection, type Way } from './edges';

const { abs, atan2, max, min, PI, sqrt } = Math;

/** An edge's shape is told by a polynomial of this degree over the breadth, from at least this share of it. */
const DEGREE = 4;
const BREADTH = 0.5;
/** Between the frames that are compared the edge goes about so many of the masks' pixels. */
const STRIDE_PX = 10;
const LEAST_PAIRS = 4;
const LEAST_PACE = 0.3;
/** Places on the breadth at which two frames' edges are compared. */
const PLACES = 17;
/** What is behind and in front pulls neighbouring places and frames the same way: so many count as one. */
const ALIKE = 12;
/** The slant is believed when it is known to so many degrees (one standard deviation). */
const KNOWN_DEG = 4;
/** One that goes further aside than this goes another of the four ways. */
const MOST_DEG = 60;

/** An edge over the part of the breadth on which it is in the picture, of -1 to 1: its place along the way, the masks' pixels. */
interface Shape {
  at: (u: number) => number;
  slope: (u: number) => number;
  from: number;
  to: number;
}

/**
 * The way an object travels, degrees. Of a straight edge only its going forwards is to be seen, and it is taken to
 * travel square to itself; a bent one shows where it goes sideways: each place of it moves on by what the whole does,
 * less its own slope times the way aside. Null when too little is covered.
 * @param from first, @param to last frame in which the edge comes in; `late` for the edge that leaves
 */
export function travelWay(
  masks: readonly Uint8Array[],
  from: number,
  to: number,
  width: number,
  height: number,
  late = false,
): number | null {
  const square = travelDirection(masks, from, to, width, height, late);
  if (square === null) return null;
  const way = nearestWay(square);
  const slant = slantOf(
    masks.slice(from, to + 1).map((mask) => edgeShape(mask, width, height, way, late)),
    (way === 90 || way === 270 ? width : height) / 2,
  );
  if (slant === null) return square;
  // A slant turns clockwise from the ways right and up, the other way round from left and down.
  const sign = way === 0 || way === 270 ? 1 : -1;
  return (way + sign * slant + 360) % 360;
}

/** How far beside its way an edge travels, degrees towards growing places of the breadth; null where it does not show it. */
function slantOf(shapes: readonly (Shape | null)[], half: number): number | null {
  const paces = shapes.flatMap((s, f) => {
    const last = f > 0 ? shapes[f - 1] : null;
    return s && last ? [abs(s.at(0) - last.at(0))] : [];
  });
  const pace = paces.length < LEAST_PAIRS ? 0 : median(paces);
  if (pace < LEAST_PACE) return null;
  const stride = max(1, Math.round(STRIDE_PX / pace));
  const pairs = shapes.flatMap((a, f) => {
    const b = shapes[f + stride];
    return a && b ? [compared(a, b, half)] : [];
  });
  if (pairs.length < LEAST_PAIRS) return null;
  // What all places of a pair have in common is the way forwards, which may be uneven.
  const rows = pairs.flatMap(({ steps, slope, step }) => steps.map((r) => ({ s: r.slope - slope, d: r.step - step })));
  let aside = 0,
    error = Infinity;
  let weights = rows.map(() => 1);
  for (let round = 0; round < 4; round++) {
    let ss = 0,
      sd = 0;
    rows.forEach(({ s, d }, i) => {
      ss += weights[i] * s * s;
      sd += weights[i] * s * d;
    });
    if (ss === 0) return null;
    aside = -sd / ss;
    const rest = rows.map(({ s, d }) => abs(d + aside * s)),
      spread = max(0.1, sigmaOf(rest));
    error = spread * sqrt(ALIKE / ss);
    weights = rest.map((r) => (r < 3 * spread ? 1 : 0));
  }
  const forwards = median(pairs.map(({ step, slope }) => step + aside * slope));
  const degrees = (v: number) => (atan2(v, max(1e-6, forwards)) * 180) / PI;
  return degrees(error) > KNOWN_DEG || abs(degrees(aside)) > MOST_DEG ? null : degrees(aside);
}

/** How far an edge has gone from one frame to another at several places, with its slope there; and both on the mean. */
function compared(a: Shape, b: Shape, half: number) {
  const from = max(a.from, b.from),
    to = min(a.to, b.to);
  const steps = Array.from({ length: PLACES }, (_, k) => {
    const u = from + ((to - from) * (k + 0.5)) / PLACES;
    return { slope: (a.slope(u) + b.slope(u)) / 2 / half, step: b.at(u) - a.at(u) };
  });
  const mean = (pick: (s: { slope: number; step: number }) => number) =>
    steps.reduce((sum, s) => sum + pick(s), 0) / PLACES;
  return { steps, slope: mean((s) => s.slope), step: mean((s) => s.step) };
}

/** The shape of a mask's leading edge, or of the trailing one, along the way: forwards is always towards larger places. */
function edgeShape(mask: Uint8Array, width: number, height: number, way: Way, late: boolean): Shape | null {
  const vertical = way === 90 || way === 270,
    forwards = way === 0 || way === 90;
  const long = vertical ? height : width,
    broad = vertical ? width : height;
  const us: number[] = [],
    vs: number[] = [];
  for (let b = 0; b < broad; b++) {
    const at = (a: number) =>
      mask[vertical ? (forwards ? a : long - 1 - a) * width + b : b * width + (forwards ? a : long - 1 - a)];
    let v = late ? 0 : long - 1;
    if (late) while (v < long && !at(v)) v++;
    else while (v >= 0 && !at(v)) v--;
    if (v <= 0 || v >= long - 1) continue;
    us.push((2 * (b + 0.5)) / broad - 1);
    vs.push(v);
  }
  if (us.length < BREADTH * broad) return null;
  const c = robustPolynomial(us, vs, DEGREE, 0.7);
  if (!c) return null;
  const slopes = c.slice(1).map((k, p) => (p + 1) * k);
  return { at: (u) => polynomialAt(c, u), slope: (u) => polynomialAt(slopes, u), from: us[0], to: us[us.length - 1] };
}
