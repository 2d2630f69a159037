import fc from 'fast-check';
import {
  applySimilarity,
  composeSimilarity,
  greatestDisplacement,
  IDENTITY,
  invertSimilarity,
  type Similarity,
} from './similarity';

const similarity = fc.record({
  dx: fc.double({ min: -500, max: 500, noNaN: true }),
  dy: fc.double({ min: -500, max: 500, noNaN: true }),
  rotation: fc.double({ min: -3, max: 3, noNaN: true }),
  scale: fc.double({ min: 0.2, max: 5, noNaN: true }),
});
const point = fc.tuple(
  fc.double({ min: -2000, max: 2000, noNaN: true }),
  fc.double({ min: -2000, max: 2000, noNaN: true }),
);
const near = (a: [number, number], b: [number, number]) =>
  Math.hypot(a[0] - b[0], a[1] - b[1]) < 1e-6 * (1 + Math.hypot(...b));

test('an inverse undoes a movement, on either side', () => {
  fc.assert(
    fc.property(similarity, point, (t: Similarity, [x, y]) => {
      const [u, v] = applySimilarity(t, x, y);
      expect(near(applySimilarity(invertSimilarity(t), u, v), [x, y])).toBe(true);
      expect(near(applySimilarity(composeSimilarity(invertSimilarity(t), t), x, y), [x, y])).toBe(true);
    }),
  );
});

test('composing equals doing one after the other', () => {
  fc.assert(
    fc.property(similarity, similarity, point, (a, b, [x, y]) => {
      const [u, v] = applySimilarity(a, x, y);
      expect(near(applySimilarity(composeSimilarity(b, a), x, y), applySimilarity(b, u, v))).toBe(true);
    }),
  );
});

test('positive turns are clockwise as seen: right goes down', () => {
  const [x, y] = applySimilarity({ ...IDENTITY, rotation: Math.PI / 2 }, 1, 0);
  expect(x).toBeCloseTo(0);
  expect(y).toBeCloseTo(1);
});

test('greatest displacement finds the corner: a turn moves corners, not the centre', () => {
  expect(greatestDisplacement({ ...IDENTITY, rotation: 0.01 }, IDENTITY, 1920, 1080)).toBeCloseTo(
    0.01 * Math.hypot(960, 540),
    1,
  );
  expect(greatestDisplacement({ ...IDENTITY, dx: 3, dy: -4 }, IDENTITY, 100, 50)).toBeCloseTo(5);
});
