import { borderSteps, brighter, calmer, returns, steadier, type Which } from './layer-cues';
import { twoValues } from './layer-values';
import type { SampleSums } from './sample-sums';
import { ALWAYS, SPELLS, spellOf, type Layers } from './samples';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, log2, max, min } = Math;

/** A value seen in more than this share of the samples is not called into question. */
const SURE_SHARE = 0.9;
/** Pixels that show their second value in the same spells, but for this many, belong together. */
const OTHER_SPELLS = 2;
/** One of two values seen this many times as often as the other needs no mending round about. */
const FAR_MORE = 3;
/** What is seen so many powers of two as often as the other is likelier the background, if nothing says otherwise. */
const OFTEN = 1;
/** Steps along the border must be so many times smaller before what is seen only in between is the background. */
const RETURNED = 2.5;
/** Spells in which so many of a group's pixels show its background are the group's. */
const SHARED = 0.9;
/** Powers of two by which a pixel's proportion of the two values may differ from its group's. */
const LIKE_THE_GROUP = 2;

/** Pixels in doubt that changed at the same times. */
interface Group {
  group: Int32Array;
  /** How many times as often as the second value the first was seen. */
  ratio: number;
  stays: Which | null;
}

/**
 * The value seen most often at each pixel; where two values stayed for long, the one that continues what lies round about.
 *
 * Somebody who stands still for most of a take is seen more often than what they hide. But where a figure ends there
 * is an edge in the picture, while the background goes on across the figure's outline: of two pictures of a region,
 * the one with the smaller step along the region's border is the background. And nobody stands as still as a wall: a
 * value that is left again and again is somebody's. What was seen before and after is likelier the background than what
 * was seen in between, and a region that says little by itself showed its background when those beside it did.
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
  const doubt = new Uint8Array(pixels);
  const when = new Uint16Array(pixels),
    whenFirst = new Uint16Array(pixels),
    trusted = new Uint16Array(pixels).fill(ALWAYS);
  for (let i = 0; i < pixels; i++) {
    if (!unsure[i]) continue;
    const two = twoValues(even, seen, i, reach[i] - 0.5);
    if (!two) continue;
    const [p, q] = two;
    doubt[i] = 1;
    first[i] = p.value;
    second[i] = q.value;
    firstCount[i] = p.count;
    secondCount[i] = q.count;
    whenFirst[i] = p.spells;
    when[i] = q.spells;
    firstLeft[i] = p.left;
    secondLeft[i] = q.left;
  }
  const groups: Group[] = groupByTime(doubt, when, width, height, max(10, pixels / 4000)).map((group) => {
    const sum = (counts: Uint8Array) => group.reduce((n, i) => n + counts[i], 0);
    const [first, second] = [sum(firstCount), sum(secondCount)];
    const stays = steadier(sum(firstLeft) / first, sum(secondLeft) / second);
    return { group, ratio: first / second, stays };
  });
  // What is nearly sure is settled first, so that it can be held against what is not.
  groups.sort((p, q) => abs(log2(q.ratio)) - abs(log2(p.ratio)));
  const told: { group: Int32Array; own: Uint16Array }[] = [];
  /** When a settled pixel is known to have shown its background, a bit for each spell. */
  const known = new Uint16Array(pixels);
  const settle = ({ group, ratio }: Group, wins: Which) => {
    const chosen = wins === 'first' ? first : second;
    const own = wins === 'first' ? whenFirst : when;
    const spells = sharedSpells(group, own);
    // A pixel that saw the two in quite another proportion belongs to another story.
    const alike = group.filter((i) => abs(log2(firstCount[i] / secondCount[i] / ratio)) < LIKE_THE_GROUP);
    for (const i of alike) {
      middle[i] = chosen[i];
      known[i] = own[i];
    }
    told.push({ group: alike, own });
    // Where the one seen far more often stays there is nothing to mend.
    if (spells && (wins === 'first' ? ratio : 1 / ratio) < FAR_MORE)
      fillIn(alike, spells, even, seen, middle, reach, unsure, width, height);
    for (const i of group) doubt[i] = unsure[i] = 0;
  };
  const open: { one: Group; likely: Which }[] = [];
  for (const one of groups) {
    const { group, ratio, stays } = one;
    const shared = { first: sharedSpells(group, whenFirst), second: sharedSpells(group, when) };
    const calm = calmer(group, shared.first, shared.second, even, unsure, width, height);
    const steps = borderSteps(group, first, second, middle, doubt, width, height);
    const back = returns(shared.first, shared.second);
    // The one seen twice as often must be clearly worse to lose, and still more so one that was seen before and after.
    const favour = back ? RETURNED : ratio >= 2 ? 1 / 0.7 : ratio <= 0.5 ? 0.7 : 1;
    const lit = brighter(group, first, second, steps);
    // Light that somebody throws is seen now and then, and what it falls on before and after.
    const thrown = lit === 'second' ? ratio >= 2 && back : ratio <= 0.5 && returns(shared.second, shared.first);
    const sure = (calm && stays && calm !== stays ? null : (calm ?? stays)) ?? (thrown ? null : lit);
    const likely = (steps ? steps.first < favour * steps.second : back || ratio >= 1) ? 'first' : 'second';
    if (sure || abs(log2(ratio)) >= OFTEN) settle(one, sure ?? likely);
    else open.push({ one, likely });
  }
  // What by itself says little shows its background when those beside it do.
  open.sort((p, q) => q.one.group.length - p.one.group.length);
  for (const { one, likely } of open)
    settle(one, likeNeighbours(one.group, whenFirst, when, known, width, height) ?? likely);
  // Of groups side by side the larger one is surer of its story.
  told.sort((p, q) => p.group.length - q.group.length);
  for (const { group, own } of told) trustNear(group, own, trusted, width, height);
  spreadTrust(trusted, width, height);
  return { middle, reach, trusted };
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

