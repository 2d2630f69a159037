import { outlinesOf } from '../../core/take/outlines';

const figure = (...rows: number[]) => [{ rows }] as never;
const probe = { width: 640, height: 360 } as never;

test('whoever is followed is drawn where each frame shows them, and not beyond its edges', () => {
  const poses = [0, 40, -400].map((dx) => ({ dx, dy: dx / 10, rotation: 0, scale: 1 }));
  const figures = [0, 1, 2].map(() => figure(10, 20, 29, 1, 11, 0, 99, 2));
  const followed = { figures: [...figures, null], poses: [...poses, null], width: 160, height: 90 } as never;
  const found = outlinesOf({ scene: null, figures: [], followed, factor: 4, probe })!;
  expect([found.width, found.height, found.zones]).toEqual([160, 90, []]);
  expect(found.frames).toEqual([
    [10, 20, 29, 1, 11, 0, 99, 2],
    [11, 30, 39, 1, 12, 10, 109, 2],
    // A hundred pixels to the left: nothing of them is in it.
    [],
    [],
  ]);
});

test('nothing is drawn where nobody can be told', () => {
  expect(outlinesOf({ scene: null, figures: [], followed: null, factor: 4, probe })).toBeNull();
});
