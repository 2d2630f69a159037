import { fineOutlines } from './fine';
import type { Outline } from './fine-background';
import { FineStack } from './fine-stack';
import { keepLasting } from './measure';
import { IDENTITY } from '../base/geometry/similarity';
import { analyseScene } from '../take/analyse-scene';
import { PictureStack } from '../base/image/stack';
import { renderTake, type TakeOptions } from '../testing/rendered-take';
import { few } from '../testing/few';

const SIZE = { width: 480, height: 270 };
const FRAMES = 40;
const body = (f: number) => (f < 8 || f > 34 ? null : { x: 60 + 9 * (f - 8), y: 150, rx: 26, ry: 62 });

/** Renders a take; gives its outlines in small and in fine pixels, with how many measuring pixels each has. */
function outlined(options: Partial<TakeOptions>): { small: Outline[][]; fine: Outline[][]; factors: [number, number] } {
  const stack = new PictureStack(),
    fine = new FineStack();
  for (const { picture } of renderTake({ ...SIZE, frames: FRAMES, seed: 3, grain: 2, body, ...options })) {
    stack.frame(picture);
    fine.frame(picture.luma);
  }
  const poses = Array.from({ length: FRAMES }, () => ({ ...IDENTITY }));
  const { factor } = stack.size;
  const scene = analyseScene({
    stack,
    poses,
    factor,
    fps: 25,
    transfer: 'srgb',
    matrix: { red: 0.2126, blue: 0.0722 },
  })!;
  const figures = keepLasting(scene.figures);
  const found = fineOutlines({
    frames: {
      width: fine.width,
      height: fine.height,
      count: FRAMES,
      ratio: fine.smallFactor / fine.factor,
      read: (f) => fine.read(f),
      look: (f) => ({ ...fine.look(f), seen: null }),
    },
    figures,
    light: scene.light.stops,
    background: scene.background,
    curve: scene.curve,
  });
  return { small: figures.map((f) => f ?? []), fine: found.map((f) => f ?? []), factors: [factor, fine.factor] };
}

/** Left, right, top and bottom of what is somebody's body, measuring pixels. */
function bounds(outlines: readonly Outline[], factor: number): number[] {
  let [left, right, top, bottom] = [Infinity, -Infinity, Infinity, -Infinity];
  for (const { rows } of outlines)
    for (let k = 0; k < rows.length; k += 4) {
      if (rows[k + 3] !== 1) continue;
      left = Math.min(left, rows[k + 1]);
      right = Math.max(right, rows[k + 2] + 1);
      top = Math.min(top, rows[k]);
      bottom = Math.max(bottom, rows[k] + 1);
    }
  return [left, right, top, bottom].map((v) => v * factor);
}

const truth = (f: number) => {
  const { x, y, rx, ry } = body(f)!;
  return [x - rx, x + rx, y - ry, y + ry];
};
const meanError = (outlines: Outline[][], factor: number) => {
  const errors: number[] = [];
  for (let f = 10; f < 34; f++) bounds(outlines[f], factor).forEach((v, k) => errors.push(Math.abs(v - truth(f)[k])));
  return errors.reduce((a, b) => a + b, 0) / errors.length;
};

test.each(
  few(1, [
    [3, {}],
    [4, { grain: 3.5 }],
    [5, { light: (f: number) => 0.3 * Math.sin(f / 7) }],
  ]),
)('an outline is known to about two measuring pixels, seed %i', (seed, options) => {
  const { small, fine, factors } = outlined({ seed, ...options });
  const error = meanError(fine, factors[1]);
  expect(error).toBeLessThan(2.2);
  expect(error).toBeLessThanOrEqual(meanError(small, factors[0]) + 0.3);
});

test('where nobody is there is nothing, and where nothing is known there is nothing known', () => {
  const { fine } = outlined({});
  for (const f of [0, 5, 38]) expect(fine[f]).toEqual([]);
  const empty = fineOutlines({ figures: [[], null] } as unknown as Parameters<typeof fineOutlines>[0]);
  expect(empty).toEqual([[], null]);
});

test('a shadow is outlined as one', () => {
  const { fine, factors } = outlined({ shadow: 0.45 });
  let shaded = 0;
  for (const { rows } of fine[20])
    for (let k = 0; k < rows.length; k += 4) if (rows[k + 3] === 2) shaded += rows[k + 2] - rows[k + 1] + 1;
  expect(shaded * factors[1] ** 2).toBeGreaterThan(400);
});
