import fc from 'fast-check';
import { seededRandom } from '../numeric/random';
import { addressOf as at, Kernels } from './kernels';
import { runs } from '../../testing/few';

const takes = fc.record({
  pixels: fc.integer({ min: 1, max: 90 }),
  count: fc.integer({ min: 1, max: 40 }),
  seed: fc.integer({ min: 1, max: 1e6 }),
  masked: fc.boolean(),
});
const RUNS = { numRuns: runs(40) };

/** Pixels that show one value with noise most of the time, and others now and then. */
function samplesOf(pixels: number, count: number, random: () => number): Uint8Array {
  const base = Array.from({ length: pixels }, () => 20 + 200 * random());
  return Uint8Array.from({ length: pixels * count }, (_, i) =>
    random() < 0.8 ? Math.round(base[i % pixels] + 6 * (random() - 0.5)) : Math.floor(256 * random()),
  );
}

test('the value seen most often is found by trying every window, and few that agree are said to be unsure', () => {
  fc.assert(
    fc.property(takes, ({ pixels, count, seed, masked }) => {
      const random = seededRandom(seed);
      const samples = samplesOf(pixels, count, random);
      const masks = Uint8Array.from(samples, () => (random() < 0.8 ? 1 : 0));
      const { kernels, arrays: a } = Kernels.with({
        samples: ['bytes', samples.length],
        masks: ['bytes', samples.length],
        noise: ['floats', 16],
        hist: ['bytes', 288],
        middle: ['floats', pixels],
        reach: ['floats', pixels],
        unsure: ['bytes', pixels],
      });
      a.samples.set(samples);
      a.masks.set(masks);
      a.noise.fill(1.2);
      kernels.run.settle({
        samples: at(a.samples),
        masks: masked ? at(a.masks) : 0,
        count,
        pixels,
        noise: at(a.noise),
        extra: 0,
        sure: 0.9,
        hist: at(a.hist),
        middle: at(a.middle),
        reach: at(a.reach),
        unsure: at(a.unsure),
      });
      for (let i = 0; i < pixels; i++) {
        const seen: number[] = [];
        for (let k = 0; k < count; k++) if (!masked || masks[k * pixels + i]) seen.push(samples[k * pixels + i]);
        if (seen.length === 0) {
          expect(a.middle[i]).toBe(samples[i]);
          continue;
        }
        const h = a.reach[i] - 0.5;
        expect(h).toBe(3);
        const inWindow = (c: number) => seen.filter((v) => Math.abs(v - c) <= h);
        const most = Math.max(...Array.from({ length: 256 }, (_, c) => inWindow(c).length));
        const best = Array.from({ length: 256 }, (_, c) => c).filter(
          (c) => c >= Math.min(...seen) && c <= Math.max(...seen) && inWindow(c).length === most,
        );
        const means = best.map((c) => inWindow(c).reduce((s, v) => s + v, 0) / most);
        expect(Math.min(...means.map((m) => Math.abs(m - a.middle[i])))).toBeLessThan(1e-4);
        expect(a.unsure[i]).toBe(most < 0.9 * seen.length ? 1 : 0);
      }
      expect(a.hist.every((v) => v === 0)).toBe(true);
    }),
    RUNS,
  );
});

