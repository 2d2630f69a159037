import type { TakeAnalysis } from './analysis';
import { UnusableMedia } from './unusable';
import type { MeasuredTake, Against } from './measured-take';
import { invertSimilarity, type Similarity } from '../base/geometry/similarity';
import { outlinesOfPasses, type PassOutlines } from '../movers/kept';
import { eveningOf, type Evening } from '../measures/pair/even';
import { measurePair, type PairSums } from '../measures/pair/measure';
import { atSize, silhouettesOf } from '../movers/silhouettes';
import type { LaidOn } from '../measures/compare/measure';
import { sidesOf } from '../movers/moving';
import { mirroredIn } from '../measures/pair/mirrored';
import { thrownLight, type PassPicture } from '../measures/pair/thrown';
import { pictureOf } from '../base/image/picture';
import type { Mirrored, PairFound, Seam, Thrown } from '../report/pair-types';
import { PictureStack } from '../base/image/stack';
import { SteadyReader } from '../scene/steady-reader';
import { lightBetween, withShadow } from '../measures/pair/light';
import { decodeFinely } from './fine-outlines';
import { layKept, layTogether } from './lay-on';
import { against, againstPlate, enlarged, lightOf, offsetOf, standing } from './who-is-in';

export interface PairOptions {
  /** The empty picture of both, a still or a recording; what stands in a pass from first to last is told by it. */
  plate?: Against;
  /** By how many frames the second pass is laid later. */
  slide?: number;
  /** Whether what a line drawn by hand is held against is wanted too. */
  drawn?: boolean;
  signal?: AbortSignal;
  onProgress?: (doing: string) => void;
}

/** What was found between two passes, with what sliding and lines drawn by hand are worked out from, where wanted. */
export interface PairResult {
  found: PairFound;
  table: PairSums['table'];
  outlines: PassOutlines | null;
}

/**
 * Holds two passes of one setup against each other: who is where, and what parts them.
 * @throws UnusableMedia when a file cannot be used, or the two are of different sizes
 */
export async function findPair(a: MeasuredTake, b: MeasuredTake, options: PairOptions = {}): Promise<PairResult> {
  const [one, two] = [a.analysis, b.analysis];
  if (one.probe.width !== two.probe.width || one.probe.height !== two.probe.height)
    throw new UnusableMedia(
      `"${a.name}" is ${one.probe.width} x ${one.probe.height} and "${b.name}" ${two.probe.width} x ${two.probe.height}: ` +
        `two passes of one setup have one size. Roll both at the same setting.`,
      'sizes',
    );
  options.onProgress?.('laying both on each other');
  const { signal } = options;
  const laid = layKept(two, one) ?? (await layTogether(b, { ...a, analysis: one }, { signal }));
  const place = laid.offset?.references ?? null;
  const size = one.scene?.background ?? { width: 1, height: 1 };
  const { apart, between, ...throughout } = standingApart(one, two, place);
  let always: { a: Uint8Array | null; b: Uint8Array | null } = throughout;
  if (options.plate) {
    options.onProgress?.('laying the plate on both');
    const onA = await layTogether(a, options.plate, { signal });
    const plate = { ...options.plate, analysis: onA.recording ?? undefined };
    const onB = await layTogether(b, plate, { signal });
    const ownA = againstPlate(one, onA),
      ownB = againstPlate(two, onB);
    const onShared = ownB && place ? laidBack(standing(ownB, 'take', size, 'take'), place, one.factor, size) : null;
    always = { a: ownA && standing(ownA, 'take', size, 'take'), b: onShared };
  }
  options.onProgress?.('outlining who is in');
  const [fineA, fineB] = await Promise.all(
    [a, b].map(({ source, analysis }) => analysis.fine ?? decodeFinely(source, analysis, signal)),
  );
  const grid = fineA ?? { width: 1, height: 1, factor: one.factor, frames: one.figures };
  options.onProgress?.('looking for what parts them');
  const { width, height, factor } = grid;
  const shared = { width, height };
  const ofA = silhouettesOf({ ...shared, figures: grid.frames, always: enlarged(always.a, size, shared), place: null });
  const ofB = silhouettesOf({
    ...shared,
    figures: fineB?.frames ?? two.figures.map(() => null),
    always: enlarged(always.b, size, shared),
    place: place && atSize(place, factor),
  });
  const { slide = 0, drawn: slides = false } = options;
  const inLight = enlarged(between, size, shared);
  const { found, table } = measurePair({ a: ofA, b: ofB, slide, factor, light: inLight, slides });
  const ofOne = besideBody(one, found.seam, true, 0),
    ofTwo = besideBody(two, found.seam, false, slide);
  return {
    table,
    outlines: slides ? outlinesOfPasses(ofA, ofB, factor) : null,
    found: {
      ...found,
      ...(found.seam && { thrown: { a: ofOne.thrown, b: ofTwo.thrown } }),
      mirrored: { a: ofOne.mirrored, b: ofTwo.mirrored },
      light: lightOf(apart),
      offset: offsetOf(laid.offset?.references, laid.uncertainty),
      unjudged: one.unjudged ?? two.unjudged,
    },
  };
}

