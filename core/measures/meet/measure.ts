import { median } from '../../base/numeric/quantile';
import type { MeetFound } from '../../report/moment-types';
import { paceAt, slopeOf, type Placed } from '../../movers/track';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, atan2, ceil, hypot, max, min, PI, round } = Math;

type Track = readonly (Placed | null | undefined)[];

export interface MeetInput {
  /** The performer who reacts, and the vehicle as it lies on the performer's picture. */
  a: Track;
  b: Track;
  fpsA: number;
  fpsB: number;
  width: number;
  height: number;
  /** Where the vehicle is to arrive; the performer's nearer edge where nothing is said. */
  at: { x: number; y: number } | null;
  /** The vehicle's speed in the edit, per cent; the least that will do where nothing is said. */
  ratePct: number | null;
}

export type MeetSums = Omit<MeetFound, 'overlap_runs' | 'strobes' | 'unjudged'> & {
  /** The vehicle's step from frame to frame, as shot, source pixels. */
  step_px: number | null;
};

/** A vehicle in a hurry crosses so much of the picture's width in a second. */
const HURRY = 0.8;
/** Slower than this share of the picture's width a second nobody moves. */
const LEAST_SPEED = 0.012;
/** Before somebody reacts they are steady for so long, s; how they move after is seen over so long. */
const STEADY_S = 0.25;
const AFTER_S = 0.5;
/** Steps that differ by less than this share of them are of one pace; a reaction grows over so long at most, s. */
const SAME_PACE = 0.35;
const GOES_S = 0.6;
const LEADS_S = 1.5;
/** A reaction has begun when it comes to this share of what it grows to. */
const BEGUN = 0.2;
/** Directions further apart than this, degrees, are opposed. */
const OPPOSED = 120;
/** Lower edges nearer to each other than this share of the picture's height do not say who is nearer to the camera. */
const LEVEL = 0.01;

/** Slower than this share of how fast they came somebody comes to rest. */
const RESTS = 0.25;

/** Whether somebody is cut off by the side over which they come in or go out; who stands behind the lower edge is not. */
const cutOffIn = ({ touches }: Placed) => touches.includes('left') || touches.includes('right');
const cutLike = (p: Placed, q: Placed) => p.touches.length === q.touches.length;

/** When a performer reacts, when a vehicle reaches them, and how the two are laid together. */
export function measureMeet(input: MeetInput): MeetSums {
  const { a, b, fpsA, fpsB, width, height, at, ratePct } = input;
  const reacts = reactionOf(a, fpsA, width);
  const way = wayOf(b);
  const performer = reacts === null ? lastSeen(a) : a[reacts]!;
  const target = at ?? (performer && way ? edgeFacing(performer, way) : null);
  const arrives = target && way ? arrivalOf(b, way, target) : null;
  const vehicle = arrives === null ? null : b[arrives]!;
  const speed = way && (hypot(...way) * fpsB) / width;
  const rate = ratePct ?? (speed ? max(100, (100 * HURRY) / speed) : null);
  const direction = reacts === null ? null : directionAfter(a, reacts, fpsA);
  const from = way && degrees(way);
  // Frames of B in the time of A: shot at another rate they pass faster or slower.
  const inTime = fpsA / fpsB;
  const below = (p: Placed) => p.box.y + p.box.height;
  const lower = performer && vehicle ? (below(vehicle) - below(performer)) / height : 0;
  return {
    a_frame: reacts,
    b_frame: arrives,
    slide_frames:
      reacts === null || arrives === null || rate === null ? null : round(reacts - (arrives * inTime * 100) / rate),
    b_direction_deg: from,
    a_direction_deg: direction,
    opposed: direction === null || from === null ? null : gap(direction, from) > OPPOSED,
    b_speed_widths_per_s: speed,
    rate_pct: rate,
    layer: abs(lower) < LEVEL ? null : lower > 0 ? 'b_over_a' : 'a_over_b',
    step_px: way && hypot(...way),
  };
}

const degrees = ([x, y]: readonly [number, number]) => (((atan2(y, x) * 180) / PI + 180 + 360) % 360) - 180;
const gap = (a: number, b: number) => {
  const d = abs(a - b) % 360;
  return d > 180 ? 360 - d : d;
};
const lastSeen = (track: Track) => track.findLast((p) => !!p) ?? null;

