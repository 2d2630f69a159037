import { reportAnalysed } from '../../core/take/report';
import type { SKRSContext2D } from '@napi-rs/canvas';
import {
  composeSimilarity,
  greatestDisplacement,
  invertSimilarity,
  type Similarity,
} from '../../core/base/geometry/similarity';
import { median, quantile } from '../../core/base/numeric/quantile';
import { baseOf, handheld, swaying, walk, type Base } from '../base';
import { allOf, eventsAre, holds, keptTake, verdictIs, type KeptTake, type ScoreClip } from '../clip';
import type { ClipRecipe } from '../compose';
import { paintFigure } from '../subjects';

const still = (): Similarity => ({ dx: 0, dy: 0, rotation: 0, scale: 1 });

/** Somebody crosses in most clips: a camera is told beside whoever moves before it. */
function crossing({ recipe, cloth, trousers }: Base, frames: number, isThere = true): ClipRecipe['paint'] {
  return (ctx: SKRSContext2D, at: number) => {
    if (isThere) paintFigure(ctx, walk(recipe, at / frames, at), cloth, trousers);
  };
}

const reported = ({ analysis, name }: KeptTake) => {
  const { width, height, measured_fps: fps } = analysis.media;
  return reportAnalysed(analysis, name, 'locked', { width, height, fps });
};

type Move = [name: string, at: (f: number, frames: number, fps: number, seed: number) => Similarity, fps?: number];
const MOVES: readonly Move[] = [
  ['a camera that stands', still],
  [
    'a knock that comes to rest 3 px off',
    (f, frames, fps) => {
      const t = (f - Math.round(0.45 * frames)) / fps;
      const off = t < 0 ? 0 : 3 + 9 * Math.exp(-6 * t) * Math.cos(30 * t);
      return { ...still(), dx: off, dy: 0.4 * off };
    },
  ],
  ['a head that creeps by 5 px', (f, frames) => ({ ...still(), dx: (5 * f) / frames, dy: (2 * f) / frames })],
  ['by hand, 20 fps', (f, _, __, seed) => handheld(seed, 9)(f), 20],
  ['a zoom that creeps by 0.6 %', (f, frames) => ({ ...still(), scale: 1 + (0.006 * f) / frames })],
  ['a turn of 0.3 degrees', (f, frames) => ({ ...still(), rotation: ((0.3 * Math.PI) / 180) * (f / frames) })],
  ['a camera that stands, leaves', still],
  ['a creep of 1 px', (f, frames) => ({ ...still(), dy: f / frames })],
  ['a camera that stands, light that drifts', still],
  ['by hand', (f, _, __, seed) => handheld(seed, 7)(f)],
  [
    'two knocks',
    (f, frames) => ({
      ...still(),
      dx: (f >= 0.3 * frames ? 2.5 : 0) + (f >= 0.7 * frames ? 2 : 0),
      dy: f >= 0.7 * frames ? -1 : 0,
    }),
  ],
  ['a camera that stands, dark', still],
];

/** How a camera stands or moves, told to a part of a pixel. */
export async function lock(k: number, sealed: boolean): Promise<ScoreClip> {
  const base = await baseOf(k, sealed, 3);
  const [name, moveAt, rate] = MOVES[(k + (sealed ? 1 : 0) * 5) % MOVES.length];
  const fps = rate ?? base.recipe.fps;
  const frames = Math.round(3.6 * fps);
  const camera = (f: number) => moveAt(f, frames, fps, base.seed);
  const all: ClipRecipe = {
    ...base.recipe,
    ...{ fps, frames, camera },
    light: name.includes('drifts') ? (f) => 0.4 * (f / frames) : name.includes('dark') ? () => -3 : undefined,
    behind: name.includes('leaves') ? swaying(base, 0.3) : undefined,
    paint: crossing(base, frames, k % 4 !== 3),
  };
  const judge = async () => {
    const take = await keptTake('cameras', name, all, false);
    const { lock: told } = reported(take);
    const { poses } = take.analysis;
    const reference = camera(told.reference_frame ?? 0);
    const { width, height } = all;
    const offs = poses.flatMap((pose, f) => {
      const real = composeSimilarity(camera(f), invertSimilarity(reference));
      return pose ? [greatestDisplacement(pose, real, width, height)] : [];
    });
    const real = Math.max(...poses.map((_, f) => greatestDisplacement(camera(f), reference, width, height)));
    const error = told.uncertainty_px ?? 0;
    const stands = real < 0.1;
    const knock = name.includes('knock') ? [Math.round((name.includes('two') ? 0.3 : 0.45) * frames)] : [];
    return allOf(
      holds(offs.length === frames && quantile(offs, 0.95) <= 0.5, `path off by ${quantile(offs, 0.95).toFixed(2)} px`),
      { within: offs.filter((o) => o <= 2 * error).length / Math.max(1, offs.length) },
      holds(told.handheld === name.startsWith('by hand'), `handheld: ${told.handheld}`),
      knock.length ? eventsAre([told.knocks[0]?.start], knock) : {},
      verdictIs(told.verdict, stands, told.reasons),
    );
  };
  return { name, judge };
}

