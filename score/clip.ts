import { openTake } from '../media/feeds/measure-take';
import type { MeasuredTake } from '../core/take/measured-take';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { gunzipSync } from 'node:zlib';
import type { Run, VerdictWord } from '../core/report/types';
import { ROOT } from '../media/built';
import { packTruth, renderClip, type ClipRecipe, type Truth } from './compose';
import { CORPUS } from './sources';

/** An event is found when it is told within so many frames. */
export const NEAR = 2;

/** What a measure made of a clip. */
export interface Judged {
  right: boolean;
  /** What was wrong, in a few words. */
  wrong: string;
  /** Overlap (intersection over union) of body and of shadow, medians over frames; mean way between edges, source pixels. */
  overlap?: number;
  shadow?: number;
  edge_px?: number;
  /** Frames between what was told and what was, for each true event; null for one that was missed. */
  off?: (number | null)[];
  /** Events told that are none. */
  extra?: number;
  /** Of what is told with an error of its own: how often the truth lies within two of it. */
  within?: number;
  /** A sound clip that is called faulty, or a faulty one that is called sound. */
  verdict?: 'right' | 'false alarm' | 'missed';
}

/** A clip of the corpus, and what holds what is measured of it against what is true. */
export interface ScoreClip {
  /** What is particular about it, for the list. */
  name: string;
  judge: () => Promise<Judged>;
}

/** A take of the corpus, and who is truly in it. */
export type KeptTake = MeasuredTake & { path: string; truth: Truth };

const sources = new Map<string, string>();
const textOf = (file: string): string => {
  const known = sources.get(file) ?? readFileSync(join(ROOT, 'score', file), 'utf8');
  sources.set(file, known);
  return known;
};

/**
 * A clip of the corpus, rendered unless it is kept, and the truth about it.
 * @param file where its recipe stands: functions are told apart by their sources
 */
export async function keptClip(
  file: string,
  name: string,
  recipe: ClipRecipe,
): Promise<{ path: string; truth: Truth }> {
  const hash = createHash('sha256').update(name).update(JSON.stringify(recipe));
  for (const text of ['compose.ts', 'subjects.ts', 'base.ts', join('families', `${file}.ts`)])
    hash.update(textOf(text));
  mkdirSync(join(CORPUS, 'clips'), { recursive: true });
  const digest = hash.digest('hex').slice(0, 24);
  const readable = `${file} ${name}`.replace(/[^a-z0-9.]+/gi, '-');
  const path = join(CORPUS, 'clips', `${readable}-${digest.slice(0, 8)}.mp4`),
    told = `${path}.truth`;
  const [width, height] = [recipe.width >> 1, recipe.height >> 1];
  if (!existsSync(told)) {
    const truth = await renderClip(recipe, `${path}.part.mp4`);
    renameSync(`${path}.part.mp4`, path);
    writeFileSync(told, packTruth(truth));
  }
  const all = gunzipSync(readFileSync(told));
  const frames = Array.from({ length: recipe.frames }, (_, f) =>
    all.subarray(f * width * height, (f + 1) * width * height),
  );
  return { path, truth: { width, height, frames } };
}

/** The same, measured as a take with who is in outlined. */
export async function keptTake(file: string, name: string, recipe: ClipRecipe, fine = true): Promise<KeptTake> {
  const { path, truth } = await keptClip(file, name, recipe);
  return { path, truth, ...(await openTake(path, { name, fine })) };
}

/** The empty picture of a take, rolled by itself for a second. */
export const keptPlate = (file: string, name: string, recipe: ClipRecipe): Promise<KeptTake> =>
  keptTake(file, `plate of ${name}`, plateOf(recipe), false);

const plateOf = (recipe: ClipRecipe): ClipRecipe => ({
  ...recipe,
  frames: recipe.fps,
  seed: recipe.seed + 5000,
  camera: undefined,
  light: undefined,
  soft: typeof recipe.soft === 'function' ? recipe.soft(0) : recipe.soft,
  paint: () => undefined,
});

/** Several statements about one clip: right when all of them are. */
export function allOf(...parts: Partial<Judged>[]): Judged {
  const wrong = parts.flatMap((p) => (p.right === false ? [p.wrong ?? ''] : [])).join('; ');
  return Object.assign({}, ...parts, { right: wrong === '' && parts.every((p) => p.right !== false), wrong }) as Judged;
}

/** That a number is what it should be. @param most how far it may be off  @param error what is said of its own error */
export function numberIs(
  what: string,
  told: number | null | undefined,
  real: number,
  most: number,
  error?: number | null,
): Partial<Judged> {
  const off = told === null || told === undefined ? Infinity : Math.abs(told - real);
  return {
    right: off <= most,
    wrong: `${what} ${told?.toFixed(3) ?? 'not told'}, truly ${real.toFixed(3)}`,
    ...(error === undefined || error === null ? {} : { within: off <= 2 * error ? 1 : 0 }),
  };
}

/** That something is so. */
export const holds = (right: boolean, wrong: string): Partial<Judged> => ({ right, wrong });

/** That events are told on their frames. */
export function eventsAre(told: (number | null | undefined)[], real: number[], why = ''): Partial<Judged> {
  const off = real.map((frame, k) => (told[k] === null || told[k] === undefined ? null : told[k] - frame));
  return offsAre(off, why);
}

/** The same, of how far they are off. */
export function offsAre(off: (number | null)[], why: string): Partial<Judged> {
  const right = off.every((o) => o !== null && Math.abs(o) <= NEAR);
  return { off, right, wrong: `off by ${off.map((o) => o ?? 'missed').join(', ')}${why && `; told: ${why}`}` };
}

/** That runs of frames are told as they are: as many, each ending within two frames of where it does. */
export function runsAre(told: readonly Run[], real: readonly Run[]): Partial<Judged> {
  const nearest = real.map((r) =>
    told.find((t) => t.start <= r.end + NEAR && t.end >= r.start - NEAR && Math.abs(t.start - r.start) <= 12),
  );
  const off = real.flatMap((r, k) => [
    nearest[k] ? nearest[k].start - r.start : null,
    nearest[k] ? nearest[k].end - r.end : null,
  ]);
  const extra = told.filter((t) => !nearest.includes(t)).length;
  const list = (runs: readonly Run[]) => runs.map((r) => `${r.start} to ${r.end}`).join(', ') || 'none';
  const right = extra === 0 && off.every((o) => o !== null && Math.abs(o) <= NEAR);
  return { off, extra, right, wrong: `told ${list(told)}; truly ${list(real)}` };
}

/** That a sound clip is not called faulty, nor a faulty one sound. What is not judged is neither. */
export function verdictIs(
  told: VerdictWord | null,
  isSound: boolean,
  why: readonly { text: string }[],
): Partial<Judged> {
  if (isSound && told === 'reshoot')
    return { right: false, verdict: 'false alarm', wrong: `a false alarm: ${why[0]?.text}` };
  if (!isSound && told === 'holds') return { right: false, verdict: 'missed', wrong: 'a fault was missed' };
  return { right: true, verdict: 'right' };
}

/** Runs of frames in which something is so. */
export function runsWhere(count: number, isSo: (frame: number) => boolean): Run[] {
  const out: Run[] = [];
  for (let f = 0; f < count; f++)
    if (isSo(f)) {
      if (out.at(-1)?.end === f - 1) out[out.length - 1].end = f;
      else out.push({ start: f, end: f });
    }
  return out;
}
