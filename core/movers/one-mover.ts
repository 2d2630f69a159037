import { sharedOf } from '../base/geometry/boxes';
import { median } from '../base/numeric/quantile';
import type { Box } from '../report/types';
import type { Pace } from './pace';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, hypot, max } = Math;

/** So many frames before and after say where who moves is; so many of them at least must tell it. */
const NEAR = 4;
const LEAST = 3;
/** Boxes of one who moves share so much of what both cover. */
const ONE = 0.12;

/** Where what moves is: without the rest that changes, where that is told. */
export const whereOf = (p: Pace | null | undefined): Box | null => p?.moved?.box ?? p?.box ?? null;

/** Steps of something that is not where what moves is in the frames around: another's, or a picture's that was read wrongly. */
export function straysIn(paces: readonly (Pace | null)[]): ReadonlySet<Pace> {
  const out = new Set<Pace>();
  paces.forEach((p, k) => {
    if (!p?.moved) return;
    const around = paces
      .slice(max(0, k - NEAR), k + NEAR + 1)
      .flatMap((q, j) => (q?.moved && q !== p ? [{ q, by: max(0, k - NEAR) + j - k }] : []));
    if (around.length < LEAST) return;
    // It goes on as it usually does.
    const [dx, dy] = [median(around.map(({ q }) => q.dx)), median(around.map(({ q }) => q.dy))];
    const usual = usualBox(around.map(({ q, by }) => moved(q.moved!.box, -by * dx, -by * dy)));
    if (sharedOf(usual, p.moved.box) < ONE) out.add(p);
  });
  return out;
}

/** Whether who moves just before a frame and just after it is one and the same, as far as their places tell. */
export function sameMover(paces: readonly (Pace | null)[], f: number): boolean {
  const boxes = (from: number, to: number) =>
    paces.slice(max(0, from), to).flatMap((p) => (p?.moved ? [p.moved.box] : []));
  const [before, after] = [boxes(f - NEAR, f), boxes(f, f + NEAR)];
  if (before.length === 0 || after.length === 0) return true;
  return sharedOf(usualBox(before), usualBox(after)) > ONE;
}

/** A front that comes on by more than so many steps from one frame to the next is none. */
const LEAPS = 2.5;

/**
 * The frame at which the front of what moves one way stood still: no more than `soon` frames before `f`, and `f` itself
 * where its front went on until then.
 */
export function frontStops(
  paces: readonly (Pace | null)[],
  f: number,
  [dx, dy]: readonly [number, number],
  soon: number,
): number {
  const length = hypot(dx, dy);
  const front = (p: Pace | null | undefined) => {
    if (!p?.box) return null;
    const { x, y, width, height } = p.box;
    return abs(dx) > abs(dy) ? (dx > 0 ? x + width : -x) : dy > 0 ? y + height : -y;
  };
  // A step's changes reach from where it began to where it ended: to the front in the frame after it.
  for (let k = max(0, f - soon - 1); k < f - 1; k++) {
    const [was, is] = [front(paces[k]), front(paces[k + 1])];
    if (was === null || is === null || length < 1) continue;
    const later = paces.slice(k + 1, f).map(front);
    const before = front(paces[k - 1]);
    // A front comes on by a step a frame; what leaps farther is something else that changed.
    const step = max(length, hypot(paces[k]!.dx, paces[k]!.dy));
    const comes = before !== null && was > before && was - before < LEAPS * step;
    if (comes && later.every((l) => l === null || l < was - length)) return k + 1;
  }
  return f;
}

const moved = (b: Box, dx: number, dy: number): Box => ({ ...b, x: b.x + dx, y: b.y + dy });

/** The middle one of each side. */
function usualBox(boxes: readonly Box[]): Box {
  const [left, top] = [median(boxes.map((b) => b.x)), median(boxes.map((b) => b.y))];
  const right = median(boxes.map((b) => b.x + b.width)),
    bottom = median(boxes.map((b) => b.y + b.height));
  return { x: left, y: top, width: max(1, right - left), height: max(1, bottom - top) };
}
