import type { Picture, SmallSize } from '../image/picture';
import { smallSize } from '../image/picture';
import type { CoverKind, CoverMeasure } from '../report/wipe-types';
import { PictureStack, type FrameStore } from '../scene/stack';
import { approachOf, followBack } from './approach';
import { edgesOf, edgeSpeed, nearestWay, travelDirection, type Way } from './edges';
import { changesPerPixel, eventsOf, reachesOf, whereOpen } from './events';
import { extendMasks } from './extend';
import { keyFrames } from './keys';
import { EdgeLines, followEdge, LINES_AT, type EdgePath } from './profile';
import { smallestPunchIn } from './punch';
import { smoothPath } from './smooth';
import { shareOf, withoutSlips } from './mask';
import { learnRestless } from './restless';
import { CoverSweep, type SweptFrame } from './sweep';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, hypot, max, min } = Math;

export interface CoverContext {
  /** Size of the picture as shown, source pixels, and source pixels for one measuring pixel. */
  width: number;
  height: number;
  factorX: number;
  factorY: number;
  delivery: { width: number; height: number };
}

/** A camera that went this share of the width before the cover pans, one whose picture grew by so much walks. */
const PANS = 0.03;
const WALKS = 0.05;
/** The picture counts as full when no more than this share of it is open. */
const FULL = 0.998;
/** What covers less than this at most covers nothing. */
const LEAST_COVER = 0.05;
/** And what covers less than this needs no key frames: nobody means it to cover. */
const LEAST_KEYS = 0.35;
/** Key frames hold the edge to so many delivery pixels. */
const KEY_WITHIN = 2;

/** Measures how an object covers the picture: `frame` for every frame in order, then `finish` once. */
export class CoverMeter {
  private readonly stack: PictureStack;
  private readonly lines = new EdgeLines();
  private sweep: CoverSweep | null = null;
  private size: SmallSize | null = null;
  private readonly forward: SweptFrame[] = [];

  constructor(store?: FrameStore) {
    this.stack = new PictureStack(store);
  }

  frame(picture: Picture): void {
    this.size ??= smallSize(picture.luma.width, picture.luma.height);
    this.sweep ??= new CoverSweep(this.size);
    this.stack.frame(picture);
    this.lines.frame(picture.luma);
    this.forward.push(this.sweep.frame(picture.small));
  }

