import { UnusableMedia } from './unusable';
import type { Against, MeasuredTake } from './measured-take';
import { applySimilarity, invertSimilarity, type Similarity } from '../base/geometry/similarity';
import { trackOf, type Placed } from '../movers/track';
import { layKept, layTogether } from './lay-on';
import { standingApart } from './pair';
import { enlarged, whoIsIn, type WhoIsIn } from './who-is-in';

/** Whoever is in in two takes of one setup, frame by frame, the second's as it lies on the first one's picture. */
export interface TwoTracks {
  a: (Placed | null | undefined)[];
  b: (Placed | null | undefined)[];
  whoA: WhoIsIn;
  whoB: WhoIsIn;
  /** Where the first one's picture lies in the second's; null when they could not be laid on each other. */
  place: Similarity | null;
  /** Where the second one's picture lies in the first's; null likewise. */
  back: Similarity | null;
  /** How well that is known, source pixels. */
  uncertainty: number;
}

/**
 * Outlines whoever is in two takes, and lays the second on the first. Who stands in one from first to last is told by
 * the plate; without one, by the other take.
 * @throws UnusableMedia when a file cannot be used, or the two are of different sizes
 */
export async function twoTracks(
  a: MeasuredTake,
  b: MeasuredTake,
  plate: Against | null,
  signal?: AbortSignal,
): Promise<TwoTracks> {
  const [one, two] = [a.analysis, b.analysis];
  if (one.probe.width !== two.probe.width || one.probe.height !== two.probe.height)
    throw new UnusableMedia(
      `"${a.name}" is ${one.probe.width} x ${one.probe.height} and "${b.name}" ${two.probe.width} x ${two.probe.height}: ` +
        `takes that are laid on each other have one size. Roll both at the same setting.`,
      'sizes',
    );
  const laid = layKept(two, one) ?? (await layTogether(b, { ...a, analysis: one }, { signal }));
  const place = laid.offset?.references ?? null;
  let [whoA, whoB] = [await whoIsIn(a, plate, signal), await whoIsIn(b, plate, signal)];
  if (!plate) {
    const always = standingApart(one, two, place);
    const small = one.scene?.background ?? { width: 1, height: 1 };
    whoA = { ...whoA, always: enlarged(always.a, small, whoA) };
    whoB = { ...whoB, always: enlarged(always.b, small, whoB) };
  }
  const back = place && invertSimilarity(place);
  const trackB = trackOf(whoB, whoB.factor).map((p) => p && back && laidOn(p, back, one.probe));
  return {
    a: trackOf(whoA, whoA.factor),
    b: place ? trackB : trackOf(whoB, whoB.factor),
    whoA,
    whoB,
    place,
    back,
    uncertainty: Math.hypot(laid.uncertainty ?? 0.5, 0.25 * whoA.factor),
  };
}

/** A place of the second picture as it lies on the first. */
export function laidBack(
  x: number,
  y: number,
  back: Similarity | null,
  { width, height }: { width: number; height: number },
): readonly [number, number] {
  if (!back) return [x, y];
  const [u, v] = applySimilarity(back, x - width / 2, y - height / 2);
  return [u + width / 2, v + height / 2];
}

/** Somebody of the second take as they lie on the first one's picture. */
function laidOn(p: Placed, back: Similarity, picture: { width: number; height: number }): Placed {
  const [x, y] = laidBack(p.x, p.y, back, picture);
  const [left, top] = laidBack(p.box.x, p.box.y, back, picture);
  return {
    ...p,
    x,
    y,
    box: { x: left, y: top, width: p.box.width * back.scale, height: p.box.height * back.scale },
    area: p.area * back.scale ** 2,
    angle: p.angle === null ? null : p.angle + (back.rotation * 180) / Math.PI,
  };
}
