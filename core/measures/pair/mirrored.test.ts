import { pictureOf, type Picture } from '../../base/image/picture';
import { passPictures } from '../../testing/pass-pictures';
import { renderTake, type TakeOptions } from '../../testing/rendered-take';
import { mirroredIn } from './mirrored';
import { few } from '../../testing/few';

const { abs, max, min, round, sin } = Math;

const SIZE = { width: 480, height: 270, frames: 40, grain: 2 };
const FEET = 190;

/** Somebody who sways above the line at which they stand. */
const swaying: TakeOptions['body'] = (f) => (f < 5 ? null : { x: 190 + 40 * sin(f / 9), y: FEET - 62, rx: 30, ry: 60 });

/** What a floor adds to a pixel of the empty picture, by what differs above it. */
type Floor = (own: number, above: number) => number;
const mirror =
  (strength: number): Floor =>
  (_, above) =>
    strength * above;
/** A shadow of the same shape as whoever stands there. */
const shadow: Floor = (own, above) => (abs(above) > 12 ? -0.35 * own : 0);

function floored(picture: Picture, empty: Picture, floor: Floor): Picture {
  const { width, height, data } = picture.luma;
  const turned = data.map((v, i) => {
    const above = i + 2 * (FEET - ((i / width) | 0)) * width;
    if (i / width < FEET + 1 || above < 0) return v;
    return max(0, min(255, round(v + floor(v, data[above] - empty.luma.data[above]))));
  });
  const { small } = pictureOf({ width, height, data: turned });
  return { luma: { width, height, data: turned }, small: { ...picture.small, luma: small.luma } };
}

/** What is found in every third picture of a take on such a floor. */
function roll(options: Partial<TakeOptions>, floor: Floor | null, line: number | null = null) {
  const o = { ...SIZE, seed: 4, body: swaying, ...options };
  const [{ picture: empty }] = renderTake({ ...o, frames: 1, grain: 0, body: () => null });
  function* take() {
    for (const { picture } of renderTake(o)) yield floor ? floored(picture, empty, floor) : picture;
  }
  const { pictures, scene, factor, rightOf } = passPictures(take());
  return mirroredIn(pictures, scene.background, line === null ? null : rightOf(line), factor);
}

test.each(
  few(1, [
    [4, 0.15],
    [5, 0.3],
    [6, 0.35],
  ]),
)('seed %i: a floor that mirrors by %f is told, with where and how strongly', (seed, strength) => {
  const found = roll({ seed }, mirror(strength))!;
  expect(abs(found.share / strength - 1)).toBeLessThan(0.25);
  expect(abs(found.y_px - FEET)).toBeLessThanOrEqual(4);
  expect(found.runs[0].start).toBeLessThanOrEqual(9);
  expect(found.runs.at(-1)!.end).toBe(39);
  expect(found.over).toEqual([]);
});

test('where it reaches over a line is told by frame', () => {
  const found = roll({}, mirror(0.3), 225)!;
  expect(found.over.length).toBeGreaterThan(0);
  for (const f of found.over) expect(190 + 40 * sin(f / 9) + 30).toBeGreaterThan(215);
});

test('no floor mirrors somebody by themselves, with a shadow, or with one of their own shape', () => {
  for (const seed of few(1, [4, 5, 6])) {
    expect(roll({ seed }, null)).toBeNull();
    expect(roll({ seed, shadow: 0.5 }, null)).toBeNull();
    expect(roll({ seed }, shadow)).toBeNull();
  }
});
