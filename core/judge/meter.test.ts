import { judgeMeter, meterGap } from './meter';

const readings = (...evs: number[]) => evs.map((ev, k) => ({ frame: 10 * k, ev }));
const stops = (...values: number[]) => values.flatMap((v) => new Array<number>(10).fill(v));

test.each([
  [readings(7.4, 7.41, 7.38), stops(0, 0.01, 0.02), 'steady'],
  [readings(7.4, 7.1, 7.0), stops(0, -0.31, -0.4), 'light'],
  [readings(7.4, 7.41, 7.4), stops(0, -0.3, -0.3), 'camera'],
  [readings(7.4, 7.9, 7.4), stops(0, 0, 0), 'both'],
] as const)('meter against picture: %#', (meter, picture, who) => {
  const found = judgeMeter(meter, picture)!;
  expect(found.who).toBe(who);
  expect(found.fix === null).toBe(who === 'steady');
});

test('one reading, or readings where the light is not known, say nothing', () => {
  expect(judgeMeter(readings(7.4), stops(0))).toBeNull();
  expect(judgeMeter(readings(7.4, 7.5), new Array<null>(20).fill(null))).toBeNull();
  expect(meterGap(readings(7.9), readings(7.4, 7.5, 7.3))).toBeCloseTo(0.5, 6);
  expect(meterGap([], readings(7.4))).toBeNull();
});
