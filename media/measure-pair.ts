import { basename } from 'node:path';
import { invertSimilarity, type Similarity } from '../core/geometry/similarity';
import { judgePair } from '../core/judge/pair';
import { measurePair, type PairSums } from '../core/pair/measure';
import { atSize, silhouettesOf } from '../core/pair/silhouettes';
import { hasCounterpart, layOnBackground, type LaidOn, type SmallPlate } from '../core/plate/compare';
import type { Picture } from '../core/image/picture';
import { eachRun } from '../core/presence/bodies';
import type { PairFound, PairReport } from '../core/report/pair-types';
import { lightBetween, withShadow } from '../core/pair/light';
import { UnusableMedia } from './errors';
import { decodeFinely } from './fine-outlines';
import { layKept, layTogether, type LaidTogether } from './lay-on';
import { analyseTake, type TakeAnalysis } from './measure-take';
import type { TakeFile } from './plate';
import { matrixOf } from './probe';

export interface PairOptions {
  /** The empty picture of both, a still or a recording; what stands in a pass from first to last is told by it. */
  plate?: { path: string; name: string };
  /** By how many frames the second pass is laid later. */
  slide?: number;
  signal?: AbortSignal;
  onProgress?: (doing: string) => void;
}

/** What was found between two passes, with the table that sliding is worked out from. */
export interface PairResult {
  found: PairFound;
  table: PairSums['table'];
}

/**
 * Holds two passes of one setup against each other: who is where, and what parts them.
 * @throws UnusableMedia when a file cannot be used, or the two are of different sizes
 */
export async function findPair(a: TakeFile, b: TakeFile, options: PairOptions = {}): Promise<PairResult> {
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
  // Who stands in one of them from first to last is told by the plate; without one, by the other pass.
  const apart = one.scene && two.scene && place ? betweenBackgrounds(one, two, place) : null;
  const without = emptyOf(one, two);
  let always: { a: Uint8Array | null; b: Uint8Array | null } = {
    a: apart && standing(apart, 'take', size, without),
    b: apart && standing(apart, 'plate', size, without),
  };
  const between = apart && lightBetween(apart, one.scene!);
  if (between) {
    // The light of the whole picture is no shadow.
    const gap = -apart!.gap;
    always = {
      a:
        always.a &&
        withShadow(
          always.a,
          between.map((l) => l - gap),
          size.width,
          size.height,
        ),
      b:
        always.b &&
        withShadow(
          always.b,
          between.map((l) => gap - l),
          size.width,
          size.height,
        ),
    };
  }
  if (options.plate) {
    options.onProgress?.('laying the plate on both');
    const onA = await layTogether(a, options.plate, { signal }),
      onB = await layTogether(b, options.plate, { signal });
    const ownA = againstPlate(one, onA),
      ownB = againstPlate(two, onB);
    const onShared = ownB && place ? laidBack(standing(ownB, 'take', size, 'take'), place, one.factor, size) : null;
    always = { a: ownA && standing(ownA, 'take', size, 'take'), b: onShared };
  }
  options.onProgress?.('outlining who is in');
  const [fineA, fineB] = await Promise.all(
    [a, b].map(({ path, analysis }) => analysis.fine ?? decodeFinely(path, analysis, signal)),
  );
  const grid = fineA ?? { width: 1, height: 1, factor: one.factor, frames: one.figures };
  options.onProgress?.('looking for what parts them');
  const { width, height, factor } = grid;
  const shared = { width, height };
  const { found, table } = measurePair({
    a: silhouettesOf({ ...shared, figures: grid.frames, always: enlarged(always.a, size, shared), place: null }),
    b: silhouettesOf({
      ...shared,
      figures: fineB?.frames ?? two.figures.map(() => null),
      always: enlarged(always.b, size, shared),
      place: place && atSize(place, factor),
    }),
    slide: options.slide ?? 0,
    factor,
    light: enlarged(between, size, shared),
  });
  return {
    table,
    found: { ...found, light: lightOf(apart), offset: offsetOf(laid), unjudged: one.unjudged ?? two.unjudged },
  };
}