/** The last frame before whoever is in begins to move otherwise than they did; null when they never do. */
function reactionOf(track: Track, fps: number, width: number): number | null {
  const steady = max(2, ceil(STEADY_S * fps)),
    after = max(3, ceil(AFTER_S * fps));
  // From each frame to the next.
  const steps = track.map((p, f): readonly [number, number] | null => {
    const q = track[f + 1];
    // Of who comes in or goes out more shows from frame to frame: their middle says nothing of how they move.
    return p && q && !cutOffIn(p) && !cutOffIn(q) && cutLike(p, q) ? [q.x - p.x, q.y - p.y] : null;
  });
  const mean = (from: number, to: number): readonly [number, number] | null => {
    const known = steps.slice(max(0, from), to).filter((s) => s !== null);
    if (known.length < (to - max(0, from)) / 2 || known.length === 0) return null;
    return [0, 1].map((k) => known.reduce((sum, s) => sum + s[k], 0) / known.length) as [number, number];
  };
  let best: number | null = null,
    most = (LEAST_SPEED * width) / fps;
  for (let f = steady; f < track.length - 2; f++) {
    const was = mean(f - steady, f),
      is = mean(f, min(track.length - 1, f + after));
    if (!was || !is || steps[f] === null) continue;
    const change = hypot(is[0] - was[0], is[1] - was[1]);
    // Somebody who was still before is surer to react than somebody who stops, or comes to rest on their mark.
    const [before, then] = [hypot(...was), hypot(...is)];
    const score = change * (before < then ? 1 : then > RESTS * before ? 0.4 : 0.15);
    if (score > most) [most, best] = [score, f];
  }
  if (best === null) return null;
  // They may have begun before they were fastest: from when they were steady on.
  const slow = (LEAST_SPEED * width) / fps;
  // Who goes on at one pace is steady too, but a short push of one pace is not.
  const isSteady = (f: number) => {
    const over = (frames: number) => {
      const was = mean(f - frames, f);
      const own = steps.slice(max(0, f - frames), f).filter((s) => s !== null);
      const even = was && own.every(([x, y]) => hypot(x - was[0], y - was[1]) < max(slow, SAME_PACE * hypot(...was)));
      return even ? hypot(...was) : null;
    };
    const standing = over(steady);
    return (standing !== null && standing < slow) || over(ceil(GOES_S * fps)) !== null;
  };
  let from = best;
  while (from > max(steady, best - round(LEADS_S * fps)) && !isSteady(from)) from--;
  if (!isSteady(from)) from = best;
  const was = mean(from - steady, from)!;
  const off = (f: number) => {
    const s = steps[f];
    return s ? hypot(s[0] - was[0], s[1] - was[1]) : 0;
  };
  const peak = max(...Array.from({ length: after }, (_, k) => off(from + k)));
  let first = max(0, from - ceil(steady / 2));
  while (first < from + after && !(off(first) > BEGUN * peak && off(first + 1) > BEGUN * peak)) first++;
  return first;
}

/** The way somebody moves in the half second after a frame, degrees; null when they do not. */
function directionAfter(track: Track, frame: number, fps: number): number | null {
  const from = track[frame];
  for (let f = min(track.length - 1, frame + round(AFTER_S * fps)); f > frame; f--) {
    const to = track[f];
    if (from && to && !cutOffIn(to) && cutLike(from, to)) {
      const way = [to.x - from.x, to.y - from.y] as const;
      return hypot(...way) < 1 ? null : degrees(way);
    }
  }
  return null;
}

/** How what crosses moves, pixels a frame: by its middle while it is whole, else by its edges. Null when nothing does. */
function wayOf(track: Track): readonly [number, number] | null {
  const fast = (paces: (readonly [number, number])[]) => {
    const speeds = paces.map((p) => hypot(...p));
    const usual = speeds.length ? max(...speeds) : 0;
    return paces.filter((p) => hypot(...p) > usual / 3);
  };
  const paces = track.map((p, f) => (p ? paceAt(track, f) : null));
  const usual = max(0, ...paces.flatMap((p) => (p ? [hypot(...p)] : [])));
  // The whole way says how fast it goes, and not each step of it: outlines grow and shrink on what lies behind.
  const places = track.flatMap((p, at) => {
    const pace = paces[at];
    return p && pace && p.touches.length === 0 && hypot(...pace) > usual / 3 ? [{ at, x: p.x, y: p.y }] : [];
  });
  if (places.length >= 3) return slopeOf(places);
  const sides = track.flatMap((p, f) => {
    const q = track[f + 1];
    if (!p || !q) return [];
    const moved = (lead: number, trail: number) => (abs(lead) > abs(trail) ? lead : trail);
    const left = q.box.x - p.box.x,
      right = q.box.x + q.box.width - p.box.x - p.box.width;
    return [[moved(left, right), 0] as const];
  });
  const moving = fast(sides);
  return moving.length >= 3 ? [median(moving.map((p) => p[0])), 0] : null;
}

/** The side of somebody that faces what comes. */
function edgeFacing({ box }: Placed, [dx, dy]: readonly [number, number]): { x: number; y: number } {
  return { x: dx > 0 ? box.x : box.x + box.width, y: dy > 0 ? box.y : box.y + box.height };
}

/** The first frame in which the leading edge reaches a place. */
function arrivalOf(
  track: Track,
  [dx, dy]: readonly [number, number],
  { x, y }: { x: number; y: number },
): number | null {
  const there = (p: Placed) =>
    abs(dx) >= abs(dy)
      ? dx > 0
        ? p.box.x + p.box.width >= x
        : p.box.x <= x
      : dy > 0
        ? p.box.y + p.box.height >= y
        : p.box.y <= y;
  const f = track.findIndex((p) => !!p && there(p));
  return f < 0 ? null : f;
}
