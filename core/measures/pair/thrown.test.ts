import { passPictures } from '../../testing/pass-pictures';
import { renderTake, type TakeOptions } from '../../testing/rendered-take';
import { thrownLight } from './thrown';
import { few } from '../../testing/few';

const { abs, exp, sin } = Math;

const SIZE = { width: 480, height: 270, frames: 75, grain: 2 };
const LINE = 250;

/** Somebody who sways on the left of the line, from one frame to another. */
const swaying =
  (from: number, to: number): TakeOptions['body'] =>
  (f) =>
    f < from || f > to ? null : { x: 110 + 30 * sin(f / 9), y: 170, rx: 28, ry: 60 };

/** Light of so many stops that falls about a place, as a factor. */
const spot = (stops: number, x: number, y: number, cx: number) =>
  2 ** (stops * exp(-((x - cx) ** 2 + (y - 130) ** 2) / (2 * 45 ** 2)));

/** What falls beyond the line in a take, by every third of its pictures; and who was found beyond it. */
function roll(options: Partial<TakeOptions>) {
  const o = { ...SIZE, seed: 4, body: swaying(10, 66), ...options };
  function* take() {
    for (const { picture } of renderTake(o)) yield picture;
  }
  const { pictures, scene, figures, factor, rightOf } = passPictures(take());
  const crossing = figures.flatMap((all, f) => (all?.some((g) => g.right * factor > LINE) ? [f] : []));
  return { thrown: thrownLight(pictures, scene, rightOf(LINE), factor), crossing };
}

test.each(
  few(2, [
    [4, 26, 0.5],
    [9, 26, 0.5],
    [5, 26, 0.3],
    // A wall with next to no texture.
    [6, 2, 0.5],
  ]),
)(
  'seed %i, texture %i: a lamp carried for a while throws %f stop over the line, and is nobody',
  (seed, contrast, stops) => {
    const { thrown, crossing } = roll({
      seed,
      contrast,
      restless: (f, x, y) => (f >= 27 && f <= 48 ? spot(stops, x, y, 350) : 1),
    });
    expect(crossing).toEqual([]);
    expect(thrown!.runs).toHaveLength(1);
    expect(abs(thrown!.runs[0].start - 27)).toBeLessThanOrEqual(3);
    expect(abs(thrown!.runs[0].end - 48)).toBeLessThanOrEqual(3);
    expect(abs(thrown!.stops / stops - 1)).toBeLessThan(0.3);
    expect(abs(thrown!.x_px - 350)).toBeLessThan(30);
    expect(abs(thrown!.y_px - 130)).toBeLessThan(30);
  },
);

test('light that moves along with somebody is found on its way', () => {
  const { thrown, crossing } = roll({ restless: (f, x, y) => (f < 18 ? 1 : spot(0.5, x, y, 200 + 9 * (f - 18))) });
  // Where it falls on more than one state of the wall it may be taken for somebody for a moment.
  expect(crossing.length).toBeLessThan(9);
  expect(thrown!.stops).toBeGreaterThan(0.2);
});

test('no light is thrown by somebody who keeps to their side, nor by a cloud that passes all the while', () => {
  expect(roll({}).thrown).toBeNull();
  expect(roll({ body: swaying(30, 50), restless: (f, x, y) => spot(0.25 * sin(f / 12), x, y, 350) }).thrown).toBeNull();
});

test('somebody who walks over the line is no light', () => {
  const { thrown, crossing } = roll({
    body: (f) => (f < 10 || f > 66 ? null : { x: -30 + 9 * (f - 10), y: 170, rx: 28, ry: 60 }),
    shadow: 0,
  });
  expect(crossing.length).toBeGreaterThan(15);
  expect(thrown).toBeNull();
});
