import fc from 'fast-check';
import { IDENTITY, type Similarity } from '../geometry/similarity';
import { makeStillCrop } from './crop';
import { findKnocks, median } from './knocks';

const shift = (dx: number, dy = 0): Similarity => ({ ...IDENTITY, dx, dy });

test('the crop for shifts is their range, whichever side', () => {
  fc.assert(fc.property(fc.array(fc.tuple(fc.double({ min: -60, max: 60, noNaN: true }), fc.double({ min: -30, max: 30, noNaN: true })), { minLength: 1, maxLength: 20 }), (moves) => {
    const xs = moves.map((m) => m[0]), ys = moves.map((m) => m[1]);
    const expected = 100 * Math.max((Math.max(...xs) - Math.min(...xs)) / 1920, (Math.max(...ys) - Math.min(...ys)) / 1080);
    expect(makeStillCrop(moves.map(([x, y]) => shift(x, y)), 1920, 1080)).toBeCloseTo(expected, 1);
  }));
});

test('a still take needs no crop; missing frames are passed over', () => {
  expect(makeStillCrop([shift(0), null, shift(0)], 1280, 720)).toBe(0);
  expect(makeStillCrop([null], 1280, 720)).toBe(0);
});

test('a turn needs a crop on both sides', () => {
  const crop = makeStillCrop([IDENTITY, { ...IDENTITY, rotation: 0.01 }], 1920, 1080);
  expect(crop).toBeGreaterThan(1);
  expect(crop).toBeLessThan(2.5);
});

test('hand-held swaying is not a row of knocks, a slow drift is none', () => {
  const sway = Array.from({ length: 200 }, (_, f) => shift(30 * Math.sin(f / 9) + 8 * Math.sin(f / 3.1), 20 * Math.sin(f / 13)));
  expect(findKnocks(sway, 1920, 1080, 25, 0.02)).toHaveLength(0);
  expect(findKnocks(Array.from({ length: 200 }, (_, f) => shift(f * 0.05)), 1920, 1080, 25, 0.02)).toHaveLength(0);
});

test('a jump between two frames is a knock of one frame that rests where it landed', () => {
  const [knock, ...others] = findKnocks(Array.from({ length: 100 }, (_, f) => shift(f < 60 ? 0 : 5)), 1920, 1080, 25, 0.02);
  expect(others).toHaveLength(0);
  expect(knock).toMatchObject({ start: 60, end: 60 });
  expect(knock.rest_px).toBeCloseTo(5);
});

test('two knocks apart are two', () => {
  const path = Array.from({ length: 150 }, (_, f) => shift((f >= 40 ? 8 * Math.exp(-(f - 40) / 2) : 0) + (f >= 100 ? 8 * Math.exp(-(f - 100) / 2) : 0)));
  expect(findKnocks(path, 1920, 1080, 25, 0.02).map((k) => k.start)).toEqual([40, 100]);
});

test('the median of an even count is the mean of the middle two', () => {
  expect(median([4, 1, 3, 2])).toBe(2.5);
  expect(median([])).toBeNaN();
});
