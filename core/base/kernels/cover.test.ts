import fc from 'fast-check';
import { seededRandom } from '../numeric/random';
import { addressOf as at, Kernels } from './kernels';

const sizes = fc.record({
  width: fc.integer({ min: 5, max: 41 }),
  height: fc.integer({ min: 5, max: 29 }),
  seed: fc.integer({ min: 1, max: 1e6 }),
});
const RUNS = { numRuns: 25 };
const fill = (into: Uint8Array | Float32Array, random: () => number, low: number, high: number) => {
  for (let i = 0; i < into.length; i++) into[i] = low + (high - low) * random();
};

function near(got: ArrayLike<number>, wanted: ArrayLike<number>, share: number, within: number): void {
  expect(got.length).toBe(wanted.length);
  for (let i = 0; i < got.length; i++)
    if (!(Math.abs(got[i] - wanted[i]) <= share * Math.abs(wanted[i]) + within))
      throw new Error(`${got[i]} instead of ${wanted[i]} at ${i}`);
}

test('what a pixel may differ by follows the steepest step beside it, at the edges too', () => {
  fc.assert(
    fc.property(sizes, ({ width, height, seed }) => {
      const n = width * height,
        random = seededRandom(seed);
      const { kernels, arrays: a } = Kernels.with({
        luma: ['floats', n],
        blue: ['floats', n],
        red: ['floats', n],
        least: ['floats', n],
        leastColour: ['floats', n],
      });
      fill(a.luma, random, 0, 255);
      fill(a.blue, random, 90, 160);
      fill(a.red, random, 90, 160);
      kernels.run.allowances({
        luma: at(a.luma),
        blue: at(a.blue),
        red: at(a.red),
        width,
        height,
        slack: 0.5,
        base: 1.3,
        tintSlack: 0.6,
        tinted: 2,
        least: at(a.least),
        leastColour: at(a.leastColour),
      });
      const least: number[] = [],
        colour: number[] = [];
      for (let y = 0; y < height; y++) {
        for (let x = 0; x < width; x++) {
          const i = y * width + x,
            l = y * width + Math.max(0, x - 1),
            r = y * width + Math.min(width - 1, x + 1),
            u = Math.max(0, y - 1) * width + x,
            d = Math.min(height - 1, y + 1) * width + x;
          const step = 0.5 * Math.max(...[l, r, u, d].map((k) => Math.abs(a.luma[i] - a.luma[k])));
          const gap = (p: number, q: number) => Math.abs(a.blue[p] - a.blue[q]) + Math.abs(a.red[p] - a.red[q]);
          least.push(1 / (1.3 + step * step));
          colour.push(1 / (2 + (0.6 * Math.max(gap(l, r), gap(u, d))) ** 2));
        }
      }
      near(a.least, least, 1e-4, 0);
      near(a.leastColour, colour, 1e-4, 0);
    }),
    RUNS,
  );
});

test('the sums of one step of laying pictures on each other', () => {
  fc.assert(
    fc.property(sizes, fc.boolean(), ({ width, height, seed }, whole) => {
      const n = width * height,
        random = seededRandom(seed);
      const { kernels, arrays: a } = Kernels.with({
        expected: ['floats', n],
        beyond: ['floats', 8],
        seen: ['bytes', n],
        usable: ['bytes', n],
        out: ['doubles', 23],
      });
      fill(a.expected, random, 60, 180);
      a.beyond.fill(NaN);
      for (let i = 0; i < n; i++) {
        a.seen[i] = a.expected[i] + 40 * (random() - 0.5);
        a.usable[i] = random() < 0.95 ? 1 : 0;
      }
      const cut = 12,
        astray = 4;
      kernels.run.stepEquations({
        expected: at(a.expected),
        seen: at(a.seen),
        usable: at(a.usable),
        width,
        height,
        cut,
        astray,
        whole: whole ? 1 : 0,
        out: at(a.out),
      });
      const sums = new Float64Array(23),
        sizeOf = new Float64Array(23);
      const add = (k: number, v: number) => {
        sums[k] += v;
        sizeOf[k] += Math.abs(v);
      };
      for (let y = 1; y < height - 1; y++) {
        for (let x = 1 + (y & 1); x < width - 1; x += 2) {
          const i = y * width + x;
          if (![0, 1, -1, width, -width].every((o) => a.usable[i + o])) continue;
          const slope = (o: number) => -0.25 * (a.expected[i + o] - a.expected[i - o] + a.seen[i + o] - a.seen[i - o]);
          const e = a.expected[i],
            r = a.seen[i] - e,
            sx = slope(1),
            sy = slope(width),
            u = x - (width - 1) / 2,
            v = y - (height - 1) / 2;
          const left = 1 - (r * r) / (cut * cut + astray * (sx * sx + sy * sy));
          add(0, 1);
          if (left <= 0) continue;
          const w = left * left;
          if (Math.abs(r) < cut) add(1, 1);
          add(2, w * (sx * sx + sy * sy));
          const unknowns = [sx, sy, e, sx * u + sy * v, sy * u - sx * v];
          let k = 3;
          for (let p = 0; p < 5; p++)
            for (let q = p; q < 5; q++, k++) if (whole || q < 3) add(k, w * unknowns[p] * unknowns[q]);
          for (let p = 0; p < 5; p++) if (whole || p < 3) add(18 + p, w * unknowns[p] * r);
        }
      }
      expect([a.out[0], a.out[1]]).toEqual([sums[0], sums[1]]);
      for (let k = 2; k < 23; k++) expect(Math.abs(a.out[k] - sums[k])).toBeLessThanOrEqual(1e-4 * sizeOf[k] + 1e-3);
    }),
    RUNS,
  );
});

