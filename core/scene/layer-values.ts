import { steadier } from './layer-cues';
import { SPELLS } from './samples';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, floor, max, min } = Math;

/** A second value must be seen in this share of the samples, and at least so often, to be a candidate. */
const SECOND_SHARE = 0.05;
const SECOND_LEAST = 3;
/** Values that are looked at besides the one seen most often. */
const MOST_OTHERS = 3;

/** A value that a pixel showed for some time. */
export interface Shown {
  /** Code value. */
  value: number;
  /** Samples that show it. */
  count: number;
  /** Spells of the take, a bit each, in which the pixel shows it more often than not. */
  spells: number;
  /** How often the pixel leaves it. */
  left: number;
}

const hist = new Uint8Array(256);

/**
 * The two values that a pixel may have as background, the one shown at the start first, whichever was seen more often,
 * so that neighbours mean the same by it; null when it has no second one.
 *
 * They are those seen most often; but whoever stirs before a background shows several values of their own, and leaves
 * each again and again: a value that stays takes the place of one that does not.
 * @param h levels by which values of one thing may lie off its middle
 */
export function twoValues(
  even: Uint8Array[],
  seen: (Uint8Array | null)[],
  pixel: number,
  h: number,
): [Shown, Shown] | null {
  const { low, high, n } = count(even, seen, pixel, hist);
  const found = [densest(hist, low, high, h, [])];
  const apart = [found[0].centre];
  for (let k = 0; k < MOST_OTHERS; k++) {
    const next = densest(hist, low, high, h, apart);
    if (next.count < SECOND_LEAST || next.count < SECOND_SHARE * n) break;
    apart.push(next.centre);
    if (found.every((f) => abs(next.centre - f.centre) > 2 * h)) found.push(next);
  }
  for (let v = low; v <= high; v++) hist[v] = 0;
  if (found.length < 2) return null;
  const all = found.map(({ centre, count }): Shown => {
    return { value: centre, count, ...spellsOf(even, seen, pixel, centre - h - 0.5, centre + h + 0.5) };
  });
  const rate = ({ left, count }: Shown) => left / count;
  let [a, b] = all;
  for (const c of all.slice(2)) {
    const worse = rate(a) > rate(b) ? a : b;
    if (steadier(rate(c), rate(worse)) !== 'first') continue;
    if (worse === a) a = b;
    b = c;
  }
  return (b.spells & 1) === 1 && (a.spells & 1) === 0 ? [b, a] : [a, b];
}

/** Counts a pixel's values in `hist`. */
function count(
  even: Uint8Array[],
  seen: (Uint8Array | null)[],
  pixel: number,
  hist: Uint8Array,
): { low: number; high: number; n: number } {
  let low = 255,
    high = 0,
    n = 0;
  for (let k = 0; k < even.length; k++) {
    if (seen[k] && !seen[k]![pixel]) continue;
    const v = even[k][pixel];
    hist[v]++;
    n++;
    low = min(low, v);
    high = max(high, v);
  }
  return { low, high, n };
}

/** Spells of the take, a bit each, in which a pixel shows a value of the window more often than not; and how often it leaves the window. */
function spellsOf(
  even: Uint8Array[],
  seen: (Uint8Array | null)[],
  pixel: number,
  low: number,
  high: number,
): { spells: number; left: number } {
  let spells = 0,
    left = 0,
    before = false;
  for (let s = 0; s < SPELLS; s++) {
    const from = floor((s * even.length) / SPELLS),
      to = max(from + 1, floor(((s + 1) * even.length) / SPELLS));
    let hit = 0,
      looks = 0;
    for (let k = from; k < min(to, even.length); k++) {
      if (seen[k] && !seen[k]![pixel]) continue;
      looks++;
      const v = even[k][pixel];
      const inside = v >= low && v <= high;
      if (inside) hit++;
      if (before && !inside) left++;
      before = inside;
    }
    if (2 * hit > looks) spells |= 1 << s;
  }
  return { spells, left };
}

/** The window of +-h levels that holds most samples, outside of what lies within 2h of those `apart`. */
function densest(
  hist: Uint8Array,
  low: number,
  high: number,
  h: number,
  apart: readonly number[],
): { centre: number; count: number } {
  let best = low,
    most = 0;
  let sum = 0;
  for (let v = low; v <= min(high, low + h - 1); v++) sum += hist[v];
  for (let c = low; c <= high; c++) {
    sum += c + h <= high ? hist[c + h] : 0;
    if (c - h - 1 >= low) sum -= hist[c - h - 1];
    if (sum > most && apart.every((a) => abs(c - a) > 2 * h)) {
      most = sum;
      best = c;
    }
  }
  // The mean of what the window holds lies nearer the middle of the cluster.
  let total = 0,
    weight = 0;
  for (let v = max(low, best - h); v <= min(high, best + h); v++) {
    total += hist[v] * v;
    weight += hist[v];
  }
  return { centre: weight ? total / weight : best, count: most };
}
