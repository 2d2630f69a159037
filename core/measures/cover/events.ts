import { findRegions } from '../../base/image/regions';
import type { CoverMeasure } from '../../report/wipe-types';
import { changesBetween, inverse, setAll, shareOf } from '../../base/image/mask';

/** A share below this is nothing. */
const NOTHING = 0.003;

export interface CoverEvents {
  enter: number | null;
  firstFull: number | null;
  lastFull: number | null;
  leave: number | null;
  peak: number | null;
}

/** When an object comes in, covers all, and leaves, from the covered share of each frame: the stretch about the fullest frame. */
export function eventsOf(share: readonly number[], full: number): CoverEvents {
  let most = 0;
  for (const s of share) most = Math.max(most, s);
  if (most < NOTHING) return { enter: null, firstFull: null, lastFull: null, leave: null, peak: null };
  const near = most >= full ? full : most - 0.002;
  // Of several covers the longest counts.
  let best: [number, number] = [0, -1];
  for (let f = 0; f < share.length; f++) {
    if (share[f] < near) continue;
    let end = f;
    while (end + 1 < share.length && share[end + 1] >= near) end++;
    if (end - f > best[1] - best[0]) best = [f, end];
    f = end;
  }
  const [from, to] = best;
  const peak = most >= full ? (from + to) >> 1 : share.indexOf(most);
  let enter = from,
    leave = to;
  const before = Math.max(NOTHING, restOf(share.slice(0, from))),
    after = Math.max(NOTHING, restOf(share.slice(to + 1).reverse()));
  while (enter > 0 && share[enter - 1] > before) enter--;
  while (leave + 1 < share.length && share[leave + 1] > after) leave++;
  return {
    enter,
    firstFull: most >= full ? from : null,
    lastFull: most >= full ? to : null,
    leave: leave === share.length - 1 ? null : leave,
    peak,
  };
}

/** The first frame from which on something is covered until the fullest one, however little; null when nothing ever is. */
export function inFrom(share: readonly number[], { peak }: CoverEvents): number | null {
  if (peak === null) return null;
  let f = peak;
  while (f > 0 && share[f - 1] > 0) f--;
  return f;
}

/** What stays covered while the object is not in: passers-by, leaves. It is little, and neither grows nor shrinks. */
const REST = 0.06;
const REST_FRAMES = 5;
const REST_MARGIN = 1.1;

/** The covered share that remains at a take's outer end, from its shares inwards; 0 when none does. */
function restOf(inwards: readonly number[]): number {
  let n = 0;
  while (n < inwards.length && inwards[n] < REST) n++;
  // The innermost frames may hold the object already.
  const rest = inwards.slice(0, Math.max(0, n - 2));
  if (rest.length < REST_FRAMES) return 0;
  const mean = (values: readonly number[]) => values.reduce((a, b) => a + b, 0) / values.length;
  const half = rest.length >> 1;
  const [outer, inner, all] = [mean(rest.slice(0, half)), mean(rest.slice(half)), mean(rest)];
  return Math.abs(outer - inner) < 0.6 * all ? REST_MARGIN * Math.max(...rest) : 0;
}

/** A trailing edge that has come this far goes on as it went, whatever else is covered; and what else may be, and how steadily. */
const ACROSS = 0.75;
const LEFTOVER = 0.25;
const LEFTOVER_VARIES = 1;
/** Frames over which it is seen how it goes, and in which it may be lost sight of. */
const STRIDE = 5;
const LOST = 4;

/**
 * The last frame of an object although something remains covered for good (passers-by, coding): its trailing edge went
 * across the picture, and what is left afterwards is little and neither grows nor shrinks. Null when that is not so,
 * or the leaving is known anyhow.
 * @param trail trailing edge at mid-breadth in each frame
 * @param long length of the picture along the way, in the trail's pixels
 */
export function leaveByTrail(
  trail: readonly (number | null)[],
  share: readonly number[],
  events: CoverEvents,
  long: number,
  forwards: boolean,
): number | null {
  if (events.leave !== null || events.peak === null) return null;
  const seen: { frame: number; done: number }[] = [];
  for (let f = events.lastFull ?? events.peak, lost = 0; f < trail.length && lost <= LOST; f++) {
    const t = trail[f],
      done = t === null ? null : (forwards ? t : long - t) / long;
    const before = seen[seen.length - 1];
    if (done !== null && (!before || (done > before.done - 0.03 && done < before.done + 0.3))) {
      seen.push({ frame: f, done });
      lost = 0;
    } else if (before) lost++;
  }
  const last = seen[seen.length - 1],
    earlier = seen[seen.length - 1 - STRIDE];
  if (!last || !earlier || last.done < ACROSS) return null;
  const pace = (last.done - earlier.done) / (last.frame - earlier.frame);
  const leave = pace > 0 ? last.frame + Math.max(0, Math.ceil((1 - last.done) / pace) - 1) : Infinity;
  if (leave + 3 >= share.length) return null;
  const rest = share.slice(leave + 2),
    mean = rest.reduce((a, b) => a + b, 0) / rest.length;
  const most = Math.max(...rest),
    least = Math.min(...rest);
  return most < LEFTOVER && most - least < Math.max(0.03, LEFTOVER_VARIES * mean) ? leave : null;
}

