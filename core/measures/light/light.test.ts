import fc from 'fast-check';
import { seededNormal } from '../../base/numeric/random';
import { judgeLight } from './judge';
import { findFlicker } from './flicker';
import { measureLight } from './measure';
import { findSteps } from './steps';

const noisy = (seed: number, sigma: number, frames: number, truth: (f: number) => number) => {
  const normal = seededNormal(seed);
  return Array.from({ length: frames }, (_, f) => truth(f) + sigma * normal());
};
const readings = (stops: (number | null)[]) => ({
  stops,
  white: stops.map(() => ({ red: 0, blue: 0 })),
  share: stops.map(() => 1),
});

test.each([1, 2, 3, 4, 5])(
  'seed %d: steps are found within a frame, with their size, under noise and drift',
  (seed) => {
    const at = 30 + 7 * seed,
      size = (seed % 2 ? 1 : -1) * (0.06 + 0.08 * seed);
    const found = findSteps(
      noisy(seed, 0.003, 120, (f) => 0.1 * (f / 119) + (f >= at ? size : 0)),
      25,
      0.003,
    );
    expect(found).toHaveLength(1);
    expect(Math.abs(found[0].frame - at)).toBeLessThanOrEqual(1);
    expect(Math.abs(found[0].stops - size)).toBeLessThan(0.02);
  },
);

test('a slow change, a cloud, a flicker and noise are no steps', () => {
  for (const truth of [
    (f: number) => 0.5 * (f / 199),
    (f: number) => -0.4 * Math.exp(-(((f - 100) / 30) ** 2)),
    (f: number) => 0.05 * Math.sin(f * 1.7),
    () => 0,
  ]) {
    expect(findSteps(noisy(7, 0.003, 200, truth), 25, 0.003)).toEqual([]);
  }
});

test('a change that goes on for more than half a second is no step, however it begins, ends and is coded', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 5000 }),
      fc.integer({ min: 10, max: 60 }),
      fc.integer({ min: 14, max: 60 }),
      fc.double({ min: -0.5, max: 0.5, noNaN: true }),
      fc.constantFrom(24, 25, 30),
      fc.boolean(),
      (seed, start, frames, size, fps, held) => {
        // Coding may follow the light only in every second frame.
        const truth = (f: number) =>
          size * Math.max(0, Math.min(1, ((held ? f - (f % 2) : f) - start) / ((frames * fps) / 25)));
        expect(findSteps(noisy(seed, 0.002, 150, truth), fps, 0.002)).toEqual([]);
      },
    ),
    { numRuns: 300 },
  );
});

test('an exposure that takes a few frames to settle starts where it leaves the old level', () => {
  const found = findSteps(
    noisy(9, 0.002, 100, (f) => 0.3 * Math.max(0, Math.min(1, (f - 49) / 4))),
    25,
    0.002,
  );
  expect(found).toHaveLength(1);
  expect(Math.abs(found[0].frame - 50)).toBeLessThanOrEqual(1);
});

test.each([
  [3.1, 0.02],
  [8.4, 0.03],
  [12.2, 0.05],
])('a flicker seen at %d Hz of %d is found', (hz, share) => {
  const found = findFlicker(
    noisy(5, 0.003, 150, (f) => Math.log2(1 + share * Math.sin((2 * Math.PI * hz * f) / 25))),
    25,
  )!;
  expect(Math.abs(found.seen_hz - hz)).toBeLessThan(0.1);
  expect(Math.abs(found.share_pct / 100 - share)).toBeLessThan(0.3 * share);
});

test('noise, a step and a drift have no flicker, whatever the seed', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 5000 }),
      fc.integer({ min: 20, max: 100 }),
      fc.double({ min: -0.4, max: 0.4, noNaN: true }),
      (seed, at, size) => {
        const path = noisy(seed, 0.003, 120, (f) => 0.1 * (f / 120) + (f >= at ? size : 0));
        expect(findFlicker(path, 25, findSteps(path, 25, 0.003))).toBeNull();
      },
    ),
    { numRuns: 60 },
  );
});

test('each fault of the light gets its own word and remedy, the worst first; missing frames do not hide it', () => {
  const judge = (truth: (f: number) => number | null) =>
    judgeLight(measureLight(readings(Array.from({ length: 150 }, (_, f) => truth(f))), 25), 150);
  expect(judge(() => 0)).toMatchObject({ verdict: 'holds', reasons: [{ code: 'steady' }] });
  const step = judge((f) => (f >= 70 ? 0.3 : 0));
  expect(step).toMatchObject({ verdict: 'workable', reasons: [{ code: 'step', frames: [{ start: 70, end: 70 }] }] });
  expect(step.reasons[0].fix).toContain('exposure by hand');
  expect(judge((f) => 0.4 * (f / 149))).toMatchObject({ verdict: 'workable', reasons: [{ code: 'drift' }] });
  expect(judge((f) => -0.5 * Math.exp(-(((f - 75) / 25) ** 2)))).toMatchObject({
    verdict: 'workable',
    reasons: [{ code: 'cloud' }],
  });
  expect(judge((f) => (f >= 70 ? 1.2 : 0)).verdict).toBe('reshoot');
  expect(judge((f) => Math.log2(1 + 0.04 * Math.sin(f * 1.3)))).toMatchObject({
    verdict: 'workable',
    reasons: [{ code: 'flicker' }],
  });
  expect(judge((f) => (f < 100 ? null : 0))).toMatchObject({
    verdict: 'unjudged',
    reasons: [{ code: 'no-background' }],
  });
  expect(judge((f) => (f % 4 === 0 ? null : f >= 70 ? 0.3 : 0)).reasons[0].code).toBe('step');
});
