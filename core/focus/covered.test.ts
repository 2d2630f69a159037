import { seededNormal, seededRandom } from '../numeric/random';
import { smallSize } from '../image/picture';
import { PictureStack } from '../scene/stack';
import { coveredCells } from './covered';

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
  for (const cells of coveredCells(soft, ACROSS, DOWN)) expect(share(cells)).toBe(0);
  const brighter = stackOf(40, (f, _x, _y, v) => v * (f > 20 ? 1.3 : 1));
  for (const cells of coveredCells(brighter, ACROSS, DOWN)) expect(share(cells)).toBe(0);
});

test('what comes in covers the cells it stands in, and no others', () => {
  const crossing = stackOf(40, (f, x, _y, v) => (f >= 12 && f < 30 && x < 0.375 ? 20 : v));
  const cells = coveredCells(crossing, ACROSS, DOWN);
  for (const f of [0, 11, 30, 39]) expect(share(cells[f])).toBe(0);
  for (const f of [12, 20, 29])
    expect([...cells[f]].map((c, k) => c === (k % ACROSS < 3 ? 1 : 0))).not.toContain(false);
});

test('what fills the picture covers nearly all of it', () => {
  const filled = stackOf(50, (f, _x, y, v) => (f >= 20 && f < 30 ? 235 - 60 * y : v));
  const cells = coveredCells(filled, ACROSS, DOWN);
  expect(share(cells[25])).toBeGreaterThan(0.6);
  expect(share(cells[10])).toBe(0);
});
