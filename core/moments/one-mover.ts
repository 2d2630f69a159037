import { sharedOf } from '../geometry/boxes';
import { median } from '../numeric/quantile';
import type { Box } from '../report/types';
import type { Pace } from './pace';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { max } = Math;

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

const moved = (b: Box, dx: number, dy: number): Box => ({ ...b, x: b.x + dx, y: b.y + dy });

/** The middle one of each side. */
function usualBox(boxes: readonly Box[]): Box {
  const [left, top] = [median(boxes.map((b) => b.x)), median(boxes.map((b) => b.y))];
  const right = median(boxes.map((b) => b.x + b.width)),
    bottom = median(boxes.map((b) => b.y + b.height));
  return { x: left, y: top, width: max(1, right - left), height: max(1, bottom - top) };
}
