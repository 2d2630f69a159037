import fc from 'fast-check';
import { stopsTable, toCode, toLight } from '../base/image/transfer';
import { seededNormal } from '../base/numeric/random';
import { between, LEAST_SHARE, LightGauge, relight, slopes } from './gauge';

const PIXELS = 96 * 54;
const SRGB = stopsTable('srgb');

/** A wall of many brightnesses. */
const background = Float32Array.from({ length: PIXELS }, (_, i) => 60 + 90 * ((i * 0.618) % 1));
/** The wall with so much more light, grain, and another thing in front of a share of it. */
function picture(stops: number, { seed = 1, grain = 1.5, front = 0, level = 30 } = {}): Uint8Array {
  const normal = seededNormal(seed);
  return Uint8Array.from(background, (v, i) => {
    const lit = 255 * toCode('srgb', toLight('srgb', v / 255) * 2 ** stops);
    const value = i < front * PIXELS ? level + 25 * ((i * 0.37) % 1) : lit;
    return Math.max(0, Math.min(255, Math.round(value + grain * normal())));
  });
}
const gauge = () => new LightGauge(SRGB, background, null, 1.5, 1);

test.each([1, 2, 3])('seed %d: a change of light is read to a hundredth of a stop', (seed) => {
  for (const stops of [-1, -0.4, -0.05, 0, 0.03, 0.2, 0.7]) {
    const reading = gauge().read(picture(stops, { seed }), null)!;
    expect(Math.abs(reading.stops - stops)).toBeLessThan(0.01);
    expect(reading.share).toBeGreaterThan(0.6);
  }
});

test.each([0.2, 0.5, 0.7])('what stands in front of %d of the picture does not count', (front) => {
  const reading = gauge().read(picture(0.25, { front }), null)!;
  expect(Math.abs(reading.stops - 0.25)).toBeLessThan(0.02);
  expect(reading.share).toBeLessThan(1.05 - front + 0.05);
});

test('more grain is more doubt, and no bias', () => {
  const read = (grain: number) =>
    [1, 2, 3, 4, 5].map((seed) => gauge().read(picture(0.3, { seed, grain }), null)!.stops);
  const mean = (values: number[]) => values.reduce((a, b) => a + b, 0) / values.length;
  expect(Math.abs(mean(read(0.5)) - 0.3)).toBeLessThan(0.005);
  expect(Math.abs(mean(read(5)) - 0.3)).toBeLessThan(0.03);
});

test('pixels that were not seen, or may not be looked at, do not count', () => {
  const half = Uint8Array.from({ length: PIXELS }, (_, i) => (i < PIXELS / 2 ? 0 : 1));
  const hidden = picture(0.3, { front: 0.5, level: 200 });
  expect(Math.abs(gauge().read(hidden, half)!.stops - 0.3)).toBeLessThan(0.01);
  const wary = new LightGauge(SRGB, background, half, 1.5, 1);
  expect(wary.usable).toBe(PIXELS / 2);
  expect(Math.abs(wary.read(hidden, null)!.stops - 0.3)).toBeLessThan(0.01);
});

test('too little to see says nothing', () => {
  const seen = Uint8Array.from({ length: PIXELS }, (_, i) => (i < 0.5 * LEAST_SHARE * PIXELS ? 1 : 0));
  expect(gauge().read(picture(0), seen)).toBeNull();
  const black = new LightGauge(SRGB, new Float32Array(PIXELS), null, 1.5, 1);
  expect(black.read(new Uint8Array(PIXELS), null)).toBeNull();
});

test('light that is known to be uneven is taken off first', () => {
  const tilt = (i: number) => 0.4 * (i / PIXELS - 0.5);
  const lit = Uint8Array.from(background, (v, i) =>
    Math.round(255 * toCode('srgb', toLight('srgb', v / 255) * 2 ** (0.2 + tilt(i)))),
  );
  const g = gauge();
  const before = g.read(lit, null)!;
  g.setUneven(tilt);
  const after = g.read(lit, null)!;
  expect(after.share).toBeGreaterThan(before.share);
  expect(Math.abs(after.stops - 0.2)).toBeLessThan(0.01);
});

test.each(['srgb', 'bt709', 'gamma22'] as const)('relighting in %s goes there and back again', (curve) => {
  const table = stopsTable(curve);
  fc.assert(
    fc.property(fc.double({ min: -2, max: 0.5, noNaN: true }), fc.integer({ min: 40, max: 150 }), (stops, v) => {
      const lit = relight(table, stops)[v];
      fc.pre(lit >= 12 && lit <= 250);
      expect(between(table, lit)).toBeCloseTo(table[v] + stops, 1);
      expect(between(relight(table, -stops), lit)).toBeCloseTo(v, 0);
    }),
  );
});

test('no more light is no change, more light is never darker', () => {
  const same = relight(SRGB, 0);
  for (let v = 2; v < 255; v++) expect(same[v]).toBeCloseTo(v, 3);
  const more = relight(SRGB, 0.3);
  for (let v = 3; v < 255; v++) {
    expect(more[v]).toBeGreaterThan(v);
    expect(more[v]).toBeGreaterThanOrEqual(more[v - 1]);
  }
});

test('slopes say how many stops one level is', () => {
  const slope = slopes(SRGB);
  expect(slope.every((s) => s > 0 && s < 2)).toBe(true);
  for (const v of [20, 60, 128, 200]) expect(slope[v]).toBeCloseTo((SRGB[v + 1] - SRGB[v - 1]) / 2, 6);
  // A level is worth more in the shadows.
  expect(slope[30]).toBeGreaterThan(slope[200]);
});
