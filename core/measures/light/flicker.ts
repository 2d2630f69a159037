import FFT from 'fft.js';
import { median, quantile } from '../../base/numeric/quantile';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, ceil, cos, floor, log2, max, min, round, sin, sqrt } = Math;

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
/** A longer take is looked at in pieces of at most so many frames. */
const PIECE_FRAMES = 4096;

/**
 * Looks for a steady rhythm in the light: the strongest sine (by least squares at each frequency up to half the rate,
 * Lomb 1976) after slow changes and steps are taken off; of a long take the mean over its pieces. Null when none stands
 * out.
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
  const span = points.length ? points[points.length - 1].f - points[0].f + 1 : 0;
  if (span <= LEAST_FRAMES) return null;
  const pieces = piecesOf(points, span);
  if (pieces.length === 0) return null;
  const powers = spectrum(pieces, LEAST_CYCLES * (pieces.length / span)).map(({ cycles, power }) => ({
    hz: cycles * fps,
    power,
  }));
  if (powers.length < 5) return null;
  const best = powers.reduce((a, b) => (b.power > a.power ? b : a));
  const ground = median(
    powers.filter((p) => abs(p.hz - best.hz) > (4 * fps * pieces.length) / span).map((p) => p.power),
  );
  const at = refine(pieces, best.hz / fps, (0.25 * pieces.length) / span);
  const amplitude = sqrt(meanPower(pieces, at));
  const share = 100 * min(1, amplitude);
  if (share < LEAST_FLICKER_PCT || best.power < STANDS_OUT * (Number.isFinite(ground) ? ground : 0)) return null;
  const halves = inHalves(pieces);
  if (halves.some((half) => half.length === 0 || sqrt(meanPower(half, at)) < HALF_SHARE * amplitude)) return null;
  return { share_pct: share, seen_hz: at * fps };
}

interface Point {
  f: number;
  v: number;
}

/** A take as pieces of one length: over minutes no lamp's rhythm keeps in step with the camera's. */
function piecesOf(points: Point[], span: number): Point[][] {
  const count = ceil(span / PIECE_FRAMES);
  if (count === 1) return [points];
  const pieces = Array.from({ length: count }, (): Point[] => []);
  for (const p of points) pieces[floor(((p.f - points[0].f) * count) / span)].push(p);
  return pieces.filter((piece) => piece.length >= LEAST_FRAMES);
}

/** Two halves of a take, in pieces long enough to tell a rhythm by. */
function inHalves(pieces: Point[][]): Point[][][] {
  const [only] = pieces;
  if (pieces.length > 1) {
    const middle = pieces.length >> 1;
    return [pieces.slice(0, middle), pieces.slice(middle)];
  }
  const middle = only[only.length >> 1].f;
  return [only.filter((p) => p.f < middle), only.filter((p) => p.f >= middle)].map((half) =>
    half.length < 4 ? [] : [half],
  );
}

/** Square of the amplitude of the best sine of so many cycles a frame in each piece, the mean of all. */
function meanPower(pieces: Point[][], cycles: number): number {
  const w = 2 * Math.PI * cycles;
  let sum = 0,
    count = 0;
  for (const points of pieces) {
    let cc = 0,
      ss = 0,
      cs = 0,
      vc = 0,
      vs = 0;
    for (const { f, v } of points) {
      const c = cos(w * f),
        s = sin(w * f);
      cc += c * c;
      ss += s * s;
      cs += c * s;
      vc += v * c;
      vs += v * s;
    }
    sum += explained(cc, ss, cs, vc, vs);
    count += points.length;
  }
  return (2 * sum) / count;
}

/** What of some values the best sine explains. */
function explained(cc: number, ss: number, cs: number, vc: number, vs: number): number {
  const det = cc * ss - cs * cs;
  // What the sine explains of the whole says its amplitude, also near half the rate where its phase is not determined.
  return det < 1e-3 * cc * cc ? (cc > 0 ? (vc * vc) / cc : 0) : (vc * vc * ss - 2 * vc * vs * cs + vs * vs * cc) / det;
}

/** The same as `meanPower` at all frequencies from the lowest to half the rate, by fast transforms (Press & Rybicki 1989). */
function spectrum(pieces: Point[][], lowest: number): { cycles: number; power: number }[] {
  const longest = max(...pieces.map((p) => p[p.length - 1].f - p[0].f + 1));
  const size = 2 ** ceil(log2(4 * longest));
  const transform = new FFT(size);
  const first = max(1, ceil(lowest * size)),
    last = size / 2;
  const sums = new Float64Array(last + 1);
  const values = new Float64Array(size),
    present = new Float64Array(size);
  const wave = transform.createComplexArray() as number[],
    twice = transform.createComplexArray() as number[];
  let count = 0;
  for (const points of pieces) {
    values.fill(0);
    present.fill(0);
    for (const { f, v } of points) {
      values[f - points[0].f] = v;
      present[f - points[0].f] = 1;
    }
    transform.realTransform(wave, values);
    transform.realTransform(twice, present);
    transform.completeSpectrum(twice);
    count += points.length;
    for (let k = first; k <= last; k++) {
      const even = twice[(4 * k) % (2 * size)],
        odd = -twice[((4 * k) % (2 * size)) + 1];
      const n = points.length;
      sums[k] += explained((n + even) / 2, (n - even) / 2, odd / 2, wave[2 * k], -wave[2 * k + 1]);
    }
  }
  return Array.from(sums.subarray(first), (sum, k) => ({ cycles: (first + k) / size, power: (2 * sum) / count }));
}

function refine(pieces: Point[][], cycles: number, step: number): number {
  let at = cycles,
    best = meanPower(pieces, cycles);
  for (let d = step; d > step / 60; d /= 2) {
    for (const c of [at - d, at + d]) {
      const p = c > 0 && c <= 0.5 ? meanPower(pieces, c) : 0;
      if (p > best) {
        best = p;
        at = c;
      }
    }
  }
  return at;
}
