import { median } from '../../base/numeric/quantile';
import type { EdgePaths, FoundEdge } from './edge-finder';
import type { Way } from './edges';
import type { CoverEvents } from './events';

const { abs, max, min, round } = Math;

/** An edge whose rise takes this many of the masks' pixels is soft, */
const SOFT = 4;
/** and one whose rim goes ahead of its middle by this many is worth trimming. */
const AHEAD = 1;
const LEAST_PLACES = 6;
const MOST_FRAMES = 30;

/**
 * Masks mark what differs from the background at all: before a soft edge that is its outermost rim, where next to
 * nothing is covered yet. Its middle, as it was looked at closely, comes to each pixel some frames later (behind the
 * object it leaves it as much sooner): so much is taken off.
 * @param unit source pixels for one of the masks'
 * @returns null when no edge is that soft
 */
export function trimmedToMiddle(
  masks: readonly Uint8Array[],
  edges: EdgePaths,
  { leave }: CoverEvents,
  way: Way,
  unit: number,
): Uint8Array[] | null {
  const forwards = way === 0 || way === 90 ? 1 : -1;
  const late = framesAhead(edges.lead, edges.coarse.lead, forwards, unit),
    early = leave === null ? 0 : framesAhead(edges.trail, edges.coarse.trail, -forwards, unit);
  if (late === 0 && early === 0) return null;
  return masks.map((mask, f) => {
    const before = masks[max(0, f - late)],
      after = masks[min(masks.length - 1, f + early)];
    return mask.map((v, i) => v & before[i] & after[i]);
  });
}

/** By how many frames an edge's rim in the masks goes ahead of its middle; 0 for an edge that is not soft. */
function framesAhead(edge: FoundEdge, coarse: (number | null)[][], outwards: number, unit: number): number {
  if (!edge.looked || edge.softness === null || edge.softness < SOFT * unit) return 0;
  const ahead: number[] = [],
    steps: number[] = [];
  coarse.forEach((line, k) =>
    line.forEach((rim, f) => {
      const middle = edge.lines[k][f],
        last = f > 0 ? line[f - 1] : null;
      if (rim !== null && middle !== null) ahead.push(outwards * (rim * unit - middle));
      if (rim !== null && last !== null) steps.push(abs(rim - last) * unit);
    }),
  );
  if (ahead.length < LEAST_PLACES || steps.length < LEAST_PLACES) return 0;
  const by = median(ahead),
    pace = median(steps);
  return by < AHEAD * unit || pace <= 0 ? 0 : min(MOST_FRAMES, round(by / pace));
}
