import { IDENTITY } from '../../base/geometry/similarity';
import { grainOf } from '../../base/image/plane';
import { RandomTexture, renderFrame } from '../../testing/rendered-scene';
import { PatchAligner } from './align';
import { choosePatches, patchSize } from './patches';

const scene = (seed: number, grain: number) => ({
  width: 320,
  height: 180,
  background: new RandomTexture(seed, 3, 45),
  grain,
  seed,
});

test.each([
  [0.25, -0.4],
  [0.5, 0.5],
  [-1.3, 0.8],
  [2.2, -1.9],
])('a shift of %d, %d px is found without bias to 0.02 px', (dx, dy) => {
  let sumX = 0,
    sumY = 0,
    count = 0;
  for (const seed of [1, 2]) {
    const reference = renderFrame(scene(seed, 1), IDENTITY, 0);
    const moved = renderFrame(scene(seed, 1), { ...IDENTITY, dx, dy }, 1);
    const aligner = new PatchAligner(patchSize(320));
    const grid = choosePatches(reference, grainOf(reference), aligner);
    aligner.show(moved);
    for (const patch of grid.patches) {
      const out = { dx: 0, dy: 0, gain: 1, residual: 0 };
      if (patch.ways < 2 || !aligner.align(patch, out, 10, 5)) continue;
      sumX += out.dx - dx;
      sumY += out.dy - dy;
      count++;
    }
  }
  expect(count).toBeGreaterThan(80);
  expect(Math.abs(sumX / count)).toBeLessThan(0.02);
  expect(Math.abs(sumY / count)).toBeLessThan(0.02);
});

test('contrast and brightness may change', () => {
  const reference = renderFrame(scene(4, 0.5), IDENTITY, 0);
  const dim = renderFrame({ ...scene(4, 0.5), light: () => 0.5 }, { ...IDENTITY, dx: 0.7 }, 1);
  const aligner = new PatchAligner(patchSize(320));
  const grid = choosePatches(reference, grainOf(reference), aligner);
  aligner.show(dim);
  const errors = grid.patches
    .filter((p) => p.ways === 2)
    .map((patch) => {
      const out = { dx: 0, dy: 0, gain: 1, residual: 0 };
      expect(aligner.align(patch, out, 10, 5)).toBe(true);
      expect(out.gain).toBeGreaterThan(0.35);
      expect(out.gain).toBeLessThan(0.65);
      return Math.abs(out.dx - 0.7);
    })
    .sort((a, b) => a - b);
  expect(errors[Math.floor(errors.length / 2)]).toBeLessThan(0.05);
});

test('a window that leaves the picture is not learned', () => {
  const aligner = new PatchAligner(16);
  aligner.show({ width: 40, height: 40, data: new Uint8Array(1600) });
  expect(aligner.learn(22, 10)).toBeNull();
  expect(aligner.learn(10, 1)).toBeNull();
  expect(aligner.learn(21, 2)).not.toBeNull();
});

test('a flat picture gives no patches, a straight edge fixes one direction only', () => {
  expect(
    choosePatches({ width: 320, height: 180, data: new Uint8Array(320 * 180).fill(120) }, 1, new PatchAligner(10))
      .patches,
  ).toHaveLength(0);
  const data = Uint8Array.from({ length: 320 * 180 }, (_, i) => (i % 320 < 165 ? 60 : 190));
  const edge = choosePatches({ width: 320, height: 180, data }, 1, new PatchAligner(10));
  expect(edge.patches.length).toBeGreaterThan(3);
  for (const patch of edge.patches) {
    expect(patch.ways).toBe(1);
    expect(Math.abs(patch.axes[0])).toBeCloseTo(1);
  }
});
