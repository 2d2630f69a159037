import { sigmaOf } from '../../base/numeric/robust';
import { solvePositive } from '../../base/numeric/least-squares';
import { robustPolynomial } from '../../base/numeric/polynomial';
import { median } from '../../base/numeric/quantile';
import type { Way } from './edges';

const { abs, hypot, max, sqrt } = Math;

export interface EdgeBend {
  /** Greatest distance of the edge's middle from the straight line through its ends at the picture's sides, source pixels. */
  bend_px: number;
  /** To how many pixels that is known (two standard deviations). */
  error_px: number;
  /**
   * The lens's bending, by which a point at distance r from the picture's centre (half diagonals) lies at r (1 + k1
   * r²); null where the edge does not show it.
   */
  lens_k1: number | null;
}

const LEAST_FRAMES = 5;
/** Frames count when the edge has gone on by this share of the picture's length; so many beside each other err alike. */
const STEP = 0.006;
const ALIKE = 4;
/** The lens is believed to bend when the fit says so by this many of its own errors, and by this many pixels. */
const SURE = 4;
const SEEN_PX = 1;

/** An edge in one frame: its middle along the way, and how far that lies off the line through its ends, source pixels. */
export interface BentEdge {
  at: number;
  bend: number;
}

/** The edge must be in the picture on this share of its breadth. */
const IN_PICTURE = 0.9;

/**
 * How a mask's leading edge bends in one frame: a parabola through its places over the whole breadth, robustly. Null
 * where it is not in the picture on most of it.
 * @param unit source pixels for one of the mask's
 */
export function bentEdge(
  mask: Uint8Array,
  { width, height }: { width: number; height: number },
  way: Way,
  unit: number,
): BentEdge | null {
  const vertical = way === 90 || way === 270,
    forwards = way === 0 || way === 90;
  const long = vertical ? height : width,
    broad = vertical ? width : height;
  const places: [u: number, v: number][] = [];
  for (let b = 0; b < broad; b++) {
    let n = 0;
    for (let a = 0; a < long; a++) n += mask[vertical ? a * width + b : b * width + a];
    // It closes from where it comes from: so much of the line is covered.
    const v = forwards ? n : long - n;
    if (n > 0 && n < long) places.push([(2 * (b + 0.5)) / broad - 1, v]);
  }
  if (places.length < IN_PICTURE * broad) return null;
  const fit = robustPolynomial(
    places.map(([u]) => u),
    places.map(([, v]) => v),
    2,
    0.5,
  );
  return fit && { at: fit[0] * unit, bend: -fit[2] * unit };
}

/**
 * How a straight edge that travels across the picture bends: by the lens as far as the bending grows with the distance
 * from the centre and changes its side there, by itself as far as it stays the same. A robust straight line of the
 * bend over the place (Brown 1966 for the lens, first term). Null when too little of it is seen.
 * @param edges the edge in each frame
 * @param long length of the picture along the way, and `broad` across it, source pixels
 */
export function bendOf(edges: readonly (BentEdge | null)[], long: number, broad: number): EdgeBend | null {
  const radius = hypot(long, broad) / 2,
    aside = broad / 2 / radius;
  const seen: { h: number; bend: number }[] = [];
  let before = Infinity;
  for (const edge of edges) {
    // An edge that rests says the same thing again and again.
    if (!edge || abs(edge.at - before) < STEP * long) continue;
    before = edge.at;
    seen.push({ h: (edge.at - long / 2) / radius, bend: edge.bend });
  }
  if (seen.length < LEAST_FRAMES) return null;
  let weights = seen.map(() => 1),
    own = 0,
    slope = 0,
    error = Infinity,
    spread = 0;
  for (let round = 0; round < 4; round++) {
    let n = 0,
      sh = 0,
      hh = 0,
      sb = 0,
      hb = 0;
    seen.forEach(({ h, bend }, i) => {
      const w = weights[i];
      n += w;
      sh += w * h;
      hh += w * h * h;
      sb += w * bend;
      hb += w * h * bend;
    });
    const fit = solvePositive(new Float64Array([n, sh, sh, hh]), new Float64Array([sb, hb]), 2);
    if (!fit) break;
    [own, slope] = fit;
    const rest = seen.map(({ h, bend }) => abs(bend - own - slope * h));
    spread = max(0.05, sigmaOf(rest));
    weights = rest.map((r) => (r < 2.5 * spread ? 1 : 0));
    // What is behind and in front pulls neighbouring frames the same way.
    error = (spread * sqrt(ALIKE)) / sqrt(max(1e-9, hh - (sh * sh) / max(1, n)));
  }
  const farthest = seen.reduce((m, s) => max(m, abs(own + slope * s.h)), 0);
  const bent = abs(slope) * seen.reduce((m, s) => max(m, abs(s.h)), 0);
  const byLens = abs(slope) > SURE * error && bent > SEEN_PX;
  const middle = median(seen.map((s) => s.bend));
  const error_px = 2 * spread * sqrt(ALIKE / seen.length);
  return {
    bend_px: byLens ? farthest : abs(middle),
    error_px,
    lens_k1: byLens ? -slope / (aside * aside * radius) : null,
  };
}