  /** Masks of every frame at small size, with the numbers. */
  finish(context: CoverContext): { measure: CoverMeasure; masks: Uint8Array[] } {
    const { forward, stack } = this;
    const size = this.size ?? smallSize(16, 16);
    const frames = forward.length;
    let swept = forward;
    const movement = movementOf(forward, size);
    if (movement === 'panning') swept = this.bothWays();
    const restless = movement === 'still' && this.sweep ? learnRestless(stack, forward, size, this.sweep.noise) : null;
    const gains = movement === 'still' ? gainsWhileHidden(forward) : null;
    if (restless || gains) {
      swept = this.goThrough(new CoverSweep(size, null, restless, gains ?? []));
    }
    let masks = withoutSlips(swept.map((f) => f.covered));
    if (movement === 'approaching') {
      // Known in the first frame, the object no longer counts as background there.
      const known = followBack(stack, masks, size);
      swept = this.goThrough(new CoverSweep(size, known[0]));
      masks = followBack(stack, swept.map((f) => f.covered), size);
    }
    let share = masks.map(shareOf);
    let events = eventsOf(share, FULL);
    if (movement === 'panning' && events.peak !== null && share[events.peak] >= LEAST_COVER) {
      const seen = this.direction(masks, events.enter!, events.peak, events.leave ?? frames - 1, size);
      if (seen !== null) {
        masks = [...masks];
        const way = nearestWay(seen), along = cameraAlong(swept, way);
        extendMasks(masks, events.enter!, -1, way, true, along, size.width, size.height);
        if (events.leave !== null) extendMasks(masks, events.leave, 1, way, false, along, size.width, size.height);
        share = masks.map(shareOf);
        events = eventsOf(share, FULL);
      }
    }
    const peak = events.peak;
    const sx = context.width / size.width, sy = context.height / size.height;
    const none = peak === null || share[peak] < LEAST_COVER;
    const stays = events.leave === null;
    const first = events.enter ?? 0, last = events.lastFull ?? peak ?? 0;
    const direction = none || movement === 'approaching' ? null : this.direction(masks, first, peak, events.leave ?? frames - 1, size);
    const way: Way = direction === null ? 0 : nearestWay(direction);
    const coarse = (which: 'lead' | 'trail') => LINES_AT.map((at) => masks.map((m, f) => (none || f < first || (events.leave !== null && f > events.leave) ? null : edgesOf(m, size.width, size.height, way, at)[which])));
    const leads = coarse('lead'), trails = coarse('trail');
    const middle = (lines: (number | null)[][]) => lines[1];
    const kind: CoverKind = movement === 'still' ? (stays && !middle(trails).some((t, f) => t !== null && f > last - 1) && !none && share[frames - 1] > 0.6 ? 'closing' : 'passing') : movement;
    const vertical = way === 90 || way === 270;
    const unit = vertical ? sy : sx, fine = vertical ? context.factorY : context.factorX;
    // Small pixels to measuring pixels and on to source pixels: the middle of the first small pixel lies half of its size in.
    const look = kind === 'approaching' || none ? null : this.closely(swept, leads, trails, way, unit / fine, events, movement === 'panning');
    const path = (refined: (number | null)[][] | undefined, plain: (number | null)[][]) => (refined ? middle(refined).map((v) => (v === null ? null : (v + 0.5) * fine)) : middle(plain).map((v) => (v === null ? null : v * unit)));
    const leadPx = kind === 'approaching' ? masks.map(() => null) : path(look?.lead.lines, leads), trailPx = kind === 'approaching' ? masks.map(() => null) : path(look?.trail.lines, trails);
    const speeds = [edgeSpeed(leadPx.map((v, f) => (f <= (peak ?? 0) ? v : null))), edgeSpeed(trailPx)].filter((s) => s !== null);
    const punch = none || share[peak] >= FULL ? null : smallestPunchIn(masks[peak], size.width, size.height);
    const soft = look?.lead.softness ?? look?.trail.softness ?? null;
    const delivered = context.delivery.width / context.width;
    const keysOf = (edge: EdgePath | undefined, from: number, to: number) => {
      const smooth = (edge?.lines ?? []).flatMap((line) => { const path = smoothPath(line, from, to); return path ? [path.map((v) => v * fine * delivered)] : []; });
      return keyFrames(smooth, from, KEY_WITHIN);
    };
    const keys = none || !look || share[peak] < LEAST_KEYS ? [] : [...keysOf(look.lead, first, events.firstFull ?? peak), ...(kind === 'closing' ? [] : keysOf(look.trail, last, events.leave ?? frames - 1))];
    const full = events.firstFull !== null;
    const covers = kind === 'closing' || kind === 'approaching';
    const maskFrom = full ? events.lastFull! + 1 : peak ?? 0;
    const maskFrames = none ? 0 : covers ? (full ? 0 : frames - 1 - (peak ?? 0)) : (events.leave ?? frames - 1) - maskFrom + 1;
    return {
      masks,
      measure: {
        kind, direction_deg: direction, enter_frame: none ? null : events.enter, first_full_frame: events.firstFull, last_full_frame: events.lastFull, leave_frame: none ? null : events.leave,
        peak_cover_share: peak === null ? 0 : share[peak], peak_frame: none ? null : peak,
        reaches: none ? { top: false, bottom: false, left: false, right: false } : reachesOf(masks[peak], size.width, size.height),
        missed: none || full ? [] : whereOpen(masks, share, peak, size.width, size.height),
        punch_in: punch && { scale: punch.scale, centre_x_px: punch.x * sx, centre_y_px: punch.y * sy, allowed: context.width / punch.scale >= context.delivery.width * 0.999 && context.height / punch.scale >= context.delivery.height * 0.999 },
        edge: {
          speed_px_per_frame: speeds.length ? speeds.reduce((s, v) => s + v.speed, 0) / speeds.length : null, speed_spread: speeds.length ? max(...speeds.map((s) => s.spread)) : null,
          softness_px: soft === null ? null : soft * fine, blur_by_motion_px: scaled(look?.lead.byMotion ?? look?.trail.byMotion, fine), blur_by_defocus_px: scaled(look?.lead.byDefocus ?? look?.trail.byDefocus, fine),
          bend_px: kind === 'closing' && look ? bendOf(look.lead, fine) : null,
        },
        mask_frames: max(0, maskFrames),
        key_frames: [...new Set(keys)].sort((a, b) => a - b),
        cut: {
          out_last_frame: none ? null : covers ? frames - 1 : events.leave,
          in_first_frame: none ? null : covers ? events.firstFull : full ? min(frames - 1, events.lastFull! + 1) : firstTrail(trailPx, peak),
        },
        approach: kind === 'approaching' && !none ? approachOf(masks, events.enter ?? 0, events.firstFull ?? frames - 1, size, sx) : null,
        changes_per_pixel: changesPerPixel(masks), largest_jump_share: share.reduce((m, s, f) => (f > 0 ? max(m, s - share[f - 1]) : m), 0),
        sure_share: sureShare(swept, share),
        path: { cover_share: share, lead_px: leadPx, trail_px: trailPx },
      },
    };
  }

