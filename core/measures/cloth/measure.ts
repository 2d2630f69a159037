import { boxMean, findRegions } from '../../base/image/regions';
import { median, quantile } from '../../base/numeric/quantile';
import { runsOf } from '../../presence/measure';
import type { ClothFound, Leftover } from '../../report/moment-types';
import type { Box, Run, Side } from '../../report/types';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { atan2, ceil, max, min, PI, round } = Math;

/** Cloth and performer in one frame, pixels of the grid. */
export interface ClothFrame {
  cloth: number;
  performer: number;
  /** The cloth's box, and the row of its upper edge at both of its sides; null without one. */
  box: Box | null;
  tilt: number | null;
  /** The performer's box, and whether a part of them reaches the picture's edge. */
  shows: Box | null;
  leaves: boolean;
  /** The height of the performer's hands: of what is outermost at both sides. */
  hands: number | null;
}

export interface ClothInput {
  /** Null where nothing is known. */
  frames: readonly (ClothFrame | null)[];
  width: number;
  height: number;
  factor: number;
  fps: number;
  /** Whether there is a cloth at all. */
  cloth: boolean;
}

/** The cloth is up while it shows by this share of the most of it. */
const UP = 0.5;
/** A head is this share of somebody's height; a cloth as low as half of that still hides it. */
const HEAD = 0.06;
/** The performer shows when more than this share of the most of them does, and more than so many pixels. */
const SHOWS = 0.03;
const LEAST = 20;
/** A cloth falls by this share of the picture's height a second at least; it rests when it does by less than a quarter. */
const FALLS = 0.35;
const RESTS = 0.25;
/** So many frames are named in which something is left over. */
const MOST = 200;
/** What comes so near to the picture's edge, pixels of the grid, reaches it. */
const AT_EDGE = 1;

export type ClothSums = Omit<ClothFound, 'fade_in_frames' | 'told_apart' | 'unjudged'>;

/** What a cloth hides, when, how it falls, and what shows beside it after the plate has taken over. */
export function measureCloth({ frames, width, height, factor, fps, cloth }: ClothInput): ClothSums {
  const pixels = width * height;
  const most = max(0, ...frames.map((f) => f?.cloth ?? 0)),
    body = usualBody(frames);
  const seen = frames.map((f) => !!f && f.performer > max(LEAST, SHOWS * body));
  // What shows for a single frame is a fold that was misread.
  const shows = seen.map((s, k) => s && (!!seen[k - 1] || !!seen[k + 1]));
  const high = frames.map((f) => cloth && !!f && f.cloth > UP * most);
  const head = headOf(frames, shows, high.indexOf(true));
  const up = frames.map((f, k) => high[k] && (head === null || f!.box!.y <= head));
  const firstSeen = shows.includes(true) ? shows.indexOf(true) : Infinity,
    lastSeen = shows.lastIndexOf(true);
  const everSeen = lastSeen >= 0;
  const clear = everSeen && lastSeen + 1 < frames.length ? lastSeen + 1 : null;
  const walkedOut = everSeen && !!frames[lastSeen]?.leaves;
  const hides = runsOf(frames.map((f, k) => up[k] && !!f && !shows[k] && k > firstSeen)).flatMap((r): Run[] => {
    // Once they have walked out of the picture the cloth hides nobody.
    if (!walkedOut || clear === null || r.end < clear) return [r];
    return r.start < clear ? [{ start: r.start, end: clear - 1 }] : [];
  });
  const upper = frames.map((f) =>
      cloth ? (f?.box ? f.box.y * factor : null) : (f?.hands ?? null) && f!.hands! * factor,
    ),
    lower = frames.map((f) => (f?.box ? (f.box.y + f.box.height) * factor : null));
  const drop = cloth ? fallOf(frames, up, height, fps) : null;
  const longest = [...hides].sort((a, b) => b.end - b.start - (a.end - a.start))[0];
  const at = longest ? round((longest.start + longest.end) / 2) : null;
  const leftovers = at === null ? [] : leftOver(frames, shows, at, pixels, factor);
  return {
    kind: !cloth ? 'mime' : drop?.way === 'up' ? 'pull' : 'drop',
    hides_runs: hides,
    switch_frame: at,
    performer_clear_frame: clear,
    lands_frame: drop?.lands ?? null,
    edge_runs: edgeRuns(frames, width, height),
    fall: drop && { tilt_deg: drop.tilt, drift_px: drop.drift * factor, speed_px_per_frame: drop.speed * factor },
    on_feet: drop ? onFeet(frames, drop.lands, hides[0]?.start ?? null) : null,
    leftovers,
    known_share: frames.filter((f) => f !== null).length / max(1, frames.length),
    path: {
      lower_edge_px: lower,
      upper_edge_px: upper,
      cloth_share: frames.map((f) => f && f.cloth / pixels),
      performer_share: frames.map((f) => f && f.performer / pixels),
    },
  };
}

