import { execFileSync } from 'node:child_process';
import { join } from 'node:path';
import fc from 'fast-check';
import { solvePositive } from '../geometry/least-squares';
import { quantile } from '../image/quantile';
import { seededRandom } from '../image/random';
import { addressOf as at, Kernels, roomFor } from './kernels';

/** Each compiled loop is held against the same sum written plainly, on pictures of odd sizes. */
const sizes = fc.record({
  width: fc.integer({ min: 5, max: 61 }),
  height: fc.integer({ min: 5, max: 37 }),
  seed: fc.integer({ min: 1, max: 1e6 }),
});
const RUNS = { numRuns: 25 };

const bytes = (n: number, random: () => number) => Uint8Array.from({ length: n }, () => Math.floor(256 * random()));
const floats = (n: number, random: () => number, low: number, high: number) =>
  Float32Array.from({ length: n }, () => low + (high - low) * random());
const flags = (n: number, random: () => number, share: number) =>
  Uint8Array.from({ length: n }, () => (random() < share ? 1 : 0));

function close(got: ArrayLike<number>, wanted: ArrayLike<number>, within: number): void {
  expect(got.length).toBe(wanted.length);
  for (let i = 0; i < got.length; i++)
    if (!(Math.abs(got[i] - wanted[i]) <= within)) throw new Error(`${got[i]} instead of ${wanted[i]} at ${i}`);
}

