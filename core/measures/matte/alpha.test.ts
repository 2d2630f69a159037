import { IDENTITY } from '../../base/geometry/similarity';
import { seededNormal } from '../../base/numeric/random';
import { blockFrames } from '../../testing/walker-frames';
import { Matte } from './alpha';

const [W, H] = [80, 50];
const BODY = { x: 20, y: 10, width: 16, height: 30 };
const SHADE = { x: 40, y: 34, width: 20, height: 8 };

/** Somebody dark on a grey wall, with a shadow of a stop, seen by a camera that lies so far right in frame 1. */
function matte(contrast: number, shadow: boolean, shift = 0) {
  const normal = seededNormal(5);
  const luma = new Float32Array(W * H).fill(128);
  const inside = (b: typeof BODY, i: number) =>
    i % W >= b.x && i % W < b.x + b.width && Math.floor(i / W) >= b.y && Math.floor(i / W) < b.y + b.height;
  const picture = Uint8Array.from(luma, (v, i) =>
    Math.round((inside(BODY, i) ? v - contrast : inside(SHADE, i) ? 94 : v) + 1.5 * normal()),
  );
  return new Matte({
    frames: { read: () => picture },
    who: blockFrames(W, H, [{}, { body: [BODY], shadow: [SHADE] }, null]),
    behind: { luma, sigma: new Float32Array(W * H).fill(1.5) },
    curve: 'srgb',
    light: [0, 0, null],
    poses: [{ ...IDENTITY }, { ...IDENTITY, dx: shift }, null],
    factor: 4,
    shadow,
  });
}

const frames = (m: Matte) =>
  [0, 1, 2].map((f) => {
    const out = new Uint8Array(W * H);
    m.frame(f, out);
    return out;
  });

test('bodies are whole, shadows half their darkness, and what is not known is unsure', () => {
  const m = matte(60, true);
  const [empty, somebody, unknown] = frames(m);
  expect(empty.some((v) => v)).toBe(false);
  expect(somebody[25 * W + 28]).toBe(255);
  expect(somebody[25 * W + 60]).toBe(0);
  // A stop and a half under an encoded 128 to 94 is 2^-0.95 of the light: half of what is missing.
  const left = ((94 / 255 + 0.055) / 1.055) ** 2.4 / ((128 / 255 + 0.055) / 1.055) ** 2.4;
  expect(Math.abs(somebody[38 * W + 50] - 127.5 * (1 - left))).toBeLessThan(5);
  expect(unknown.some((v) => v)).toBe(false);
  expect(m.unsure).toEqual([false, false, true]);
  // To a pixel of the grid, which is four of the source's.
  expect(m.edgeError).toBeGreaterThan(2);
  expect(m.edgeError).toBeLessThan(4);
});

test('without shadows there are none, and it lies where the frame does', () => {
  const [, somebody] = frames(matte(60, false, 24));
  expect(somebody[38 * W + 50]).toBe(0);
  // Six pixels of the grid to the right.
  expect([somebody[25 * W + 24], somebody[25 * W + 28], somebody[25 * W + 40], somebody[25 * W + 44]]).toEqual([
    0, 255, 255, 0,
  ]);
});

test('an edge that is hardly told from what lies behind is unsure', () => {
  const m = matte(1, false);
  frames(m);
  expect(m.unsure[1]).toBe(true);
  expect(m.edgeError).toBeGreaterThan(3.5);
});