/** Who stands in one of two passes from first to last, told by the other; on the first one's small pixels, shadows included. */
export function standingApart(one: TakeAnalysis, two: TakeAnalysis, place: Similarity | null) {
  const size = one.scene?.background ?? { width: 1, height: 1 };
  const apart = one.scene && two.scene && place ? betweenBackgrounds(one, two, place) : null;
  const without = emptyOf(one, two);
  const alone = {
    a: apart && standing(apart, 'take', size, without),
    b: apart && standing(apart, 'plate', size, without),
  };
  const between = apart && lightBetween(apart, one.scene!);
  if (!apart || !between) return { apart, between, ...alone };
  // The light of the whole picture is no shadow.
  const gap = -apart.gap;
  const shaded = (mask: Uint8Array | null, darker: (l: number) => number) =>
    mask && withShadow(mask, between.map(darker), size.width, size.height);
  return { apart, between, a: shaded(alone.a, (l) => l - gap), b: shaded(alone.b, (l) => gap - l) };
}

/**
 * What whoever is in a pass changes beside their own outline: the light that they throw over a line, into the other's
 * part, and the floor that mirrors them.
 * @param seam the line; null where there is none. @param first whether the pass is the first
 * @param slide frames by which it is laid later
 */
function besideBody(
  take: TakeAnalysis,
  seam: Seam | null,
  first: boolean,
  slide: number,
): { thrown: Thrown | null; mirrored: Mirrored | null } {
  const { scene, kept, poses, figures, factor } = take;
  if (!scene || !kept) return { thrown: null, mirrored: null };
  const beyond = seam && beyondLine(seam, first, scene.background, factor);
  const pictures = kept.flatMap(({ frame, luma }): PassPicture[] => {
    const stack = new PictureStack();
    stack.frame(pictureOf(luma));
    const picture = new SteadyReader(stack, [poses[frame]], factor).read(0);
    const who = figures[frame];
    return picture && who
      ? [{ frame: frame + slide, picture: { ...picture, luma: picture.luma.slice() }, figures: who }]
      : [];
  });
  return {
    thrown: beyond && thrownLight(pictures, scene, beyond, factor),
    mirrored: mirroredIn(pictures, scene.background, beyond, factor),
  };
}

/** 1 at the small pixels beyond a line, seen from one of the two passes. */
function beyondLine(
  seam: Seam,
  first: boolean,
  { width, height }: { width: number; height: number },
  factor: number,
): Uint8Array {
  const upright = seam.first_side === 'left' || seam.first_side === 'right';
  const before = seam.first_side === 'left' || seam.first_side === 'top';
  const points = seam.points.map(([x, y]): [number, number] => [x / factor, y / factor]);
  const own = before === first ? -1 : 1;
  return Uint8Array.from(sidesOf({ points, upright }, width, height), (side) => (side === own ? 0 : 1));
}

/** What makes a second take lie on the first, in its light. @throws UnusableMedia when a file cannot be used */
export async function evenTogether(a: MeasuredTake, b: MeasuredTake, signal?: AbortSignal): Promise<Evening> {
  const [one, two] = [a.analysis, b.analysis];
  const same = one.probe.width === two.probe.width && one.probe.height === two.probe.height;
  const laid = same ? (layKept(two, one) ?? (await layTogether(b, { ...a, analysis: one }, { signal }))) : null;
  const place = laid?.offset?.references ?? null;
  const apart = one.scene && two.scene && place ? betweenBackgrounds(one, two, place) : null;
  return eveningOf(place, lightOf(apart)?.gap_stops ?? null, one.probe);
}

/** Which of two passes nobody was seen in; null for neither, or both. */
function emptyOf(one: TakeAnalysis, two: TakeAnalysis): 'take' | 'plate' | null {
  const [a, b] = [one, two].map((t) => t.figures.some((f) => f?.length));
  return a === b ? null : a ? 'plate' : 'take';
}

/** The second pass's empty picture laid on the first one's. */
function betweenBackgrounds(one: TakeAnalysis, two: TakeAnalysis, place: Similarity): LaidOn | null {
  return against(one, { background: two.scene!.background }, invertSimilarity(place));
}

/** A mask of the second pass's own picture, on the first one's. */
function laidBack(
  mask: Uint8Array | null,
  place: Similarity,
  factor: number,
  size: { width: number; height: number },
): Uint8Array | null {
  if (!mask) return null;
  const out = new Uint8Array(mask.length);
  const rows: number[] = [];
  for (let i = 0; i < mask.length; i++)
    if (mask[i]) rows.push(Math.floor(i / size.width), i % size.width, i % size.width, 1);
  silhouettesOf({ ...size, figures: [[{ rows }]], always: null, place: atSize(place, factor) }).mask(0, out);
  return out;
}