test('leaving and coming back are counted with some slack between, by spells', () => {
  fc.assert(
    fc.property(takes, ({ pixels, count, seed, masked }) => {
      const random = seededRandom(seed);
      const samples = samplesOf(pixels, count, random);
      const masks = Uint8Array.from(samples, () => (masked && random() < 0.3 ? 0 : 1));
      const { kernels, arrays: a } = Kernels.with({
        samples: ['bytes', samples.length],
        masks: ['bytes', samples.length],
        away: ['bytes', samples.length],
        middle: ['floats', pixels],
        far: ['floats', pixels],
        times: ['floats', pixels],
        when: ['bytes', pixels],
      });
      a.samples.set(samples);
      a.masks.set(masks);
      a.middle.fill(120);
      a.far.fill(30);
      kernels.run.countLeaving({
        samples: at(a.samples),
        masks: masked ? at(a.masks) : 0,
        count,
        pixels,
        middle: at(a.middle),
        far: at(a.far),
        inside: 0.5,
        spells: 6,
        away: at(a.away),
        times: at(a.times),
        when: at(a.when),
      });
      for (let i = 0; i < pixels; i++) {
        let was = false,
          left = 0,
          when = 0;
        for (let k = 0; k < count; k++) {
          if (!masks[k * pixels + i]) {
            expect(a.away[k * pixels + i]).toBe(0);
            continue;
          }
          const now: boolean = Math.abs(samples[k * pixels + i] - 120) > (was ? 15 : 30);
          expect(a.away[k * pixels + i]).toBe(now ? 1 : 0);
          if (now && !was) left++;
          if (now !== was) when |= 1 << Math.floor((k * 6) / count);
          was = now;
        }
        expect([a.times[i], a.when[i]]).toEqual([left, when]);
      }
    }),
    RUNS,
  );
});

test('sums over samples hold what lies near the layer, where the picture shows it', () => {
  fc.assert(
    fc.property(takes, ({ pixels, count, seed, masked }) => {
      const random = seededRandom(seed);
      const samples = samplesOf(pixels, count, random);
      const { kernels, arrays: a } = Kernels.with({
        even: ['bytes', pixels],
        own: ['bytes', pixels],
        mask: ['bytes', pixels],
        table: ['floats', 256],
        low: ['floats', pixels],
        high: ['floats', pixels],
        middle: ['floats', pixels],
        sums: ['floats', pixels],
        squares: ['floats', pixels],
        counts: ['floats', pixels],
        seen: ['floats', pixels],
      });
      a.table.set(Float32Array.from({ length: 256 }, (_, v) => 1.02 * v));
      a.middle.fill(110);
      a.low.fill(60);
      a.high.fill(160);
      const sums = new Float64Array(pixels),
        squares = sums.slice(),
        counts = sums.slice(),
        seen = sums.slice();
      for (let k = 0; k < count; k++) {
        a.even.set(samples.subarray(k * pixels, (k + 1) * pixels));
        a.own.set(a.even);
        a.mask.set(Uint8Array.from({ length: pixels }, () => (random() < 0.7 ? 1 : 0)));
        kernels.run.addSample({
          even: at(a.even),
          own: at(a.own),
          table: at(a.table),
          mask: masked ? at(a.mask) : 0,
          low: at(a.low),
          high: at(a.high),
          middle: at(a.middle),
          sums: at(a.sums),
          squares: at(a.squares),
          counts: at(a.counts),
          seen: at(a.seen),
          count: pixels,
        });
        for (let i = 0; i < pixels; i++) {
          if (masked && !a.mask[i]) continue;
          seen[i]++;
          if (a.even[i] < 60 || a.even[i] > 160) continue;
          const off = a.table[a.own[i]] - 110;
          sums[i] += off;
          squares[i] += off * off;
          counts[i]++;
        }
      }
      expect([...a.counts]).toEqual([...counts]);
      expect([...a.seen]).toEqual([...seen]);
      for (let i = 0; i < pixels; i++) {
        expect(Math.abs(a.sums[i] - sums[i])).toBeLessThan(0.05);
        expect(Math.abs(a.squares[i] - squares[i])).toBeLessThan(1e-4 * squares[i] + 0.05);
      }
    }),
    RUNS,
  );
});

