import { seededNormal } from '../../base/numeric/random';
import { stopsTable } from '../../base/image/transfer';
import type { Background } from '../../scene/background';
import { swayingIn } from './swaying';

const [W, H] = [160, 90];
const BOX = { left: 60, top: 20, right: 75, bottom: 70 };
const inBox = (i: number) =>
  i % W >= BOX.left && i % W <= BOX.right && Math.floor(i / W) >= BOX.top && Math.floor(i / W) <= BOX.bottom;

/** A textured wall; somebody before it when `body` gives their brightness; restless where told. */
function wall(seed: number, body: number | null, restless: (i: number) => boolean, leaves = 0) {
  const texture = seededNormal(99),
    grain = seededNormal(seed);
  const base = Float32Array.from({ length: W * H }, () => 90 + 14 * texture());
  const luma = base.map((v, i) => {
    const own = body !== null && inBox(i) ? body + 5 * Math.sin(i) : v;
    // Leaves: each where another was.
    return (leaves > 0 && inBox(i) ? base[i + leaves] : own) + 0.5 * grain();
  });
  return {
    luma: Uint8Array.from(luma, (v) => Math.max(0, Math.min(255, Math.round(v)))),
    background: {
      width: W,
      height: H,
      luma,
      restless: Uint8Array.from({ length: W * H }, (_, i) => (restless(i) ? 1 : 0)),
    } as Background,
  };
}
const stops = stopsTable('srgb');
const found = (take: ReturnType<typeof wall>, plate: ReturnType<typeof wall>, light = 0) =>
  swayingIn({ background: take.background, luma: plate.luma, restless: plate.background.restless, light, stops });
const calm = () => false;

test.each([
  [1, 40],
  [2, 150],
  [3, 60],
])('somebody who sways in one of two pictures is told, and in which (seed %i)', (seed, body) => {
  const stands = wall(seed, body, inBox),
    empty = wall(seed + 10, null, calm);
  const [inTake, ...more] = found(stands, empty);
  expect([inTake.where, more]).toEqual(['take', []]);
  expect(inTake.figure).toMatchObject({ ...BOX, body: 16 * 51, shadow: 0 });
  expect(found(empty, stands).map((s) => s.where)).toEqual(['plate']);
});

test('leaves that move in one of two pictures are nobody, and what moves in both says nothing', () => {
  expect(found(wall(4, null, inBox, 2), wall(5, null, calm))).toEqual([]);
  expect(found(wall(6, 40, inBox), wall(7, null, inBox))).toEqual([]);
  // Glitter, here and there.
  const spark = (i: number) => i % 97 === 0;
  expect(found(wall(8, null, spark), wall(9, null, calm))).toEqual([]);
});

test('a picture that is brighter all over does not make somebody of what moves', () => {
  const bright = wall(10, null, calm);
  bright.luma.forEach((v, i) => (bright.luma[i] = Math.min(255, Math.round(v * 1.15))));
  const light = stops[Math.round(90 * 1.15)] - stops[90];
  expect(found(wall(11, null, inBox, 2), bright, light)).toEqual([]);
  expect(found(wall(12, 40, inBox), bright, light).map((s) => s.where)).toEqual(['take']);
});
