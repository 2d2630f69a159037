import fc from 'fast-check';
import { frameTime, roundTop, tracePoints } from './trace';

test('no peak is lost, however long the take', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 2, max: 20000 }),
      fc.nat(),
      fc.integer({ min: 50, max: 900 }),
      (count, where, width) => {
        const values = new Array<number>(count).fill(0);
        values[where % count] = 1;
        const points = tracePoints(values, width, 40, 1).flat();
        expect(Math.min(...points.map((p) => p.y))).toBe(0);
        expect(points.every((p) => p.x >= 0 && p.x <= width + 1e-6)).toBe(true);
        expect(points.length).toBeLessThanOrEqual(2 * Math.min(count, width) + 4);
      },
    ),
    { numRuns: 60 },
  );
});

test('missing frames break the line', () => {
  expect(tracePoints([1, 1, null, 1], 300, 40, 2)).toHaveLength(2);
  expect(tracePoints([null, null], 300, 40, 2)).toEqual([]);
  expect(tracePoints([], 300, 40, 2)).toEqual([]);
});

test('tops are round and not below the value', () => {
  fc.assert(
    fc.property(fc.double({ min: 1e-6, max: 1e6, noNaN: true }), (v) => {
      const top = roundTop(v);
      expect(top).toBeGreaterThanOrEqual(v * (1 - 1e-9));
      expect(top).toBeLessThanOrEqual(v * 2.5 * (1 + 1e-9));
    }),
  );
});

test('frame times count at the nearest whole rate', () => {
  expect(frameTime(147, 25)).toBe('00:00:05:22');
  expect(frameTime(90000, 25)).toBe('01:00:00:00');
  expect(frameTime(29, 29.97)).toBe('00:00:00:29');
});
