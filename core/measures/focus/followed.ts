import type { Similarity } from '../../base/geometry/similarity';
import { chained, type Stretch } from '../lock/stretches';
import { polynomialAt, robustPolynomial } from '../../base/numeric/polynomial';
import { median, quantile } from '../../base/numeric/quantile';
import type { FocusMeasure } from '../../report/types';
import { focusOf, measureFocus, type FocusContext } from './measure';
import type { DetailMeter } from './detail-meter';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, cos, exp, hypot, log, max, min, PI, sin, sqrt } = Math;

/** What is four pixels long tells the focus of a picture that moves. */
const DETAIL_PX = 4;
/** Of detail that the shutter leaves less of than this nothing is told any more. */
const LEAST_LEFT = 0.35;
/** Ways that a blur goes through detail. */
const WAYS = 16;
/** A camera that goes slower than this smears nothing, measuring pixels a frame. */
const LEAST_SPEED = 0.7;
/** Sharpness follows speed by a polynomial of this degree, within so much of it. */
const DEGREE = 2;
const LEAST_SPREAD = 0.02;

/**
 * The focus of a take whose camera goes too far to be held against one frame: each stretch is held against its own
 * sharpest moments, and what follows each other is tied together. What the shutter smears while the camera goes faster
 * is no focus, and is taken off.
 * @param poses camera movement against one frame, source pixels; null where unknown. @param size source pixels for one
 * measuring pixel
 */
export function followedFocus(
  meter: Pick<DetailMeter, 'across' | 'down' | 'width' | 'height' | 'count' | 'read'>,
  context: FocusContext,
  stretches: readonly Stretch[],
  poses: readonly (Similarity | null)[],
  { factorX, factorY }: { factorX: number; factorY: number },
): FocusMeasure {
  const parts = stretches.map(({ run, poses: own }) => {
    const { start, end } = run;
    const part = {
      across: meter.across,
      down: meter.down,
      width: meter.width,
      height: meter.height,
      count: end - start + 1,
      read: (frame: number, coarser: boolean) => meter.read(start + frame, coarser),
    };
    return {
      start,
      focus: measureFocus(part, {
        ...context,
        moved: true,
        light: context.light.slice(start, end + 1),
        scale: context.scale.slice(start, end + 1),
        occupied: null,
        shift: own.map((p): [number, number] | null => p && [p.dx / factorX, p.dy / factorY]),
      }),
    };
  });
  const path = chained(
    parts.map(({ start, focus }) => ({ start, values: focus.path.sharpness })),
    meter.count,
    true,
  );
  const known = parts.filter(({ focus }) => focus.worst_loss_pct !== null);
  const textured = known.length ? median(known.map(({ focus }) => focus.textured_share)) : 0;
  const scatter = known.flatMap(({ focus }) => (focus.uncertainty_pct === null ? [] : [focus.uncertainty_pct / 100]));
  return focusOf(withoutSmear(path, speedsOf(poses, factorX)), {
    fps: context.fps,
    scale: context.scale,
    textured,
    scatter,
    followed: true,
  });
}

/** How far the picture goes in each frame, measuring pixels. */
function speedsOf(poses: readonly (Similarity | null)[], factor: number): (number | null)[] {
  return poses.map((_, f) => {
    const [a, b] = [poses[f - 1] ?? poses[f], poses[f + 1] ?? poses[f]];
    const frames = (poses[f - 1] ? 1 : 0) + (poses[f + 1] ? 1 : 0);
    return a && b && frames ? hypot(b.dx - a.dx, b.dy - a.dy) / frames / factor : null;
  });
}

/**
 * A path of sharpness without what the shutter takes as the camera goes faster: what most frames of a speed have in common,
 * and no more than a shutter that never closes would take. Null where it leaves too little.
 */
function withoutSmear(path: readonly (number | null)[], speeds: readonly (number | null)[]): (number | null)[] {
  const both = path.flatMap((v, f) => (v !== null && v > 0 && speeds[f] !== null ? [[speeds[f]!, log(v)]] : []));
  const top = both.reduce((m, [v]) => max(m, v), 0);
  const fit =
    top < LEAST_SPEED
      ? null
      : robustPolynomial(
          both.map(([v]) => v / top),
          both.map(([, s]) => s),
          DEGREE,
          LEAST_SPREAD,
        );
  if (!fit) return [...path];
  // Of speeds at which the camera never went the fit knows nothing.
  const slowest =
    quantile(
      both.map(([v]) => v),
      0.05,
    ) / top;
  const most = max(...Array.from({ length: 21 }, (_, k) => polynomialAt(fit, slowest + ((1 - slowest) * k) / 20)));
  return path.map((v, f) => {
    if (v === null || speeds[f] === null) return null;
    const left = max(leftBySmear(speeds[f]!), min(1, exp(polynomialAt(fit, speeds[f]! / top) - most)));
    return left < LEAST_LEFT ? null : v / left;
  });
}

/** The share that a smear of so many pixels leaves of detail that goes all ways (a box's transfer, on the mean). */
function leftBySmear(px: number): number {
  let sum = 0;
  for (let k = 0; k < WAYS; k++) {
    const x = (PI * px * abs(cos((PI * (k + 0.5)) / WAYS))) / DETAIL_PX;
    sum += x < 1e-6 ? 1 : (sin(x) / x) ** 2;
  }
  return min(1, sqrt(sum / WAYS));
}
