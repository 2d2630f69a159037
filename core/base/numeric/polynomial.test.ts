import fc from 'fast-check';
import { robustPolynomial } from './polynomial';

const us = Array.from({ length: 90 }, (_, k) => -1 + (2 * k) / 89);
const at = (c: readonly number[], u: number) => c.reduce((sum, k, p) => sum + k * u ** p, 0);
const coefficient = fc.double({ min: -50, max: 50, noNaN: true });

test('a polynomial is found again although a fifth of the points lie elsewhere', () => {
  fc.assert(
    fc.property(fc.array(coefficient, { minLength: 1, maxLength: 5 }), fc.integer({ min: 60, max: 400 }), (c, away) => {
      const vs = us.map((u, k) => at(c, u) + (k % 5 === 2 ? away : 0));
      const found = robustPolynomial(us, vs, c.length - 1, 0.5)!;
      c.forEach((k, p) => expect(Math.abs(found[p] - k)).toBeLessThan(0.01));
    }),
  );
});

test('too few points settle nothing', () => {
  expect(robustPolynomial([0, 0, 0], [1, 2, 3], 2, 0.5)).toBeNull();
});