test('what is kept compiled is what the sources give', () => {
  expect(() =>
    execFileSync(process.execPath, [join(__dirname, '../../scripts/kernels.mjs'), '--check'], { stdio: 'pipe' }),
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
        kernels.run.detailOfCells(
          at(arrays.plane),
          width,
          height,
          across,
          down,
          3,
          at(arrays.sums),
          at(arrays.fine),
          at(arrays.coarse),
        );
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
      kernels.run.countChanges(at(arrays.now), at(arrays.before), count, at(arrays.counts));
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
      kernels.run.subtract(
        at(a.luma),
        at(a.table),
        at(a.expected),
        uneven ? at(a.extra) : 0,
        at(a.inverse),
        at(a.difference),
        at(a.scaled),
        n,
      );
      kernels.run.strengthen(at(a.scaled), at(a.rows), at(a.strength), width, height, 2 / 9);
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
      expect(kernels.run.countAbove(at(a.strength), n, bound)).toBe([...a.strength].filter((s) => s > bound).length);
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
      kernels.run.compareColour(
        at(a.blue),
        at(a.red),
        at(a.ownBlue),
        at(a.ownRed),
        at(a.stray),
        1.1,
        0.2,
        at(a.colour),
        c,
      );
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
      kernels.run.strengthenByColour(at(a.colour), across, down, width, height, noise, at(a.restless), at(a.strength));
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

test('the light of zones: their sums over free pixels, and laid over the pixels again', () => {
  fc.assert(
    fc.property(sizes, ({ width, height, seed }) => {
      const across = 4,
        down = 3,
        n = width * height,
        random = seededRandom(seed);
      const { kernels, arrays: a } = Kernels.with({
        luma: ['floats', n],
        zoneOf: ['bytes', n],
        strength: ['floats', n],
        restless: ['bytes', n],
        difference: ['floats', n],
        perStop: ['floats', n],
        sums: ['doubles', 12],
        counts: ['words', 12],
        all: ['words', 12],
        stops: ['floats', 12],
        row: ['floats', across],
        field: ['floats', n],
      });
      a.luma.set(floats(n, random, 0, 255));
      a.zoneOf.set(Uint8Array.from({ length: n }, () => Math.floor(12 * random())));
      a.strength.set(floats(n, random, 0, 6));
      a.restless.set(flags(n, random, 0.2));
      a.difference.set(floats(n, random, -9, 9));
      a.perStop.set(floats(n, random, 5, 80));
      a.stops.set(floats(12, random, -0.5, 0.5));
      kernels.run.addZones(
        at(a.luma),
        at(a.zoneOf),
        at(a.strength),
        at(a.restless),
        at(a.difference),
        at(a.perStop),
        3,
        n,
        at(a.sums),
        at(a.counts),
        at(a.all),
      );
      const sums = new Float64Array(12),
        counts = new Uint32Array(12),
        all = new Uint32Array(12);
      for (let i = 0; i < n; i += 3) {
        if (a.luma[i] < 12 || a.luma[i] > 240) continue;
        all[a.zoneOf[i]]++;
        if (a.strength[i] > 3 || a.restless[i]) continue;
        sums[a.zoneOf[i]] += a.difference[i] / a.perStop[i];
        counts[a.zoneOf[i]]++;
      }
      close(a.sums, sums, 1e-4);
      expect([...a.counts]).toEqual([...counts]);
      expect([...a.all]).toEqual([...all]);
      kernels.run.layZones(at(a.stops), across, down, at(a.perStop), width, height, at(a.row), at(a.field));
      const place = (zones: number, pixel: number, pixels: number) =>
        Math.max(0, Math.min(zones - 1.001, ((pixel + 0.5) * zones) / pixels - 0.5));
      close(
        a.field,
        Array.from({ length: n }, (_, i) => {
          const x = i % width,
            u = place(across, x, width),
            v = place(down, (i - x) / width, height);
          const k = Math.floor(v) * across + Math.floor(u),
            fx = u % 1,
            fy = v % 1;
          const mix = (p: number, q: number, f: number) => p + f * (q - p);
          return (
            a.perStop[i] *
            mix(mix(a.stops[k], a.stops[k + 1], fx), mix(a.stops[k + across], a.stops[k + across + 1], fx), fy)
          );
        }),
        1e-2,
      );
    }),
    RUNS,
  );
});

test('means of blocks, whatever their size, less what lies right round them', () => {
  fc.assert(
    fc.property(
      sizes,
      fc.integer({ min: 1, max: 16 }),
      fc.constantFrom(0, 0.1, 0.07),
      ({ width, height, seed }, wished, rim) => {
        const factor = Math.min(wished, width, height),
          across = Math.floor(width / factor),
          down = Math.floor(height / factor);
        const random = seededRandom(seed);
        const plane = seed % 5 ? bytes(width * height, random) : new Uint8Array(width * height).fill(255);
        const { kernels, arrays } = Kernels.with({
          plane: ['bytes', plane.length],
          columns: ['bytes', 8 * (width + 48)],
          out: ['bytes', across * down],
        });
        arrays.plane.set(plane);
        kernels.run.shrinkBlocks(
          at(arrays.plane),
          width,
          height,
          factor,
          across,
          down,
          rim,
          at(arrays.columns),
          at(arrays.out),
        );
        const weight = (k: number) => (k < 0 || k >= factor ? -rim : 1);
        const wanted = Array.from({ length: across * down }, (_, k) => {
          let sum = 0;
          for (let y = -1; y <= factor; y++) {
            for (let x = -1; x <= factor; x++) {
              const row = Math.max(0, Math.min(height - 1, Math.floor(k / across) * factor + y)),
                column = Math.max(0, Math.min(width - 1, (k % across) * factor + x));
              sum += weight(x) * weight(y) * plane[row * width + column];
            }
          }
          return Math.max(0, Math.min(255, sum / (factor - 2 * rim) ** 2));
        });
        close(arrays.out, wanted, 0.5 + 1e-9);
      },
    ),
    { numRuns: 80 },
  );
});

test('luma of broadcast range fills the range of a byte, each level rounded', () => {
  const { kernels, arrays } = Kernels.with({ plane: ['bytes', 256 + 7] });
  arrays.plane.forEach((_, i) => {
    arrays.plane[i] = i & 255;
  });
  kernels.run.widenLuma(at(arrays.plane), arrays.plane.length);
  expect([...arrays.plane]).toEqual(
    Array.from({ length: 263 }, (_, i) => Math.max(0, Math.min(255, Math.round((((i & 255) - 16) * 255) / 219)))),
  );
});

test('quantiles, and the middles of cells over frames and of frames over cells', () => {
  fc.assert(
    fc.property(
      fc.array(fc.double({ min: -1e3, max: 1e3, noNaN: true }), { minLength: 1, maxLength: 40 }),
      fc.double({ min: 0, max: 1, noNaN: true }),
      (values, q) => {
        const { kernels, arrays } = Kernels.with({ values: ['doubles', values.length] });
        arrays.values.set(values);
        expect(kernels.run.quantileOf(at(arrays.values), values.length, q)).toBe(quantile(values, q));
      },
    ),
    RUNS,
  );
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 20 }),
      fc.integer({ min: 1, max: 15 }),
      fc.integer(),
      (frames, cells, seed) => {
        const random = seededRandom(seed);
        const many = Math.ceil(cells / 2);
        const { kernels, arrays } = Kernels.with({
          energies: ['floats', frames * cells],
          taken: ['bytes', frames * cells],
          grain: ['doubles', frames],
          gain: ['doubles', frames],
          values: ['doubles', Math.max(frames, cells)],
          ofCells: ['doubles', 4 * cells],
          best: ['doubles', cells],
          chosen: ['words', cells],
          ofFrames: ['doubles', 3 * frames],
        });
        arrays.energies.set(floats(frames * cells, random, 0, 90));
        arrays.taken.set(flags(frames * cells, random, 0.3));
        arrays.grain.set(floats(frames, random, 0, 20));
        arrays.gain.set(floats(frames, random, 0.5, 2));
        arrays.best.set(floats(cells, random, 1, 9));
        for (let n = 0; n < many; n++) arrays.chosen[n] = 2 * n;
        const shared = [
          at(arrays.energies),
          at(arrays.taken),
          frames,
          cells,
          at(arrays.grain),
          at(arrays.gain),
        ] as const;
        kernels.run.cellsOverFrames(...shared, at(arrays.values), at(arrays.ofCells));
        kernels.run.framesOverCells(
          ...shared,
          at(arrays.chosen),
          many,
          at(arrays.best),
          at(arrays.values),
          at(arrays.ofFrames),
        );
        const detail = (f: number, k: number) =>
          arrays.gain[f] * Math.sqrt(Math.max(0, arrays.energies[f * cells + k] - arrays.grain[f]));
        const free = (f: number, k: number) => arrays.taken[f * cells + k] === 0;
        for (let k = 0; k < cells; k++) {
          const seen = Array.from({ length: frames }, (_, f) => f).filter((f) => free(f, k));
          const sum = (of: (f: number) => number) => seen.reduce((s, f) => s + of(f), 0);
          close(
            arrays.ofCells.subarray(4 * k, 4 * k + 4),
            [
              seen.length,
              sum((f) => arrays.energies[f * cells + k]),
              sum((f) => arrays.grain[f]),
              seen.length
                ? quantile(
                    seen.map((f) => detail(f, k)),
                    0.9,
                  )
                : 0,
            ],
            1e-6,
          );
        }
        for (let f = 0; f < frames; f++) {
          const ratios = [...arrays.chosen.subarray(0, many)]
            .filter((k) => free(f, k))
            .map((k) => detail(f, k) / arrays.best[k]);
          const [count, middle, spread] = arrays.ofFrames.subarray(3 * f, 3 * f + 3);
          expect(count).toBe(ratios.length);
          if (count)
            close(
              [middle, spread],
              [
                quantile(ratios, 0.5),
                quantile(
                  ratios.map((r) => Math.abs(r - middle)),
                  0.5,
                ),
              ],
              1e-9,
            );
        }
      },
    ),
    RUNS,
  );
});

