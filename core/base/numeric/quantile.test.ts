import fc from 'fast-check';
import { quantile, select } from './quantile';

const lists = fc.array(fc.double({ min: -1e6, max: 1e6, noNaN: true }), { minLength: 1, maxLength: 200 });

test('the value at a place is the one that sorting puts there, and the others lie on their sides of it', () => {
  fc.assert(
    fc.property(lists, fc.nat(), (list, n) => {
      const place = n % list.length;
      const values = Float64Array.from(list);
      const found = select(values, place);
      expect(found).toBe(Float64Array.from(list).sort()[place]);
      for (let k = 0; k < place; k++) expect(values[k]).toBeLessThanOrEqual(found);
      for (let k = place; k < values.length; k++) expect(values[k]).toBeGreaterThanOrEqual(found);
    }),
  );
});

test('many that are equal come to an end', () => {
  expect(select(new Float64Array(1000).fill(3), 999)).toBe(3);
  expect(
    select(
      Float64Array.from({ length: 1000 }, (_, k) => k % 2),
      499,
    ),
  ).toBe(0);
});

test('quantiles lie between neighbours in proportion, and leave what they are given as it is', () => {
  const values = [5, 1, 3, 9];
  expect(quantile(values, 0)).toBe(1);
  expect(quantile(values, 0.5)).toBe(4);
  expect(quantile(values, 0.9)).toBeCloseTo(7.8, 10);
  expect(quantile(values, 1)).toBe(9);
  expect(values).toEqual([5, 1, 3, 9]);
  expect(quantile([], 0.5)).toBeNaN();
});
