import { loadImage, type Canvas, type Image, type SKRSContext2D } from '@napi-rs/canvas';
import { join } from 'node:path';
import type { Similarity } from '../core/geometry/similarity';
import { seededNormal, seededRandom } from '../core/numeric/random';
import type { BeatKind } from '../core/report/moment-types';
import type { ClipRecipe } from './compose';
import { OPEN_PHOTOS, photographs, SEALED_PHOTOS } from './sources';
import { clothOf, paintFigure, type Look, type Pose } from './subjects';

export type Family = 'who-is-in' | 'beats' | 'cloth';

/** Something that happens in a clip: the frame, and what a measure may call it. */
export interface TrueBeat {
  frame: number;
  kinds: readonly BeatKind[];
}

/** A clip of the corpus, and what is true of it besides who is where. */
export interface ScoreClip {
  family: Family;
  /** What is particular about it, for the list. */
  name: string;
  sealed: boolean;
  recipe: ClipRecipe;
  beats?: readonly TrueBeat[];
  cloth?: { hidden: [first: number, last: number]; lands: number };
}

const LOOKS: readonly Look[] = ['plain', 'stripes', 'print', 'dark', 'checks', 'light'];
/** Width, frames a second, grain in levels, coding: what cameras differ in. */
const CAMERAS: readonly [width: number, fps: number, grain: number, crf: number][] = [
  [640, 25, 2, 20],
  [960, 24, 1.5, 22],
  [480, 30, 3.5, 24],
  [640, 50, 4, 20],
  [854, 25, 2.5, 26],
];
/** Sealed clips use seeds of their own. */
const SEALED_FROM = 7000;

interface Base {
  recipe: Omit<ClipRecipe, 'paint' | 'frames'>;
  look: Look;
  seed: number;
  cloth: Canvas;
  trousers: Canvas;
  second: Canvas;
  photo: Image;
}

/** A place, a camera and clothes for the `k`th clip of a family. */
async function baseOf(k: number, sealed: boolean, family: number): Promise<Base> {
  const photos = sealed ? SEALED_PHOTOS : OPEN_PHOTOS;
  const seed = (sealed ? SEALED_FROM : 100) + 40 * family + k;
  const path = join(photographs(), photos[(k + family) % photos.length]);
  const photo = await loadImage(path);
  const [width, fps, grain, crf] = CAMERAS[(k + 2 * family) % CAMERAS.length];
  const look = LOOKS[(k + family) % LOOKS.length];
  const height = 2 * Math.round((width * 9) / 32);
  return {
    recipe: { width, height, fps, photo: path, seed, grain, crf, soft: 0.4 + 0.2 * (k % 4) },
    look,
    seed,
    photo,
    cloth: clothOf(look, seed, photo),
    trousers: clothOf(k % 3 === 0 ? 'stripes' : 'dark', seed + 1, photo),
    second: clothOf(LOOKS[(k + family + 3) % LOOKS.length], seed + 2, photo),
  };
}

/** A hand's unrest: slow wander and tremor, source pixels. */
function handheld(seed: number, amount: number): (f: number) => Similarity {
  const random = seededRandom(seed);
  const waves = Array.from({ length: 6 }, (_, k) => [0.03 + 0.07 * k + 0.02 * random(), 6.28 * random()]);
  const at = (f: number, from: number) =>
    waves
      .slice(from, from + 3)
      .reduce((sum, [rate, phase]) => sum + (Math.sin(6.28 * rate * f * 0.3 + phase) - Math.sin(phase)) / 3, 0);
  return (f) => ({ dx: amount * at(f, 0), dy: amount * at(f, 3), rotation: 0.0004 * amount * at(f, 2), scale: 1 });
}