/** Spells that nearly all pixels of a group share: an outline that passes over a large one leaves each at its own time. */
function sharedSpells(group: Int32Array, own: Uint16Array): number {
  let shared = 0;
  for (let s = 0; s < SPELLS; s++) {
    let n = 0;
    for (const i of group) n += (own[i] >> s) & 1;
    if (n >= SHARED * group.length) shared |= 1 << s;
  }
  return shared;
}

/**
 * What lies among a group's pixels, or beside them, is known to show the background when they all do: where both
 * pictures have the same luma, colour is taken from that time.
 */
function trustNear(group: Int32Array, own: Uint16Array, trusted: Uint16Array, width: number, height: number): void {
  const reach = (APART - 1) / 2;
  for (const i of group) {
    const x = i % width,
      y = (i - x) / width;
    for (let v = max(0, y - reach); v <= min(height - 1, y + reach); v++)
      for (let u = max(0, x - reach); u <= min(width - 1, x + reach); u++)
        trusted[v * width + u] = trusted[v * width + u] & own[i] || own[i] || trusted[v * width + u];
  }
}

/** Pixels up to so far apart that changed at the same times belong to one thing: its patches look like the background by chance. */
const APART = 5;

/** What lies further off, up to a bound, is trusted when the nearest pixel is that says when: whether it was hidden then or not. */
function spreadTrust(trusted: Uint16Array, width: number, height: number): void {
  let rim: number[] = [];
  trusted.forEach((t, i) => {
    if (t !== ALWAYS) rim.push(i);
  });
  for (let step = 0; step < NEAR && rim.length; step++) {
    const next: number[] = [];
    for (const i of rim) {
      const x = i % width;
      for (const o of [x > 0 ? i - 1 : i, x + 1 < width ? i + 1 : i, i - width, i + width]) {
        if (o < 0 || o >= width * height || trusted[o] !== ALWAYS) continue;
        trusted[o] = trusted[i];
        next.push(o);
      }
    }
    rim = next;
  }
}

/** Which of a group's pictures is seen at the times when the settled pixels beside it show their background; null where they do not say. */
function likeNeighbours(
  group: Int32Array,
  whenFirst: Uint16Array,
  when: Uint16Array,
  known: Uint16Array,
  width: number,
  height: number,
): Which | null {
  let first = 0,
    second = 0;
  for (const i of group) {
    const x = i % width,
      y = (i - x) / width;
    for (let v = max(0, y - APART); v <= min(height - 1, y + APART); v++) {
      for (let u = max(0, x - APART); u <= min(width - 1, x + APART); u++) {
        const spells = known[v * width + u];
        if (!spells) continue;
        first += bits(spells & whenFirst[i]);
        second += bits(spells & when[i]);
      }
    }
  }
  if (max(first, second) < group.length || max(first, second) < AGREED * min(first, second)) return null;
  return first > second ? 'first' : 'second';
}

/** Neighbours agree on one of two pictures when they say so many times as much for it. */
const AGREED = 2;

/** How many bits are set. */
function bits(word: number): number {
  let n = 0;
  for (; word; word &= word - 1) n++;
  return n;
}

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
          if (bits(when[o] ^ when[start]) > OTHER_SPELLS) continue;
          done[o] = 1;
          queue[tail++] = o;
        }
      }
    }
    if (tail >= least) out.push(queue.slice(0, tail));
  }
  return out;
}
