import { findRegions } from '../base/image/regions';
import type { Box } from '../report/types';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, floor, hypot, max, min, round } = Math;

/** How what moves moves from one frame to the next: pixels of the grid, and where. */
export interface Pace {
  dx: number;
  dy: number;
  /** Where it changes; null where nothing does. */
  box: Box | null;
  /** Pixels that change. */
  changed: number;
  /** Where what changes moves so, and how many of its pixels do: without the rest that changes; null where that is not told. */
  moved: { box: Box; changed: number } | null;
}

export interface PaceInput {
  width: number;
  height: number;
  before: Uint8Array;
  now: Uint8Array;
  /** 1 where changes count: not where leaves stir. */
  counts: Uint8Array | null;
  /** Grain of the difference of two pictures, levels. */
  noise: number;
  /** 1 where somebody is in the first picture; null where that is not known. */
  mover: Uint8Array | null;
}

/** A pixel changes by so many levels at least, and so many standard deviations; with so many of its neighbours. */
const LEVELS = 5;
const SIGMAS = 4.5;
const NEIGHBOURS = 5;
/** Changes of fewer pixels together are grain, or coding. */
const LEAST = 14;
/** The far search goes so far, coarse pixels of so many fine ones. */
const COARSE = 4;
const REACH = 10;
/** So many blocks of somebody are enough to follow them by. */
const LEAST_BLOCKS = 4;
/** A shift that leaves less than this share of the difference is clear. */
const CLEARLY = 0.5;
/** A shift counts as seen when it leaves less than this share of the difference. */
const BETTER = 0.7;
/**
 * Blocks cost so much more or less by chance, share of what they cost at rest; the best of some four hundred shifts lies
 * three times as far down by nothing else, less so the more blocks there are.
 */
const BY_CHANCE = 0.4;
const BEST_OF_MANY = 3;

/** Grain of the difference between two pictures, most of which stays. */
export function differenceNoise(a: Uint8Array, b: Uint8Array): number {
  const off: number[] = [];
  for (let i = 0; i < a.length; i += 11) off.push(abs(a[i] - b[i]));
  off.sort((x, y) => x - y);
  // The median of rounded levels is too coarse: the mean of the smaller half is as robust.
  let sum = 0;
  const half = max(1, floor(off.length * 0.6));
  for (let k = 0; k < half; k++) sum += off[k];
  return max(0.5, (sum / half) * 2.9);
}

/** How what moves between two pictures moves: the shift under which the changed part of the first lies best on the second. */
export function paceBetween(input: PaceInput): Pace {
  const { width, height, before, now, counts, noise } = input;
  const limit = max(LEVELS, SIGMAS * noise);
  const raw = new Uint8Array(width * height);
  for (let i = 0; i < raw.length; i++) raw[i] = (!counts || counts[i]) && abs(before[i] - now[i]) > limit ? 1 : 0;
  let changed = 0;
  let [left, top, right, bottom] = [width, height, -1, -1];
  const mask = new Uint8Array(raw.length);
  for (let y = 1; y < height - 1; y++)
    for (let x = 1; x < width - 1; x++) {
      const i = y * width + x;
      if (!raw[i]) continue;
      let n = 0;
      for (let v = i - width; v <= i + width; v += width) n += raw[v - 1] + raw[v] + raw[v + 1];
      if (n < NEIGHBOURS) continue;
      mask[i] = 1;
      changed++;
      [left, right] = [min(left, x), max(right, x)];
      [top, bottom] = [min(top, y), max(bottom, y)];
    }
  if (changed < LEAST) return { dx: 0, dy: 0, box: null, changed: 0, moved: null };
  const box = { x: left, y: top, width: right - left + 1, height: bottom - top + 1 };
  const [dx, dy] = shiftOf(input, mask, box);
  return { dx, dy, box, changed, moved: movedBy(input, mask, round(dx), round(dy)) };
}

