import fc from 'fast-check';
import { isInside } from '../../core/base/geometry/outline';
import { boxBetween, outlined } from './zone-by-hand';

test('a box goes from corner to corner, whichever was first; a slip is none', () => {
  const box = [
    [0.2, 0.3],
    [0.5, 0.3],
    [0.5, 0.7],
    [0.2, 0.7],
  ];
  expect(boxBetween([0.5, 0.7], [0.2, 0.3])).toEqual(box);
  expect(boxBetween([0.2, 0.7], [0.5, 0.3])).toEqual(box);
  expect(boxBetween([0.2, 0.3], [0.5, 0.302])).toBeNull();
});

test('a finger’s way becomes few corners that hold the same places', () => {
  const circle = Array.from({ length: 300 }, (_, i): [number, number] => [
    0.5 + 0.2 * Math.cos((i / 300) * 2 * Math.PI),
    0.5 + 0.3 * Math.sin((i / 300) * 2 * Math.PI),
  ]);
  const zone = outlined(circle)!;
  expect(zone.length).toBeGreaterThan(8);
  expect(zone.length).toBeLessThan(40);
  fc.assert(
    fc.property(fc.double({ min: 0, max: 1, noNaN: true }), fc.double({ min: 0, max: 1, noNaN: true }), (x, y) => {
      const r = Math.hypot((x - 0.5) / 0.2, (y - 0.5) / 0.3);
      // At its very edge either may be.
      if (Math.abs(r - 1) > 0.05) expect(isInside(zone, x, y)).toBe(r < 1);
    }),
  );
});

test('a tap and a straight stroke go round nothing', () => {
  expect(outlined([[0.5, 0.5]])).toBeNull();
  expect(
    outlined([
      [0.1, 0.5],
      [0.5, 0.5],
      [0.9, 0.5],
    ]),
  ).toBeNull();
});
