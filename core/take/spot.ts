import { UnusableMedia } from './unusable';
import type { Against, MeasuredTake } from './measured-take';
import { layShapes, ONE_SHAPE } from '../measures/spot/lay-shapes';
import { measureSpot, type Apart, type SpotWish } from '../measures/spot/measure';
import { kindsIn, maskOf } from '../presence/kinds';
import { BODY } from '../presence/shade';
import type { SpotFound } from '../report/moment-types';
import { laidBack, twoTracks, type TwoTracks } from './two-tracks';

export interface SpotOptions {
  signal?: AbortSignal;
  onProgress?: (doing: string) => void;
}

/**
 * Holds what is in one take at its frame against what is in another at its own.
 * @throws UnusableMedia when a file or a frame cannot be used
 */
export async function findSpot(
  a: MeasuredTake,
  b: MeasuredTake,
  plate: Against | null,
  wish: SpotWish,
  { signal, onProgress }: SpotOptions = {},
): Promise<SpotFound> {
  for (const [{ name, analysis }, at] of [
    [a, wish.at_a],
    [b, wish.at_b],
  ] as const)
    // prettier-ignore
    if (at !== null && at >= analysis.poses.length)
      throw new UnusableMedia(`"${name}" has frames 0 to ${analysis.poses.length - 1}; ${at} is none of them.`, 'frame');
  onProgress?.('outlining what is in');
  const tracks = await twoTracks(a, b, plate, signal);
  const cannot = tracks.place ? null : 'The two could not be laid on each other: they show too little in common.';
  const { outlines_px: outlines, ...spot } = measureSpot(
    tracks.a,
    tracks.b,
    wish,
    outlinesOf(tracks, a.analysis.probe),
  );
  return {
    ...spot,
    // The two readings of one place are both as good as the outlines are.
    uncertainty_px: Math.hypot(tracks.uncertainty, outlines / 2),
    unjudged: a.analysis.unjudged ?? b.analysis.unjudged ?? cannot,
  };
}

/** Lays outlines of one frame of each take on each other; null where they are not of one shape. */
function outlinesOf({ whoA, whoB, back }: TwoTracks, picture: { width: number; height: number }) {
  const kinds = new Uint8Array(whoA.width * whoA.height);
  const bodyIn = (who: TwoTracks['whoA'], frame: number) => {
    kindsIn(who, frame, kinds);
    return maskOf(kinds, BODY);
  };
  return (f: number, n: number): Apart | null => {
    if (whoA.width !== whoB.width || whoA.height !== whoB.height) return null;
    const shape = layShapes(bodyIn(whoA, f), bodyIn(whoB, n), whoA.width);
    if (!shape || shape.share < ONE_SHAPE) return null;
    const { factor } = whoA;
    const { pose } = shape;
    const [x, y] = laidBack(shape.x * factor, shape.y * factor, back, picture);
    return {
      dx_px: x - (shape.x - pose.dx) * factor,
      dy_px: y - (shape.y - pose.dy) * factor,
      size_ratio: pose.scale * (back?.scale ?? 1),
      turn_deg: ((pose.rotation + (back?.rotation ?? 0)) * 180) / Math.PI,
    };
  };
}