function shiftOf({ before, now, width, height, mover }: PaceInput, mask: Uint8Array, box: Box): [number, number] {
  const small = { width: floor(width / COARSE), height: floor(height / COARSE) };
  const changes = blockSums(mask, width, small),
    bodies = mover && blockSums(mover, width, small);
  const [left, right] = [floor(box.x / COARSE) - 1, floor((box.x + box.width - 1) / COARSE) + 1],
    [top, bottom] = [floor(box.y / COARSE) - 1, floor((box.y + box.height - 1) / COARSE) + 1];
  const all: Block[] = [],
    theirs: Block[] = [],
    around: Block[] = [],
    beside: Block[] = [];
  for (let y = max(0, top); y <= min(small.height - 1, bottom); y++)
    for (let x = max(0, left); x <= min(small.width - 1, right); x++) {
      const i = y * small.width + x;
      if (changes[i] >= COARSE) all.push([x, y]);
      if (changes[i] >= COARSE && bodies?.[i]) theirs.push([x, y]);
      // An outline ends where pixels are half somebody's: the block beside it is theirs in part.
      if (changes[i] >= COARSE && bodies && near(bodies, x, y, small)) around.push([x, y]);
      // Somebody plain changes along their edges only: what of them lies beside a change moves too.
      if (bodies?.[i] && near(changes, x, y, small)) beside.push([x, y]);
    }
  const pictures = { before, now, width, height, small, a: shrunk(before, width, small), b: shrunk(now, width, small) };
  // What they come to cover moves nowhere: only they do. Where they are not known well, all that changes may say more.
  let best: Shift = { dx: 0, dy: 0, left: 1 };
  for (const blocks of [beside, theirs, around, all]) {
    if (blocks.length < LEAST_BLOCKS) continue;
    const found = bestShift(blocks, pictures);
    if (found.left < best.left) best = found;
    if (best.left < CLEARLY) break;
  }
  return [best.dx, best.dy];
}

/** A block moves that lies better by this factor where the shift puts it. */
const FITS = 0.6;
/** Parts that move by less than this share of what the largest does are left out. */
const PART = 0.3;

/** Where what changes lies better by a shift: the changed blocks that do, in groups, small ones left out. */
function movedBy(
  { before, now, width, height, noise }: PaceInput,
  mask: Uint8Array,
  dx: number,
  dy: number,
): Pace['moved'] {
  if (dx === 0 && dy === 0) return null;
  const small = { width: floor(width / COARSE), height: floor(height / COARSE) };
  const changes = blockSums(mask, width, small);
  const gains = new Float32Array(changes.length),
    moves = new Uint8Array(changes.length);
  for (let y = 0, i = 0; y < small.height; y++)
    for (let x = 0; x < small.width; x++, i++) {
      if (changes[i] < COARSE) continue;
      let [still, shifted] = [0, 0];
      for (let v = y * COARSE; v < (y + 1) * COARSE; v++)
        for (let u = x * COARSE; u < (x + 1) * COARSE; u++) {
          const [p, q] = [max(0, min(width - 1, u + dx)), max(0, min(height - 1, v + dy))];
          still += abs(now[v * width + u] - before[v * width + u]);
          shifted += abs(now[q * width + p] - before[v * width + u]);
        }
      const floorOf = noise * COARSE * COARSE;
      if (shifted >= FITS * still && shifted - floorOf >= FITS * (still - floorOf)) continue;
      gains[i] = still - shifted;
      // A body is one part, though only its edges change.
      for (let v = max(0, y - 2); v <= min(small.height - 1, y + 2); v++)
        moves.fill(1, v * small.width + max(0, x - 2), v * small.width + min(small.width - 1, x + 2) + 1);
    }
  const parts = findRegions(moves, small.width, small.height).map((r) => {
    const own = [...r.pixels].filter((i) => gains[i] > 0);
    return { own, gain: own.reduce((n, i) => n + gains[i], 0) };
  });
  const most = max(0, ...parts.map((p) => p.gain));
  const own = parts.filter((p) => p.gain >= PART * most).flatMap((p) => p.own);
  if (own.length === 0) return null;
  let [left, top, right, bottom, changed] = [small.width, small.height, -1, -1, 0];
  for (const i of own) {
    const [x, y] = [i % small.width, floor(i / small.width)];
    [left, right] = [min(left, x), max(right, x)];
    [top, bottom] = [min(top, y), max(bottom, y)];
    changed += changes[i];
  }
  const box = {
    x: left * COARSE,
    y: top * COARSE,
    width: (right - left + 1) * COARSE,
    height: (bottom - top + 1) * COARSE,
  };
  return { box, changed };
}

type Block = readonly [number, number];

interface Shift {
  dx: number;
  dy: number;
  /** Share of the difference that it leaves. */
  left: number;
}

interface Pictures extends Pick<PaceInput, 'before' | 'now' | 'width' | 'height'> {
  /** Both in blocks. */
  small: { width: number; height: number };
  a: Float32Array;
  b: Float32Array;
}

