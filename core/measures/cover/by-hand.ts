import type { SmallSize } from '../../base/image/picture';
import { median } from '../../base/numeric/quantile';
import type { CoverKind } from '../../report/wipe-types';
import type { Way } from './edges';
import type { FoundEdge } from './edge-finder';
import { LINES_AT } from './profile';

const { abs, max, min, round } = Math;

/** Edges a person may set: the two along the way, or the four sides of something flat that the camera walks up to. */
export type HandEdgeName = 'lead' | 'trail' | 'left' | 'right' | 'top' | 'bottom';

/**
 * One edge in one frame, a straight line: where it meets the picture's two sides, as shares of the picture's length
 * across the edge (0 its left or upper end, 1 its right or lower one; beyond for a line that leaves the picture
 * sooner).
 */
export interface HandKey {
  frame: number;
  edge: HandEdgeName;
  from: number;
  to: number;
}

/** What a person says of a cover. */
export interface HandCover {
  kind: CoverKind;
  way: Way;
  keys: HandKey[];
}

/** Edges that are set for a kind of cover. */
export function edgesToSet(kind: CoverKind): HandEdgeName[] {
  if (kind === 'approaching') return ['left', 'right', 'top', 'bottom'];
  return kind === 'closing' ? ['lead'] : ['lead', 'trail'];
}

/** Whether an edge lies across the picture's width, so that its place is a share of the width. */
export function liesAcross(edge: HandEdgeName, way: Way): boolean {
  return edge === 'left' || edge === 'right' || ((edge === 'lead' || edge === 'trail') && (way === 0 || way === 180));
}

/** One edge's keys in order of frames, the last one said of each frame. */
export function keysOfEdge(keys: readonly HandKey[], edge: HandEdgeName): HandKey[] {
  const byFrame = new Map(keys.filter((k) => k.edge === edge).map((k) => [k.frame, k]));
  return [...byFrame.values()].sort((a, b) => a.frame - b.frame);
}

/** Where a line lies in a frame, by straight lines between the keys about it, and on beyond them; null without keys. */
export function lineAt(keys: readonly HandKey[], frame: number): { from: number; to: number } | null {
  if (keys.length === 0) return null;
  if (keys.length === 1) return { from: keys[0].from, to: keys[0].to };
  let k = 1;
  while (k < keys.length - 1 && keys[k].frame < frame) k++;
  const a = keys[k - 1],
    b = keys[k],
    t = (frame - a.frame) / (b.frame - a.frame);
  return { from: a.from + t * (b.from - a.from), to: a.to + t * (b.to - a.to) };
}

/**
 * The frame to set next, by halving: the ends, then the middle of the longest stretch in which the edge is not known
 * to move evenly. A stretch is settled when the key in its middle lies where straight lines had put it. Null when all
 * is settled.
 * @param ends first and last frame in which the edge is in the picture
 * @param within how far from straight is still straight, share of the picture's length
 */
export function nextToSet(
  keys: readonly HandKey[],
  ends: { start: number; end: number },
  within: number,
): number | null {
  const at = new Map(keys.map((k) => [k.frame, k]));
  for (const end of [ends.start, ends.end]) if (!at.has(end)) return end;
  const open: [number, number][] = [];
  const look = (a: number, b: number) => {
    if (b - a < 2) return;
    const middle = midKey(keys, a, b);
    if (middle === null) {
      open.push([a, b]);
      return;
    }
    const line = lineAt([at.get(a)!, at.get(b)!], middle.frame)!;
    if (max(abs(line.from - middle.from), abs(line.to - middle.to)) <= within) return;
    look(a, middle.frame);
    look(middle.frame, b);
  };
  look(ends.start, ends.end);
  if (open.length === 0) return null;
  const [a, b] = open.reduce((longest, s) => (s[1] - s[0] > longest[1] - longest[0] ? s : longest));
  return (a + b) >> 1;
}

/** The key nearest to the middle of a stretch, when one lies in its inner half. */
function midKey(keys: readonly HandKey[], a: number, b: number): HandKey | null {
  const middle = (a + b) / 2,
    reach = max(1, (b - a) / 4);
  let best: HandKey | null = null;
  for (const k of keys)
    if (
      k.frame > a &&
      k.frame < b &&
      abs(k.frame - middle) <= reach &&
      (!best || abs(k.frame - middle) < abs(best.frame - middle))
    )
      best = k;
  return best;
}

