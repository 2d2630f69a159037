import fc from 'fast-check';
import { boxMean, findRegions } from './regions';

const pictures = fc
  .tuple(fc.integer({ min: 1, max: 17 }), fc.integer({ min: 1, max: 13 }), fc.integer({ min: 1, max: 6 }))
  .chain(([width, height, r]) =>
    fc.record({
      width: fc.constant(width),
      height: fc.constant(height),
      r: fc.constant(r),
      values: fc.array(fc.integer({ min: 0, max: 255 }), { minLength: width * height, maxLength: width * height }),
    }),
  );

test('means over squares, cut at the picture’s edges, whatever the size', () => {
  fc.assert(
    fc.property(pictures, ({ width, height, r, values }) => {
      const out = boxMean(Uint8Array.from(values), width, height, r, new Float32Array(width * height));
      for (let y = 0; y < height; y++) {
        for (let x = 0; x < width; x++) {
          let sum = 0,
            n = 0;
          for (let v = Math.max(0, y - r); v <= Math.min(height - 1, y + r); v++)
            for (let u = Math.max(0, x - r); u <= Math.min(width - 1, x + r); u++) {
              sum += values[v * width + u];
              n++;
            }
          expect(out[y * width + x]).toBeCloseTo(sum / n, 3);
        }
      }
    }),
  );
});

test('regions hold every set pixel once, touch nowhere, and know their bounds', () => {
  fc.assert(
    fc.property(pictures, ({ width, height, values }) => {
      const mask = Uint8Array.from(values, (v) => (v > 150 ? 1 : 0));
      const owner = new Int32Array(mask.length).fill(-1);
      findRegions(mask, width, height).forEach((region, k) => {
        for (const i of region.pixels) {
          expect(owner[i]).toBe(-1);
          owner[i] = k;
          const x = i % width,
            y = Math.floor(i / width);
          expect(x >= region.left && x <= region.right && y >= region.top && y <= region.bottom).toBe(true);
        }
      });
      for (let i = 0; i < mask.length; i++) expect(owner[i] >= 0).toBe(mask[i] === 1);
      for (let y = 0; y + 1 < height; y++) {
        for (let x = 0; x + 1 < width; x++) {
          const square = [y * width + x, y * width + x + 1, (y + 1) * width + x, (y + 1) * width + x + 1]
            .map((i) => owner[i])
            .filter((o) => o >= 0);
          expect(new Set(square).size).toBeLessThanOrEqual(1);
        }
      }
    }),
  );
});

test('regions below a size are left out', () => {
  expect(findRegions(Uint8Array.of(1, 0, 1, 1), 4, 1, 2).map((r) => Array.from(r.pixels))).toEqual([[2, 3]]);
});
