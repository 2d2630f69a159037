import type { Similarity } from '../base/geometry/similarity';
import type { Figure } from './figures';
import { fixedToScenery } from './fixed';

const SCALE = { width: 320, height: 180, factor: 2 };
/** A camera that pans to the right by so much a frame: the picture goes to the left. */
const pan = (step: number) =>
  Array.from({ length: 20 }, (_, f): Similarity => ({ dx: -step * f, dy: 0, rotation: 0, scale: 1 }));

/** A thing of 20 by 30 small pixels at x, y of a frame's small picture. */
const thingAt = (left: number, top = 40): Figure => {
  const box = { left, top, right: left + 19, bottom: top + 29 };
  return { ...box, body: 600, shadow: 0, box, rows: [] };
};

/** Each frame lies on itself: what is given is where it is on the screen. */
const onScreen = (poses: readonly Similarity[]) => poses.map(() => ({ dx: 0, dy: 0, rotation: 0, scale: 1 }));
const found = (figures: Figure[][], poses: readonly Similarity[]) =>
  fixedToScenery(figures, onScreen(poses), poses, SCALE).size;

test('what goes with the scenery while the camera pans is scenery', () => {
  const poses = pan(6);
  expect(
    found(
      poses.map((_, f) => [thingAt(100 - 3 * f)]),
      poses,
    ),
  ).toBe(20);
});

test("it is also where the picture's edge cuts it off as it comes in", () => {
  const poses = pan(6);
  const figures = poses.map((_, f) => {
    const whole = thingAt(150 - 3 * f);
    return [{ ...whole, box: { ...whole.box!, right: Math.min(159, whole.right) } }];
  });
  expect(found(figures, poses)).toBe(20);
});

test('whoever walks on the scenery, is followed, or stirs in place is not', () => {
  const poses = pan(6);
  expect(
    found(
      poses.map((_, f) => [thingAt(100 - 5 * f)]),
      poses,
    ),
  ).toBe(0);
  expect(
    found(
      poses.map(() => [thingAt(70)]),
      poses,
    ),
  ).toBe(0);
  expect(
    found(
      poses.map((_, f) => [thingAt(100 - 3 * f, 40 + 2 * (f % 3))]),
      poses,
    ),
  ).toBe(0);
});

test('while the camera stands nothing is told by that', () => {
  const poses = pan(0);
  expect(
    found(
      poses.map(() => [thingAt(70)]),
      poses,
    ),
  ).toBe(0);
});

test('somebody who fills the picture from edge to edge along the pan is not taken for scenery', () => {
  const poses = pan(6);
  const wide = { ...thingAt(0), box: { left: 0, top: 40, right: 159, bottom: 69 } };
  expect(
    found(
      poses.map(() => [wide]),
      poses,
    ),
  ).toBe(0);
});
