import { findRegions } from '../base/image/regions';
import { median } from '../base/numeric/quantile';
import { kindsIn, maskOf, type KindFrames } from '../presence/kinds';
import { BODY, SHADOW } from '../presence/shade';
import type { Box, Side } from '../report/types';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { atan2, hypot, max, min, sqrt, PI } = Math;

/** Whoever is in, in one frame. Source pixels of the reference frame. */
export interface Placed {
  /** The body's, without its shadow. */
  box: Box;
  /** Its centre of area. */
  x: number;
  y: number;
  /** Area of the body and of the shadow, square pixels. */
  area: number;
  shadow: number;
  /** The shadow's box; null without one. */
  shade: Box | null;
  /** How its longer axis lies, -90 to 90 degrees; null for what is as long as it is wide. */
  angle: number | null;
  /** The picture's edges that the body, and that the shadow reaches. */
  touches: Side[];
  shadowTouches: Side[];
}

/** Parts smaller than this share of the largest are left over, or somebody else's far away. */
const PART = 0.06;
/** Fewer pixels of the grid are nobody. */
const LEAST = 16;
/** What has one axis longer than the other by less than this has none. */
const ROUND = 1.15;
/** What comes so near to the picture's edge, pixels of the grid, reaches it. */
const AT_EDGE = 1;

/** Parts smaller than this share of the largest that the take shows are nobody: what else differs from the empty picture. */
const PART_OF_TAKE = 0.02;

/** Whoever is in, frame by frame: null where nothing is known, undefined where nobody is. */
export function trackOf(who: KindFrames, factor: number): (Placed | null | undefined)[] {
  const kinds = new Uint8Array(who.width * who.height);
  let most = 0;
  for (let f = 0; f < who.frames.length; f++)
    if (kindsIn(who, f, kinds))
      for (const { pixels } of regionsOf(kinds, BODY, who.width, who.height)) most = max(most, pixels.length);
  return who.frames.map((_, f) => {
    const n = kindsIn(who, f, kinds);
    return n === null ? null : n === 0 ? undefined : placed(kinds, who.width, who.height, factor, PART_OF_TAKE * most);
  });
}

/**
 * What the bodies of a picture come to, their small scraps left out; undefined where nobody is.
 * @param least parts of fewer pixels are nobody
 */
export function placed(
  kinds: Uint8Array,
  width: number,
  height: number,
  factor: number,
  least = 0,
): Placed | undefined {
  const regions = regionsOf(kinds, BODY, width, height).filter((r) => r.pixels.length >= least);
  const most = max(0, ...regions.map((r) => r.pixels.length));
  if (most === 0) return undefined;
  let [n, sx, sy, xx, yy, xy] = [0, 0, 0, 0, 0, 0];
  let [left, top, right, bottom] = [width, height, -1, -1];
  for (const region of regions) {
    if (region.pixels.length < PART * most) continue;
    [left, right] = [min(left, region.left), max(right, region.right)];
    [top, bottom] = [min(top, region.top), max(bottom, region.bottom)];
    for (const i of region.pixels) {
      const x = (i % width) + 0.5,
        y = ((i / width) | 0) + 0.5;
      n++;
      sx += x;
      sy += y;
      xx += x * x;
      yy += y * y;
      xy += x * y;
    }
  }
  const [mx, my] = [sx / n, sy / n];
  const shade = shadeOf(kinds, width, height);
  return {
    box: scaled(left, top, right, bottom, factor),
    x: mx * factor,
    y: my * factor,
    area: n * factor * factor,
    shadow: shade.n * factor * factor,
    shade: shade.n ? scaled(shade.left, shade.top, shade.right, shade.bottom, factor) : null,
    angle: axisOf(xx / n - mx * mx, yy / n - my * my, xy / n - mx * my),
    touches: touched({ left, top, right, bottom }, width, height),
    shadowTouches: shade.n ? touched(shade, width, height) : [],
  };
}

