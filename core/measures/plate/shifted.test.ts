import { seededNormal } from '../../base/numeric/random';
import type { Figure } from '../../presence/figures';
import type { Background } from '../../scene/background';
import { RandomTexture } from '../../testing/rendered-scene';
import { standsAside } from './shifted';

const W = 160,
  H = 90;
const wall = new RandomTexture(3, 6, 18),
  planks = new RandomTexture(8, 4, 30);

/** The wall with a crate of 36 by 24 at a place; null for the wall alone. */
function picture(at: [number, number] | null, grain: number, seed: number): Float32Array {
  const normal = seededNormal(seed);
  return Float32Array.from({ length: W * H }, (_, i) => {
    const x = i % W,
      y = (i / W) | 0;
    const [u, v] = at ? [x - at[0], y - at[1]] : [-1, -1];
    const inside = u >= 0 && v >= 0 && u < 36 && v < 24;
    return (inside ? planks.at(u, v) - 25 : wall.at(x, y)) + grain * normal();
  });
}

/** What differs where a crate stands at a place. */
const figure = ([left, top]: [number, number]) => {
  const box = { left, top, right: left + 35, bottom: top + 23 };
  const rows = Array.from({ length: 24 }, (_, k) => [top + k, left, left + 35, 1]).flat();
  return { ...box, box, body: 36 * 24, shadow: 0, rows } as Figure;
};
const asides = (stood: [number, number], now: [number, number] | null, gain = 1) => {
  const background = { width: W, height: H, luma: picture(stood, 0.5, 1) } as Background;
  const plate = Uint8Array.from(picture(now, 2, 2), (v) => Math.max(0, Math.min(255, Math.round(gain * v))));
  return standsAside(figure(stood), plate, background);
};

test.each<[[number, number], number]>([
  [[62, 40], 1],
  [[38, 40], 1.25],
  [[52, 47], 0.8],
])('a crate that stood at 50, 40 is found at %j, in light of %d', (now, gain) => {
  expect(asides([50, 40], now, gain)).toBe(true);
});

test('a crate that is gone, or stands where it stood, is not found beside its place', () => {
  expect(asides([50, 40], null)).toBe(false);
  expect(asides([50, 40], [50, 40])).toBe(false);
});
