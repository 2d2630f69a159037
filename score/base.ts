import { loadImage, type Canvas, type Image } from '@napi-rs/canvas';
import { join } from 'node:path';
import type { Similarity } from '../core/base/geometry/similarity';
import { seededRandom } from '../core/base/numeric/random';
import type { ClipRecipe } from './compose';
import { OPEN_PHOTOS, photographs, SEALED_PHOTOS } from './sources';
import { clothOf, type Look, type Pose } from './subjects';

/** What somebody wears. */
export const LOOKS: readonly Look[] = ['plain', 'stripes', 'print', 'dark', 'checks', 'light'];
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

export interface Base {
  recipe: Omit<ClipRecipe, 'paint' | 'frames'>;
  look: Look;
  seed: number;
  cloth: Canvas;
  trousers: Canvas;
  second: Canvas;
  photo: Image;
}

/** A place, a camera and clothes for the `k`th clip of a family. */
export async function baseOf(k: number, sealed: boolean, family: number): Promise<Base> {
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
export function handheld(seed: number, amount: number): (f: number) => Similarity {
  const random = seededRandom(seed);
  const waves = Array.from({ length: 6 }, (_, k) => [0.03 + 0.07 * k + 0.02 * random(), 6.28 * random()]);
  const at = (f: number, from: number) =>
    waves
      .slice(from, from + 3)
      .reduce((sum, [rate, phase]) => sum + (Math.sin(6.28 * rate * f * 0.3 + phase) - Math.sin(phase)) / 3, 0);
  return (f) => ({ dx: amount * at(f, 0), dy: amount * at(f, 3), rotation: 0.0004 * amount * at(f, 2), scale: 1 });
}

/** Moves from 0 to 1 between two moments; `sudden` ends at its fastest, as what strikes does. */
export const move = (at: number, from: number, to: number, sudden = false) => {
  const t = Math.max(0, Math.min(1, (at - from) / (to - from)));
  return sudden ? t * t : t * t * (3 - 2 * t);
};

/** Somebody on the way across the picture. @param share of the way, 0 to 1 */
export function walk({ width, height, fps }: Base['recipe'], share: number, at: number, tall = 0.6): Pose {
  const swing = 0.5 * Math.sin((6.28 * at * 1.7) / fps);
  return {
    x: width * (1.4 * share - 0.2),
    ground: 0.9 * height,
    height: tall * height,
    stride: swing,
    arms: [0.15 + 0.4 * swing, 0.15 - 0.4 * swing],
  };
}

/** Twigs of a bush in the wind, over the right part of the picture: each leaf sways by itself. @param share of the width */
export function swaying({ recipe, seed }: Base, share: number): NonNullable<ClipRecipe['behind']> {
  const { width, height, fps } = recipe;
  const random = seededRandom(seed * 31 + 5);
  const leaves = Array.from({ length: 160 }, () => ({
    x: width * (1 - share * random()),
    y: height * random() ** 0.7,
    size: width * (0.012 + 0.016 * random()),
    hue: 80 + 50 * random(),
    light: 18 + 30 * random(),
    rate: 0.4 + 0.5 * random(),
    phase: 6.28 * random(),
    turn: 6.28 * random(),
  }));
  return (ctx, at) => {
    for (const { x, y, size, hue, light, rate, phase, turn } of leaves) {
      const sway = Math.sin((6.28 * rate * at) / fps + phase);
      ctx.fillStyle = `hsl(${hue} 45% ${light}%)`;
      ctx.beginPath();
      ctx.ellipse(x + 0.5 * size * sway, y + 0.15 * size * sway, size, 0.4 * size, turn + 0.3 * sway, 0, 7);
      ctx.fill();
    }
  };
}
