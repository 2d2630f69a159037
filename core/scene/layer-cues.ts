import { SPELLS, spellOf } from './samples';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, floor, log2, max, min } = Math;

/** One of a region's two pictures. */
export type Which = 'first' | 'second';

/** Of two values one stays when the other is left this many times as often, and at least at this share of the looks. */
const STAYS = 2.5;
const LEFT_OFTEN = 0.15;

/** A background is hidden once or twice; what stirs before it leaves each of its values again and again. */
export function steadier(first: number, second: number): Which | null {
  if (max(first, second) < max(LEFT_OFTEN, STAYS * min(first, second))) return null;
  return first < second ? 'first' : 'second';
}

/** Whether the one is seen before and after all spells in which the other is (a bit each): whoever came has gone again. */
export function returns(one: number, other: number): boolean {
  const before = (other & -other) - 1;
  return other > 0 && (one & before) > 0 && one > other;
}

/** Steps along the border closer to each other than this share say little. */
const ALIKE = 0.4;
/** A shadow takes light evenly: its ratio to the lit picture varies by less than this, stops at a gamma of 2.2. */
const EVENLY = 0.25;

/** Whether the steps along a region's border in its two pictures tell them apart. */
export function tellApart({ first, second }: { first: number; second: number }): boolean {
  return abs(first - second) > ALIKE * max(first, second);
}

/** Where the border says little and one picture is the other one evenly darkened, it is a shadow's: the brighter is the background. */
export function brighter(
  group: Int32Array,
  first: Float32Array,
  second: Float32Array,
  steps: { first: number; second: number } | null,
): Which | null {
  if (steps && tellApart(steps)) return null;
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
export function calmer(
  group: Int32Array,
  firstSpells: number,
  secondSpells: number,
  even: Uint8Array[],
  unsure: Uint8Array,
  width: number,
  height: number,
): Which | null {
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

/** Mean step across a region's border, to pixels that are not in doubt, in each of its two pictures, in levels; null without a border. */
export function borderSteps(
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
