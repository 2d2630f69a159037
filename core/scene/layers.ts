import type { SampleSums } from './sample-sums';
import { ALWAYS, SPELLS, spellOf, type Layers } from './samples';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, floor, log2, max, min } = Math;

/** A second value must be seen in this share of the samples, and at least so often, to be a candidate. */
const SECOND_SHARE = 0.05;
const SECOND_LEAST = 3;
/** A value seen in more than this share of the samples is not called into question. */
const SURE_SHARE = 0.9;
/** Pixels that show their second value in the same spells, but for this many, belong together. */
const OTHER_SPELLS = 2;
/** One of two values seen this many times as often as the other needs no mending round about. */
const FAR_MORE = 3;
/** Powers of two by which a pixel's proportion of the two values may differ from its group's. */
const LIKE_THE_GROUP = 2;

/**
 * The value seen most often at each pixel; where two values stayed for long, the one that continues what lies round about.
 *
 * Somebody who stands still for most of a take is seen more often than what they hide. But where a figure ends there
 * is an edge in the picture, while the background goes on across the figure's outline: of two pictures of a region,
 * the one with the smaller step along the region's border is the background. And nobody stands as still as a wall.
 * @param extra levels by which values of one thing may lie further apart than the noise says (pictures laid on each other)
 */
export function chooseBetweenLayers(
  sums: SampleSums,
  seen: (Uint8Array | null)[],
  width: number,
  height: number,
  noise: Float32Array,
  extra: number,
): Layers {
  const { even } = sums;
  const pixels = width * height;
  const { middle, reach, unsure } = sums.settle(noise, extra, SURE_SHARE);
  const first = new Float32Array(pixels),
    second = new Float32Array(pixels).fill(NaN);
  const firstCount = new Uint8Array(pixels),
    secondCount = new Uint8Array(pixels),
    firstLeft = new Uint8Array(pixels),
    secondLeft = new Uint8Array(pixels);
  const hist = new Uint8Array(256);
  const doubt = new Uint8Array(pixels);
  const when = new Uint16Array(pixels),
    whenFirst = new Uint16Array(pixels),
    trusted = new Uint16Array(pixels).fill(ALWAYS);
  for (let i = 0; i < pixels; i++) {
    if (!unsure[i]) continue;
    const { low, high, n } = count(even, seen, i, hist);
    const h = reach[i] - 0.5;
    const a = densest(hist, low, high, h, -999);
    const b = densest(hist, low, high, h, a.centre);
    if (b.count >= SECOND_LEAST && b.count >= SECOND_SHARE * n && abs(b.centre - a.centre) > 2 * h) {
      doubt[i] = 1;
      const shown = [a, b].map((c) => spellsOf(even, seen, i, c.centre - h - 0.5, c.centre + h + 0.5));
      // The one shown at the start comes first, whichever was seen more often, so that neighbours mean the same by it.
      const swap = (shown[1].spells & 1) === 1 && (shown[0].spells & 1) === 0;
      const [p, q] = swap ? [b, a] : [a, b];
      first[i] = p.centre;
      second[i] = q.centre;
      firstCount[i] = p.count;
      secondCount[i] = q.count;
      whenFirst[i] = shown[swap ? 1 : 0].spells;
      when[i] = shown[swap ? 0 : 1].spells;
      firstLeft[i] = shown[swap ? 1 : 0].left;
      secondLeft[i] = shown[swap ? 0 : 1].left;
    }
    for (let v = low; v <= high; v++) hist[v] = 0;
  }
  const groups = groupByTime(doubt, when, width, height, max(10, pixels / 4000)).map((group) => {
    const sum = (counts: Uint8Array) => group.reduce((n, i) => n + counts[i], 0);
    const [first, second] = [sum(firstCount), sum(secondCount)];
    const stays = steadier(sum(firstLeft) / first, sum(secondLeft) / second);
    return { group, ratio: first / second, stays };
  });
  // What is nearly sure is settled first, so that it can be held against what is not.
  groups.sort((p, q) => abs(log2(q.ratio)) - abs(log2(p.ratio)));
  const told: { group: Int32Array; spells: number }[] = [];
  for (const { group, ratio, stays } of groups) {
    const calm = calmer(group, whenFirst[group[0]], when[group[0]], even, unsure, width, height);
    const steps = borderSteps(group, first, second, middle, doubt, width, height);
    // The one seen twice as often must be clearly worse to lose.
    const favour = ratio >= 2 ? 1 / 0.7 : ratio <= 0.5 ? 0.7 : 1;
    const wins =
      calm ??
      stays ??
      brighter(group, first, second, steps) ??
      (steps ? (steps.first < favour * steps.second ? 'first' : 'second') : ratio >= 1 ? 'first' : 'second');
    const chosen = wins === 'first' ? first : second;
    const spells = (wins === 'first' ? whenFirst : when)[group[0]];
    // A pixel that saw the two in quite another proportion belongs to another story.
    const alike = group.filter((i) => abs(log2(firstCount[i] / secondCount[i] / ratio)) < LIKE_THE_GROUP);
    for (const i of alike) middle[i] = chosen[i];
    // Where the one seen far more often stays there is nothing to mend.
    if (spells && (wins === 'first' ? ratio : 1 / ratio) < FAR_MORE) {
      fillIn(alike, spells, even, seen, middle, reach, unsure, width, height);
      told.push({ group, spells });
    }
    for (const i of group) doubt[i] = unsure[i] = 0;
  }
  // Of groups side by side the larger one is surer of its story.
  told.sort((p, q) => p.group.length - q.group.length);
  for (const { group, spells } of told) trustNear(group, spells, trusted, width, height);
  return { middle, reach, trusted };
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
    let hit = 0;
    for (let k = from; k < min(to, even.length); k++) {
      const v = even[k][pixel];
      const inside = v >= low && v <= high && (seen[k]?.[pixel] ?? 1) > 0;
      if (inside) hit++;
      if (before && !inside) left++;
      before = inside;
    }
    if (2 * hit > to - from) spells |= 1 << s;
  }
  return { spells, left };
}

