import type { SmallSize } from '../../base/image/picture';
import { findRegions } from '../../base/image/regions';
import { median } from '../../base/numeric/quantile';
import { edgesOf, nearestWay, travelDirection } from './edges';
import { grown, setAll, shareOf } from '../../base/image/mask';
import type { SweptFrame } from './sweep';

const { abs, max } = Math;

/**
 * What stays covered at the end counts when it is one thing of this share of the picture and keeps its place; an edge
 * that closed covers more.
 */
const LEAST = 0.03;
const CLOSED = 0.6;
const KEEPS = 0.7;
const LOOK = 5;
/** Something that stands in front and moves shows itself within so many frames, by so much of where it stands. */
const SOON = 3;
const SHOWS = 0.06;
/** To say that neither end is free takes more, and something larger than passers-by. */
const SHOWS_PLAINLY = 0.15;
const LARGE = 0.12;

/**
 * Nothing should stand in front in the first frame. When something does, what it hid counts as covered for ever after
 * it has left, which looks as if the object had come to rest there; gone through from the end it is the other way
 * round. What moves shows itself in the frames next to the end at which it is in.
 * @param backward goes through the take from its end
 */
export function freeEnds(
  forward: readonly SweptFrame[],
  { width, height }: SmallSize,
  backward: () => SweptFrame[],
): { free: 'both' | 'start' | 'end' | 'neither'; backward: SweptFrame[] | null } {
  const frames = forward.length;
  if (frames < 4 * SOON + LOOK) return { free: 'both', backward: null };
  const rest = keepsPlace(forward.slice(-LOOK), width, height);
  if (rest === null) return { free: 'both', backward: null };
  const closed = shareOf(rest) > CLOSED;
  const back = backward();
  const about = grown(rest, width, height, 4);
  const shows = ({ covered }: SweptFrame, by = SHOWS) => {
    let n = 0,
      all = 0;
    for (let i = 0; i < about.length; i++)
      if (about[i]) {
        all++;
        n += covered[i];
      }
    return n > by * max(1, all);
  };
  const early = forward[SOON],
    late = back[frames - 1 - SOON];
  if (shareOf(rest) > LARGE && shows(early, SHOWS_PLAINLY) && shows(late, SHOWS_PLAINLY))
    return { free: 'neither', backward: back };
  // What an edge closed for good is covered to the end: the take begins with it free.
  return shows(early) && !shows(late) && !closed ? { free: 'end', backward: back } : { free: 'start', backward: back };
}

/** The large things covered in all of some frames, when they are most of what any of them has covered; null when there are none. */
function keepsPlace(frames: readonly SweptFrame[], width: number, height: number): Uint8Array | null {
  const all = frames[0].covered.slice();
  let most = 0;
  for (const { covered, share } of frames) {
    most = max(most, share);
    for (let i = 0; i < all.length; i++) all[i] &= covered[i];
  }
  const out = new Uint8Array(all.length);
  for (const region of findRegions(all, width, height, LEAST * all.length)) setAll(out, region.pixels);
  const share = shareOf(out);
  return share > 0 && share >= KEEPS * most ? out : null;
}

/**
 * Both ways through a pan agree about the fullest frames when both ends are free: neither then sees less than this
 * share of what the other does.
 */
const AGREES = 0.5;
const FULLEST = 0.9;
const MOSTLY = 0.5;
/** Frames that differ from the take's other end by less than this show nothing but what is there. */
const SAME = 0.02;
const LOST = 5;
const STEP = 0.25;

/** So much covered is taken for all of it while a pan is gone through. */
export const NEARLY = 0.985;

/** The first frame that is seen filled; -1 when none is. */
export function firstFull(swept: readonly SweptFrame[]): number {
  return swept.findIndex((f) => f.share > NEARLY);
}

/** The first of the frames in which most is covered. */
export function fullest(swept: readonly SweptFrame[]): number {
  const most = swept.reduce((m, f) => max(m, f.share), 0);
  return swept.findIndex((f) => f.share >= FULLEST * most);
}

/**
 * The ends of a pan at which nothing stands in front. Something that does is background to whoever starts there, moves
 * by itself beside what is behind, and leaves the two ways through the take at odds about the fullest frames.
 */
