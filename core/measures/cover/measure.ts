import type { Picture, SmallSize } from '../../base/image/picture';
import { smallSize } from '../../base/image/picture';
import type { CoverMeasure } from '../../report/wipe-types';
import { PictureStack, type FrameStore } from '../../base/image/stack';
import { alikeShare } from './alike';
import { followBack } from './approach';
import {
  handLines,
  handMasks,
  keysOfEdge,
  linesIn,
  noEdge,
  refitted,
  type HandCover,
  type HandEdgeName,
} from './by-hand';
import { FULL, LEAST_COVER, type CoverContext } from './context';
import { EdgeFinder, type EdgePaths, type FoundEdge } from './edge-finder';
import { nearestWay, type Way } from './edges';
import {
  attachedOnly,
  changesPerPixel,
  clearedOutside,
  eventsOf,
  inFrom,
  leaveByTrail,
  type CoverEvents,
} from './events';
import { extendMasks } from './extend';
import { coverFigures } from './figures';
import { exactFull } from './full-frames';
import { edgeGoesWithStart, firstFull, freeEnds, fullest, NEARLY, panFreeEnds, staysFull } from './free-ends';
import { shareOf, withoutSlips } from '../../base/image/mask';
import { cameraAlong, gainsWhileHidden, movementOf, sureShare, turnsOf } from './movement';
import { EdgeLines } from './profile';
import { learnRestless, stirringFromStart } from './restless';
import { trimmedToMiddle } from './soft-edge';
import { filledByVote, objectPath, steadied } from './steady';
import { CoverSweep, type SweptFrame } from './sweep';
import { travelWay } from './travel';
import { walkedUpTo } from './walk-up';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, max, min } = Math;

/** The object in every frame, for drawing it and for letting another picture appear behind it. */
export interface CoverShape {
  /** Size of the masks; a mask holds 1 where the object is. */
  width: number;
  height: number;
  masks: Uint8Array[];
  way: Way;
  /** Edges at the three places along the breadth, source pixels; null where they are not in the picture. */
  lead: (number | null)[][];
  trail: (number | null)[][];
}

export interface CoverResult {
  measure: CoverMeasure;
  shape: CoverShape;
}

type Movement = ReturnType<typeof movementOf>;