  /** Goes through all pictures once more. */
  private goThrough(sweep: CoverSweep): SweptFrame[] {
    return this.forward.map((_, f) => sweep.frame(this.stack.read(f)));
  }

  /** A pan is gone through from both ends: before the cover the first pictures tell what is behind, after it the last ones do. */
  private bothWays(): SweptFrame[] {
    const { forward, stack, size } = this;
    const back = new CoverSweep(size!);
    const frames = forward.length;
    const backward: SweptFrame[] = new Array(frames);
    for (let f = frames - 1; f >= 0; f--) backward[f] = back.frame(stack.read(f));
    const f1 = forward.findIndex((f) => f.share > 0.985);
    let r1 = -1;
    for (let f = frames - 1; f >= 0 && r1 < 0; f--) if (backward[f].share > 0.985) r1 = f;
    if (f1 >= 0 && r1 >= f1) {
      const all = new Uint8Array(size!.width * size!.height).fill(1);
      return forward.map((own, f) => (f < f1 ? own : f > r1 ? backward[f] : { ...own, covered: own.share > 0.998 || (f > f1 && f < r1) ? all : f === f1 ? own.covered : backward[f].covered, share: 1 }));
    }
    let split = 0, least = Infinity;
    for (let f = 0; f < frames; f++) {
      const cost = abs(forward[f].share - backward[f].share) - 0.5 * min(forward[f].share, backward[f].share);
      if (cost < least) { least = cost; split = f; }
    }
    return forward.map((own, f) => (f < split ? own : backward[f]));
  }

  private direction(masks: Uint8Array[], enter: number, peak: number, leave: number, size: SmallSize): number | null {
    const lead = travelDirection(masks, max(0, enter - 1), peak, size.width, size.height);
    return lead ?? travelDirection(masks, peak, leave, size.width, size.height, true);
  }

  /** Both edges looked at in the pictures at measuring size. */
  private closely(swept: readonly SweptFrame[], leads: (number | null)[][], trails: (number | null)[][], way: Way, zoom: number, events: ReturnType<typeof eventsOf>, pans: boolean): { lead: EdgePath; trail: EdgePath } {
    const frames = swept.length;
    const peak = events.peak ?? 0;
    const enlarged = (lines: (number | null)[][], use: (f: number) => boolean) => lines.map((line) => line.map((v, f) => (v === null || !use(f) ? null : v * zoom - 0.5)));
    const vertical = way === 90 || way === 270;
    const shift = (f: number, g: number) => (vertical ? swept[f].pose.dy - swept[g].pose.dy : swept[f].pose.dx - swept[g].pose.dx) * zoom;
    // Without a pan any frame with nothing in front tells what is behind; in a pan one nearby does, on the side where the edge is not.
    const clearBefore = max(0, (events.enter ?? 1) - 1), clearAfter = events.leave !== null && events.leave + 1 < frames ? events.leave + 1 : clearBefore;
    const beforeEdge = (f: number) => (pans ? (f >= 4 ? { frame: f - 4, shift: shift(f, f - 4), gain: 1 } : null) : { frame: clearBefore, shift: 0, gain: swept[f].gain / swept[clearBefore].gain });
    const afterEdge = (f: number) => (pans ? (f + 4 < frames ? { frame: f + 4, shift: shift(f, f + 4), gain: 1 } : null) : { frame: clearAfter, shift: 0, gain: swept[f].gain / swept[clearAfter].gain });
    return {
      lead: followEdge(this.lines, enlarged(leads, (f) => f <= peak || leads[1][f] !== null), way, true, beforeEdge),
      trail: followEdge(this.lines, enlarged(trails, () => true), way, false, afterEdge),
    };
  }
}