/** The shift under which some blocks of the first picture lie best on the second. */
function bestShift(inside: readonly Block[], { before, now, width, height, small, a, b }: Pictures): Shift {
  const farCost = (dx: number, dy: number) => {
    let sum = 0,
      n = 0;
    for (const [x, y] of inside) {
      const u = x + dx,
        v = y + dy;
      if (u < 0 || v < 0 || u >= small.width || v >= small.height) continue;
      // Leftovers count no more than this: what is uncovered fits nowhere.
      sum += min(40, abs(b[v * small.width + u] - a[y * small.width + x]));
      n++;
    }
    return n > inside.length / 2 ? sum / n : Infinity;
  };
  let [cx, cy, least] = [0, 0, farCost(0, 0)];
  for (let dy = -REACH; dy <= REACH; dy++)
    for (let dx = -REACH; dx <= REACH; dx++) {
      const cost = farCost(dx, dy);
      if (cost < least - 0.02) [cx, cy, least] = [dx, dy, cost];
    }
  const step = max(1, round(Math.sqrt(inside.length / 120)));
  const cost = (dx: number, dy: number) => {
    let sum = 0,
      n = 0;
    for (let k = 0; k < inside.length; k += step) {
      const [x, y] = [inside[k][0] * COARSE, inside[k][1] * COARSE];
      for (let v = y; v < y + COARSE; v++)
        for (let u = x; u < x + COARSE; u++) {
          const [p, q] = [u + dx, v + dy];
          if (p < 0 || q < 0 || p >= width || q >= height) continue;
          sum += min(40, abs(now[q * width + p] - before[v * width + u]));
          n++;
        }
    }
    return n ? sum / n : Infinity;
  };
  let [bx, by, best] = [0, 0, cost(0, 0)];
  const still = best;
  for (let dy = -COARSE; dy <= COARSE; dy++)
    for (let dx = -COARSE; dx <= COARSE; dx++) {
      const c = cost(cx * COARSE + dx, cy * COARSE + dy);
      if (c < best) [bx, by, best] = [cx * COARSE + dx, cy * COARSE + dy, c];
    }
  const seen = min(BETTER, 1 - (BEST_OF_MANY * BY_CHANCE) / Math.sqrt(inside.length));
  if (best > seen * still && hypot(bx, by) > 1) {
    // Nothing fits far away: what there is of a near shift.
    [bx, by, best] = [0, 0, still];
    for (let dy = -2; dy <= 2; dy++)
      for (let dx = -2; dx <= 2; dx++) {
        const c = cost(dx, dy);
        if (c < best) [bx, by, best] = [dx, dy, c];
      }
  }
  // Between pixels: where a parabola through three costs has its bottom.
  const between = (l: number, m: number, r: number) => {
    const bend = l - 2 * m + r;
    return bend > 1e-6 && isFinite(bend) ? max(-0.5, min(0.5, (0.5 * (l - r)) / bend)) : 0;
  };
  return {
    dx: bx + between(cost(bx - 1, by), best, cost(bx + 1, by)),
    dy: by + between(cost(bx, by - 1), best, cost(bx, by + 1)),
    left: still > 0 ? best / still : 1,
  };
}

/** How many pixels of a mask lie in each block. */
function blockSums(mask: Uint8Array, stride: number, { width, height }: { width: number; height: number }): Uint8Array {
  const out = new Uint8Array(width * height);
  for (let y = 0; y < height * COARSE; y++)
    for (let x = 0; x < width * COARSE; x++)
      out[((y / COARSE) | 0) * width + ((x / COARSE) | 0)] += mask[y * stride + x];
  return out;
}

/** Whether a block or one beside it changes. */
function near(
  changes: Uint8Array,
  x: number,
  y: number,
  { width, height }: { width: number; height: number },
): boolean {
  for (let v = max(0, y - 1); v <= min(height - 1, y + 1); v++)
    for (let u = max(0, x - 1); u <= min(width - 1, x + 1); u++) if (changes[v * width + u] >= COARSE) return true;
  return false;
}

function shrunk(plane: Uint8Array, stride: number, { width, height }: { width: number; height: number }): Float32Array {
  const out = new Float32Array(width * height);
  for (let y = 0, o = 0; y < height; y++)
    for (let x = 0; x < width; x++, o++) {
      let sum = 0;
      for (let v = 0; v < COARSE; v++)
        for (let i = (y * COARSE + v) * stride + x * COARSE, k = 0; k < COARSE; k++) sum += plane[i + k];
      out[o] = sum / COARSE ** 2;
    }
  return out;
}