/** How low a cloth's upper edge may be that hides them: a little below the top of their head, before it comes up. */
function headOf(frames: readonly (ClothFrame | null)[], shows: readonly boolean[], up: number): number | null {
  const before = frames.slice(0, Math.max(0, up)).flatMap((f, k) => (shows[k] && f?.shows ? [f.shows] : []));
  if (before.length === 0) return null;
  const tallest = before.reduce((a, b) => (b.height > a.height ? b : a));
  return tallest.y + HEAD * tallest.height;
}

/** How large the performer usually is where most of them is seen. */
function usualBody(frames: readonly (ClothFrame | null)[]): number {
  const sizes = frames.flatMap((f) => (f && f.performer > LEAST ? [f.performer] : []));
  return sizes.length ? quantile(sizes, 0.8) : 0;
}

interface Fall {
  way: 'down' | 'up';
  starts: number;
  lands: number | null;
  tilt: number;
  drift: number;
  speed: number;
}

/** The cloth's last fast way down, or up; null when it does neither. */
function fallOf(
  frames: readonly (ClothFrame | null)[],
  up: readonly boolean[],
  height: number,
  fps: number,
): Fall | null {
  const last = up.lastIndexOf(true);
  if (last < 0) return null;
  const edge = (f: number, lower: boolean) => {
    const box = frames[f]?.box;
    return box ? (lower ? box.y + box.height : box.y) : null;
  };
  const step = (f: number, lower: boolean) => {
    const [a, b] = [edge(f, lower), edge(f + 1, lower)];
    return a === null || b === null ? 0 : b - a;
  };
  const fast = (FALLS * height) / fps;
  const speedOf = (f: number): [number, 'down' | 'up'] => {
    const down = step(f, false),
      rise = -step(f, true);
    return down >= rise ? [down, 'down'] : [rise, 'up'];
  };
  // The last fast run that begins while the cloth is up, or as it leaves off being up.
  let end = -1;
  for (let f = frames.length - 2; f >= 0; f--)
    if (speedOf(f)[0] > fast && up.slice(max(0, f - ceil(fps / 2)), f + 1).includes(true)) {
      end = f;
      break;
    }
  if (end < 0) return null;
  const [, way] = speedOf(end);
  const moved = (f: number) => (way === 'down' ? step(f, false) : -step(f, true));
  let starts = end;
  while (starts > 0 && moved(starts - 1) > RESTS * fast) starts--;
  let lands: number | null = end + 1;
  while (lands < frames.length - 1 && moved(lands) > RESTS * fast) lands++;
  if (edge(lands, way === 'up') === null) lands = null;
  const until = lands ?? end + 1;
  const speeds = Array.from({ length: until - starts }, (_, k) => moved(starts + k));
  const tilts = frames.slice(starts, until).flatMap((f) => (f && f.tilt !== null ? [f.tilt] : []));
  const middle = (f: number) => {
    const box = frames[f]?.box;
    return box ? box.x + box.width / 2 : null;
  };
  const [from, to] = [middle(starts), middle(until) ?? middle(until - 1)];
  return {
    way,
    starts,
    lands,
    tilt: tilts.length ? median(tilts) : 0,
    drift: from !== null && to !== null ? to - from : 0,
    speed: meanOf(speeds.filter((s) => s >= median(speeds) / 2)),
  };
}

