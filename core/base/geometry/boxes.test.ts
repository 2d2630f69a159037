import fc from 'fast-check';
import { sharedOf } from './boxes';

const box = fc.record({
  x: fc.integer({ min: -20, max: 20 }),
  y: fc.integer({ min: -20, max: 20 }),
  width: fc.integer({ min: 1, max: 15 }),
  height: fc.integer({ min: 1, max: 15 }),
});
type AnyBox = { x: number; y: number; width: number; height: number };

test('what two boxes share is what counting their pixels says', () => {
  const has = (b: AnyBox, x: number, y: number) => x >= b.x && y >= b.y && x < b.x + b.width && y < b.y + b.height;
  fc.assert(
    fc.property(box, box, (a, b) => {
      let [both, any] = [0, 0];
      for (let y = -20; y < 36; y++)
        for (let x = -20; x < 36; x++) {
          if (has(a, x, y) && has(b, x, y)) both++;
          if (has(a, x, y) || has(b, x, y)) any++;
        }
      expect(sharedOf(a, b)).toBeCloseTo(both / any, 9);
      expect(sharedOf(a, a)).toBe(1);
    }),
  );
});
