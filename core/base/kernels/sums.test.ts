import fc from 'fast-check';
import { solvePositive } from '../numeric/least-squares';
import { quantile } from '../numeric/quantile';
import { seededRandom } from '../numeric/random';
import { bytes, close, flags, floats, RUNS, sizes } from '../../testing/plain-sums';
import { addressOf as at, Kernels } from './kernels';

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
        scaled: ['floats', n],
        perStop: ['floats', n],
        sums: ['doubles', 12],
        steps: ['doubles', 12],
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
      a.scaled.set(floats(n, random, -4, 4));
      a.perStop.set(floats(n, random, 5, 80));
      a.stops.set(floats(12, random, -0.5, 0.5));
      kernels.run.addZones({
        luma: at(a.luma),
        zoneOf: at(a.zoneOf),
        strength: at(a.strength),
        restless: at(a.restless),
        difference: at(a.difference),
        scaled: at(a.scaled),
        perStop: at(a.perStop),
        bound: 3,
        pixels: n,
        sums: at(a.sums),
        steps: at(a.steps),
        counts: at(a.counts),
        all: at(a.all),
      });
      const sums = new Float64Array(12),
        steps = new Float64Array(12),
        counts = new Uint32Array(12),
        all = new Uint32Array(12);
      for (let i = 0; i < n; i += 3) {
        if (a.luma[i] < 12 || a.luma[i] > 240) continue;
        all[a.zoneOf[i]]++;
        if (a.strength[i] > 3 || a.restless[i]) continue;
        sums[a.zoneOf[i]] += a.difference[i] / a.perStop[i];
        steps[a.zoneOf[i]] += (a.scaled[i] - a.scaled[Math.min(i + 1, n - 1)]) ** 2;
        counts[a.zoneOf[i]]++;
      }
      close(a.sums, sums, 1e-4);
      close(a.steps, steps, 1e-3);
      expect([...a.counts]).toEqual([...counts]);
      expect([...a.all]).toEqual([...all]);
      kernels.run.layZones({
        stops: at(a.stops),
        across,
        down,
        perStop: at(a.perStop),
        width,
        height,
        row: at(a.row),
        field: at(a.field),
      });
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
      fc.oneof(fc.constant(4), fc.integer({ min: 1, max: 16 })),
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
        kernels.run.shrinkBlocks({
          plane: at(arrays.plane),
          width,
          height,
          factor,
          across,
          down,
          rim,
          columns: at(arrays.columns),
          out: at(arrays.out),
        });
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
  kernels.run.widenLuma({ plane: at(arrays.plane), count: arrays.plane.length });
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
        expect(kernels.run.quantileOf({ values: at(arrays.values), count: values.length, q })).toBe(
          quantile(values, q),
        );
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
        const shared = {
          energies: at(arrays.energies),
          taken: at(arrays.taken),
          frames,
          cells,
          grain: at(arrays.grain),
          gain: at(arrays.gain),
          values: at(arrays.values),
        };
        kernels.run.cellsOverFrames({ ...shared, out: at(arrays.ofCells) });
        const chosen = { chosen: at(arrays.chosen), many, best: at(arrays.best) };
        kernels.run.framesOverCells({ ...shared, ...chosen, out: at(arrays.ofFrames) });
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
      const solved = kernels.run.solveFour({
        normal: at(arrays.normal),
        right: at(arrays.right),
        scratch: at(arrays.scratch),
        out: at(arrays.out),
      });
      const wanted = solvePositive(normal, Float64Array.from(right), 4);
      expect(solved !== 0).toBe(wanted !== null);
      close(arrays.out, wanted ?? [7, 7, 7, 7], 1e-9 * Math.max(1, ...(wanted ?? []).map(Math.abs)));
    }),
    { numRuns: 100 },
  );
});

test('a picture is halved to the rounded means of two by two', () => {
  fc.assert(
    fc.property(sizes, ({ width, height, seed }) => {
      const plane = bytes(width * height, seededRandom(seed));
      const [across, down] = [width >> 1, height >> 1];
      const { kernels, arrays } = Kernels.with({
        plane: ['bytes', plane.length + 32],
        out: ['bytes', across * down + 16],
      });
      arrays.plane.set(plane);
      kernels.run.halve({ plane: at(arrays.plane), width, height, out: at(arrays.out) });
      for (let k = 0; k < across * down; k++) {
        const i = 2 * Math.floor(k / across) * width + 2 * (k % across);
        const sum = plane[i] + plane[i + 1] + plane[i + width] + plane[i + width + 1];
        expect(arrays.out[k]).toBe((sum + 2) >> 2);
      }
    }),
  );
});

test('means of the cells of a grid, however it lies', () => {
  fc.assert(
    fc.property(
      sizes,
      fc.integer({ min: 1, max: 20 }),
      fc.integer({ min: 1, max: 20 }),
      ({ width, height, seed }, across, down) => {
        const plane = bytes(width * height, seededRandom(seed));
        const { kernels, arrays } = Kernels.with({
          luma: ['bytes', plane.length],
          columns: ['words', across + 1],
          rows: ['words', down + 1],
          sums: ['bytes', 2 * (width + 16)],
          out: ['floats', across * down],
        });
        arrays.luma.set(plane);
        arrays.columns.forEach((_, c) => (arrays.columns[c] = Math.floor((c * width) / across)));
        arrays.rows.forEach((_, r) => (arrays.rows[r] = Math.floor((r * height) / down)));
        kernels.run.meansOfCells({
          luma: at(arrays.luma),
          width,
          columns: at(arrays.columns),
          rows: at(arrays.rows),
          across,
          down,
          sums: at(arrays.sums),
          out: at(arrays.out),
        });
        const wanted = Array.from({ length: across * down }, (_, cell) => {
          const [left, right] = [0, 1].map((k) => arrays.columns[(cell % across) + k]),
            [top, bottom] = [0, 1].map((k) => arrays.rows[Math.floor(cell / across) + k]);
          let sum = 0;
          for (let y = top; y < bottom; y++) for (let x = left; x < right; x++) sum += plane[y * width + x];
          return sum / ((right - left) * (bottom - top) || 1);
        });
        close(arrays.out, wanted, 1e-4);
      },
    ),
    RUNS,
  );
});