type Lamp = [
  name: string,
  stops: (f: number, frames: number, fps: number) => number,
  steps: (frames: number) => number[],
];
const none = () => [];
const LAMPS: readonly Lamp[] = [
  ['steady light', () => 0, none],
  ['light that drifts by 0.3 stop', (f, frames) => (0.3 * f) / frames, none],
  ['a step of 0.15 stop', (f, frames) => (f >= Math.round(0.4 * frames) ? 0.15 : 0), (n) => [Math.round(0.4 * n)]],
  ['a flicker of 4 %', (f, _, fps) => Math.log2(1 + 0.04 * Math.sin((6.2832 * 5.3 * f) / fps)), none],
  ['a cloud', (f, frames) => -0.5 * Math.exp(-(((f / frames - 0.5) / 0.15) ** 2)), none],
  [
    'two steps',
    (f, n) => (f >= Math.round(0.3 * n) ? -0.2 : 0) + (f >= Math.round(0.7 * n) ? 0.3 : 0),
    (n) => [Math.round(0.3 * n), Math.round(0.7 * n)],
  ],
];

/** How a take's light goes, beside whoever crosses it. */
export async function light(k: number, sealed: boolean): Promise<ScoreClip> {
  const base = await baseOf(k, sealed, 4);
  const [what, stopsAt, stepsAt] = LAMPS[(k + (sealed ? 2 : 0)) % LAMPS.length];
  const { fps } = base.recipe;
  const frames = Math.round(3.6 * fps);
  const stops = (f: number) => stopsAt(f, frames, fps);
  const name = `${what}${k >= 6 ? ', leaves' : ''}`;
  const all: ClipRecipe = {
    ...base.recipe,
    ...{ frames, light: stops },
    shadow: 0.4,
    behind: k >= 6 ? swaying(base, 0.3) : undefined,
    paint: crossing(base, frames),
  };
  const judge = async () => {
    const { light: told } = reported(await keptTake('cameras', name, all, false));
    const offs = told.path.stops.map((s, f) => (s === null ? NaN : s - stops(f)));
    const zero = median(offs.filter((o) => !Number.isNaN(o)));
    const apart = offs.filter((o) => !Number.isNaN(o)).map((o) => Math.abs(o - zero));
    const worst = apart.length ? quantile(apart, 0.95) : Infinity;
    const flickers = what.includes('flicker');
    const error = told.uncertainty_stops ?? 0;
    return allOf(
      holds(worst <= 0.04, `path off by ${worst.toFixed(3)} stop`),
      { within: apart.filter((a) => a <= 2 * error).length / Math.max(1, apart.length) },
      eventsAre(
        stepsAt(frames).map((f) => told.steps.find((s) => Math.abs(s.frame - f) <= 8)?.frame),
        stepsAt(frames),
      ),
      holds(told.steps.length === stepsAt(frames).length, `${told.steps.length} steps`),
      { extra: Math.max(0, told.steps.length - stepsAt(frames).length) },
      holds((told.flicker !== null) === flickers, `flicker: ${JSON.stringify(told.flicker)}`),
      verdictIs(told.verdict, what === 'steady light', told.reasons),
    );
  };
  return { name, judge };
}

type Lens = [name: string, more: (f: number, frames: number) => number, hunts: boolean];
const LENSES: readonly Lens[] = [
  ['a focus that holds', () => 0, false],
  ['a hunt', (f, n) => 1.8 * Math.exp(-(((f / n - 0.55) / 0.07) ** 2)), true],
  ['a focus that goes for good', (f, n) => 1.6 * Math.max(0, Math.min(1, (f / n - 0.5) / 0.15)), true],
  ['a focus that holds, leaves', () => 0, false],
  ['a slight hunt', (f, n) => 0.9 * Math.exp(-(((f / n - 0.4) / 0.08) ** 2)), true],
  ['a focus that holds, light that drifts', () => 0, false],
];

/** Whether fine detail stays, beside whoever crosses. */
export async function focus(k: number, sealed: boolean): Promise<ScoreClip> {
  const base = await baseOf(k, sealed, 5);
  const [what, moreAt, hunts] = LENSES[(k + (sealed ? 1 : 0)) % LENSES.length];
  const frames = Math.round(3.6 * base.recipe.fps);
  const name = `${what}${k >= 6 ? ', by hand' : ''}`;
  const soft = (f: number) => 0.7 + moreAt(f, frames);
  const all: ClipRecipe = {
    ...base.recipe,
    ...{ frames, soft },
    camera: k >= 6 ? handheld(base.seed, 5) : undefined,
    light: what.includes('drifts') ? (f) => 0.35 * (f / frames) : undefined,
    behind: what.includes('leaves') ? swaying(base, 0.3) : undefined,
    paint: crossing(base, frames),
  };
  const judge = async () => {
    const { focus: told } = reported(await keptTake('cameras', name, all, false));
    // Where the blur is over half of its height.
    const high = Math.max(...Array.from({ length: frames }, (_, f) => moreAt(f, frames)));
    const soft = Array.from({ length: frames }, (_, f) => f).filter((f) => hunts && moreAt(f, frames) > high / 2);
    const [run] = told.hunts;
    const meets = !hunts || (run && run.start <= soft.at(-1)! && run.end >= soft[0]);
    return allOf(
      holds(Boolean(meets), 'the hunt is not told where it is'),
      holds(hunts || told.hunts.length === 0, `${told.hunts.length} hunts`),
      verdictIs(told.verdict, !hunts, told.reasons),
    );
  };
  return { name, judge };
}
