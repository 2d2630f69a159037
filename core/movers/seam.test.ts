import fc from 'fast-check';
import { seededRandom } from '../base/numeric/random';
import { DistanceField } from '../base/image/distance';
import { sidesOf } from './moving';
import { findSeam, type SeamLine, type Taken } from './seam';

const { floor, hypot } = Math;

interface Picture {
  width: number;
  height: number;
  a: Uint8Array;
  b: Uint8Array;
}

/** Boxes of two passes, the first ones' rather to the left. */
const pictures = fc
  .record({
    width: fc.integer({ min: 12, max: 60 }),
    height: fc.integer({ min: 8, max: 40 }),
    seed: fc.integer({ min: 1, max: 1e6 }),
    boxes: fc.integer({ min: 1, max: 4 }),
  })
  .map(({ width, height, seed, boxes }): Picture => {
    const random = seededRandom(seed);
    const draw = (from: number, to: number) => {
      const out = new Uint8Array(width * height);
      for (let n = 0; n < boxes; n++) {
        const x = floor(width * (from + random() * (to - from))),
          y = floor(random() * height);
        const w = 1 + floor(random() * 0.25 * width),
          h = 1 + floor(random() * 0.6 * height);
        for (let v = y; v < Math.min(height, y + h); v++)
          for (let u = x; u < Math.min(width, x + w); u++) out[v * width + u] = 1;
      }
      return out;
    };
    return { width, height, a: draw(0, 0.5), b: draw(0.45, 1) };
  });

const seamOf = (p: Picture): SeamLine | null => findSeam({ ...p, light: null });
const remade = (p: Picture, width: number, height: number, from: (x: number, y: number) => number): Picture => {
  const pick = (m: Uint8Array) =>
    Uint8Array.from({ length: width * height }, (_, i) => {
      const k = from(i % width, floor(i / width));
      return k < 0 ? 0 : m[k];
    });
  return { width, height, a: pick(p.a), b: pick(p.b) };
};

test('distances are those of the nearest marked pixel, by looking at all of them', () => {
  fc.assert(
    fc.property(pictures, ({ width, height, a }) => {
      const field = new DistanceField(width, height).of(a, new Float32Array(width * height));
      for (let i = 0; i < a.length; i += 7) {
        let least = Infinity;
        for (let k = 0; k < a.length; k++)
          if (a[k]) least = Math.min(least, hypot((i % width) - (k % width), floor(i / width) - floor(k / width)));
        expect(field[i]).toBeCloseTo(least, 3);
      }
    }),
    { numRuns: 40 },
  );
  const none = new DistanceField(5, 4).of(new Uint8Array(20), new Float32Array(20));
  expect([...none].every((d) => d === Infinity)).toBe(true);
});

test('a seam never goes through anybody, and has all of one pass on one side and all of the other on the other', () => {
  let found = 0;
  fc.assert(
    fc.property(pictures, (p) => {
      const seam = seamOf(p);
      if (!seam) return;
      found++;
      const { width, height } = p;
      const [first, last] = [seam.points[0], seam.points.at(-1)!];
      expect(seam.upright ? [first[1], last[1]] : [first[0], last[0]]).toEqual([0, seam.upright ? height : width]);
      const sides = sidesOf(seam, width, height);
      const [ofA, ofB] = seam.first ? [-1, 1] : [1, -1];
      let wrong = 0;
      for (let i = 0; i < width * height; i++)
        if ((p.a[i] && sides[i] !== ofA) || (p.b[i] && sides[i] !== ofB)) wrong++;
      expect(wrong).toBe(0);
      expect(seam.feather).toBeLessThanOrEqual(seam.corridor + 0.01);
      expect(seam.feather).toBeGreaterThan(0.7 * seam.corridor - 2.5);
    }),
    { numRuns: 300 },
  );
  expect(found).toBeGreaterThan(60);
});

