import type { SmallSize } from '../../base/image/picture';
import type { CoverKind, CoverMeasure } from '../../report/wipe-types';
import { approachOf } from './approach';
import { bendOf, bentEdge } from './bend';
import { LEAST_COVER, type CoverContext } from './context';
import type { EdgePaths, FoundEdge } from './edge-finder';
import { edgeSpeed, nearestWay } from './edges';
import { reachesOf, whereOpen, type CoverEvents } from './events';
import { keyFrames } from './keys';
import { shareOf } from '../../base/image/mask';
import { isLargeEnough, smallestPunchIn } from './punch';
import { smoothPath, waverOf } from './smooth';

const { max, min } = Math;

/** What covers less than this needs no key frames: nobody means it to cover. */
const LEAST_KEYS = 0.35;
/** Key frames hold the edge to so many delivery pixels. */
const KEY_WITHIN = 2;
/** What remains covered at the end is what closed, when it is more than this. */
const CLOSED = 0.6;

export interface CoverFindings {
  context: CoverContext;
  size: SmallSize;
  movement: 'still' | 'panning' | 'approaching';
  /** Said by a person; else it is told from the movement and the end. */
  kind?: CoverKind;
  masks: Uint8Array[];
  /** Turn of what lies behind in each frame, degrees; null where it was not seen. */
  turned: (number | null)[];
  events: CoverEvents;
  direction: number | null;
  edges: EdgePaths;
  changes: number;
  sure: number;
  open: CoverMeasure['free_ends'];
  alike?: number | null;
  /** The last frame of which anything is known, where that is not all. */
  knownTo?: number;
  /** Edges set by hand, and how many of the edge's places the picture confirmed, as a share. */
  byHand?: CoverMeasure['by_hand'];
}

/** Works out every number of a cover from the object's masks and edges. */
export function coverFigures({
  context,
  size,
  movement,
  kind: said,
  masks,
  turned,
  events,
  direction,
  edges,
  changes,
  sure,
  open,
  alike = null,
  knownTo = masks.length - 1,
  byHand = null,
}: CoverFindings): CoverMeasure {
  const frames = masks.length,
    { width, height } = size;
  const share = masks.map(shareOf);
  const { peak } = events;
  const none = peak === null || share[peak] < LEAST_COVER;
  const sx = context.width / width,
    sy = context.height / height;
  const first = events.enter ?? 0,
    last = events.lastFull ?? peak ?? 0;
  const way = direction === null ? 0 : nearestWay(direction);
  const unit = way === 90 || way === 270 ? sy : sx;
  const middle = (edge: FoundEdge, coarse: (number | null)[][]) =>
    edge.looked ? edge.lines[1] : coarse[1].map((v) => (v === null ? null : v * unit));
  const approaching = (said ?? movement) === 'approaching';
  const lead = approaching ? masks.map(() => null) : middle(edges.lead, edges.coarse.lead),
    trail = approaching ? masks.map(() => null) : middle(edges.trail, edges.coarse.trail);
  const closes =
    events.leave === null && !none && share[frames - 1] > CLOSED && !trail.some((t, f) => t !== null && f > last - 1);
  const kind: CoverKind = said ?? (movement === 'still' ? (closes ? 'closing' : 'passing') : movement);
  const speeds = [edgeSpeed(lead.map((v, f) => (f <= (peak ?? 0) ? v : null))), edgeSpeed(trail)].filter(
    (s) => s !== null,
  );
  const full = events.firstFull !== null;
  const punch = none || full ? null : smallestPunchIn(masks[peak], width, height);
  const best = edges.lead.softness === null ? edges.trail : edges.lead;
  const upright = way === 90 || way === 270;
  const bend =
    kind === 'closing'
      ? bendOf(
          masks.map((m, f) => (f < first || f > (events.firstFull ?? frames) ? null : bentEdge(m, size, way, unit))),
          upright ? context.height : context.width,
          upright ? context.width : context.height,
        )
      : null;
  const covers = kind === 'closing' || kind === 'approaching';
  return {
    kind,
    direction_deg: none ? null : direction,
    enter_frame: none ? null : events.enter,
    first_full_frame: events.firstFull,
    last_full_frame: knownTo < frames - 1 ? null : events.lastFull,
    leave_frame: none ? null : events.leave,
    peak_cover_share: peak === null ? 0 : share[peak],
    peak_frame: none ? null : peak,
    reaches: none ? { top: false, bottom: false, left: false, right: false } : reachesOf(masks[peak], width, height),
    missed: none || full ? [] : whereOpen(masks, share, peak, width, height),
    punch_in: punch && {
      scale: punch.scale,
      centre_x_px: punch.x * sx,
      centre_y_px: punch.y * sy,
      allowed: isLargeEnough(context, punch.scale, context.delivery),
    },
    edge: {
      speed_px_per_frame: speeds.length ? speeds.reduce((s, v) => s + v.speed, 0) / speeds.length : null,
      speed_spread: speeds.length ? max(...speeds.map((s) => s.spread)) : null,
      softness_px: best.softness,
      blur_by_motion_px: best.byMotion,
      blur_by_defocus_px: best.byDefocus,
      bend_px: bend?.bend_px ?? null,
      bend_error_px: bend?.error_px ?? null,
      lens_k1: bend?.lens_k1 ?? null,
    },
    mask_frames: none ? 0 : maskFrames(kind, events, frames),
    key_frames:
      none || approaching || share[peak] < LEAST_KEYS
        ? []
        : keysOf(
            edges,
            kind,
            {
              first,
              firstFull: events.firstFull ?? peak,
              last: full ? min(frames - 1, last + 1) : last,
              leave: events.leave ?? frames - 1,
            },
            context.delivery.width / context.width,
          ),
    cut: {
      out_last_frame: none ? null : covers ? frames - 1 : events.leave,
      in_first_frame: none
        ? null
        : covers
          ? events.firstFull
          : full
            ? min(frames - 1, events.lastFull! + 1)
            : firstKnown(trail, peak),
    },
    approach: approaching && !none ? approachOf(masks, turned, first, events.firstFull ?? frames - 1, size, sx) : null,
    changes_per_pixel: changes,
    largest_jump_share: share.reduce((m, s, f) => (f > 0 ? max(m, s - share[f - 1]) : m), 0),
    sure_share: sure,
    free_ends: open,
    alike_share: alike,
    by_hand: byHand,
    path: { cover_share: known(share, knownTo), lead_px: known(lead, knownTo), trail_px: known(trail, knownTo) },
  };
}

