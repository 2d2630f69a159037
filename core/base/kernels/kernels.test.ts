import { execFileSync } from 'node:child_process';
import { join } from 'node:path';
import fc from 'fast-check';
import { seededRandom } from '../numeric/random';
import { bytes, close, flags, floats, RUNS, sizes } from '../../testing/plain-sums';
import { addressOf as at, Kernels, roomFor } from './kernels';

test('what is kept compiled is what the sources give', () => {
  expect(() =>
    execFileSync(process.execPath, [join(__dirname, '../../../scripts/kernels.mjs'), '--check'], { stdio: 'pipe' }),
  ).not.toThrow();
});

test('arrays lie apart in the memory, which is as large as was asked for', () => {
  const shapes = { a: ['bytes', 33], b: ['floats', 7], c: ['doubles', 3], d: ['words', 5] } as const;
  const { arrays } = Kernels.with(shapes);
  const spans = Object.values(arrays)
    .map((a) => [at(a), at(a) + a.byteLength])
    .sort((p, q) => p[0] - q[0]);
  for (let k = 1; k < spans.length; k++) expect(spans[k][0]).toBeGreaterThanOrEqual(spans[k - 1][1]);
  for (const [from] of spans) expect(from % 16).toBe(0);
  expect(spans[3][1] - spans[0][0]).toBeLessThanOrEqual(roomFor(shapes));
});

test('memory grows as it is taken, keeps what is in it, and what is given back is taken again', () => {
  const kernels = new Kernels(1000);
  const first = kernels.reserve(100);
  kernels.bytes(first, 100).fill(7);
  const before = kernels.taken;
  const second = kernels.reserve(3_000_000);
  kernels.bytes(second, 3_000_000).fill(9);
  expect([...kernels.bytes(first, 100)].every((v) => v === 7)).toBe(true);
  kernels.release(before);
  expect(kernels.reserve(10)).toBe(second);
});

test('detail of cells: every twelfth row, finest and coarser', () => {
  fc.assert(
    fc.property(
      sizes,
      fc.integer({ min: 1, max: 5 }),
      fc.integer({ min: 1, max: 3 }),
      ({ width, height, seed }, across, down) => {
        const plane = bytes(width * height, seededRandom(seed));
        const { kernels, arrays } = Kernels.with({
          plane: ['bytes', plane.length],
          sums: ['doubles', 2],
          fine: ['floats', across * down],
          coarse: ['floats', across * down],
        });
        arrays.plane.set(plane);
        kernels.run.detailOfCells({
          plane: at(arrays.plane),
          width,
          height,
          across,
          down,
          step: 3,
          sums: at(arrays.sums),
          fine: at(arrays.fine),
          coarse: at(arrays.coarse),
        });
        const fine = new Float64Array(across * down),
          coarse = fine.slice(),
          counts = fine.slice();
        for (let y = 2; y < height - 2; y += 3) {
          for (let x = 2; x < width - 2; x++) {
            const c = Array.from({ length: across }, (_, k) => k).find(
              (k) =>
                x >= Math.max(2, Math.floor((k * width) / across)) &&
                x < Math.min(width - 2, Math.floor(((k + 1) * width) / across)),
            );
            if (c === undefined) continue;
            const k = Math.min(down - 1, Math.floor((y * down) / height)) * across + c;
            const p = (dx: number, dy: number) => plane[(y + dy) * width + x + dx];
            fine[k] += (4 * p(0, 0) - p(-1, 0) - p(1, 0) - p(0, -1) - p(0, 1)) ** 2;
            coarse[k] += (4 * p(0, 0) - p(-2, 0) - p(2, 0) - p(0, -2) - p(0, 2)) ** 2;
            counts[k]++;
          }
        }
        close(
          arrays.fine,
          fine.map((v, k) => Math.fround(v / Math.max(1, counts[k]))),
          0.1,
        );
        close(
          arrays.coarse,
          coarse.map((v, k) => Math.fround(v / Math.max(1, counts[k]))),
          0.1,
        );
      },
    ),
    RUNS,
  );
});

test('changes are counted by their size, and the picture is kept', () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 500 }), fc.integer(), (count, seed) => {
      const random = seededRandom(seed);
      const now = bytes(count, random),
        before = bytes(count, random);
      const { kernels, arrays } = Kernels.with({
        now: ['bytes', count],
        before: ['bytes', count],
        counts: ['words', 511],
      });
      arrays.now.set(now);
      arrays.before.set(before);
      kernels.run.countChanges({ now: at(arrays.now), before: at(arrays.before), count, counts: at(arrays.counts) });
      const wanted = new Uint32Array(511);
      now.forEach((v, i) => wanted[v - before[i] + 255]++);
      expect([...arrays.counts]).toEqual([...wanted]);
      expect([...arrays.before]).toEqual([...now]);
    }),
    RUNS,
  );
});

