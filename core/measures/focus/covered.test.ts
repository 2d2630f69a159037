import { seededNormal, seededRandom } from '../../base/numeric/random';
import { smallSize } from '../../base/image/picture';
import { PictureStack } from '../../base/image/stack';
import { coveredCells, shareOfBackground } from './covered';
import { tellSoftAgain } from './second-look';

const SIZE = smallSize(320, 180);
const ACROSS = 8,
  DOWN = 5;

/** A textured wall over so many frames, each picture changed by what is given. */
function stackOf(frames: number, shown: (f: number, x: number, y: number, wall: number) => number): PictureStack {
  const stack = new PictureStack();
  const random = seededRandom(9),
    normal = seededNormal(5);
  const { width, height, colourWidth, colourHeight } = SIZE;
  const wall = Float32Array.from({ length: width * height }, () => 70 + 60 * random());
  const grey = () => new Uint8Array(colourWidth * colourHeight).fill(128);
  for (let f = 0; f < frames; f++) {
    const luma = Uint8Array.from(wall, (v, i) => {
      const value = shown(f, (i % width) / width, Math.floor(i / width) / height, v) + normal();
      return Math.max(0, Math.min(255, Math.round(value)));
    });
    stack.add({ luma, blue: grey(), red: grey() }, SIZE);
  }
  return stack;
}
const share = (cells: Uint8Array) => cells.reduce((a, b) => a + b, 0) / cells.length;

test('a lens out of focus, grain and light that changes cover nothing', () => {
  const soft = stackOf(40, (f, _x, _y, v) => (f >= 15 && f < 25 ? 100 + 0.1 * (v - 100) : v));
  const none = coveredCells(soft, ACROSS, DOWN);
  for (let f = 0; f < 40; f++) expect(share(none.read(f))).toBe(0);
  const brighter = stackOf(40, (f, _x, _y, v) => v * (f > 20 ? 1.3 : 1));
  const neither = coveredCells(brighter, ACROSS, DOWN);
  for (let f = 0; f < 40; f++) expect(share(neither.read(f))).toBe(0);
});

test('what comes in covers the cells it stands in, and no others', () => {
  const crossing = stackOf(40, (f, x, _y, v) => (f >= 12 && f < 30 && x < 0.375 ? 20 : v));
  const cells = coveredCells(crossing, ACROSS, DOWN);
  for (const f of [0, 11, 30, 39]) expect(share(cells.read(f))).toBe(0);
  for (const f of [12, 20, 29])
    expect([...cells.read(f)].map((c, k) => c === (k % ACROSS < 3 ? 1 : 0))).not.toContain(false);
});

test('what fills the picture covers nearly all of it', () => {
  const filled = stackOf(50, (f, _x, y, v) => (f >= 20 && f < 30 ? 235 - 60 * y : v));
  const cells = coveredCells(filled, ACROSS, DOWN);
  expect(share(cells.read(25))).toBeGreaterThan(0.6);
  expect(share(cells.read(10))).toBe(0);
});

const picture = (value: (x: number, y: number) => number) =>
  Uint8Array.from({ length: SIZE.width * SIZE.height }, (_, i) => value(i % SIZE.width, Math.floor(i / SIZE.width)));
const scene = (x: number, y: number) => 90 + 40 * Math.sin(x / 13) * Math.cos(y / 9) + (x % 4 < 2 ? 12 : -12);
/** The mean of a square about a pixel: a lens out of focus. */
const soft = (reach: number) => (x: number, y: number) => {
  let sum = 0;
  for (let v = -reach; v <= reach; v++) for (let u = -reach; u <= reach; u++) sum += scene(x + u, y + v);
  return sum / (2 * reach + 1) ** 2;
};
const shareFor = () =>
  shareOfBackground({ luma: Float32Array.from(picture(scene)), width: SIZE.width, height: SIZE.height }, 20, 12);

test.each([1, 3, 6])('a picture out of focus by %d small pixels is as bright as the background', (reach) => {
  const of = shareFor();
  expect(of(picture(soft(reach)))).toBeGreaterThan(0.8);
  expect(of(picture((x, y) => 1.2 * soft(reach)(x, y)))).toBeGreaterThan(0.8);
});

test('something in front is not as bright as the background, and counts by how much of it is seen', () => {
  const of = shareFor();
  expect(of(picture(scene))).toBe(1);
  expect(of(picture((x, y) => 120 + 50 * Math.sin(x / 21 + y / 5)))).toBeLessThan(0.4);
  const half = of(picture((x, y) => (x < SIZE.width / 2 ? 200 : scene(x, y))));
  expect(half).toBeGreaterThan(0.45);
  expect(half).toBeLessThan(0.6);
});

test('a frame thought soft is told again: by its brightness, or by what was read where nobody stands', () => {
  const stack = new PictureStack();
  const grey = () => new Uint8Array(SIZE.colourWidth * SIZE.colourHeight).fill(128);
  const shown = [scene, soft(5), (x: number, y: number) => 120 + 50 * Math.sin(x / 21 + y / 5), scene];
  for (const value of shown) stack.add({ luma: picture(value), blue: grey(), red: grey() }, SIZE);
  const background = { luma: Float32Array.from(picture(scene)), width: SIZE.width, height: SIZE.height, moved: false };
  const first = [0, 0.6, 0.5, null];
  // The second is soft; before the third something stands.
  expect(tellSoftAgain(first, [0, 0.62, 0.5, 0], stack, background)).toEqual([0, 0.6, 0, null]);
  // Where nobody stands the second has lost little: it was the first idea that was wrong.
  expect(tellSoftAgain([0, 0.6, 0.1, null], [0, 0.05, null, 0], stack, background)).toEqual([0, 0.05, 0.1, null]);
  // Nothing was thought soft, or the first idea was right.
  expect(tellSoftAgain([0, 0.1, 0.05, null], [0, 0, 0, 0], stack, background)).toBeNull();
  expect(tellSoftAgain([0, 0.6, 0, null], [0, 0.58, 0, 0], stack, background)).toBeNull();
  expect(tellSoftAgain(first, [0, 0.6, 0.5, 0], stack, null)).toBeNull();
  // A picture that had to be laid back is not held against the background cell by cell.
  expect(tellSoftAgain(first, [0, 0.6, 0.5, 0], stack, { ...background, moved: true })).toBeNull();
});