// Its first and its last step are no whole ones.
const meanOf = (values: readonly number[]) => values.reduce((a, b) => a + b, 0) / max(1, values.length);

/** Whether the cloth comes to lie where their feet were when they were last seen whole. */
function onFeet(frames: readonly (ClothFrame | null)[], lands: number | null, hidden: number | null): boolean | null {
  const lying = lands === null ? null : frames[lands]?.box;
  if (!lying) return null;
  const before = frames.slice(0, hidden ?? lands!).flatMap((f) => (f?.shows ? [f.shows] : []));
  if (before.length === 0) return null;
  const feet = before.reduce((a, b) => (b.height > a.height ? b : a));
  const bottom = feet.y + feet.height;
  const across = min(lying.x + lying.width, feet.x + feet.width) - max(lying.x, feet.x);
  return across > 0.3 * feet.width && lying.y < bottom && lying.y + lying.height > bottom - 0.08 * feet.height;
}

function leftOver(
  frames: readonly (ClothFrame | null)[],
  shows: readonly boolean[],
  at: number,
  pixels: number,
  factor: number,
): Leftover[] {
  return frames
    .flatMap((f, frame): Leftover[] => {
      if (frame < at || !shows[frame] || !f?.shows) return [];
      const { x, y, width, height } = f.shows;
      const box = { x: x * factor, y: y * factor, width: width * factor, height: height * factor };
      return [{ frame, ...box, share: f.performer / pixels }];
    })
    .sort((a, b) => b.share - a.share)
    .slice(0, MOST);
}

function edgeRuns(frames: readonly (ClothFrame | null)[], width: number, height: number): Record<Side, Run[]> {
  const of = (is: (b: Box) => boolean) => runsOf(frames.map((f) => !!f?.box && is(f.box)));
  return {
    left: of((b) => b.x < AT_EDGE),
    right: of((b) => b.x + b.width > width - AT_EDGE),
    top: of((b) => b.y < AT_EDGE),
    bottom: of((b) => b.y + b.height > height - AT_EDGE),
  };
}

/** Parts of the performer smaller than this share of the largest, and of the cloth, are grain. */
const PART = 0.03;

/**
 * What of a frame is cloth and what is the performer.
 * @param body 1 where somebody or something is
 * @param likes for each pixel by how much it looks more like the cloth than like the performer
 * @param moved how far the cloth moved to here from the frame before, pixels: so far its edge may be smeared
 * @param keep is given a mask, 1 where the cloth is
 */
export function clothFrame(
  body: Uint8Array,
  likes: Float32Array,
  width: number,
  height: number,
  moved = 0,
  keep?: (cloth: Uint8Array) => void,
): ClothFrame {
  const smooth = voted(body, likes, width, height);
  const own = new Uint8Array(body.length),
    other = new Uint8Array(body.length);
  for (let i = 0; i < body.length; i++) if (body[i]) (smooth[i] > 0 ? own : other)[i] = 1;
  const cloth = largeParts(own, width, height);
  keep?.(cloth.mask);
  const performer = largeParts(
    beyondRim(other, cloth.mask, RIM + min(MOST_RIM, SMEARED * moved), width, height),
    width,
    height,
  );
  const box = boxOf(cloth.mask, width);
  const shows = boxOf(performer.mask, width);
  return {
    cloth: cloth.area,
    performer: performer.area,
    box,
    tilt: box && tiltOf(cloth.mask, width, box),
    shows,
    leaves: !!shows && (shows.x < 2 || shows.x + shows.width > width - 2),
    hands: shows && handsOf(performer.mask, width, shows),
  };
}

/** A cloth's edge mixes with what is behind it over so many pixels; and while it moves, over this share of its step. */
const RIM = 2;
const SMEARED = 0.7;
const MOST_RIM = 14;

/** What lies flatter than this, height over width, along a cloth's lower edge is the shadow that it throws. */
const FLAT = 0.25;
/** A lower edge is uneven by this share of the cloth's width. */
const FOOT = 0.06;

