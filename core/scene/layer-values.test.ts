import fc from 'fast-check';
import { returns, steadier, tellApart } from './layer-cues';
import { twoValues } from './layer-values';

const H = 3;
const of = (values: number[], seen: (Uint8Array | null)[] = values.map(() => null)) =>
  twoValues(
    values.map((v) => Uint8Array.of(v)),
    seen,
    0,
    H,
  );
const repeat = (n: number, value: (k: number) => number) => Array.from({ length: n }, (_, k) => value(k));

test('a pixel that shows one thing has no second value', () => {
  expect(of(repeat(60, (k) => 100 + (k % 3)))).toBeNull();
  // What is seen twice is a fault of coding.
  expect(of(repeat(60, (k) => (k === 20 || k === 21 ? 200 : 100)))).toBeNull();
});

test('the value shown at the start comes first, however seldom it is seen', () => {
  const [first, second] = of(repeat(64, (k) => (k < 16 ? 180 : 60)))!;
  expect([first.value, first.count, second.value, second.count]).toEqual([180, 16, 60, 48]);
  expect(first.spells).toBe(0b1111);
  expect(second.spells).toBe(0xffff & ~0b1111);
  expect([first.left, second.left]).toEqual([1, 0]);
});

test('a value that stays takes the place of one of two that somebody shows who stirs', () => {
  const stirs = (k: number) => [60, 60, 62, 78, 80, 80, 78, 66][k % 8];
  const [first, second] = of(repeat(64, (k) => (k < 9 || k > 58 ? 150 : stirs(k))))!;
  expect(first.value).toBeCloseTo(150, 5);
  expect(Math.abs(second.value - 150)).toBeGreaterThan(50);
});

test('values that were not seen do not count', () => {
  const hidden = Uint8Array.of(0);
  const values = repeat(64, (k) => (k >= 20 && k < 40 ? 200 : 100));
  expect(of(values)).not.toBeNull();
  expect(
    of(
      values,
      values.map((v) => (v === 200 ? hidden : null)),
    ),
  ).toBeNull();
});

test('both values were seen, lie apart, and are counted right, whatever the pixel shows', () => {
  fc.assert(
    fc.property(fc.array(fc.integer({ min: 0, max: 255 }), { minLength: 8, maxLength: 90 }), (values) => {
      const found = of(values);
      if (!found) return;
      const [a, b] = found;
      expect(Math.abs(a.value - b.value)).toBeGreaterThan(2 * H);
      for (const { value, count, left } of found) {
        expect(values.some((v) => Math.abs(v - value) <= 2 * H)).toBe(true);
        expect(count).toBeGreaterThanOrEqual(3);
        expect(count).toBeLessThanOrEqual(values.length);
        expect(left).toBeLessThanOrEqual(count + 1);
      }
    }),
  );
});

test('of two values one stays when the other is left often, and much more often', () => {
  expect(steadier(0.05, 0.4)).toBe('first');
  expect(steadier(0.4, 0.05)).toBe('second');
  expect(steadier(0.05, 0.12)).toBeNull();
  expect(steadier(0.2, 0.4)).toBeNull();
  expect(steadier(0, 0)).toBeNull();
});

test('what is seen before and after all of the other returns', () => {
  expect(returns(0b1100000000000011, 0b0011000)).toBe(true);
  expect(returns(0b0000000000000011, 0b0011000)).toBe(false);
  expect(returns(0b1100000000000000, 0b0011000)).toBe(false);
  expect(returns(0b1100000000000011, 0)).toBe(false);
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 0xffff }), fc.integer({ min: 1, max: 0xffff }), (a, b) => {
      // Of two that are never seen together, both cannot come before and after the other.
      if (returns(a, b & ~a)) expect(returns(b & ~a, a)).toBe(false);
    }),
  );
});

test('steps along a border tell two pictures apart when one is clearly smaller', () => {
  expect(tellApart({ first: 5, second: 20 })).toBe(true);
  expect(tellApart({ first: 20, second: 5 })).toBe(true);
  expect(tellApart({ first: 20, second: 16 })).toBe(false);
});
