import simplify from 'simplify-js';
import type { Zone } from '../../core/tricks/zones';

type Place = readonly [number, number];

/** A finger's outline strays so far, share of the picture, from the corners that are kept of it. */
const STRAY = 0.003;
/** Smaller than this, share of the picture, it was no zone but a slip. */
const LEAST = 0.01;

const rounded = (v: number) => Math.round(v * 1e4) / 1e4;

/** The box between two opposite corners; null when it is no wider or higher than a slip of the finger. */
export function boxBetween([ax, ay]: Place, [bx, by]: Place): Zone | null {
  const [left, right] = [Math.min(ax, bx), Math.max(ax, bx)].map(rounded),
    [top, bottom] = [Math.min(ay, by), Math.max(ay, by)].map(rounded);
  if (right - left < LEAST || bottom - top < LEAST) return null;
  return [
    [left, top],
    [right, top],
    [right, bottom],
    [left, bottom],
  ];
}

/** The way of a finger as an outline of few corners; null when it goes round nothing. */
export function outlined(way: readonly Place[]): Zone | null {
  const xs = way.map(([x]) => x),
    ys = way.map(([, y]) => y);
  if (way.length < 3 || Math.max(...xs) - Math.min(...xs) < LEAST || Math.max(...ys) - Math.min(...ys) < LEAST)
    return null;
  const few = simplify(
    way.map(([x, y]) => ({ x, y })),
    STRAY,
    true,
  );
  const zone = few.map(({ x, y }): [number, number] => [rounded(x), rounded(y)]).slice(0, 200);
  return zone.length > 2 ? zone : null;
}