/** Of two values one stays when the other is left this many times as often, and at least at this share of the looks. */
const STAYS = 2.5;
const LEFT_OFTEN = 0.15;

/** A background is hidden once or twice; what stirs before it leaves each of its values again and again. */
function steadier(first: number, second: number): 'first' | 'second' | null {
  if (max(first, second) < max(LEFT_OFTEN, STAYS * min(first, second))) return null;
  return first < second ? 'first' : 'second';
}

/** Steps along the border closer to each other than this share say little. */
const ALIKE = 0.4;
/** A shadow takes light evenly: its ratio to the lit picture varies by less than this, stops at a gamma of 2.2. */
const EVENLY = 0.25;

/** Where the border says little and one picture is the other one evenly darkened, it is a shadow's: the brighter is the background. */
function brighter(
  group: Int32Array,
  first: Float32Array,
  second: Float32Array,
  steps: { first: number; second: number } | null,
): 'first' | 'second' | null {
  if (steps && abs(steps.first - steps.second) > ALIKE * max(steps.first, steps.second)) return null;
  let sum = 0,
    square = 0;
  for (const i of group) {
    const r = 2.2 * log2(max(1, first[i]) / max(1, second[i]));
    sum += r;
    square += r * r;
  }
  const mean = sum / group.length;
  if (square / group.length - mean * mean > EVENLY * EVENLY || abs(mean) > 2) return null;
  return mean > 0 ? 'first' : 'second';
}

/** One spell's picture is calmer when it varies this many times less, and the other varies by so many levels. */
const CALMER = 1.7;
const STIRS = 0.8;
/** Over so many looks: somebody sways slowly. */
const LAG = 4;

/** Which of a group's two pictures, with what borders on it, varies clearly less while it lasts; null when neither does. */
function calmer(
  group: Int32Array,
  firstSpells: number,
  secondSpells: number,
  even: Uint8Array[],
  unsure: Uint8Array,
  width: number,
  height: number,
): 'first' | 'second' | null {
  const frames = [firstSpells, secondSpells].map((spells) => {
    const out: number[] = [];
    for (let k = 0; k < even.length; k++) {
      const at = spellOf(k, even.length);
      // The spells of coming and going belong to neither.
      if (
        (spells >> at) & 1 &&
        (at === 0 || (spells >> (at - 1)) & 1) &&
        (at === SPELLS - 1 || (spells >> (at + 1)) & 1)
      )
        out.push(k);
    }
    return out;
  });
  if (frames[0].length < 2 * LAG || frames[1].length < 2 * LAG) return null;
  const around = new Set<number>(group);
  for (const i of group)
    for (const o of [i - 2, i + 2, i - 2 * width, i + 2 * width])
      if (o >= 0 && o < width * height && unsure[o]) around.add(o);
  const spread = (which: number[]) => {
    let sum = 0;
    for (const i of around) {
      const changes = new Uint8Array(which.length - LAG);
      for (let k = LAG; k < which.length; k++) changes[k - LAG] = abs(even[which[k]][i] - even[which[k - LAG]][i]);
      // Most of the time, not on the mean: a jump of the light happens once.
      sum += changes.sort()[floor(0.6 * changes.length)];
    }
    return sum / around.size;
  };
  const [first, second] = [spread(frames[0]), spread(frames[1])];
  if (first > CALMER * second && first > STIRS) return 'second';
  return second > CALMER * first && second > STIRS ? 'first' : null;
}

/** How far from a group that changed its value pixels of unsure value are looked at again, small pixels. */
const NEAR = 14;
/** And only where this share of the samples of that time agree. */
const ALIKE_SHARE = 0.7;

/**
 * Pixels in and beside a group, whose own values lay too close or were too many to choose from, take what they showed
 * when the group showed its background.
 */