/** Somebody crosses, alone or past where a second one stands for a while. */
async function whoIsIn(k: number, sealed: boolean): Promise<ScoreClip> {
  const { recipe, cloth, trousers, second, look, seed } = await baseOf(k, sealed, 0);
  const { width, height, fps } = recipe;
  const frames = Math.round(3.6 * fps);
  const tall = height * (0.45 + 0.1 * (k % 3));
  const way = k % 2 ? -1 : 1;
  const drift = seededNormal(seed);
  const slow = 0.02 * drift();
  const camera =
    k % 4 === 1
      ? handheld(seed, 5)
      : k % 4 === 3
        ? (f: number) => ({ dx: 0.02 * f, dy: 0, rotation: 0, scale: 1 })
        : undefined;
  const pose = (at: number): Pose => {
    const share = (at / frames - 0.15) / 0.7;
    const swing = 0.5 * Math.sin((6.28 * at * 1.7) / fps);
    return {
      x: width * (0.5 + way * (1.3 * share - 0.65)),
      ground: 0.9 * height,
      height: tall,
      stride: swing,
      arms: [0.15 + 0.4 * swing, 0.15 - 0.4 * swing],
    };
  };
  const stays = (at: number): Pose => ({
    x: width * 0.72,
    ground: 0.88 * height,
    height: 0.9 * tall,
    arms: [0.2 + 0.1 * Math.sin(at / 9), 0.2],
    lean: 0.02 * Math.sin(at / 7),
  });
  return {
    family: 'who-is-in',
    name: `${look} clothes, ${['still', 'by hand', 'still, light drifts', 'drifting'][k % 4]}${k % 5 === 4 ? ', two' : ''}`,
    sealed,
    recipe: {
      ...recipe,
      frames,
      camera,
      light: k % 4 === 2 ? (f) => (0.25 + slow) * (f / frames) : undefined,
      shadow: k % 3 === 1 ? 0 : 0.4,
      paint: (ctx, at) => {
        if (k % 5 === 4 && at > 0.3 * frames) paintFigure(ctx, stays(at), second, trousers);
        paintFigure(ctx, pose(at), cloth, trousers);
      },
    },
  };
}

/** Moves from 0 to 1 between two moments; `sudden` ends at its fastest, as what strikes does. */
const move = (at: number, from: number, to: number, sudden = false) => {
  const t = Math.max(0, Math.min(1, (at - from) / (to - from)));
  return sudden ? t * t : t * t * (3 - 2 * t);
};

type Gesture = [
  name: string,
  at: (share: (s: number) => number) => TrueBeat[],
  pose: (at: number, s: (x: number) => number) => Partial<Pose>,
];
const STRIKE: readonly BeatKind[] = ['strikes', 'stops', 'turns'];
const REST: readonly BeatKind[] = ['stops', 'strikes'];
const START: readonly BeatKind[] = ['starts'];
/** Gestures, with the moments that count as shares of the clip. */
const GESTURES: readonly Gesture[] = [
  [
    'hands that clap',
    (s) => [{ frame: s(0.5), kinds: STRIKE }],
    (at, s) => ({
      arms: arms(1.5 - 1.45 * move(at, s(0.4), s(0.5), true) + 0.5 * move(at, s(0.5), s(0.62))),
      elbows: 0.2,
    }),
  ],
  [
    'arms that close',
    (s) => [
      { frame: s(0.35), kinds: START },
      { frame: s(0.6), kinds: REST },
    ],
    (at, s) => ({ arms: arms(1.8 - 1.6 * move(at, s(0.35), s(0.6), true)) }),
  ],
  [
    'a foot that stamps',
    (s) => [{ frame: s(0.5), kinds: STRIKE }],
    (at, s) => ({ foot: 0.16 * (move(at, s(0.25), s(0.42)) - move(at, s(0.44), s(0.5), true)) }),
  ],
  [
    'two taps alike',
    (s) => [
      { frame: s(0.4), kinds: STRIKE },
      { frame: s(0.7), kinds: STRIKE },
    ],
    (at, s) => ({ arms: [0.15, 0.4 + 0.9 * tap(at, s(0.25), s(0.4)) + 0.9 * tap(at, s(0.55), s(0.7))] }),
  ],
  [
    'an arm that falls',
    (s) => [{ frame: s(0.55), kinds: STRIKE }],
    (at, s) => ({ arms: [0.15, 2.6 - 2.4 * move(at, s(0.43), s(0.55), true)] }),
  ],
  [
    'who starts to walk',
    (s) => [{ frame: s(0.45), kinds: START }],
    (at, s) => ({ x: 0.25 * Math.max(0, (at - s(0.45)) / s(0.55)) }),
  ],
  [
    'who stops at once',
    (s) => [{ frame: s(0.5), kinds: REST }],
    (at, s) => ({ x: -0.3 + 0.3 * Math.min(1, at / s(0.5)) }),
  ],
  [
    'who turns back',
    (s) => [{ frame: s(0.5), kinds: ['turns', 'strikes'] }],
    (at, s) => ({ x: 0.2 * (1 - Math.abs(at - s(0.5)) / s(0.5)) }),
  ],
];
const arms = (a: number): [number, number] => [a, a];
const tap = (at: number, from: number, to: number) =>
  at <= to ? move(at, from, (from + to) / 2) - move(at, (from + to) / 2, to, true) : 0;