test('colours are averaged over the samples that show the layer, each in its own light', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 2, max: 9 }),
      fc.integer({ min: 2, max: 9 }),
      fc.integer({ min: 1, max: 20 }),
      fc.integer(),
      fc.boolean(),
      (width, height, count, seed, masked) => {
        const random = seededRandom(seed),
          pixels = width * height,
          across = Math.ceil(width / 2),
          down = Math.ceil(height / 2),
          colours = across * down;
        const samples = samplesOf(pixels, count, random),
          blues = samplesOf(colours, count, random),
          reds = samplesOf(colours, count, random);
        const masks = Uint8Array.from(samples, () => (masked && random() < 0.3 ? 0 : 1));
        const { kernels, arrays: a } = Kernels.with({
          samples: ['bytes', samples.length],
          masks: ['bytes', samples.length],
          blues: ['bytes', blues.length],
          reds: ['bytes', reds.length],
          gains: ['floats', count],
          spells: ['words', count],
          trusted: ['words', pixels],
          middle: ['floats', pixels],
          reach: ['floats', pixels],
          blue: ['floats', colours],
          red: ['floats', colours],
        });
        a.samples.set(samples);
        a.masks.set(masks);
        a.blues.set(blues);
        a.reds.set(reds);
        a.gains.set(Float32Array.from({ length: count }, () => 0.8 + 0.4 * random()));
        a.spells.forEach((_, k) => {
          a.spells[k] = 1 << Math.floor((4 * k) / count);
        });
        a.trusted.forEach((_, i) => {
          a.trusted[i] = 1 + Math.floor(15 * random());
        });
        a.middle.fill(120);
        a.reach.fill(70);
        kernels.run.averageColour({
          samples: at(a.samples),
          masks: masked ? at(a.masks) : 0,
          blues: at(a.blues),
          reds: at(a.reds),
          gains: at(a.gains),
          spells: at(a.spells),
          trusted: at(a.trusted),
          count,
          width,
          height,
          across,
          down,
          middle: at(a.middle),
          reach: at(a.reach),
          blue: at(a.blue),
          red: at(a.red),
        });
        for (let y = 0; y < down; y++) {
          for (let x = 0; x < across; x++) {
            const i = Math.min(height - 1, 2 * y) * width + Math.min(width - 1, 2 * x),
              c = y * across + x;
            const trusted = Array.from({ length: count }, (_, k) => k).filter(
              (k) => a.spells[k] & a.trusted[i] && masks[k * pixels + i],
            );
            let b = 0,
              r = 0,
              n = 0;
            for (const [j, k] of trusted.entries()) {
              if (Math.abs(samples[k * pixels + i] - 120) > 70 && n + trusted.length - j > trusted.length / 4) continue;
              b += (blues[k * colours + c] - 128) * a.gains[k];
              r += (reds[k * colours + c] - 128) * a.gains[k];
              n++;
            }
            expect(a.blue[c]).toBeCloseTo(n ? 128 + b / n : 128, 2);
            expect(a.red[c]).toBeCloseTo(n ? 128 + r / n : 128, 2);
          }
        }
      },
    ),
    RUNS,
  );
});

test('the middle of the samples is that of their values in one light, sorted', () => {
  fc.assert(
    fc.property(takes, fc.integer({ min: 1, max: 9 }), ({ pixels, count, seed }, step) => {
      const random = seededRandom(seed);
      const samples = samplesOf(pixels, count, random);
      const { kernels, arrays: a } = Kernels.with({
        samples: ['bytes', samples.length],
        tables: ['floats', 256 * count],
        values: ['doubles', count],
        out: ['floats', pixels],
      });
      a.samples.set(samples);
      a.tables.forEach((_, i) => (a.tables[i] = (i & 255) * (1 + 0.01 * (i >> 8))));
      kernels.run.middleOfSamples({
        samples: at(a.samples),
        tables: at(a.tables),
        count,
        pixels,
        step,
        values: at(a.values),
        out: at(a.out),
      });
      const wanted = Array.from({ length: pixels }, (_, i) => {
        const sorted = Array.from({ length: count }, (__, k) => a.tables[256 * k + samples[k * pixels + i]]).sort(
          (x, y) => x - y,
        );
        return i % step ? 0 : Math.fround((sorted[count >> 1] + sorted[(count - 1) >> 1]) / 2);
      });
      expect([...a.out]).toEqual(wanted);
    }),
    RUNS,
  );
});