test('a picture against the expected: differences, what is beyond the scale left out, and strength with the neighbours', () => {
  fc.assert(
    fc.property(sizes, fc.boolean(), ({ width, height, seed }, uneven) => {
      const n = width * height,
        random = seededRandom(seed);
      const { kernels, arrays: a } = Kernels.with({
        luma: ['bytes', n],
        table: ['floats', 256],
        expected: ['floats', n],
        extra: ['floats', n],
        inverse: ['floats', n],
        difference: ['floats', n],
        scaled: ['floats', n],
        rows: ['floats', n],
        strength: ['floats', n],
      });
      a.luma.set(bytes(n, random));
      a.table.set(floats(256, random, 0, 300));
      a.expected.set(floats(n, random, 0, 255));
      a.extra.set(floats(n, random, -20, 20));
      a.inverse.set(floats(n, random, 0.1, 2));
      kernels.run.subtract({
        luma: at(a.luma),
        table: at(a.table),
        expected: at(a.expected),
        extra: uneven ? at(a.extra) : 0,
        inverse: at(a.inverse),
        difference: at(a.difference),
        scaled: at(a.scaled),
        count: n,
      });
      kernels.run.strengthen({
        scaled: at(a.scaled),
        rows: at(a.rows),
        strength: at(a.strength),
        width,
        height,
        share: 2 / 9,
      });
      const difference = Array.from({ length: n }, (_, i) => {
        const d = a.table[a.luma[i]] - a.expected[i] - (uneven ? a.extra[i] : 0);
        return (a.luma[i] < 6 && d > 0) || (a.luma[i] > 249 && d < 0) ? 0 : d;
      });
      const scaled = difference.map((d, i) => d * a.inverse[i]);
      const strength = scaled.map((own, i) => {
        const x = i % width,
          y = (i - x) / width;
        let sum = 0;
        for (const v of [y - 1, y, y + 1])
          for (const u of [x - 1, x, x + 1])
            sum += scaled[Math.max(0, Math.min(height - 1, v)) * width + Math.max(0, Math.min(width - 1, u))];
        return Math.max(Math.abs(own), Math.abs((2 / 9) * sum));
      });
      close(a.difference, difference, 1e-3);
      close(a.strength, strength, 2e-3);
      const bound = 40;
      expect(kernels.run.countAbove({ values: at(a.strength), count: n, bound })).toBe(
        [...a.strength].filter((s) => s > bound).length,
      );
    }),
    RUNS,
  );
});

test('colours that differ make the pixels under them stronger, unless only one colour by itself does', () => {
  fc.assert(
    fc.property(sizes, ({ width, height, seed }) => {
      const across = Math.ceil(width / 2),
        down = Math.ceil(height / 2),
        n = width * height,
        c = across * down,
        random = seededRandom(seed);
      const { kernels, arrays: a } = Kernels.with({
        blue: ['bytes', c],
        red: ['bytes', c],
        ownBlue: ['floats', c],
        ownRed: ['floats', c],
        stray: ['floats', c],
        colour: ['floats', c],
        restless: ['bytes', n],
        strength: ['floats', n],
      });
      a.blue.set(bytes(c, random));
      a.red.set(bytes(c, random));
      a.ownBlue.set(floats(c, random, 60, 200));
      a.ownRed.set(floats(c, random, 60, 200));
      a.stray.set(floats(c, random, 0, 40));
      a.restless.set(flags(n, random, 0.3));
      kernels.run.compareColour({
        blue: at(a.blue),
        red: at(a.red),
        ownBlue: at(a.ownBlue),
        ownRed: at(a.ownRed),
        stray: at(a.stray),
        gain: 1.1,
        doubt: 0.2,
        colour: at(a.colour),
        count: c,
      });
      const colour = Array.from({ length: c }, (_, i) => {
        const b = a.ownBlue[i] - 128,
          r = a.ownRed[i] - 128;
        return Math.max(
          0,
          Math.abs(a.blue[i] - 128 - 1.1 * b) +
            Math.abs(a.red[i] - 128 - 1.1 * r) -
            a.stray[i] -
            0.2 * (Math.abs(b) + Math.abs(r)),
        );
      });
      close(a.colour, colour, 1e-3);
      const noise = 8;
      kernels.run.strengthenByColour({
        colour: at(a.colour),
        across,
        down,
        width,
        height,
        noise,
        restless: at(a.restless),
        strength: at(a.strength),
      });
      const strength = Array.from({ length: n }, (_, i) => {
        const x = i % width,
          y = (i - x) / width,
          u = Math.min(across - 1, x >> 1),
          k = Math.min(down - 1, y >> 1) * across + u;
        const off =
          u > 0 && u < across - 1 ? Math.min(colour[k], 0.5 * (colour[k - 1] + colour[k + 1]) + 1) : colour[k];
        return off > noise ? Math.max(0, off / (a.restless[i] ? 4 * noise : noise) - 1) : 0;
      });
      close(a.strength, strength, 1e-3);
    }),
    RUNS,
  );
});