/** An edge that passes is masked from the last full frame on; one that closes while it crosses; up to a wall nothing is. */
function maskFrames(kind: CoverKind, { enter, firstFull, lastFull, leave, peak }: CoverEvents, frames: number): number {
  const from = firstFull !== null ? lastFull! + 1 : (peak ?? 0);
  if (kind === 'closing') return (firstFull ?? frames) - (enter ?? 0);
  if (kind === 'approaching') return firstFull !== null ? 0 : frames - 1 - from;
  return max(0, (leave ?? frames - 1) - from + 1);
}

/** The frames to set first, of whichever edge is masked. */
function keysOf(
  { lead, trail }: EdgePaths,
  kind: CoverKind,
  at: { first: number; firstFull: number; last: number; leave: number },
  delivered: number,
): number[] {
  const keys = (edge: FoundEdge, from: number, to: number) => {
    const smooth = edge.lines.flatMap((line) => {
      const path = smoothPath(line, from, to);
      return path ? [path.map((v) => v * delivered)] : [];
    });
    // What wavers by measuring is not the edge's own way.
    const wavers = edge.lines.map((line) => waverOf(line, from, to) * delivered).filter((v) => v < Infinity);
    return keyFrames(smooth, from, max(KEY_WITHIN, ...wavers));
  };
  // What closes is masked along its leading edge, what passes along the trailing one, behind which the in side comes.
  return kind === 'closing' ? keys(lead, at.first, at.firstFull) : keys(trail, at.last, at.leave);
}

function known(path: readonly (number | null)[], to: number): (number | null)[] {
  return path.map((v, f) => (f > to ? null : v));
}

function firstKnown(trail: readonly (number | null)[], from: number): number | null {
  for (let f = from; f < trail.length; f++) if (trail[f] !== null) return f;
  return null;
}
