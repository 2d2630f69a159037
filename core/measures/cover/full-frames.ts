import type { EdgePaths } from './edge-finder';
import type { Way } from './edges';
import type { CoverEvents } from './events';
import { LINES_AT } from './profile';
import { smoothPath } from './smooth';

const { abs, max, min } = Math;

/** Frames by which masks, being coarse, may be off. */
const OFF = 2;
/** An edge counts as straight when its middle lies this near to the line through its sides, share of the picture's length. */
const STRAIGHT = 0.012;
const HALF_PX = 0.5;

/**
 * First and last full frame by where the edges' paths go through the picture's ends: masks leave out a strip that is
 * narrower than one of their pixels. They stay as they are where an edge was not followed closely, or is not straight.
 * @param long length of the picture along the way, source pixels
 */
export function exactFull(events: CoverEvents, edges: EdgePaths, way: Way, long: number): CoverEvents {
  const { firstFull, lastFull } = events;
  if (firstFull === null || lastFull === null) return events;
  const forwards = way === 0 || way === 90;
  const done = (v: number) => (forwards ? v : long - v);
  let first = firstFull,
    last = lastFull;
  const lead = edges.lead.looked
    ? corners(edges.lead.lines, events.enter ?? 0, min(firstFull + OFF, lastFull), long)
    : null;
  if (lead) {
    const covered = (f: number) => min(...(lead(f) ?? [NaN]).map(done)) >= long - HALF_PX;
    const found = range(max(0, firstFull - 1), firstFull + OFF).find(covered);
    if (found !== undefined) first = found;
  }
  const trail = edges.trail.looked
    ? corners(edges.trail.lines, max(firstFull, lastFull - OFF), events.leave ?? edges.trail.lines[0].length - 1, long)
    : null;
  if (trail) {
    const covered = (f: number) => max(...(trail(f) ?? [NaN]).map(done)) <= HALF_PX;
    const found = range(max(0, lastFull - OFF), lastFull + 1)
      .reverse()
      .find(covered);
    if (found !== undefined) last = found;
  }
  return first <= last ? { ...events, firstFull: first, lastFull: last } : events;
}

/** Where a straight edge meets the picture's two sides in a frame, from its smooth paths; null when it is not straight or not known. */
function corners(
  lines: (number | null)[][],
  from: number,
  to: number,
  long: number,
): ((f: number) => [number, number] | null) | null {
  const smooth = lines.map((line) => smoothPath(line, from, to));
  const [a, b, c] = smooth;
  if (!a || !b || !c) return null;
  const bends = a.map((_, k) => abs(b[k] - (a[k] + c[k]) / 2)).sort((p, q) => p - q);
  if (bends[bends.length >> 1] > STRAIGHT * long) return null;
  const beyond = LINES_AT[0] / (LINES_AT[2] - LINES_AT[0]);
  return (f) => {
    const k = f - from;
    if (k < 0 || k >= a.length) return null;
    const lean = (c[k] - a[k]) * beyond;
    return [a[k] - lean, c[k] + lean];
  };
}

function range(from: number, to: number): number[] {
  return Array.from({ length: max(0, to - from + 1) }, (_, k) => from + k);
}