/** What was found of the object before its numbers are worked out. */
interface Found {
  movement: Movement;
  swept: SweptFrame[];
  masks: Uint8Array[];
  open: CoverMeasure['free_ends'];
  knownTo: number;
  /** The sweep that saw a frame as it is told in `swept`; null where it is not at hand. */
  sweepOf: (frame: number) => CoverSweep | null;
}

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

  /**
   * The numbers, and the object in every frame. @param hand edges that a person set: they are filled in between, and
   * found in the picture near there
   */
  finish(context: CoverContext, hand: HandCover | null = null): CoverResult {
    if (hand && hand.keys.length > 0) return this.finishByHand(context, hand);
    const size = this.size ?? smallSize(16, 16);
    const { movement, swept, masks: all, open, knownTo, sweepOf } = this.find(size);
    let masks = all;
    let events = eventsOf(masks.map(shareOf), FULL);
    let direction = this.wayOf(masks, events, movement, size);
    let changes = changesPerPixel(masks);
    if (direction !== null) {
      const to = nearestWay(direction);
      const along = objectPath(masks, to, size.width, size.height);
      masks = steadied(masks, along, to, size.width, size.height);
      events = eventsOf(masks.map(shareOf), FULL);
      if (events.enter !== null) {
        masks = filledByVote(masks, along, to, size.width, size.height, events.enter, events.leave ?? masks.length - 1);
        masks = attachedOnly(masks, eventsOf(masks.map(shareOf), FULL), direction, size.width, size.height);
        events = eventsOf(masks.map(shareOf), FULL);
      }
      // In a pan there is more chance of likeness: what lies behind is another thing in each frame.
      if (movement === 'panning') changes = changesPerPixel(masks);
    }
    if (movement === 'panning' && direction !== null) {
      masks = [...masks];
      const way = nearestWay(direction),
        along = cameraAlong(swept, way);
      extendMasks(masks, events.enter!, -1, way, true, along, size.width, size.height);
      if (events.leave !== null) extendMasks(masks, events.leave, 1, way, false, along, size.width, size.height);
      events = eventsOf(masks.map(shareOf), FULL);
      direction = this.wayOf(masks, events, movement, size);
    }
    const finder = new EdgeFinder(this.lines, size, context, swept, movement === 'panning');
    const way = direction === null ? 0 : nearestWay(direction);
    let edges = finder.find(masks, events, way, movement === 'approaching');
    const left = leaveByTrail(
      edges.coarse.trail[1],
      masks.map(shareOf),
      events,
      way === 90 || way === 270 ? size.height : size.width,
      way === 0 || way === 90,
    );
    if (left !== null) {
      events = { ...events, leave: left };
      edges = finder.find(masks, events, way, movement === 'approaching');
    }
    const [long, small] = way === 90 || way === 270 ? [context.height, size.height] : [context.width, size.width];
    const trimmed = trimmedToMiddle(masks, edges, events, way, long / small);
    if (trimmed) {
      masks = trimmed;
      events = eventsOf(masks.map(shareOf), FULL);
    }
    events = exactFull(events, edges, way, long);
    const sure = sureShare(swept, masks.map(shareOf));
    // What a camera walks up to is small at first, and no leftover.
    if (movement === 'approaching') events = { ...events, enter: inFrom(masks.map(shareOf), events) };
    else masks = clearedOutside(masks, events);
    const alike =
      events.peak === null || events.firstFull !== null
        ? null
        : this.alikeIn(events.peak, masks[events.peak], swept[events.peak], sweepOf(events.peak), size);
    const measure = coverFigures({
      context,
      size,
      movement,
      masks,
      turned: turnsOf(swept),
      events,
      direction,
      edges,
      changes,
      sure,
      open,
      knownTo,
      alike,
    });
    return { measure, shape: shapeOf(size, masks, way, edges) };
  }

  private finishByHand(context: CoverContext, hand: HandCover): CoverResult {
    const size = this.size ?? smallSize(16, 16);
    const { forward } = this;
    const frames = forward.length,
      { way } = hand,
      across = way === 0 || way === 180;
    const source = across ? context.width : context.height,
      small = across ? size.width : size.height;
    let masks = handMasks(hand, frames, size);
    let events = eventsOf(masks.map(shareOf), FULL);
    const set = { lead: handLines(hand, 'lead', frames), trail: handLines(hand, 'trail', frames) };
    const approaching = hand.kind === 'approaching';
    const coarse = {
      lead: set.lead ? linesIn(set.lead, small) : noEdge(frames).lines,
      trail: set.trail ? linesIn(set.trail, small) : noEdge(frames).lines,
    };
    const seen = new EdgeFinder(this.lines, size, context, forward, hand.kind === 'panning').closely(
      coarse,
      events,
      way,
      approaching,
    );
    const shifts: Partial<Record<HandEdgeName, number[]>> = {};
    const confirmed: number[] = [];
    const edgeOf = (name: 'lead' | 'trail'): FoundEdge => {
      const lines = set[name];
      if (!lines) return noEdge(frames);
      // What was not looked at comes back as it was given.
      const found = seen[name].lines.map((line, k) =>
        line.map((v, f) => (v === null || abs(v - lines[k][f] * source) < 0.01 ? null : v / source)),
      );
      const fit = refitted(
        lines,
        found,
        keysOfEdge(hand.keys, name).map((k) => k.frame),
      );
      shifts[name] = fit.shift;
      confirmed.push(fit.confirmed);
      return {
        ...seen[name],
        looked: true,
        lines: linesIn(fit.lines, source),
        softness: fit.confirmed > 0.2 ? seen[name].softness : null,
      };
    };
    const edges: EdgePaths = { lead: edgeOf('lead'), trail: edgeOf('trail'), coarse };
    masks = handMasks(hand, frames, size, shifts);
    events = exactFull(eventsOf(masks.map(shareOf), FULL), edges, way, source);
    const byHand = {
      keys: hand.keys.length,
      confirmed_share: confirmed.length ? confirmed.reduce((a, b) => a + b, 0) / confirmed.length : 0,
    };
    const measure = coverFigures({
      context,
      size,
      movement: movementOf(forward, size),
      kind: hand.kind,
      masks,
      turned: turnsOf(forward),
      events,
      direction: approaching ? null : way,
      edges,
      changes: changesPerPixel(masks),
      sure: sureShare(forward, masks.map(shareOf)),
      open: 'both',
      byHand,
    });
    return { measure, shape: shapeOf(size, masks, way, edges) };
  }

  /** Finds the object in every frame. */
  private find(size: SmallSize): Found {
    let { forward } = this;
    let movement = movementOf(forward, size),
      swept = forward,
      open: CoverMeasure['free_ends'] = 'both',
      knownTo = forward.length - 1,
      own = this.sweep,
      last = own;
    const again = (sweep: CoverSweep, fromEnd = false) => this.goThrough((last = sweep), fromEnd);
    if (movement === 'panning') {
      // Before the first full frame the way from the start tells all there is to tell.
      const full = firstFull(forward);
      const backward = this.goThrough(new CoverSweep(size), true, max(0, fullest(forward) - 1));
      open = panFreeEnds(forward, backward);
      if (open === 'start' && staysFull(backward, full)) {
        const whole = this.goThrough(new CoverSweep(size), true);
        if (edgeGoesWithStart(forward, whole, full, size)) open = 'end';
      }
      if (open === 'end') {
        // From the start the object itself was taken for what lies behind: it, and not the camera, may have moved.
        swept = again(new CoverSweep(size), true);
        movement = movementOf(swept, size);
      } else if (open === 'both') swept = joined(forward, backward, size);
      else {
        // Once all is covered nothing tells any more what lies behind; the object's own look may tell that it stays.
        if (full >= 0) {
          if (!staysFull(backward, full)) knownTo = full;
          swept = forward.map((own, f) => (f > full ? { ...own, covered: allOf(size), share: 1, sure: false } : own));
        }
      }
    }
    const stirs = movement === 'still' && this.sweep && stirringFromStart(this.stack, forward, size, this.sweep.noise);
    if (stirs) {
      swept = forward = again(new CoverSweep(size, null, stirs));
      own = last;
    }
    if (movement === 'still' && this.sweep && open === 'both') {
      const ends = freeEnds(forward, size, () => again(new CoverSweep(size), true));
      open = ends.free;
      if (ends.free === 'end') swept = ends.backward!;
      else {
        const restless = learnRestless(this.stack, forward, size, this.sweep.noise),
          gains = gainsWhileHidden(forward);
        if (restless || gains) swept = again(new CoverSweep(size, null, restless, gains ?? []));
        else last = own;
      }
    }
    let masks = withoutSlips(swept.map((f) => f.covered));
    const byLook = movement === 'approaching' ? walkedUpTo(this.stack, swept.length, size) : null;
    if (byLook) masks = withoutSlips(byLook);
    else if (movement === 'approaching') {
      // Known in the first frame, the object no longer counts as background there.
      const known = followBack(this.stack, masks, size);
      swept = again(new CoverSweep(size, known[0]));
      const back = followBack(
        this.stack,
        swept.map((f) => f.covered),
        size,
      );
      masks = steadied(
        back,
        back.map(() => 0),
        0,
        size.width,
        size.height,
      );
    }
    return {
      movement,
      swept,
      masks,
      open,
      knownTo,
      sweepOf: (f) => (swept[f] === forward[f] ? own : movement === 'panning' && open === 'both' ? null : last),
    };
  }

  /** How much of what seems open in a frame may be covered without its being seen; null where what lies behind is not at hand. */
  private alikeIn(
    frame: number,
    mask: Uint8Array,
    { pose, gain }: SweptFrame,
    sweep: CoverSweep | null,
    size: SmallSize,
  ): number | null {
    return sweep && alikeShare(this.stack.read(frame), mask, sweep.behind(pose), gain, sweep.noise, size);
  }

  /**
   * Goes through all pictures once more, from the start or from the end, down to a frame: those before it are as the
   * first way saw them.
   */
  private goThrough(sweep: CoverSweep, fromEnd = false, downTo = 0): SweptFrame[] {
    const out = [...this.forward];
    for (let k = 0; k < out.length - downTo; k++) {
      const f = fromEnd ? out.length - 1 - k : k;
      out[f] = sweep.frame(this.stack.read(f));
    }
    return out;
  }

  /** The way the object travels; null where nothing covers, and for an approach. */
  private wayOf(
    masks: Uint8Array[],
    { peak, enter, leave }: CoverEvents,
    movement: Movement,
    { width, height }: SmallSize,
  ): number | null {
    if (movement === 'approaching' || peak === null || shareOf(masks[peak]) < LEAST_COVER) return null;
    const lead = travelWay(masks, max(0, (enter ?? 0) - 1), peak, width, height);
    return lead ?? travelWay(masks, peak, leave ?? masks.length - 1, width, height, true);
  }
}