const scaled = (v: number | null | undefined, by: number) => (v === null || v === undefined ? null : v * by);

/** Does the camera stand, pan, or walk up to something, before the picture is covered? */
function movementOf(swept: readonly SweptFrame[], size: SmallSize): 'still' | 'panning' | 'approaching' {
  let far = 0, grows = 1;
  for (const f of swept) {
    if (!f.sure || f.share > 0.97) continue;
    far = max(far, hypot(f.pose.dx, f.pose.dy));
    grows = max(grows, f.pose.scale);
  }
  if (grows > 1 + WALKS && (grows - 1) * (size.width / 2) > far) return 'approaching';
  return far > PANS * size.width ? 'panning' : 'still';
}

/** A brightness that differs by more than this from the one gone by is another exposure. */
const OTHER_EXPOSURE = 0.02;

/**
 * While the background is hidden nothing tells its brightness; afterwards it is known. Frames after the fullest one go by the next
 * that tells, the others by the last. Null when that changes nothing.
 */
function gainsWhileHidden(swept: readonly SweptFrame[]): (number | null)[] | null {
  let peak = 0;
  swept.forEach((s, f) => { if (s.share > swept[peak].share) peak = f; });
  let differs = false;
  const gains = swept.map((s, f) => {
    if (s.sure) return null;
    let k = f;
    while (k >= 0 && k < swept.length && !swept[k].sure) k += f > peak ? 1 : -1;
    const known = swept[k]?.gain ?? null;
    if (known !== null && abs(known - s.gain) > OTHER_EXPOSURE) differs = true;
    return known;
  });
  return differs ? gains : null;
}

/** Where the background lies along the way, with the jumps taken out that going through the take from both ends leaves. */
function cameraAlong(swept: readonly SweptFrame[], way: Way): number[] {
  const out = [0];
  for (let f = 1; f < swept.length; f++) {
    const a = swept[f - 1].pose, b = swept[f].pose;
    const step = way === 90 || way === 270 ? b.dy - a.dy : b.dx - a.dx;
    const usual: number = f > 1 ? out[f - 1] - out[f - 2] : step;
    out.push(out[f - 1] + (abs(step - usual) > 0.15 * swept.length + 20 ? usual : step));
  }
  return out;
}

function sureShare(swept: readonly SweptFrame[], share: readonly number[]): number {
  let n = 0, sure = 0;
  swept.forEach((f, k) => {
    if (share[k] > 0.6) return;
    n++;
    if (f.sure) sure++;
  });
  return n ? sure / n : 0;
}

/** Greatest distance of the closing edge's middle from the line through its sides, source pixels: the middle of what the frames say. */
function bendOf(edge: EdgePath, fine: number): number | null {
  const bends: number[] = [];
  edge.lines[1].forEach((m, f) => {
    const a = edge.lines[0][f], b = edge.lines[2][f];
    if (m !== null && a !== null && b !== null) bends.push(m - (a + b) / 2);
  });
  if (bends.length === 0) return null;
  bends.sort((a, b) => a - b);
  return abs(bends[bends.length >> 1]) * fine;
}

function firstTrail(trail: readonly (number | null)[], from: number): number | null {
  for (let f = from; f < trail.length; f++) if (trail[f] !== null) return f;
  return null;
}