/** Where one edge lies in each frame at the three places along the breadth, in shares; null without keys. */
export function handLines(hand: HandCover, edge: HandEdgeName, frames: number): number[][] | null {
  const keys = keysOfEdge(hand.keys, edge);
  if (keys.length === 0) return null;
  const lines = Array.from({ length: frames }, (_, f) => lineAt(keys, f)!);
  return LINES_AT.map((at) => lines.map((l) => l.from + at * (l.to - l.from)));
}

/** The object's masks between edges set by hand. @param shifted how much further each edge was found in each frame, shares */
export function handMasks(
  hand: HandCover,
  frames: number,
  { width, height }: SmallSize,
  shifted: Partial<Record<HandEdgeName, readonly number[]>> = {},
): Uint8Array[] {
  const sides = edgesToSet(hand.kind).flatMap((edge) => {
    const keys = keysOfEdge(hand.keys, edge);
    return keys.length ? [{ edge, keys }] : [];
  });
  const forwards = hand.way === 0 || hand.way === 90;
  // Whether the object lies on the lower side of the edge.
  const below = (edge: HandEdgeName) =>
    edge === 'right' || edge === 'bottom' || (edge === 'lead' && forwards) || (edge === 'trail' && !forwards);
  return Array.from({ length: frames }, (_, f) => {
    const mask = new Uint8Array(width * height).fill(sides.length ? 1 : 0);
    for (const { edge, keys } of sides) {
      const line = lineAt(keys, f)!,
        across = liesAcross(edge, hand.way),
        shift = shifted[edge]?.[f] ?? 0;
      const long = across ? width : height,
        broad = across ? height : width;
      for (let b = 0; b < broad; b++) {
        const at = min(long, max(0, round((line.from + ((b + 0.5) / broad) * (line.to - line.from) + shift) * long)));
        const [open, end] = below(edge) ? [at, long] : [0, at];
        for (let a = open; a < end; a++) mask[across ? b * width + a : a * width + b] = 0;
      }
    }
    return mask;
  });
}

/** What the picture says of an edge must agree with what was set, at the set frames, to so many shares of the picture's length; */
const AGREES = 0.008;
/** and between them it may not jump. */
const JUMPS = 0.012;

/**
 * Takes over what was found of an edge in the picture where it can be believed: it agrees with the person at the
 * frames they set, and goes along with its neighbours between them.
 * @param lines where the edge was set, shares; `found` where the picture shows it, shares, null where it does not
 * @returns the edge, by how much it was shifted in each frame, and the share of the looked-at places that were confirmed
 */
export function refitted(
  lines: readonly (readonly number[])[],
  found: readonly (readonly (number | null)[])[],
  keyFrames: readonly number[],
): { lines: number[][]; shift: number[]; confirmed: number } {
  const offsets = lines.map((line, k) =>
    line.map((v, f) => {
      const at = found[k][f];
      return at === null || at === v ? null : at - v;
    }),
  );
  const set = new Set(keyFrames);
  const atKeys = offsets.flatMap((line) => line.filter((o, f): o is number => o !== null && set.has(f)));
  const believed = atKeys.length >= 2 && median(atKeys.map(abs)) <= AGREES;
  let looked = 0,
    taken = 0;
  const out = lines.map((line, k) =>
    line.map((v, f) => {
      if (!(v > 0 && v < 1)) return v;
      looked++;
      const own = offsets[k][f];
      if (!believed || own === null) return v;
      const near = offsets[k].slice(max(0, f - 3), f + 4).filter((o): o is number => o !== null);
      if (near.length < 3 || abs(own - median(near)) > JUMPS) return v;
      taken++;
      return v + own;
    }),
  );
  const shift = lines[0].map((_, f) => median(lines.map((line, k) => out[k][f] - line[f])));
  return { lines: out, shift, confirmed: looked ? taken / looked : 0 };
}

/** Lines in shares as pixels of a picture so long; null where they are outside it, or the object is out. */
export function linesIn(lines: readonly (readonly number[])[], long: number): (number | null)[][] {
  return lines.map((line) => line.map((v) => (v > 0 && v < 1 ? v * long : null)));
}

/** An edge that nobody set: not in the picture in any frame. */
export function noEdge(frames: number): FoundEdge {
  return {
    lines: LINES_AT.map(() => new Array<null>(frames).fill(null)),
    softness: null,
    byMotion: null,
    byDefocus: null,
    looked: true,
  };
}
