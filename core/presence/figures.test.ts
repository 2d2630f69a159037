import fc from 'fast-check';
import { stopsTable } from '../base/image/transfer';
import type { Background } from '../scene/background';
import { Differ } from './differ';
import { findFigures, type Figure } from './figures';
import { ShadeTest } from './shade';
import { runs } from '../testing/few';

const W = 160,
  H = 90,
  CW = W / 2,
  CH = H / 2;
const filled = (count: number, value: number) => new Float32Array(count).fill(value);
/** An even wall of middle grey with little noise. */
const WALL: Background = {
  ...{ width: W, height: H, colourWidth: CW, colourHeight: CH },
  ...{ luma: filled(W * H, 110), blue: filled(CW * CH, 128), red: filled(CW * CH, 128) },
  ...{ sigma: filled(W * H, 1), sigmaDown: filled(W * H, 1), noise: filled(16, 1), colourNoise: 1 },
  ...{ restless: new Uint8Array(W * H), support: filled(W * H, 1), known: new Uint8Array(W * H).fill(1), moved: false },
  ...{ gradient: filled(W * H, 0), rough: filled(W * H, 0) },
};
const stops = stopsTable('srgb');
const differ = new Differ(WALL, stops);
const shade = new ShadeTest(WALL, stops);

/** What is found where some pixels are another colour than the wall. */
function found(isIn: (x: number, y: number) => boolean): Figure[] {
  const luma = new Uint8Array(W * H).fill(110);
  const [blue, red] = [0, 0].map(() => new Uint8Array(CW * CH).fill(128));
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++)
      if (isIn(x, y)) {
        luma[y * W + x] = 205;
        red[(y >> 1) * CW + (x >> 1)] = 170;
      }
  const picture = { luma, blue, red, seen: null };
  differ.compare(picture, 0, null);
  return findFigures(differ, WALL, picture, shade, 0);
}

/** How many figures each pixel belongs to. */
function owners(figures: readonly Figure[]): Uint8Array {
  const count = new Uint8Array(W * H);
  for (const { rows } of figures)
    for (let k = 0; k < rows.length; k += 4) for (let x = rows[k + 1]; x <= rows[k + 2]; x++) count[rows[k] * W + x]++;
  return count;
}

test('many figures whose boxes lie over one another: each pixel is one figure’s, and counts once', () => {
  // Bars from corner to corner: the box of each holds much of the others.
  const isIn = (x: number, y: number) => (((x - y) % 24) + 24) % 24 < 9;
  const figures = found(isIn);
  expect(figures.length).toBeGreaterThan(6);
  const count = owners(figures);
  expect(Math.max(...count)).toBe(1);
  let area = 0,
    missed = 0;
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      if (isIn(x, y)) area++;
      if (isIn(x, y) && count[y * W + x] === 0) missed++;
    }
  expect(missed).toBeLessThan(0.01 * area);
  const body = figures.reduce((sum, f) => sum + f.body, 0);
  expect(Math.abs(body - area)).toBeLessThan(0.15 * area);
});

const boxes = fc.array(
  fc.record({
    x: fc.integer({ min: 0, max: W - 20 }),
    y: fc.integer({ min: 0, max: H - 20 }),
    w: fc.integer({ min: 8, max: 40 }),
    h: fc.integer({ min: 8, max: 40 }),
  }),
  { minLength: 1, maxLength: 12 },
);

test('whatever is in: boxes hold what they say, and no area is larger than the picture', () => {
  fc.assert(
    fc.property(boxes, (all) => {
      const figures = found((x, y) => all.some((b) => x >= b.x && y >= b.y && x < b.x + b.w && y < b.y + b.h));
      expect(Math.max(0, ...owners(figures))).toBeLessThanOrEqual(1);
      for (const { left, top, right, bottom, body, shadow, rows } of figures) {
        expect(body + shadow).toBeLessThanOrEqual((right - left + 5) * (bottom - top + 5));
        for (let k = 0; k < rows.length; k += 4) {
          expect(rows[k]).toBeGreaterThanOrEqual(top);
          expect(rows[k]).toBeLessThanOrEqual(bottom);
          expect(rows[k + 1]).toBeGreaterThanOrEqual(left);
          expect(rows[k + 2]).toBeLessThanOrEqual(right);
        }
      }
    }),
    { numRuns: runs(60) },
  );
});
