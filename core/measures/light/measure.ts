import { frameSigma } from '../../base/numeric/robust';
import { median } from '../../base/numeric/quantile';
import type { LightMeasure } from '../../report/types';
import { findFlicker } from './flicker';
import { findSteps } from './steps';
import type { WhiteReading } from './white';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { floor, max, min, round } = Math;

/** What the scene analysis read in each frame; null where nothing could be read. */
export interface LightReadings {
  /** Stops against any common reference. */
  stops: (number | null)[];
  white: (WhiteReading | null)[];
  /** Share of the usable background that was to see. */
  share: (number | null)[];
}

/** So much of the usable background must be to see. */
const LEAST_SHARE = 0.25;

/** Turns the readings of a take into the numbers of the report. */
export function measureLight(readings: LightReadings, fps: number): LightMeasure {
  // Behind what covers nearly all of it the light cannot be read.
  const stops = readings.stops.map((s, f) => ((readings.share[f] ?? 1) < LEAST_SHARE ? null : s));
  const first = stops.find((s): s is number => s !== null) ?? null;
  const path = stops.map((s) => (s === null || first === null ? null : s - first));
  const known = path.filter((s): s is number => s !== null);
  const empty: LightMeasure = {
    drift_stops: null,
    range_stops: null,
    steps: [],
    flicker: null,
    white: null,
    uncertainty_stops: null,
    measured_share: path.length ? known.length / path.length : 0,
    brightest_frame: null,
    darkest_frame: null,
    path: { stops: path, red_stops: path.map(() => null), blue_stops: path.map(() => null) },
  };
  if (known.length === 0) return empty;
  const second = max(1, min(round(fps), floor(known.length / 2)));
  const noise = frameSigma(path);
  const steps = findSteps(path, fps, noise);
  const flicker = findFlicker(path, fps, steps);
  // What flickers is no drift: the span is that of the path evened over a few frames.
  const smooth = evened(path, flicker ? max(2, round(fps / max(1, flicker.seen_hz) / 2)) : 2);
  const inside = smooth.filter((s): s is number => s !== null);
  const high = max(...inside),
    low = min(...inside);
  const red = readings.white.map((w, f) => (path[f] === null ? null : (w?.red ?? null))),
    blue = readings.white.map((w, f) => (path[f] === null ? null : (w?.blue ?? null)));
  const shift = (values: (number | null)[]) => {
    const seen = values.filter((v): v is number => v !== null);
    const n = max(1, min(round(fps), floor(seen.length / 2)));
    return seen.length ? median(seen.slice(-n)) - median(seen.slice(0, n)) : null;
  };
  const [redShift, blueShift] = [shift(red), shift(blue)];
  const against = (values: (number | null)[]) => {
    const start = values.find((v): v is number => v !== null) ?? 0;
    return values.map((v) => (v === null ? null : v - start));
  };
  return {
    drift_stops: median(known.slice(-second)) - median(known.slice(0, second)),
    range_stops: high - low,
    steps,
    flicker,
    white: redShift === null || blueShift === null ? null : { red_stops: redShift, blue_stops: blueShift },
    uncertainty_stops: max(0.002, 1.5 * noise),
    measured_share: known.length / path.length,
    brightest_frame: smooth.indexOf(high),
    darkest_frame: smooth.indexOf(low),
    path: { stops: path, red_stops: against(red), blue_stops: against(blue) },
  };
}

/** Running median over 2 n + 1 frames. */
function evened(path: readonly (number | null)[], n: number): (number | null)[] {
  return path.map((v, f) =>
    v === null ? null : median(path.slice(max(0, f - n), f + n + 1).filter((s): s is number => s !== null)),
  );
}
