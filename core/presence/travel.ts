import { median } from '../base/numeric/quantile';
import type { PresenceMeasure } from '../report/types';

const { atan2, hypot, max, min, PI } = Math;

/** Which way what is in the picture travels, and how fast. */
export interface Travel {
  angle_deg: number;
  px_per_frame: number;
}

/** Frames over which a movement is taken. */
const STRIDE = 6;
const LEAST_STEPS = 6;
/** What goes less far than this share of the picture's width altogether, or about no one way, does not travel. */
const FAR = 0.05;
const ONE_WAY = 0.6;

/**
 * The way in which whoever is in the picture travels: the middle of the steps of their box's middle, where the box
 * touches no side of the picture along that axis. Null when they stay, go to and fro, or are hardly in.
 */
export function travelOf(
  { left_px, right_px, top_px, bottom_px }: PresenceMeasure['path'],
  width: number,
  height: number,
): Travel | null {
  const rim = 0.01 * width;
  const middle = (low: number | null, high: number | null, long: number) =>
    low === null || high === null || low < rim || high > long - rim ? null : (low + high) / 2;
  const xs = left_px.map((l, f) => middle(l, right_px[f], width)),
    ys = top_px.map((t, f) => middle(t, bottom_px[f], height));
  const steps: [number, number][] = [];
  let sumX = 0,
    sumY = 0,
    along = 0;
  for (let f = STRIDE; f < xs.length; f++) {
    const [a, b] = [xs[f - STRIDE], xs[f]],
      [c, d] = [ys[f - STRIDE], ys[f]];
    if (a === null || b === null) continue;
    // Feet may be outside the picture: then only the way across is told.
    const step: [number, number] = [(b - a) / STRIDE, c === null || d === null ? 0 : (d - c) / STRIDE];
    steps.push(step);
    sumX += step[0];
    sumY += step[1];
    along += hypot(step[0], step[1]);
  }
  if (steps.length < LEAST_STEPS) return null;
  const known = xs.filter((x) => x !== null),
    far = max(...known) - min(...known);
  if (max(far, hypot(sumX, sumY)) < FAR * width || hypot(sumX, sumY) < ONE_WAY * along) return null;
  const vx = median(steps.map((s) => s[0])),
    vy = median(steps.map((s) => s[1]));
  if (vx === 0 && vy === 0) return null;
  return { angle_deg: ((atan2(vy, vx) * 180) / PI + 360) % 360, px_per_frame: hypot(vx, vy) };
}
