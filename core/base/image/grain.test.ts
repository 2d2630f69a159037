import { seededNormal } from '../numeric/random';
import type { Plane } from './plane';
import { grainRatio, spreadBetween } from './grain';

/** A picture of soft shapes with grain of its own. */
function shot(seed: number, grain: number, light = 0): Plane {
  const normal = seededNormal(seed);
  const width = 320,
    height = 200;
  return {
    width,
    height,
    data: Uint8Array.from({ length: width * height }, (_, i) => {
      const x = i % width,
        y = (i - x) / width;
      return Math.max(
        0,
        Math.min(255, Math.round(110 + light + 40 * Math.sin(x / 31) * Math.cos(y / 23) + grain * normal())),
      );
    }),
  };
}

test.each([
  [3, 3, 1],
  [4, 2, 2],
  [2, 4, 0.5],
  [3, 1.5, 2],
])('take of grain %d over a plate of grain %d', (take, plate, ratio) => {
  for (const seed of [1, 2, 3]) {
    const found = grainRatio(shot(seed, take), shot(seed + 10, take), shot(seed + 20, plate))!;
    expect(Math.abs(Math.log2(found / ratio))).toBeLessThan(0.35);
  }
});

test('light does not count as grain, and a picture without flat places says nothing', () => {
  expect(spreadBetween(shot(1, 2), shot(2, 2, 12))!).toBeCloseTo(spreadBetween(shot(1, 2), shot(2, 2))!, 0);
  const rough: Plane = {
    width: 320,
    height: 200,
    data: Uint8Array.from({ length: 64000 }, (_, i) => ((i * 7919) % 3) * 80),
  };
  expect(spreadBetween(rough, rough)).toBeNull();
});