test('four equations are solved as any number is, or said not to be positive', () => {
  fc.assert(
    fc.property(fc.integer(), fc.boolean(), (seed, spoiled) => {
      const random = seededRandom(seed);
      const rows = floats(24, random, -2, 2),
        right = floats(4, random, -9, 9);
      const normal = new Float64Array(16);
      for (let i = 0; i < 4; i++)
        for (let j = i; j < 4; j++) for (let n = 0; n < 24; n += 4) normal[4 * i + j] += rows[n + i] * rows[n + j];
      if (spoiled) normal[5] = -1;
      const { kernels, arrays } = Kernels.with({
        normal: ['doubles', 16],
        right: ['doubles', 4],
        scratch: ['doubles', 20],
        out: ['doubles', 4],
      });
      arrays.normal.set(normal);
      arrays.right.set(right);
      arrays.out.fill(7);
      const solved = kernels.run.solveFour(at(arrays.normal), at(arrays.right), at(arrays.scratch), at(arrays.out));
      const wanted = solvePositive(normal, Float64Array.from(right), 4);
      expect(solved !== 0).toBe(wanted !== null);
      close(arrays.out, wanted ?? [7, 7, 7, 7], 1e-9 * Math.max(1, ...(wanted ?? []).map(Math.abs)));
    }),
    { numRuns: 100 },
  );
});
