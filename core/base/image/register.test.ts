import { solvePositive } from '../numeric/least-squares';
import { smallSize } from './picture';
import { seededNormal } from '../numeric/random';
import { RandomTexture } from '../../testing/rendered-scene';
import { Panorama } from './panorama';
import { coarseShift, corrected, registerStep } from './register';

const size = smallSize(960, 540);
const { width, height } = size;
const grey = new Uint8Array(size.colourWidth * size.colourHeight).fill(128);

/** A texture as a camera sees it that went sideways and nearer, with something else in front of part of it. */
function draw(seed: number, blotch: number, scale: number, dx: number, cover = 0): Uint8Array {
  const texture = new RandomTexture(seed, blotch, 26),
    other = new RandomTexture(seed + 50, 5, 26);
  const out = new Uint8Array(width * height);
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      const u = (x - (width - 1) / 2 - dx) / scale + 300,
        v = (y - (height - 1) / 2) / scale + 200;
      out[i] = Math.max(0, Math.min(255, Math.round(x < cover * width ? other.at(x + 7 * dx, y) : texture.at(u, v))));
    }
  }
  return out;
}

test.each([
  [3, 1.01, 0.4],
  [6, 1.02, -1.2],
  [12, 1, 2.5],
  [6, 0.98, 0],
])('blotches of %d px, size %d, shift %d px are found to 0.05 px', (blotch, scale, dx) => {
  for (const cover of [0, 0.35]) {
    const panorama = new Panorama(size, true);
    panorama.add(
      { luma: draw(3, blotch, 1, 0), blue: grey, red: grey },
      { dx: 0, dy: 0, rotation: 0, scale: 1 },
      null,
      1,
    );
    const seen = draw(3, blotch, scale, dx, cover);
    let pose = { dx: 0, dy: 0, rotation: 0, scale: 1 };
    for (let round = 0; round < 14; round++) {
      const view = panorama.show(pose);
      const step = registerStep(view.luma, seen, view.known, width, height, true, null)!;
      pose = corrected(pose, step.step);
    }
    expect(Math.abs(pose.dx - dx)).toBeLessThan(0.05);
    expect(Math.abs(pose.scale - scale) * (width / 2)).toBeLessThan(0.08);
    expect(Math.abs(pose.rotation) * (width / 2)).toBeLessThan(0.08);
  }
});

test('a large shift is found from afar, and nothing is found where nothing may be compared', () => {
  const first = Float32Array.from(draw(5, 6, 1, 0)),
    all = new Uint8Array(width * height).fill(1);
  expect(coarseShift(first, draw(5, 6, 1, 21), all, width, height, 34, 10)).toMatchObject({ dx: 21, dy: 0 });
  expect(registerStep(first, draw(5, 6, 1, 1), new Uint8Array(width * height), width, height, true, null)).toBeNull();
  expect(solvePositive(Float64Array.of(1, 2, 2, 4), Float64Array.of(1, 2), 2)).toBeNull();
});

test('a blank wall with grain says nothing of where it lies, its brightness is known all the same', () => {
  const normal = seededNormal(3),
    all = new Uint8Array(width * height).fill(1);
  const expected = new Float32Array(width * height).fill(100),
    seen = Uint8Array.from(expected, (v) => Math.round(1.1 * v + 0.6 * normal()));
  const step = registerStep(expected, seen, all, width, height, true, null)!;
  expect(step).toMatchObject({ flat: true, step: { dx: 0, dy: 0, rotation: 0, scale: 1 } });
  expect(step.gain).toBeCloseTo(1.1, 2);
  expect(
    registerStep(Float32Array.from(draw(5, 6, 1, 0)), draw(5, 6, 1, 1), all, width, height, true, null)!.flat,
  ).toBe(false);
});

test('a panorama taken in and shown at whole pixels is the picture itself, and knows only what was seen', () => {
  const panorama = new Panorama(size, true),
    luma = draw(7, 6, 1, 0);
  panorama.add({ luma, blue: grey, red: grey }, { dx: 0, dy: 0, rotation: 0, scale: 1 }, null, 1);
  const straight = panorama.show({ dx: 0, dy: 0, rotation: 0, scale: 1 });
  expect(Array.from(straight.luma)).toEqual(Array.from(luma));
  const moved = panorama.show({ dx: 12, dy: -5, rotation: 0, scale: 1 });
  for (let y = 0; y < height; y += 7) {
    for (let x = 0; x < width; x += 5) {
      const inside = x - 12 >= 0 && y + 5 < height,
        i = y * width + x;
      expect(moved.known[i]).toBe(inside ? 1 : 0);
      if (inside) expect(moved.luma[i]).toBeCloseTo(luma[(y + 5) * width + x - 12], 3);
    }
  }
});