/** Masks with nothing in the frames before an object comes in and after it has left. */
export function clearedOutside(masks: readonly Uint8Array[], { enter, leave, peak }: CoverEvents): Uint8Array[] {
  return masks.map((mask, f) =>
    peak !== null && ((enter !== null && f < enter) || (leave !== null && f > leave))
      ? new Uint8Array(mask.length)
      : mask,
  );
}

/** A way that goes aslant by more than this share of it comes from two sides. */
const ASLANT = 0.3;

/**
 * Masks of an object that fills the picture, without what is no part of it: until then it reaches in from the side it
 * comes from, and afterwards to the side it goes to.
 * @param direction the way it travels, degrees
 */
export function attachedOnly(
  masks: readonly Uint8Array[],
  { firstFull, lastFull }: CoverEvents,
  direction: number,
  width: number,
  height: number,
): Uint8Array[] {
  if (firstFull === null || lastFull === null) return [...masks];
  const across = Math.cos((direction * Math.PI) / 180),
    down = Math.sin((direction * Math.PI) / 180);
  return masks.map((mask, f) => {
    if ((f >= firstFull && f <= lastFull) || !mask.includes(1)) return mask;
    const [x, y] = f < firstFull ? [-across, -down] : [across, down];
    const out = new Uint8Array(mask.length);
    for (const { pixels, left, top, right, bottom } of findRegions(mask, width, height)) {
      const touches =
        (x > ASLANT && right === width - 1) ||
        (x < -ASLANT && left === 0) ||
        (y > ASLANT && bottom === height - 1) ||
        (y < -ASLANT && top === 0);
      if (touches) setAll(out, pixels);
    }
    return out;
  });
}

/** Whether each side of the picture is covered from end to end, but for a hundredth. */
export function reachesOf(mask: Uint8Array, width: number, height: number): CoverMeasure['reaches'] {
  const side = (count: number, at: (k: number) => number) => {
    let n = 0;
    for (let k = 0; k < count; k++) n += mask[at(k)];
    return n >= 0.99 * count;
  };
  return {
    top: side(width, (x) => x),
    bottom: side(width, (x) => (height - 1) * width + x),
    left: side(height, (y) => y * width),
    right: side(height, (y) => y * width + width - 1),
  };
}

/** Parts of the picture that stay open while the object is fullest, with where they lie. */
export function whereOpen(
  masks: readonly Uint8Array[],
  share: readonly number[],
  peak: number,
  width: number,
  height: number,
): CoverMeasure['missed'] {
  const nearly = share[peak] - 0.03;
  let start = peak,
    end = peak;
  while (start > 0 && share[start - 1] >= nearly) start--;
  while (end + 1 < share.length && share[end + 1] >= nearly) end++;
  return findRegions(inverse(masks[peak]), width, height, 0.001 * width * height)
    .sort((a, b) => b.pixels.length - a.pixels.length)
    .slice(0, 4)
    .map((r) => ({
      where: placeInWords((r.left + r.right + 1) / 2 / width, (r.top + r.bottom + 1) / 2 / height),
      share: r.pixels.length / (width * height),
      frames: { start, end },
    }));
}

/** How often, over the take, a pixel that is ever covered changes between free and covered. */
export function changesPerPixel(masks: readonly Uint8Array[]): number {
  if (masks.length === 0) return 0;
  const ever = masks[0].slice();
  let changes = 0;
  for (let f = 1; f < masks.length; f++) changes += changesBetween(masks[f - 1], masks[f], ever);
  const pixels = shareOf(ever) * ever.length;
  return pixels ? changes / pixels : 0;
}

function placeInWords(x: number, y: number): string {
  const across = x < 0.36 ? 'left' : x > 0.64 ? 'right' : '',
    down = y < 0.36 ? 'upper' : y > 0.64 ? 'lower' : '';
  if (across && down) return `at the ${down} ${across}`;
  if (across) return `at the ${across}`;
  if (down) return down === 'upper' ? 'at the top' : 'at the bottom';
  return 'in the middle';
}