/** Parts that reach out farther than a rim around the cloth; those that do not are its own edge, or its shadow. */
function beyondRim(other: Uint8Array, cloth: Uint8Array, rim: number, width: number, height: number): Uint8Array {
  const near = boxMean(cloth, width, height, max(1, round(rim)), new Float32Array(cloth.length));
  const out = new Uint8Array(other.length);
  const foot = boxOf(cloth, width);
  for (const { pixels, left, top, right, bottom } of findRegions(other, width, height, LEAST)) {
    const under = foot && top >= foot.y + foot.height - max(2 * RIM, FOOT * foot.width);
    if (under && bottom - top < FLAT * (right - left)) continue;
    // What is thin all along is an edge that was read a little to the side.
    let beyond = 0;
    for (const i of pixels) if (near[i] === 0 && isInside(other, i, width, height)) beyond++;
    if (beyond >= LEAST) for (const i of pixels) out[i] = 1;
  }
  return out;
}

/** Whether all eight pixels around one are marked too. */
function isInside(mask: Uint8Array, i: number, width: number, height: number): boolean {
  const x = i % width,
    y = (i / width) | 0;
  if (x === 0 || y === 0 || x === width - 1 || y === height - 1) return false;
  for (let v = i - width; v <= i + width; v += width) if (!mask[v - 1] || !mask[v] || !mask[v + 1]) return false;
  return true;
}

/** Likeness over squares of five: single pixels of a pattern do not tell. */
function voted(body: Uint8Array, likes: Float32Array, width: number, height: number): Float32Array {
  const clipped = new Float32Array(likes.length);
  for (let i = 0; i < likes.length; i++) if (body[i]) clipped[i] = max(-3, min(3, likes[i]));
  return boxMean(clipped, width, height, 2, new Float32Array(likes.length));
}

function largeParts(mask: Uint8Array, width: number, height: number) {
  const regions = findRegions(mask, width, height, LEAST);
  const most = max(0, ...regions.map((r) => r.pixels.length));
  const out = new Uint8Array(mask.length);
  let area = 0;
  for (const r of regions)
    if (r.pixels.length >= PART * most) {
      area += r.pixels.length;
      for (const i of r.pixels) out[i] = 1;
    }
  return { mask: out, area };
}

function boxOf(mask: Uint8Array, width: number): Box | null {
  let [left, top, right, bottom] = [width, -1, -1, -1];
  for (let i = 0; i < mask.length; i++) {
    if (!mask[i]) continue;
    const x = i % width,
      y = (i - x) / width;
    if (top < 0) top = y;
    bottom = y;
    left = min(left, x);
    right = max(right, x);
  }
  return right < 0 ? null : { x: left, y: top, width: right - left + 1, height: bottom - top + 1 };
}

/** How an upper edge leans, degrees: from its left to its right, 0 level, positive when the right is lower. */
function tiltOf(mask: Uint8Array, width: number, box: Box): number | null {
  const tops: [number, number][] = [];
  for (let x = box.x + ceil(box.width * 0.1); x < box.x + box.width * 0.9; x++)
    for (let y = box.y; y < box.y + box.height; y++)
      if (mask[y * width + x]) {
        tops.push([x, y]);
        break;
      }
  if (tops.length < 6) return null;
  // The median of slopes of halves: folds do not count.
  const half = tops.length >> 1;
  const slopes = tops.slice(0, half).map(([x, y], k) => (tops[k + half][1] - y) / (tops[k + half][0] - x));
  return (atan2(median(slopes), 1) * 180) / PI;
}

/** The mean height of what is outermost of somebody at both sides. */
function handsOf(mask: Uint8Array, width: number, box: Box): number | null {
  const side = max(2, round(box.width * 0.12));
  const topIn = (from: number, to: number) => {
    for (let y = box.y; y < box.y + box.height; y++) for (let x = from; x < to; x++) if (mask[y * width + x]) return y;
    return null;
  };
  const [left, right] = [topIn(box.x, box.x + side), topIn(box.x + box.width - side, box.x + box.width)];
  return left === null || right === null ? null : (left + right) / 2;
}