const allOf = ({ width, height }: SmallSize) => new Uint8Array(width * height).fill(1);

/** A pan gone through from both ends: before the cover the first pictures tell what is behind, after it the last ones do. */
function joined(forward: readonly SweptFrame[], backward: readonly SweptFrame[], size: SmallSize): SweptFrame[] {
  const frames = forward.length;
  const first = firstFull(forward);
  let last = frames - 1;
  while (last >= 0 && backward[last].share <= NEARLY) last--;
  if (first >= 0 && last >= first) {
    const all = allOf(size);
    return forward.map((own, f) =>
      f < first
        ? own
        : f > last
          ? backward[f]
          : {
              ...own,
              covered:
                own.share > FULL || (f > first && f < last) ? all : f === first ? own.covered : backward[f].covered,
              share: 1,
            },
    );
  }
  let split = 0,
    least = Infinity;
  for (let f = 0; f < frames; f++) {
    const cost = abs(forward[f].share - backward[f].share) - 0.5 * min(forward[f].share, backward[f].share);
    if (cost < least) {
      least = cost;
      split = f;
    }
  }
  return forward.map((own, f) => (f < split ? own : backward[f]));
}

function shapeOf(size: SmallSize, masks: Uint8Array[], way: Way, edges: EdgePaths): CoverShape {
  return { width: size.width, height: size.height, masks, way, lead: edges.lead.lines, trail: edges.trail.lines };
}