export function panFreeEnds(
  forward: readonly SweptFrame[],
  backward: readonly SweptFrame[],
): 'both' | 'start' | 'end' | 'neither' {
  const frames = forward.length;
  if (frames < 4 * SOON) return 'both';
  const mostB = backward.reduce((m, f) => max(m, f.share), 0);
  const fullF = fullest(forward);
  let fullB = frames - 1;
  while (fullB > 0 && backward[fullB].share < FULLEST * mostB) fullB--;
  // What one way takes for background at its own start, the other saw come in.
  const seenIn = (near: readonly SweptFrame[]) => near.some((f) => f.sure && f.share > MOSTLY);
  const full = firstFull(forward);
  if (staysFull(backward, full) && grewInto(forward, full)) return 'start';
  if (backward[frames - 1 - SOON].share > LARGE && seenIn(forward.slice(-2 * SOON))) return 'start';
  if (forward[SOON].share > LARGE && seenIn(backward.slice(0, 2 * SOON))) return 'end';
  const odds =
    backward[fullF].share < AGREES * forward[fullF].share || forward[fullB].share < AGREES * backward[fullB].share;
  if (!odds) return 'both';
  const atStart = forward[SOON].share > LEAST,
    atEnd = backward[frames - 1 - SOON].share > LEAST;
  if (atStart && atEnd) return 'neither';
  if (atStart) return 'end';
  return atEnd ? 'start' : 'both';
}

/** Whether the covered share grew step by step until the picture was full; where the background is lost it jumps. */
function grewInto(swept: readonly SweptFrame[], full: number): boolean {
  const before = swept.slice(max(0, full - 2 * SOON), full + 1).map((f) => f.share);
  return (
    before.length > SOON &&
    before[0] < 1 - SAME &&
    before.every((s, k) => k === 0 || (s - before[k - 1] < STEP && s - before[k - 1] > -SAME))
  );
}

/**
 * Whether an object that fills the picture in a frame still does at the take's end: from the end nothing else is seen to come in.
 * @param full the first frame that the way from the start saw filled; -1 when there is none
 * @param backward goes through the take from its end
 */
export function staysFull(backward: readonly SweptFrame[], full: number): boolean {
  let from = backward.length;
  while (from > 0 && backward[from - 1].share < SAME) from--;
  // An object that stops or turns may be lost from sight for a few frames.
  return full >= 0 && from <= full + LOST && from + SOON < backward.length;
}

/** Speeds along the way that differ by less than this, small pixels a frame, are one. */
const SAME_SPEED = 0.4;

/**
 * Two things take each other's place in the picture: does the edge between them go with what the take begins with?
 * What is in front carries its edge with it. False where nothing tells.
 * @param forward goes through the take from its start, @param backward from its end; both through all of it
 */
export function edgeGoesWithStart(
  forward: readonly SweptFrame[],
  backward: readonly SweptFrame[],
  full: number,
  { width, height }: SmallSize,
): boolean {
  const direction = travelDirection(
    forward.map((f) => f.covered),
    0,
    full,
    width,
    height,
  );
  if (direction === null) return false;
  const way = nearestWay(direction),
    upright = way === 90 || way === 270;
  const edge: number[] = [],
    start: number[] = [],
    end: number[] = [];
  for (let f = 1; f < full; f++) {
    const [a, b] = [
      edgesOf(forward[f - 1].covered, width, height, way).lead,
      edgesOf(forward[f].covered, width, height, way).lead,
    ];
    if (a === null || b === null) continue;
    edge.push(b - a);
    for (const [swept, speeds] of [
      [forward, start],
      [backward, end],
    ] as const) {
      const [p, q] = [swept[f - 1], swept[f]];
      if (p.sure && q.sure) speeds.push(upright ? q.pose.dy - p.pose.dy : q.pose.dx - p.pose.dx);
    }
  }
  if (edge.length < SOON || start.length < SOON || end.length < SOON) return false;
  const middle = (values: number[]) => median(values);
  const [own, other] = [abs(middle(edge) - middle(start)), abs(middle(edge) - middle(end))];
  return own + SAME_SPEED < other;
}