test(
  'a picture taken in where a camera stood is shown from there again, whole pixels as they were, and nothing ' +
    'where nobody looked',
  () => {
    fc.assert(
      fc.property(
        sizes,
        fc.integer({ min: 0, max: 4 }),
        fc.integer({ min: 0, max: 4 }),
        ({ width, height, seed }, dx, dy) => {
          const n = width * height,
            across = width + 4,
            down = height + 4,
            colours = Math.ceil(width / 2) * Math.ceil(height / 2),
            random = seededRandom(seed);
          const { kernels, arrays: a } = Kernels.with({
            field: ['floats', 4 * across * down],
            weight: ['floats', across * down],
            luma: ['bytes', n],
            blue: ['bytes', colours],
            red: ['bytes', colours],
            shownLuma: ['floats', n],
            shownBlue: ['floats', n],
            shownRed: ['floats', n],
            known: ['bytes', n],
          });
          fill(a.luma, random, 0, 256);
          fill(a.blue, random, 0, 256);
          fill(a.red, random, 0, 256);
          kernels.run.addToPanorama({
            field: at(a.field),
            weight: at(a.weight),
            width: across,
            fromX: 0,
            toX: across - 1,
            fromY: 0,
            toY: down - 1,
            u0: -dx,
            v0: -dy,
            c: 1,
            s: 0,
            luma: at(a.luma),
            blue: at(a.blue),
            red: at(a.red),
            free: 0,
            across: width,
            down: height,
            colourAcross: Math.ceil(width / 2),
            colourDown: Math.ceil(height / 2),
            gain: 1,
            follow: 0.12,
          });
          kernels.run.showPanorama({
            field: at(a.field),
            width: across,
            height: down,
            u0: dx,
            v0: dy,
            c: 1,
            s: 0,
            across: width,
            down: height,
            coloured: 1,
            luma: at(a.shownLuma),
            blue: at(a.shownBlue),
            red: at(a.shownRed),
            known: at(a.known),
          });
          expect([...a.shownLuma]).toEqual([...a.luma]);
          for (let i = 0; i < n; i++)
            expect(a.shownBlue[i]).toBe(
              a.blue[(((i - (i % width)) / width) >> 1) * Math.ceil(width / 2) + ((i % width) >> 1)],
            );
          expect(a.known.every((k) => k === 1)).toBe(true);
          kernels.run.showPanorama({
            field: at(a.field),
            width: across,
            height: down,
            u0: 0,
            v0: 0,
            c: 1,
            s: 0,
            across: width,
            down: height,
            coloured: 1,
            luma: at(a.shownLuma),
            blue: at(a.shownBlue),
            red: at(a.shownRed),
            known: at(a.known),
          });
          for (let i = 0; i < n; i++) expect(a.known[i]).toBe(i % width >= dx && i >= dy * width ? 1 : 0);
        },
      ),
      RUNS,
    );
  },
);

test('half way between pixels is their mean, and what has been seen speaks for what has not', () => {
  const { kernels, arrays: a } = Kernels.with({
    field: ['floats', 4 * 9],
    luma: ['floats', 1],
    blue: ['floats', 1],
    red: ['floats', 1],
    known: ['bytes', 1],
  });
  const show = (u: number, v: number) => {
    kernels.run.showPanorama({
      field: at(a.field),
      width: 3,
      height: 3,
      u0: u,
      v0: v,
      c: 1,
      s: 0,
      across: 1,
      down: 1,
      coloured: 1,
      luma: at(a.luma),
      blue: at(a.blue),
      red: at(a.red),
      known: at(a.known),
    });
    return a.known[0] ? a.luma[0] : null;
  };
  a.field.set([10, 0, 0, 1, 30, 0, 0, 1], 0);
  expect(show(0.5, 0)).toBeCloseTo(20);
  expect(show(0.25, 0.4)).toBeCloseTo(15);
  expect(show(0, 0.6)).toBeNull();
  expect(show(1.2, 0.1)).toBeCloseTo(30);
  expect(show(-0.1, 0)).toBeNull();
});
