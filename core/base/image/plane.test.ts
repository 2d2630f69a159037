import { RandomTexture, renderFrame } from '../../testing/rendered-scene';
import { IDENTITY } from '../geometry/similarity';
import { assertPlane, grainOf, shrink } from './plane';
import { seededNormal, seededRandom } from '../numeric/random';

test.each([1, 2, 4])('grain of %d levels is found within 15 % on a textured picture', (grain) => {
  const plane = renderFrame(
    { width: 320, height: 180, background: new RandomTexture(3, 12, 40), grain, seed: 1 },
    IDENTITY,
    0,
  );
  // Rounding to whole levels adds its own twelfth.
  expect(Math.abs(grainOf(plane) - Math.hypot(grain, 0.289)) / grain).toBeLessThan(0.15);
});

test('a flat picture has no grain, and a tiny one does not fail', () => {
  expect(grainOf({ width: 64, height: 64, data: new Uint8Array(4096).fill(90) })).toBeLessThan(0.1);
  expect(grainOf({ width: 2, height: 2, data: new Uint8Array(4) })).toBeGreaterThan(0);
});

test('shrinking averages blocks and drops what is left over', () => {
  const plane = { width: 5, height: 4, data: Uint8Array.from({ length: 20 }, (_, i) => i) };
  const small = shrink(plane, 2);
  expect([small.width, small.height]).toEqual([2, 2]);
  expect(small.data[0]).toBeCloseTo((0 + 1 + 5 + 6) / 4);
});

test('a plane whose data does not fit its size is refused with a sentence', () => {
  expect(() => assertPlane({ width: 3, height: 3, data: new Uint8Array(8) })).toThrow('has 9 values, not 8');
  expect(() => assertPlane({ width: 0, height: 3, data: new Uint8Array(0) })).toThrow('at least 1 px');
});

test('random streams repeat with their seed and have the right spread', () => {
  const a = seededRandom(5),
    b = seededRandom(5);
  expect(Array.from({ length: 10 }, a)).toEqual(Array.from({ length: 10 }, b));
  const normal = seededNormal(1);
  const values = Array.from({ length: 20000 }, normal);
  const spread = Math.sqrt(values.reduce((s, v) => s + v * v, 0) / values.length);
  expect(spread).toBeGreaterThan(0.97);
  expect(spread).toBeLessThan(1.03);
});