async function gesture(k: number, sealed: boolean): Promise<ScoreClip> {
  const { recipe, cloth, trousers, look } = await baseOf(k, sealed, 1);
  const { width, height, fps } = recipe;
  const frames = Math.round(3.2 * fps);
  const [name, beats, poseAt] = GESTURES[(k + (sealed ? 3 : 0)) % GESTURES.length];
  const s = (share: number) => Math.round(share * frames);
  return {
    family: 'beats',
    name: `${name}, ${look} clothes`,
    sealed,
    beats: beats(s),
    recipe: {
      ...recipe,
      frames,
      paint: (ctx, at) => {
        const { x = 0, ...pose } = poseAt(at, s);
        paintFigure(
          ctx,
          { x: width * (0.5 + x), ground: 0.92 * height, height: 0.72 * height, ...pose },
          cloth,
          trousers,
        );
      },
    },
  };
}

/** A cloth rises before somebody, who is gone when it falls. */
async function cloth(k: number, sealed: boolean): Promise<ScoreClip> {
  const { recipe, cloth: coat, trousers, second, photo, seed } = await baseOf(k, sealed, 2);
  const { width, height, fps } = recipe;
  const frames = Math.round(3.6 * fps);
  const s = (share: number) => Math.round(share * frames);
  const look = LOOKS[(k + 1) % LOOKS.length];
  const stuff = k % 4 === 3 ? second : clothOf(look, seed + 9, photo);
  const [up, gone, falls, lands] = [s(0.28), s(0.5), s(0.68), s(0.68) + Math.round(0.32 * fps)];
  const [x, ground, tall] = [width * (0.4 + 0.05 * (k % 5)), 0.93 * height, 0.62 * height];
  const half = 0.26 * tall;
  const topAt = (at: number) => {
    const top = ground - 1.12 * tall * move(at, s(0.14), up);
    const down = at < falls ? 0 : Math.min(1, ((at - falls) / (lands - falls)) ** 2);
    return top + down * (ground - 0.12 * tall - top);
  };
  // It hides whoever stands there as long as it reaches over their head, its waves too.
  const head = ground - 2 - 1.005 * tall;
  const hides = Array.from({ length: frames }, (_, f) => f).filter((f) => topAt(f) + 3 <= head);
  return {
    family: 'cloth',
    name: `a ${k % 4 === 3 ? 'second' : look} cloth`,
    sealed,
    cloth: { hidden: [hides[0], hides.at(-1)!], lands },
    recipe: {
      ...recipe,
      frames,
      paint: (ctx, at) => {
        if (at < gone) paintFigure(ctx, { x, ground: ground - 2, height: tall, arms: [0.1, 0.1] }, coat, trousers);
        paintCloth(ctx, stuff, x, half, topAt(at), ground, at);
      },
    },
  };
}

function paintCloth(
  ctx: SKRSContext2D,
  stuff: Canvas,
  x: number,
  half: number,
  top: number,
  ground: number,
  at: number,
): void {
  if (ground - top < 3) return;
  ctx.save();
  ctx.translate(x, top);
  ctx.fillStyle = ctx.createPattern(stuff, 'repeat')!;
  ctx.beginPath();
  const wave = (k: number) => 3 * Math.sin(k * 1.7 + at / 5);
  ctx.moveTo(-half, wave(0));
  for (let k = 1; k <= 6; k++) ctx.lineTo(-half + (k * half) / 3, wave(k));
  ctx.lineTo(half + wave(9), ground - top);
  ctx.lineTo(-half + wave(8), ground - top);
  ctx.closePath();
  ctx.fill();
  // Folds.
  for (let k = -2; k <= 2; k++) {
    ctx.fillStyle = 'rgba(0,0,0,0.16)';
    ctx.fillRect((k * half) / 2.6 + wave(k + 4), 4, half / 9, ground - top - 4);
  }
  ctx.restore();
}

/** So many clips of each family to work with, and so many sealed ones. */
const OPEN = 12;
const SEALED = 6;
const MAKERS: Record<Family, (k: number, sealed: boolean) => Promise<ScoreClip>> = {
  'who-is-in': whoIsIn,
  beats: gesture,
  cloth,
};

/** The clips of a family. */
export function clipsOf(family: Family, sealed: boolean): Promise<ScoreClip[]> {
  return Promise.all(Array.from({ length: sealed ? SEALED : OPEN }, (_, k) => MAKERS[family](k, sealed)));
}

/** A picture of a clip without anybody, as a recipe of its own: its plate. */
export const plateOf = (recipe: ClipRecipe): ClipRecipe => ({
  ...recipe,
  frames: recipe.fps,
  seed: recipe.seed + 5000,
  camera: undefined,
  light: undefined,
  paint: () => undefined,
});

/** All families of clips. */
export const FAMILIES = Object.keys(MAKERS) as Family[];
