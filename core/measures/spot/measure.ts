import type { SpotFound, Spotted } from '../../report/moment-types';
import { isWhole, usualArea } from '../stills/measure';
import type { Placed } from '../../movers/track';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, ceil, hypot, log, sqrt } = Math;

type Track = readonly (Placed | null | undefined)[];

/** Frames that were chosen; the usual ones where none was. */
export interface SpotWish {
  at_a: number | null;
  at_b: number | null;
}

/** Somebody smaller than this share of what they usually are is coming in, or going. */
const SMALL = 0.3;
/** So many frames of each are held against each other, and besides so many to both sides of those chosen. */
const MOST = 1500;
const NEAR = 250;
/** So many pairs, the nearest as their middles say, are laid on each other. */
const LAID = 40;
/** Of two pairs of frames as near to each other, that nearer to the switch is the better one. */
const LATER = 1e-4;
/** A size that is off by one octave is as bad as a place that is off by so many sizes. */
const SIZE_COUNTS = 1;

export interface SpotSums extends Omit<SpotFound, 'uncertainty_px' | 'unjudged'> {
  /**
   * How far apart, source pixels, the middles of the two outlines and the outlines laid on each other put it; 0 where the
   * two are not of one shape.
   */
  outlines_px: number;
}

/** How far one thing lies from another of its shape, as their outlines say when one is laid on the other; source pixels. */
export interface Apart {
  dx_px: number;
  dy_px: number;
  size_ratio: number;
  turn_deg: number;
}

/**
 * Where what is in one take at its frame lies against what is in another at its own; and the pair of frames in which they
 * lie nearest.
 * @param lay lays the outline of a frame of A on that of a frame of B; null where the two are not of one shape
 */
export function measureSpot(
  a: Track,
  b: Track,
  wish: SpotWish,
  lay: (f: number, n: number) => Apart | null = () => null,
): SpotSums {
  const usableA = usable(a),
    usableB = usable(b);
  const atA = wish.at_a ?? usableA.at(-1) ?? null,
    atB = wish.at_b ?? usableB[0] ?? null;
  const one = atA === null ? null : (a[atA] ?? null),
    two = atB === null ? null : (b[atB] ?? null);
  const middles = one && two ? apart(one, two) : null,
    laid = middles && lay(atA!, atB!);
  const between = laid ?? middles;
  const late = (f: number, n: number) => LATER * (abs(f - (atA ?? f)) + abs(n - (atB ?? n)));
  const near: { at_a: number; at_b: number; cost: number }[] = [];
  for (const f of some(usableA, atA))
    for (const n of some(usableB, atB)) {
      const cost = costOf(apart(a[f]!, b[n]!), a[f]!) + late(f, n);
      if (near.length >= LAID && cost >= near[near.length - 1].cost) continue;
      const at = near.findIndex((o) => o.cost > cost);
      near.splice(at < 0 ? near.length : at, 0, { at_a: f, at_b: n, cost });
      if (near.length > LAID) near.pop();
    }
  let best: SpotFound['best'] = null,
    least = Infinity;
  for (const { at_a: f, at_b: n } of near) {
    const d = lay(f, n) ?? apart(a[f]!, b[n]!);
    const cost = costOf(d, a[f]!) + late(f, n);
    if (cost < least) [least, best] = [cost, { at_a: f, at_b: n, ...distance(d) }];
  }
  const turns = one && two && one.angle !== null && two.angle !== null;
  return {
    at_a: atA,
    at_b: atB,
    dx_px: between?.dx_px ?? null,
    dy_px: between?.dy_px ?? null,
    size_ratio: between?.size_ratio ?? null,
    angle_deg: turns ? (laid?.turn_deg ?? turn(one.angle!, two.angle!)) : null,
    a: one && spotted(one),
    b: two && spotted(two),
    best,
    outlines_px: laid && middles ? hypot(laid.dx_px - middles.dx_px, laid.dy_px - middles.dy_px) : 0,
  };
}

/** Frames in which something is in, whole. */
function usable(track: Track): number[] {
  const least = SMALL * usualArea(track);
  return track.flatMap((p, f) => (isWhole(p) && p.area >= least ? [f] : []));
}

/** Of many frames every so many, and all of those near the one that was chosen. */
function some(frames: readonly number[], at: number | null): readonly number[] {
  const step = ceil(frames.length / MOST);
  return step <= 1 ? frames : frames.filter((f, k) => k % step === 0 || (at !== null && abs(f - at) < NEAR));
}

/** How bad a pair of frames is, in sizes of what is in. */
const costOf = (d: Omit<Apart, 'turn_deg'>, { area }: Placed) =>
  hypot(d.dx_px, d.dy_px) / sqrt(area) + SIZE_COUNTS * abs(log(d.size_ratio));

const apart = (a: Placed, b: Placed) => ({ dx_px: b.x - a.x, dy_px: b.y - a.y, size_ratio: sqrt(b.area / a.area) });

const distance = ({ dx_px, dy_px, size_ratio }: Omit<Apart, 'turn_deg'>) => ({ dx_px, dy_px, size_ratio });

/** From one axis to the other: -90 to 90. */
function turn(from: number, to: number): number {
  const d = (((to - from) % 180) + 180) % 180;
  return d > 90 ? d - 180 : d;
}

const spotted = (p: Placed): Spotted => ({ ...p.box, x_centre_px: p.x, y_centre_px: p.y, angle_deg: p.angle });
