// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, floor, log10, max, min } = Math;

/** Loudness is read in windows of so long, s, so often. */
const WINDOW_S = 0.01;
const HOP_S = 0.0025;
/** An onset is so many decibels over what the half second before was at its loudest usual. */
const ONSET_DB = 12;
const BEFORE_S = 0.5;
/** Before the first half second has passed so much must be known at least. */
const LEAST_BEFORE_S = 0.1;
/** A sound is there once it has come to this share of its peak. */
const OWN = 0.25;
/** The next onset comes no sooner than this, s. */
const APART_S = 0.15;
/** Quieter than this share of full scale nothing is heard. */
const FLOOR = 2e-4;

/** An onset of sound: when, and by how many decibels over the half second before. */
export interface Onset {
  time_s: number;
  over_db: number;
}

/** Onsets at least 12 dB over the half second before them. @param samples one channel, -1 to 1 */
export function onsetsOf(samples: Float32Array, rate: number): Onset[] {
  const hop = max(1, floor(HOP_S * rate)),
    window = max(hop, floor(WINDOW_S * rate));
  const squares = new Float64Array(samples.length + 1);
  for (let i = 0; i < samples.length; i++) squares[i + 1] = squares[i] + samples[i] ** 2;
  const level = (from: number, to: number) => {
    const [a, b] = [max(0, from), min(samples.length, to)];
    return b > a ? 10 * log10(max(FLOOR ** 2, (squares[b] - squares[a]) / (b - a))) : 20 * log10(FLOOR);
  };
  const out: Onset[] = [];
  for (let at = floor(LEAST_BEFORE_S * rate); at + window <= samples.length; at += hop) {
    const last = out.at(-1);
    if (last && at / rate - last.time_s < APART_S) continue;
    const before = level(at - floor(BEFORE_S * rate), at);
    const over = level(at, at + window) - before;
    if (over < ONSET_DB) continue;
    // The loudest of what follows says how much; where it begins is found sample by sample.
    const most = max(...[0, 1, 2, 3].map((k) => level(at + k * window, at + (k + 1) * window))) - before;
    // Coding spreads a sound a little ahead of itself, faintly.
    let peak = 0;
    for (let i = at; i < min(samples.length, at + 4 * window); i++) peak = max(peak, abs(samples[i]));
    const limit = max(10 ** ((before + ONSET_DB) / 20), peak * OWN);
    let first = at;
    while (first < at + 4 * window - 1 && abs(samples[first]) < limit) first++;
    out.push({ time_s: first / rate, over_db: most });
  }
  return out;
}
