import { median } from '../../base/numeric/quantile';
import { kindsIn, type KindFrames } from '../../presence/kinds';
import { BODY, NONE } from '../../presence/shade';
import type { Box, Run, Side } from '../../report/types';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, max, min } = Math;

/** How somebody is gone: by an edge of the picture, or behind something. Pixels of the grid. */
export interface Vanishing {
  leavesBy: Side | null;
  /** The side of what hides them on which they were before. */
  from: Side;
  /** What hides them, as far as that is seen from them: no more of it than they need. */
  behind: Box;
}

/** Who is where, with how many pixels are theirs in each frame. */
export type ShownFrames = KindFrames & { shown: readonly (number | null)[] };

interface Extent {
  left: number;
  top: number;
  right: number;
  bottom: number;
  /** The middle of all of it. */
  x: number;
  y: number;
}

/** How they go is seen from so many frames before. */
const LOOK_BACK = 40;
/** Nearer to the picture's edge than this, pixels, they leave by it. */
const AT_EDGE = 3;
/** Fewer pixels than these are somebody's rim, left over. */
const SPECK = 12;
/** Nobody reaches this share of the picture's width farther from one frame to the next. */
const LEAP = 0.1;

/** Who still shows by more than this share the frame before does not go behind anything: they were lost sight of. */
const AT_ONCE = 0.6;

/**
 * How somebody vanishes before a run in which nothing of them shows; null when they are gone all at once.
 */
export function vanishing(input: ShownFrames, run: Run): Vanishing | null {
  const { width, height, shown } = input;
  const seen = (only: boolean) => {
    const out: Extent[] = [];
    for (let f = run.start - 1; f >= max(0, run.start - LOOK_BACK) && shown[f] !== 0; f--) {
      const e = shown[f] ? extentIn(input, f, only) : null;
      if (e) out.push(e);
    }
    return withoutLeaps(out.reverse(), LEAP * width).reverse();
  };
  const bodies = seen(true);
  const before = bodies.length ? bodies : seen(false);
  const most = max(0, ...shown.slice(max(0, run.start - LOOK_BACK), run.start).map((n) => n ?? 0));
  if (before.length === 0) return null;
  const [last] = before;
  const area = (e: Extent) => (e.right - e.left + 1) * (e.bottom - e.top + 1);
  const whole = before.reduce((a, b) => (area(b) > area(a) ? b : a));
  const w = whole.right - whole.left + 1,
    h = whole.bottom - whole.top + 1;
  // Of the last to be seen it may be a foot: which way they go is told by how the middle of them moves all along.
  const paces = before.slice(1).map((e, k) => [before[k].x - e.x, before[k].y - e.y]);
  const [right, down] = [0, 1].map((axis) => (paces.length ? median(paces.map((p) => p[axis])) : 0));
  const across = abs(right) >= abs(down);
  const from: Side = across ? (right >= 0 ? 'left' : 'right') : down >= 0 ? 'top' : 'bottom';
  const leavesBy: Side | null =
    from === 'left' && last.right >= width - AT_EDGE
      ? 'right'
      : from === 'right' && last.left < AT_EDGE
        ? 'left'
        : from === 'top' && last.bottom >= height - AT_EDGE
          ? 'bottom'
          : from === 'bottom' && last.top < AT_EDGE
            ? 'top'
            : null;
  if (!leavesBy && (shown[run.start - 1] ?? 0) > AT_ONCE * most) return null;
  // Where they come out again tells how far it reaches; else it hides all of them.
  const next = shown[run.end + 1] ? extentIn(input, run.end + 1, bodies.length > 0) : null;
  const span = {
    left: min(...before.map((e) => e.left)),
    right: max(...before.map((e) => e.right)),
    top: min(...before.map((e) => e.top)),
    bottom: max(...before.map((e) => e.bottom)),
  };
  const side = (near: number, far: number | null, size: number, most: number): [number, number] =>
    far !== null && far > near ? [near, far] : [near, min(most, near + size)];
  let box: Pick<Extent, 'left' | 'right' | 'top' | 'bottom'>;
  if (from === 'left') {
    const [a, b] = side(last.right + 1, next && next.left, w, width);
    box = { left: a, right: b, top: span.top, bottom: span.bottom + 1 };
  } else if (from === 'right') {
    const [a, b] = side(width - last.left, next && width - next.right - 1, w, width);
    box = { left: width - b, right: width - a, top: span.top, bottom: span.bottom + 1 };
  } else if (from === 'top') {
    const [a, b] = side(last.bottom + 1, next && next.top, h, height);
    box = { left: span.left, right: span.right + 1, top: a, bottom: b };
  } else {
    const [a, b] = side(height - last.top, next && height - next.bottom - 1, h, height);
    box = { left: span.left, right: span.right + 1, top: height - b, bottom: height - a };
  }
  const behind = { x: box.left, y: box.top, width: box.right - box.left, height: box.bottom - box.top };
  return { leavesBy, from, behind };
}

/** What is taken up in a frame, by bodies alone or by shadows too. Null for nothing, or next to nothing. */
function extentIn(input: KindFrames, frame: number, bodies: boolean): Extent | null {
  const { width, height } = input;
  const kinds = new Uint8Array(width * height);
  if (!kindsIn(input, frame, kinds)) return null;
  const e = { left: width, top: height, right: -1, bottom: -1, x: 0, y: 0 };
  let n = 0;
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      if (bodies ? kinds[i] !== BODY : kinds[i] === NONE) continue;
      e.left = min(e.left, x);
      e.right = max(e.right, x);
      e.top = min(e.top, y);
      e.bottom = max(e.bottom, y);
      e.x += x;
      e.y += y;
      n++;
    }
  return n >= SPECK ? { ...e, x: e.x / n, y: e.y / n } : null;
}

/** Extents in the order of time without those that reach much farther than the last before them: something else was taken for somebody. */
function withoutLeaps(extents: readonly Extent[], most: number): Extent[] {
  const out: Extent[] = [];
  for (const e of extents) {
    const last = out.at(-1);
    const farther = last ? max(last.left - e.left, e.right - last.right, last.top - e.top, e.bottom - last.bottom) : 0;
    if (farther <= most) out.push(e);
  }
  return out;
}