test('mirrored, turned and exchanged passes have as wide a corridor', () => {
  fc.assert(
    fc.property(pictures, (p) => {
      const { width: w, height: h } = p;
      const corridor = seamOf(p)?.corridor ?? null;
      const same = (q: Picture) => {
        const other = seamOf(q)?.corridor ?? null;
        if (corridor === null || other === null) expect(other).toBe(corridor);
        else expect(other).toBeCloseTo(corridor, 3);
      };
      same(remade(p, w, h, (x, y) => y * w + w - 1 - x));
      same(remade(p, w, h, (x, y) => (h - 1 - y) * w + x));
      same(remade(p, h, w, (x, y) => x * w + y));
      same({ ...p, a: p.b, b: p.a });
    }),
    { numRuns: 150 },
  );
});

test('a free row more never narrows it', () => {
  fc.assert(
    fc.property(pictures, fc.double({ min: 0, max: 1, noNaN: true }), fc.boolean(), (p, where, across) => {
      const { width: w, height: h } = p;
      const before = seamOf(p)?.corridor ?? 0;
      const at = floor(where * (across ? h : w));
      const more = across
        ? remade(p, w, h + 1, (x, y) => (y === at ? -1 : (y > at ? y - 1 : y) * w + x))
        : remade(p, w + 1, h, (x, y) => (x === at ? -1 : y * w + (x > at ? x - 1 : x)));
      expect(seamOf(more)?.corridor ?? 0).toBeGreaterThanOrEqual(before - 1e-4);
    }),
    { numRuns: 200 },
  );
});

test('between two upright bars the corridor is the space between them, and the line goes through its middle', () => {
  const width = 100,
    height = 40;
  const bar = (from: number, to: number) =>
    Uint8Array.from({ length: width * height }, (_, i) => (i % width >= from && i % width < to ? 1 : 0));
  const seam = seamOf({ width, height, a: bar(60, 80), b: bar(10, 31) })!;
  expect([seam.upright, seam.first]).toEqual([true, false]);
  expect(Math.abs(seam.corridor - 29)).toBeLessThanOrEqual(0.5);
  for (const [x] of seam.points) expect(Math.abs(x - 45.5)).toBeLessThan(1.6);
});

test('the line goes where the light differs least, as far as the corridor lets it', () => {
  const width = 120,
    height = 40;
  const bar = (from: number, to: number) =>
    Uint8Array.from({ length: width * height }, (_, i) => (i % width >= from && i % width < to ? 1 : 0));
  // One pair of people near the top makes it narrow; further down there is room to choose.
  const a = bar(0, 10),
    b = bar(110, 120);
  for (let x = 0; x < width; x++) if (x < 50 || x > 70) (x < 60 ? a : b)[2 * width + x] = 1;
  const light = Float32Array.from({ length: width * height }, (_, i) =>
    Math.abs((i % width) - 60) < 12 && floor(i / width) > 14 ? 0.5 : 0,
  );
  const taken: Taken = { width, height, a, b, light };
  const seam = findSeam(taken)!;
  const low = seam.points.filter(([, y]) => y > 18);
  expect(low.length).toBeGreaterThan(0);
  for (const [x] of low) expect(Math.abs(x - 60)).toBeGreaterThan(11);
});

test('where nothing parts them there is none', () => {
  const width = 40,
    height = 30;
  const mask = (inside: (x: number, y: number) => boolean) =>
    Uint8Array.from({ length: width * height }, (_, i) => (inside(i % width, floor(i / width)) ? 1 : 0));
  // A cross of one pass over the whole picture, the other in two opposite corners.
  const a = mask((x, y) => x === 20 || y === 15),
    b = mask((x, y) => (x < 5 && y < 5) || (x > 35 && y > 25));
  expect(seamOf({ width, height, a, b })).toBeNull();
  expect(seamOf({ width, height, a: b, b })).toBeNull();
});

test('one alone has a line as far from it as can be', () => {
  const width = 40,
    height = 20;
  const a = new Uint8Array(width * height);
  for (let y = 4; y < 16; y++) a.fill(1, y * width, y * width + 10);
  const seam = seamOf({ width, height, a, b: new Uint8Array(width * height) })!;
  expect(seam.feather).toBeGreaterThan(20);
  expect(seam.feather).toBeLessThan(2 * (width - 10));
});
