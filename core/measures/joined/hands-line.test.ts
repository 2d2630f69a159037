import fc from 'fast-check';
import { handsLine } from './hands-line';

test('between known heights it goes evenly; before the first and after the last it is not known', () => {
  expect(handsLine([null, 100, null, null, null, 60, null])).toEqual([null, 100, 90, 80, 70, 60, null]);
  expect(handsLine([null, null])).toEqual([null, null]);
});

test('a single height that was misread is left out', () => {
  expect(handsLine([50, 50, 300, 50, 50])).toEqual([50, 50, 50, 50, 50]);
});

test('it stays among what is known', () => {
  const heights = fc.array(fc.option(fc.integer({ min: 0, max: 1000 }), { nil: null }), {
    minLength: 1,
    maxLength: 60,
  });
  fc.assert(
    fc.property(heights, (all) => {
      const known = all.filter((h): h is number => h !== null);
      const line = handsLine(all);
      expect(line).toHaveLength(all.length);
      for (const h of line) if (h !== null) expect(h >= Math.min(...known) && h <= Math.max(...known)).toBe(true);
    }),
  );
});
