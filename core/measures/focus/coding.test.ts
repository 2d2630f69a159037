import fc from 'fast-check';
import { seededNormal, seededRandom } from '../../base/numeric/random';
import { isCoding, strongest } from './coding';
import { measureFocus } from './measure';

const ACROSS = 24,
  DOWN = 14,
  FRAMES = 90;

/** Cells of all sorts of detail, whose amplitude is what is given in each frame, with grain over it. */
function cells(seed: number, amplitude: (own: number, f: number) => number, size: (f: number) => number = () => 1) {
  const random = seededRandom(seed),
    normal = seededNormal(seed + 1);
  // A few cells are empty, as of a sky.
  const own = Float32Array.from({ length: ACROSS * DOWN }, (_, c) => (c % 9 ? 3 + 27 * random() ** 2 : 0));
  const frames = Array.from({ length: FRAMES }, (_, f) =>
    own.map((a) => (amplitude(a, f) * (1 + 0.01 * normal())) ** 2 + 2 * (1 + 0.02 * normal())),
  );
  const grid = { across: ACROSS, down: DOWN, width: 960, height: 540, count: FRAMES };
  const light = frames.map(() => 0),
    scale = frames.map((_, f) => size(f));
  return measureFocus(
    { ...grid, read: (f) => frames[f].slice() },
    { fps: 30, light, scale, occupied: null, grain: 1, moved: false },
  );
}

const runs = fc.record({
  seed: fc.integer({ min: 1, max: 1e6 }),
  start: fc.integer({ min: 0, max: 50 }),
  frames: fc.integer({ min: 12, max: 39 }),
});

test('a lens that takes its share of all detail hunts, whatever the share', () => {
  fc.assert(
    fc.property(runs, fc.double({ min: 0.17, max: 0.9, noNaN: true }), ({ seed, start, frames }, loss) => {
      const soft = (f: number) => f >= start && f < start + frames;
      const { hunts, worst_loss_pct } = cells(seed, (a, f) => (soft(f) ? (1 - loss) * a : a));
      expect(hunts).toHaveLength(1);
      expect(Math.abs(hunts[0].start - start)).toBeLessThanOrEqual(2);
      expect(Math.abs(worst_loss_pct! - 100 * loss)).toBeLessThan(4);
    }),
    { numRuns: 60 },
  );
});

test('a coder that is short of bits leaves out what is faint: that is no hunt', () => {
  fc.assert(
    fc.property(runs, fc.double({ min: 0.5, max: 1.9, noNaN: true }), ({ seed, start, frames }, left) => {
      const soft = (f: number) => f >= start && f < start + frames;
      const { hunts } = cells(seed, (a, f) => (soft(f) ? Math.max(0, a - left) : a));
      expect(hunts).toEqual([]);
    }),
    { numRuns: 60 },
  );
});

test('a lens that goes while the coder is short of bits too is found, and one that breathes is one', () => {
  const starved = (a: number, f: number) => (f < 60 ? Math.max(0, a - 1.9) : a);
  expect(cells(3, starved).hunts).toEqual([]);
  expect(cells(3, (a, f) => (f >= 20 && f < 32 ? 0.5 : 1) * starved(a, f)).hunts).toHaveLength(1);
  expect(cells(3, starved, (f) => (f < 60 ? 1.004 : 1))).toMatchObject({ hunts: [{ start: 0 }], breathing: true });
});

test('where little is known it is the lens', () => {
  const run = { start: 10, end: 29 };
  const path = (value: number | null) => Array.from({ length: 40 }, (_, f) => (f >= 10 && f < 30 ? value : 1));
  expect(isCoding(run, path(0.8), path(0.9))).toBe(true);
  expect(isCoding(run, path(0.8), path(0.82))).toBe(false);
  expect(isCoding(run, path(0.8), path(null))).toBe(false);
  expect(isCoding(run, path(0.6), path(0.9))).toBe(false);
  expect(
    strongest(
      Uint32Array.from({ length: 20 }, (_, k) => k),
      new Float64Array(20),
    ),
  ).toHaveLength(0);
  expect([
    ...strongest(
      Uint32Array.from({ length: 32 }, (_, k) => k),
      Float64Array.from({ length: 32 }, (_, k) => k),
    ),
  ]).toEqual([31, 30, 29, 28, 27, 26, 25, 24]);
});
