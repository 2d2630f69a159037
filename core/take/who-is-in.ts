import type { TakeAnalysis } from './analysis';
import { matrixOf } from './source';
import type { Against, MeasuredTake } from './measured-take';
import type { Similarity } from '../base/geometry/similarity';
import type { Picture } from '../base/image/picture';
import { hasCounterpart, layOnBackground, type LaidOn, type SmallPlate } from '../measures/compare/measure';
import { eachRun } from '../presence/bodies';
import type { Outline } from '../presence/fine-background';
import type { PairFound } from '../report/pair-types';
import { asTheyLeave } from './as-they-leave';
import { decodeFinely } from './fine-outlines';
import { layTogether, type LaidTogether } from './lay-on';

/** Who is where in a take, finely, on its reference frame. */
export interface WhoIsIn {
  width: number;
  height: number;
  /** Source pixels for one fine pixel. */
  factor: number;
  frames: (readonly Outline[] | null)[];
  /** 1 where somebody stands from first to last; null for nowhere, or when that is not known. */
  always: Uint8Array | null;
  /** Frames whose outlines hold those too, for some of them have moved; none when left out. */
  told?: ReadonlySet<number>;
  /** The plate laid on the take; null without one, or when they show too little in common. */
  laid: LaidTogether | null;
  apart: LaidOn | null;
}

/**
 * Outlines whoever is in a take. Who stands in it from first to last is told by a plate.
 * @throws UnusableMedia when the plate cannot be used
 */
export async function whoIsIn(take: MeasuredTake, plate: Against | null, signal?: AbortSignal): Promise<WhoIsIn> {
  const { analysis } = take;
  const fine = analysis.fine ?? (await decodeFinely(take.source, analysis, signal));
  const laid = plate && (await layTogether(take, plate, { signal }));
  const apart = laid && againstPlate(analysis, laid);
  const small = analysis.scene?.background ?? { width: 1, height: 1 };
  const grid = fine ?? { ...small, factor: analysis.factor, frames: analysis.figures };
  const { width, height, factor, frames } = grid;
  const always = enlarged(apart && standing(apart, 'take', small, 'take'), small, { width, height });
  const who = { width, height, factor, frames, always, laid, apart };
  return plate ? asTheyLeave(who, take, plate.source, signal) : who;
}

/** Values of a small picture on a finer grid. */
export function enlarged<T extends Uint8Array | Float32Array>(values: T | null, small: Size, fine: Size): T | null {
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

export interface Size {
  width: number;
  height: number;
}

/** A take's plate laid on the take's background; null when they show too little in common. */
export function againstPlate(take: TakeAnalysis, { recording, picture, offset }: LaidTogether): LaidOn | null {
  if (!take.scene || !offset) return null;
  const scene = recording?.scene;
  if (picture) return against(take, picture, offset.pictures, scene?.background.restless);
  return scene ? against(take, { background: scene.background }, offset.references, scene.background.restless) : null;
}

/** Another picture of the place laid on a take's background. @param offset where the take's reference frame lies in it, source pixels */
export function against(
  take: TakeAnalysis,
  plate: Picture | SmallPlate,
  offset: Similarity,
  restless?: Uint8Array,
): LaidOn | null {
  const { background, curve } = take.scene!;
  const { width, height } = take.probe;
  return layOnBackground({
    background,
    curve,
    matrix: matrixOf(take.probe),
    plate,
    restless,
    offset,
    factor: take.factor,
    width,
    height,
  });
}

/** Somebody who is told from the other picture alone leans to one of them by so many octaves at least. */
const LEANS = 0.05;

/** Parts of one body stand above each other: no farther than so many times the lower one's height, and hardly to a side. */
const ABOVE = 3;
const ASIDE = 4;
/** A body looks like standing in the one or the other by so many octaves at least. */
const CLEARLY = 0.25;

/** How much each of what stands in one picture only looks like standing in the plate, octaves: as all of its body does. */
function leansOfBodies({ figures, leans }: LaidOn): number[] {
  const body = figures.map((_, k) => k);
  const isPart = (a: LaidOn['figures'][0], b: LaidOn['figures'][0]) => {
    const across = Math.max(0, a.left - b.right, b.left - a.right),
      down = Math.max(0, a.top - b.bottom, b.top - a.bottom);
    return across <= ASIDE && down <= ABOVE * Math.min(a.bottom - a.top + 1, b.bottom - b.top + 1);
  };
  figures.forEach((a, k) =>
    figures.forEach((b, n) => {
      if (body[k] === body[n] || !isPart(a, b)) return;
      const from = body[n];
      body.forEach((of, m) => {
        if (of === from) body[m] = body[k];
      });
    }),
  );
  return figures.map((_, k) => {
    let sum = 0,
      area = 0;
    figures.forEach((f, n) => {
      if (body[n] !== body[k]) return;
      sum += leans[n] * (f.body + f.shadow);
      area += f.body + f.shadow;
    });
    return area ? sum / area : leans[k];
  });
}

/**
 * 1 where something stands in one of two pictures only; null where nothing does. Where the outlines do not tell which
 * of two passes it is, it belongs to the one in which nobody else is seen: somebody is in every pass.
 */
export function standing(
  laid: LaidOn,
  where: 'take' | 'plate',
  { width, height }: Size,
  without: 'take' | 'plate' | null = null,
): Uint8Array | null {
  const { figures, stands } = laid;
  const leans = leansOfBodies(laid);
  const only = figures.filter((_, k) => {
    if (Math.abs(leans[k]) >= CLEARLY) return (leans[k] > 0 ? 'plate' : 'take') === where;
    if (hasCounterpart(k, figures, stands)) return false;
    const lean = leans[k] > LEANS ? 'plate' : leans[k] < -LEANS ? 'take' : null;
    return (without ?? lean) === where;
  });
  if (only.length === 0) return null;
  const mask = new Uint8Array(width * height);
  eachRun(only, width, (first, last) => mask.fill(1, first, last + 1));
  return mask;
}

/** Light of the other picture less that of the take. */
export function lightOf(apart: LaidOn | null): PairFound['light'] {
  return apart && { gap_stops: -apart.gap, red_stops: apart.white?.red ?? null, blue_stops: apart.white?.blue ?? null };
}

/** Where one picture lies on the other, as reports say it. @param uncertainty source pixels, where it is known */
export function offsetOf(shown: Similarity | undefined, uncertainty: number | null): PairFound['offset'] {
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
