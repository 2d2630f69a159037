import { median, quantile } from '../numeric/quantile';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, cos, max, min, round, sin, sqrt } = Math;

export interface Flicker {
  /** Half of peak to peak over the mean, in linear light, per cent. */
  share_pct: number;
  /** Frequency as it appears in the clip. */
  seen_hz: number;
}

/** Less than this is not seen by anybody, per cent. */
export const LEAST_FLICKER_PCT = 0.5;
/** A rhythm stands out of the rest of the spectrum by this ratio of power. */
const STANDS_OUT = 18;
const LEAST_FRAMES = 12;
/** A rhythm shows at least this many times, and in both halves of the take. */
const LEAST_CYCLES = 5;
const HALF_SHARE = 0.45;

/**
 * Looks for a steady rhythm in the light: the strongest sine (by least squares at each frequency up to half the rate,
 * Lomb 1976) after slow changes and steps are taken off. Null when none stands out.
 */
export function findFlicker(
  path: readonly (number | null)[],
  fps: number,
  steps: readonly { frame: number; stops: number }[] = [],
): Flicker | null {
  const level = (f: number) => steps.reduce((s, step) => (f >= step.frame ? s + step.stops : s), 0);
  const known = path.flatMap((v, f) => (v === null ? [] : [{ f, light: 2 ** (v - level(f)) }]));
  if (known.length < LEAST_FRAMES) return null;
  const window = max(3, round(0.5 * fps));
  const rest = known.map(({ f, light }, k) => {
    const around = known.slice(max(0, k - window), k + window + 1).map((o) => o.light);
    const middle = around.reduce((s, v) => s + v, 0) / around.length;
    return { f, v: light / median(around) - middle / median(around) };
  });
  // Steps leave a few large values: a flicker is there all the time.
  const bound =
    4 *
    quantile(
      rest.map((r) => abs(r.v)),
      0.7,
    );
  const points = rest.filter((r) => abs(r.v) <= bound);
  const span = points.length ? points[points.length - 1].f - points[0].f : 0;
  if (span < LEAST_FRAMES) return null;
  const lowest = LEAST_CYCLES / span,
    step = 0.25 / span;
  const powers: { hz: number; power: number }[] = [];
  for (let c = lowest; c <= 0.5; c += step) powers.push({ hz: c * fps, power: sine(points, c) });
  if (powers.length < 5) return null;
  const best = powers.reduce((a, b) => (b.power > a.power ? b : a));
  const ground = median(powers.filter((p) => abs(p.hz - best.hz) > (4 * fps) / span).map((p) => p.power));
  const at = refine(points, best.hz / fps, step);
  const amplitude = sqrt(sine(points, at));
  const share = 100 * min(1, amplitude);
  if (share < LEAST_FLICKER_PCT || best.power < STANDS_OUT * (Number.isFinite(ground) ? ground : 0)) return null;
  const middle = points[points.length >> 1].f;
  const halves = [points.filter((p) => p.f < middle), points.filter((p) => p.f >= middle)];
  if (halves.some((half) => half.length < 4 || sqrt(sine(half, at)) < HALF_SHARE * amplitude)) return null;
  return { share_pct: share, seen_hz: at * fps };
}

/** Square of the amplitude of the best sine of `cycles` a frame. */
function sine(points: { f: number; v: number }[], cycles: number): number {
  let cc = 0,
    ss = 0,
    cs = 0,
    vc = 0,
    vs = 0;
  const w = 2 * Math.PI * cycles;
  for (const { f, v } of points) {
    const c = cos(w * f),
      s = sin(w * f);
    cc += c * c;
    ss += s * s;
    cs += c * s;
    vc += v * c;
    vs += v * s;
  }
  const det = cc * ss - cs * cs;
  // What the sine explains of the whole says its amplitude, also near half the rate where its phase is not determined.
  const explained =
    det < 1e-3 * cc * cc ? (cc > 0 ? (vc * vc) / cc : 0) : (vc * vc * ss - 2 * vc * vs * cs + vs * vs * cc) / det;
  return (2 * explained) / points.length;
}

function refine(points: { f: number; v: number }[], cycles: number, step: number): number {
  let at = cycles,
    best = sine(points, cycles);
  for (let d = step; d > step / 60; d /= 2) {
    for (const c of [at - d, at + d]) {
      const p = c > 0 && c <= 0.5 ? sine(points, c) : 0;
      if (p > best) {
        best = p;
        at = c;
      }
    }
  }
  return at;
}