/** Values of a small picture on a finer grid. */
function enlarged<T extends Uint8Array | Float32Array>(values: T | null, small: Size, fine: Size): T | null {
  if (!values) return null;
  const out = (
    values instanceof Uint8Array ? new Uint8Array(fine.width * fine.height) : new Float32Array(fine.width * fine.height)
  ) as T;
  for (let y = 0, i = 0; y < fine.height; y++) {
    const row = Math.min(small.height - 1, Math.floor(((y + 0.5) * small.height) / fine.height)) * small.width;
    for (let x = 0; x < fine.width; x++, i++)
      out[i] = values[row + Math.min(small.width - 1, Math.floor(((x + 0.5) * small.width) / fine.width))];
  }
  return out;
}

interface Size {
  width: number;
  height: number;
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

function againstPlate(take: TakeAnalysis, { recording, clear, picture, offset }: LaidTogether): LaidOn | null {
  if (!take.scene || !offset) return null;
  const behind = recording?.scene && clear === null ? { background: recording.scene.background } : null;
  return against(take, behind ?? picture, behind ? offset.references : offset.pictures);
}

function against(take: TakeAnalysis, plate: Picture | SmallPlate, offset: Similarity): LaidOn | null {
  const { background, curve } = take.scene!;
  const { width, height } = take.probe;
  return layOnBackground({
    background,
    curve,
    matrix: matrixOf(take.probe),
    plate,
    offset,
    factor: take.factor,
    width,
    height,
  });
}

/** Somebody who is told from the other picture alone leans to one of them by so many octaves at least. */
const LEANS = 0.05;

/**
 * 1 where something stands in one of two pictures only; null where nothing does. Where the outlines do not tell which
 * of two passes it is, it belongs to the one in which nobody else is seen: somebody is in every pass.
 */
function standing(
  { figures, stands, leans }: LaidOn,
  where: 'take' | 'plate',
  { width, height }: Size,
  without: 'take' | 'plate' | null = null,
): Uint8Array | null {
  const only = figures.filter((_, k) => {
    if (stands[k] !== 'both') return stands[k] === where;
    if (hasCounterpart(k, figures, stands)) return false;
    const lean = leans[k] > LEANS ? 'plate' : leans[k] < -LEANS ? 'take' : null;
    return (without ?? lean) === where;
  });
  if (only.length === 0) return null;
  const mask = new Uint8Array(width * height);
  eachRun(only, width, (first, last) => mask.fill(1, first, last + 1));
  return mask;
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

function lightOf(apart: LaidOn | null): PairFound['light'] {
  return apart && { gap_stops: -apart.gap, red_stops: apart.white?.red ?? null, blue_stops: apart.white?.blue ?? null };
}

function offsetOf({ offset, uncertainty }: Pick<LaidTogether, 'offset' | 'uncertainty'>): PairFound['offset'] {
  const shown = offset?.references;
  return shown
    ? {
        dx_px: shown.dx,
        dy_px: shown.dy,
        rotation_deg: (shown.rotation * 180) / Math.PI,
        scale: shown.scale,
        uncertainty_px: uncertainty ?? 0.1,
      }
    : null;
}

/** Measures and judges two passes. @throws UnusableMedia when a file cannot be used */
export async function measurePairFiles(
  first: string,
  second: string,
  { delivery, ...options }: PairOptions & { delivery?: { width: number; height: number } } = {},
): Promise<PairReport> {
  const open = async (path: string): Promise<TakeFile> => {
    const name = basename(path);
    options.onProgress?.(`measuring ${name}`);
    return { path, name, analysis: await analyseTake(path, { name, signal: options.signal, fine: true }) };
  };
  // One is decoded while the other is measured.
  const [a, b] = await Promise.all([open(first), open(second)]);
  const { found } = await findPair(a, b, options);
  const { width, height } = a.analysis.probe;
  return {
    file: a.name,
    against: b.name,
    ...found,
    ...judgePair(found, { size: { width, height }, delivery: delivery ?? { width, height } }),
  };
}
