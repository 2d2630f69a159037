import { IDENTITY } from '../../base/geometry/similarity';
import { RandomTexture, renderFrame, type SceneOptions } from '../../testing/rendered-scene';
import { CoarseFinder } from './coarse';
import { choosePatches } from './patches';

const scene: SceneOptions = { width: 640, height: 360, background: new RandomTexture(31, 6, 40), grain: 2, seed: 31 };
const reference = renderFrame(scene, IDENTITY, 0);
const { patches } = choosePatches(reference, 2);

test.each([
  [0, 0],
  [30, -18],
  [-62, 40],
  [9, 66],
])('a sudden shift by %d, %d px is found to a few pixels', (dx, dy) => {
  const found = new CoarseFinder(reference, patches, 8).find(renderFrame(scene, { ...IDENTITY, dx, dy }, 1), 0, 0, 72);
  expect(Math.abs(found!.dx - dx)).toBeLessThan(5);
  expect(Math.abs(found!.dy - dy)).toBeLessThan(5);
  expect(found!.share).toBeGreaterThan(0.3);
});

test('round a place that is known, a short reach is enough', () => {
  const found = new CoarseFinder(reference, patches, 4).find(renderFrame(scene, { ...IDENTITY, dx: 90 }, 2), 84, 0, 16);
  expect(Math.abs(found!.dx - 90)).toBeLessThan(3);
});

test('somebody in front does not decide the shift', () => {
  const crossed = {
    ...scene,
    mover: { texture: new RandomTexture(32, 4, 60), at: () => ({ x: 200, y: 0, width: 260, height: 360 }) },
  };
  const found = new CoarseFinder(reference, patches, 8).find(
    renderFrame(crossed, { ...IDENTITY, dx: 40, dy: 8 }, 3),
    0,
    0,
    72,
  );
  expect(Math.abs(found!.dx - 40)).toBeLessThan(5);
  expect(Math.abs(found!.dy - 8)).toBeLessThan(5);
});

test('another picture is not recognised by many', () => {
  const other = renderFrame({ ...scene, background: new RandomTexture(99, 6, 40) }, IDENTITY, 4);
  const found = new CoarseFinder(reference, patches, 8).find(other, 0, 0, 72);
  expect(found === null || found.share < 0.12).toBe(true);
});

test('a blank picture gives nothing', () => {
  const blank = { width: 640, height: 360, data: new Uint8Array(640 * 360).fill(90) };
  expect(new CoarseFinder(reference, patches, 8).find(blank, 0, 0, 72)).toBeNull();
  expect(new CoarseFinder(blank, choosePatches(blank, 1).patches, 8).find(reference, 0, 0, 72)).toBeNull();
});
