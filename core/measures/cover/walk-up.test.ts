import { pictureOf } from '../../base/image/picture';
import { seededNormal } from '../../base/numeric/random';
import { PictureStack } from '../../base/image/stack';
import { RandomTexture } from '../../testing/rendered-scene';
import { shareOf } from '../../base/image/mask';
import { walkedUpTo } from './walk-up';
import { few } from '../../testing/few';

const W = 320,
  H = 180,
  FRAMES = 40;
// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, max, min } = Math;
const wall = new RandomTexture(4, 7, 30);
const normal = seededNormal(1);
const grain = Float32Array.from({ length: 1 << 16 }, () => 2 * normal());

interface Look {
  /** Level and colour differences of the door at a place of it, and its light at a frame. */
  level: (u: number, v: number) => number;
  blue: number;
  red: number;
  light?: (f: number) => number;
}

/** A camera walks up to a door, whose half height is `half` of the picture's at the end; what is beside it grows more slowly. */
function walk({ level, blue, red, light = () => 1 }: Look, half: number) {
  const stack = new PictureStack();
  const truth: number[] = [];
  for (let f = 0; f < FRAMES; f++) {
    const near = 1 / (1 - (0.85 * f) / (FRAMES - 1)),
      size = (half * H * near) / (1 / 0.15);
    const luma = new Uint8Array(W * H),
      cb = new Uint8Array((W * H) / 4),
      cr = new Uint8Array((W * H) / 4);
    let covered = 0;
    for (let y = 0, i = 0; y < H; y++) {
      for (let x = 0; x < W; x++, i++) {
        const u = x - 0.48 * W,
          v = y - 0.52 * H;
        const inside = abs(u) < 1.4 * size && abs(v) < size;
        const back = 0.3 * near + 0.7;
        const value = inside ? level((60 * u) / size, (60 * v) / size) : wall.at(u / back + 200, v / back + 200);
        luma[i] = max(0, min(255, (light(f) * value + grain[(i * 7 + f * 4001) & 0xffff] + 0.5) | 0));
        if (inside) covered++;
        if (x % 2 === 0 && y % 2 === 0) {
          const c = ((y >> 1) * W) / 2 + (x >> 1);
          cb[c] = inside ? blue : 128;
          cr[c] = inside ? red : 128;
        }
      }
    }
    truth.push(covered / (W * H));
    const colour = (data: Uint8Array) => ({ width: W / 2, height: H / 2, data });
    stack.frame(pictureOf({ width: W, height: H, data: luma }, { blue: colour(cb), red: colour(cr) }));
  }
  return { stack, truth };
}

const coat = new RandomTexture(9, 5, 20);
const dark: Look = { level: () => 40, blue: 128, red: 128 };
const painted: Look = { level: (u, v) => coat.at(u, v), blue: 150, red: 110 };

test.each<[string, Look, number]>(
  few(1, [
    ['a dark door', dark, 1.2],
    ['a painted one, in light that falls by a third', { ...painted, light: (f) => 1 - f / 120 }, 1.2],
    ['a dark one that never fills the picture', dark, 0.4],
    ['a painted one that never fills it', painted, 0.4],
  ]),
)('%s: its share in every frame within 4 %% of the picture', (_, look, half) => {
  const { stack, truth } = walk(look, half);
  const masks = walkedUpTo(stack, FRAMES, stack.size)!;
  masks.forEach((mask, f) => expect(Math.abs(shareOf(mask) - truth[f])).toBeLessThan(0.04));
});

test('a door that looks like the wall beside it is not told by its look', () => {
  const { stack } = walk({ level: (u, v) => wall.at(u, v), blue: 128, red: 128 }, 1.2);
  expect(walkedUpTo(stack, FRAMES, stack.size)).toBeNull();
});