let room = new Uint8Array(0);

/** The connected parts of one kind. */
function regionsOf(kinds: Uint8Array, kind: number, width: number, height: number) {
  if (room.length !== kinds.length) room = new Uint8Array(kinds.length);
  return kinds.includes(kind) ? findRegions(maskOf(kinds, kind, room), width, height, LEAST) : [];
}

const scaled = (left: number, top: number, right: number, bottom: number, by: number): Box => ({
  x: left * by,
  y: top * by,
  width: (right - left + 1) * by,
  height: (bottom - top + 1) * by,
});

function shadeOf(kinds: Uint8Array, width: number, height: number) {
  const out = { n: 0, left: width, top: height, right: -1, bottom: -1 };
  for (const r of regionsOf(kinds, SHADOW, width, height)) {
    out.n += r.pixels.length;
    [out.left, out.right] = [min(out.left, r.left), max(out.right, r.right)];
    [out.top, out.bottom] = [min(out.top, r.top), max(out.bottom, r.bottom)];
  }
  return out;
}

/** How the longer axis of an area with these second moments lies, degrees; null where neither is. */
function axisOf(a: number, c: number, b: number): number | null {
  const middle = (a + c) / 2,
    apart = hypot((a - c) / 2, b);
  const small = max(1e-6, middle - apart);
  if (sqrt((middle + apart) / small) < ROUND) return null;
  return ((0.5 * atan2(2 * b, a - c)) / PI) * 180;
}

function touched(
  { left, top, right, bottom }: { left: number; top: number; right: number; bottom: number },
  width: number,
  height: number,
): Side[] {
  const out: Side[] = [];
  if (left < AT_EDGE) out.push('left');
  if (right >= width - AT_EDGE) out.push('right');
  if (top < AT_EDGE) out.push('top');
  if (bottom >= height - AT_EDGE) out.push('bottom');
  return out;
}

/** How whoever is in moves at a frame, source pixels a frame, from the frames beside it; null where those do not tell. */
export function paceAt(track: readonly (Placed | null | undefined)[], f: number): [number, number] | null {
  const [a, b, c] = [track[f - 1], track[f], track[f + 1]];
  // Who is cut off by an edge comes to have another middle without moving.
  const whole = (p: Placed | null | undefined): p is Placed => !!p && p.touches.length === 0;
  if (whole(a) && whole(c)) return [(c.x - a.x) / 2, (c.y - a.y) / 2];
  if (whole(b) && whole(c)) return [c.x - b.x, c.y - b.y];
  if (whole(a) && whole(b)) return [b.x - a.x, b.y - a.y];
  return null;
}

/** So many frames before and after say how somebody moves at one. */
const BESIDE = 2;

/**
 * How whoever is in moves at a frame, source pixels a frame: the middle one of what every two frames near by say, as
 * outlines are rough (the slope of Theil and Sen); null where the frames near by do not tell.
 */
export function steadyPaceAt(track: readonly (Placed | null | undefined)[], f: number): [number, number] | null {
  const near: { at: number; x: number; y: number }[] = [];
  for (let k = max(0, f - BESIDE); k <= min(track.length - 1, f + BESIDE); k++) {
    const p = track[k];
    // Who is cut off by an edge comes to have another middle without moving.
    if (p && p.touches.length === 0) near.push({ at: k, x: p.x, y: p.y });
  }
  return near.length < 3 ? paceAt(track, f) : slopeOf(near);
}

/** The middle one of what every two of some places say of the way, pixels a frame (Theil 1950, Sen 1968). Two at least. */
export function slopeOf(places: readonly { at: number; x: number; y: number }[]): [number, number] {
  const slopes = places.flatMap((a, k) =>
    places.slice(k + 1).map((b) => [(b.x - a.x) / (b.at - a.at), (b.y - a.y) / (b.at - a.at)]),
  );
  return [median(slopes.map((s) => s[0])), median(slopes.map((s) => s[1]))];
}