function fillIn(
  group: Int32Array,
  spells: number,
  even: Uint8Array[],
  seen: (Uint8Array | null)[],
  middle: Float32Array,
  reach: Float32Array,
  unsure: Uint8Array,
  width: number,
  height: number,
): void {
  const frames: number[] = [];
  for (let k = 0; k < even.length; k++) if (spells & (1 << spellOf(k, even.length))) frames.push(k);
  const values = new Uint8Array(frames.length);
  const reached = new Set(group);
  let rim = Array.from(group);
  for (let step = 0; step < NEAR && rim.length; step++) {
    const next: number[] = [];
    for (const i of rim) {
      const x = i % width,
        y = (i - x) / width;
      for (let v = max(0, y - 2); v <= min(height - 1, y + 2); v++) {
        for (let u = max(0, x - 2); u <= min(width - 1, x + 2); u++) {
          const o = v * width + u;
          if (!unsure[o] || reached.has(o)) continue;
          reached.add(o);
          next.push(o);
          let n = 0;
          for (const k of frames) if (seen[k]?.[o] ?? 1) values[n++] = even[k][o];
          const value = n ? values.subarray(0, n).sort()[n >> 1] : -1;
          let alike = 0;
          for (let k = 0; k < n; k++) if (abs(values[k] - value) <= reach[o]) alike++;
          // Somebody may have passed there just then.
          if (n && alike >= ALIKE_SHARE * n) middle[o] = value;
        }
      }
    }
    rim = next;
  }
}

/**
 * What lies among a group's pixels, or beside them, is known to show the background when they do: where both pictures
 * have the same luma, colour is taken from that time.
 */
function trustNear(group: Int32Array, spells: number, trusted: Uint16Array, width: number, height: number): void {
  const reach = (APART - 1) / 2;
  for (const i of group) {
    const x = i % width,
      y = (i - x) / width;
    for (let v = max(0, y - reach); v <= min(height - 1, y + reach); v++) {
      for (let u = max(0, x - reach); u <= min(width - 1, x + reach); u++) trusted[v * width + u] = spells;
    }
  }
}

/** Pixels up to so far apart that changed at the same times belong to one thing: its patches look like the background by chance. */
const APART = 5;

/** Neighbouring pixels in doubt that changed at the same times. */
function groupByTime(doubt: Uint8Array, when: Uint16Array, width: number, height: number, least: number): Int32Array[] {
  const done = new Uint8Array(doubt.length);
  const queue = new Int32Array(doubt.length);
  const out: Int32Array[] = [];
  for (let start = 0; start < doubt.length; start++) {
    if (!doubt[start] || done[start]) continue;
    let head = 0,
      tail = 0;
    queue[tail++] = start;
    done[start] = 1;
    while (head < tail) {
      const i = queue[head++];
      const x = i % width,
        y = (i - x) / width;
      for (let v = max(0, y - APART); v <= y + APART && v < height; v++) {
        for (let u = max(0, x - APART); u <= x + APART && u < width; u++) {
          const o = v * width + u;
          if (!doubt[o] || done[o]) continue;
          let apart = when[o] ^ when[start],
            n = 0;
          for (; apart; apart &= apart - 1) n++;
          if (n > OTHER_SPELLS) continue;
          done[o] = 1;
          queue[tail++] = o;
        }
      }
    }
    if (tail >= least) out.push(queue.slice(0, tail));
  }
  return out;
}

/** The window of +-h levels that holds most samples, outside of what lies within 2h of `apart`. */
function densest(
  hist: Uint8Array,
  low: number,
  high: number,
  h: number,
  apart: number,
): { centre: number; count: number } {
  let best = low,
    most = 0;
  let sum = 0;
  for (let v = low; v <= min(high, low + h - 1); v++) sum += hist[v];
  for (let c = low; c <= high; c++) {
    sum += c + h <= high ? hist[c + h] : 0;
    if (c - h - 1 >= low) sum -= hist[c - h - 1];
    if (sum > most && abs(c - apart) > 2 * h) {
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

/** Mean step across a region's border, to pixels that are not in doubt, in each of its two pictures, in levels; null without a border. */
function borderSteps(
  region: Int32Array,
  first: Float32Array,
  second: Float32Array,
  settled: Float32Array,
  doubt: Uint8Array,
  width: number,
  height: number,
): { first: number; second: number } | null {
  let a = 0,
    b = 0,
    n = 0;
  for (const i of region) {
    const x = i % width,
      y = (i - x) / width;
    for (const [dx, dy] of [
      [1, 0],
      [-1, 0],
      [0, 1],
      [0, -1],
    ]) {
      // Two pixels out: the border itself is mixed from both sides.
      const u = x + 2 * dx,
        v = y + 2 * dy;
      if (u < 0 || v < 0 || u >= width || v >= height) continue;
      const near = (y + dy) * width + x + dx,
        o = v * width + u;
      if (doubt[near] || doubt[o]) continue;
      a += min(40, abs(first[i] - settled[o]));
      b += min(40, abs(second[i] - settled[o]));
      n++;
    }
  }
  return n >= 6 ? { first: a / n, second: b / n } : null;
}
