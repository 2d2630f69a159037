import { IDENTITY } from '../../base/geometry/similarity';
import { BT709, type Picture } from '../../base/image/picture';
import { analyseScene, type SceneAnalysis } from '../../take/analyse-scene';
import { PictureStack } from '../../base/image/stack';
import { renderTake, type TakeOptions } from '../../testing/rendered-take';
import { comparePictures, type PictureGap } from './measure';
import { few } from '../../testing/few';

const SIZE = { width: 480, height: 270, frames: 30, grain: 2 };

interface Shown {
  scene: SceneAnalysis;
  last: Picture;
  factor: number;
}

/** A take of one wall, and the background found in it. */
function show(options: Partial<TakeOptions> = {}): Shown {
  const stack = new PictureStack();
  let last: Picture | null = null;
  for (const { picture } of renderTake({ ...SIZE, seed: 4, ...options })) {
    stack.frame(picture);
    last = picture;
  }
  const { factor } = stack.size;
  const poses = Array.from({ length: SIZE.frames }, () => IDENTITY);
  const scene = analyseScene({ stack, poses, factor, fps: 25, transfer: null, matrix: BT709 })!;
  return { scene, last: last!, factor };
}

const hold = (take: Shown, plate: Shown, still = true): PictureGap =>
  comparePictures({
    background: take.scene.background,
    curve: take.scene.curve,
    matrix: BT709,
    plate: still ? plate.last : { background: plate.scene.background },
    offset: IDENTITY,
    factor: take.factor,
    width: SIZE.width,
    height: SIZE.height,
  })!;

const BODY = { x: 300, y: 150, rx: 26, ry: 60 };
const empty = show();
const stands = show({ seed: 4, body: () => BODY });
const brighter = show({ light: () => 0.3 });
const warmer = show({ white: () => [0.12, -0.12] });

/** Whether a box lies over where somebody stands, in source pixels. */
const overBody = (b: { x: number; y: number; width: number; height: number }) =>
  b.x < BODY.x && b.x + b.width > BODY.x && b.y < BODY.y && b.y + b.height > BODY.y;

test('one wall against itself: no gap, nothing moved, nobody in it', () => {
  for (const still of [true, false]) {
    const gap = hold(empty, empty, still);
    expect(Math.abs(gap.light!.gap_stops)).toBeLessThan(0.02);
    expect(gap.moved).toEqual([]);
    expect(gap.intruders).toEqual([]);
  }
});

test('swapped, the light’s gap changes its sign and nothing else', () => {
  const there = hold(empty, brighter).light!,
    back = hold(brighter, empty).light!;
  // Take less plate: the plate is brighter first, the take then.
  expect(Math.abs(there.gap_stops + 0.3)).toBeLessThan(0.03);
  expect(Math.abs(back.gap_stops - 0.3)).toBeLessThan(0.03);
  expect(Math.abs(there.gap_stops + back.gap_stops)).toBeLessThan(0.02);
});

test('swapped, the white’s gap changes its sign', () => {
  const there = hold(empty, warmer).light!,
    back = hold(warmer, empty).light!;
  expect(there.red_stops!).toBeLessThan(-0.06);
  expect(there.blue_stops!).toBeGreaterThan(0.06);
  expect(Math.abs(there.red_stops! + back.red_stops!)).toBeLessThan(0.03);
  expect(Math.abs(there.blue_stops! + back.blue_stops!)).toBeLessThan(0.03);
});

test('somebody in the plate alone is an intruder there; swapped, they stand in the take alone and are none', () => {
  for (const still of [true, false]) {
    const inPlate = hold(empty, stands, still);
    expect(inPlate.intruders).toHaveLength(1);
    expect(overBody(inPlate.intruders[0])).toBe(true);
    expect(inPlate.moved).toEqual([]);
    const inTake = hold(stands, empty, still);
    expect(inTake.intruders).toEqual([]);
    expect(inTake.moved.filter(overBody).map((m) => m.only)).toEqual(['take']);
  }
});

test('the shadow of whoever stands in the take alone is theirs, and no thing that was moved', () => {
  for (const seed of few(1, [4, 5, 6])) {
    const shaded = show({ seed, body: () => BODY, shadow: 0.4 });
    const { moved, intruders } = hold(shaded, show({ seed }), false);
    expect(moved.length).toBeGreaterThan(0);
    expect(moved.map((m) => m.only)).toEqual(moved.map(() => 'take'));
    expect(intruders).toEqual([]);
  }
});

test('somebody who stands in both is no difference', () => {
  const gap = hold(stands, stands);
  expect(gap.intruders).toEqual([]);
  expect(gap.moved).toEqual([]);
});

test('other light does not hide somebody, nor does somebody change the light', () => {
  const both = show({ seed: 4, body: () => BODY, light: () => 0.3 });
  const gap = hold(empty, both);
  expect(Math.abs(gap.light!.gap_stops + 0.3)).toBeLessThan(0.04);
  expect(gap.intruders.some(overBody)).toBe(true);
});

test('backgrounds of two sizes are not held against each other', () => {
  const small = { ...empty.scene.background, width: 10, height: 10 };
  expect(
    comparePictures({
      background: empty.scene.background,
      curve: 'srgb',
      matrix: BT709,
      plate: { background: small },
      offset: IDENTITY,
      factor: empty.factor,
      width: SIZE.width,
      height: SIZE.height,
    }),
  ).toBeNull();
});
