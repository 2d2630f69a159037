import { median } from '../../base/numeric/quantile';
import { kindsIn, maskOf, type KindFrames } from '../../presence/kinds';
import { runsOf } from '../../presence/measure';
import { BODY } from '../../presence/shade';
import type { Run } from '../../report/types';
import { steadyPaceAt, type Placed } from '../../movers/track';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { ceil, hypot, max, min } = Math;

type Track = readonly (Placed | null | undefined)[];

/** Stills lie at least so long apart, s. */
const APART_S = 0.2;
/** Somebody smaller than this share of the median is coming in, or is somebody's foot. */
const SMALL = 0.3;

/** Whether all of somebody and of their shadow is in the picture. */
export const isWhole = (p: Placed | null | undefined): p is Placed =>
  !!p && p.touches.length === 0 && p.shadowTouches.length === 0;

/** How large whoever is in usually is where all of them is seen, square pixels; 0 where nobody is. */
export function usualArea(track: Track): number {
  const whole = track.flatMap((p) => (isWhole(p) ? [p.area] : []));
  const any = whole.length ? whole : track.flatMap((p) => (p ? [p.area] : []));
  return any.length ? median(any) : 0;
}

/** How many frames lie between two stills at least. */
export const apartFrames = (fps: number): number => max(1, ceil(APART_S * fps - 1e-6));

/**
 * Frames that may be worth holding, at most so many: whole ones first, in them the slowest of those near by.
 * @param size of the picture, square pixels
 */
export function stillCandidates(track: Track, fps: number, most: number): number[] {
  const usual = usualArea(track);
  const all = track.flatMap((p, f) => {
    if (!p || p.area < SMALL * usual) return [];
    const pace = steadyPaceAt(track, f);
    return [{ f, whole: isWhole(p), speed: pace ? hypot(...pace) : Infinity }];
  });
  // Where the speed is least for as long as two stills lie apart.
  const step = apartFrames(fps);
  const speeds = new Map(all.map((a) => [a.f, a.speed]));
  const least = (a: { f: number; speed: number }) => {
    for (let d = 1; d < step; d++)
      if (min(speeds.get(a.f - d) ?? Infinity, speeds.get(a.f + d) ?? Infinity) < a.speed - 1e-9) return false;
    return true;
  };
  const order = (x: (typeof all)[0], y: (typeof all)[0]) =>
    Number(y.whole) - Number(x.whole) || Number(least(y)) - Number(least(x)) || x.speed - y.speed || x.f - y.f;
  const out: number[] = [];
  for (const { f } of [...all].sort(order)) {
    if (out.length >= most) break;
    if (out.every((o) => Math.abs(o - f) >= step)) out.push(f);
  }
  return out.sort((a, b) => a - b);
}

/** Runs in which somebody is in, whole. */
export const wholeRuns = (track: Track): Run[] => runsOf(track.map(isWhole));

/** Runs in which somebody passes where one who is held at a frame stands, after, or before, they stand there themselves. */
export function crossedRuns(who: KindFrames, frame: number): Run[] {
  const kinds = new Uint8Array(who.width * who.height);
  if (!kindsIn(who, frame, kinds)) return [];
  const held = maskOf(kinds, BODY);
  const over = who.frames.map((_, f) => {
    if (!kindsIn(who, f, kinds)) return false;
    for (let i = 0; i < held.length; i++) if (held[i] && kinds[i] === BODY) return true;
    return false;
  });
  return runsOf(over).filter((r) => frame < r.start || frame > r.end);
}
