import fc from 'fast-check';
import { planProof, revealMode, type ProofWish } from './proof-plan';

const passing = {
  kind: 'passing' as const,
  enter_frame: 10,
  first_full_frame: 30,
  last_full_frame: 40,
  leave_frame: 60,
  peak_frame: 35,
  cut: { out_last_frame: 60, in_first_frame: 41 },
  edge: {
    speed_px_per_frame: 40,
    speed_spread: 0,
    softness_px: 20,
    blur_by_motion_px: null,
    blur_by_defocus_px: null,
    bend_px: null,
    bend_error_px: null,
    lens_k1: null,
  },
};
const wish = (more: Partial<ProofWish> = {}): ProofWish => ({
  at: null,
  in_start: 0,
  speed_pct: 100,
  mirror: false,
  feather_px: null,
  ...more,
});
const sides = { outCount: 100, outFps: 25, inCount: 100, inFps: 25, fps: 25 };

test('the in side begins under the first frame that shows anything behind the object, and goes on frame by frame', () => {
  const plan = planProof(passing, wish({ in_start: 7 }), sides)!;
  expect(plan).toMatchObject({ mode: 'behind', from: 41, done: 61, in_missing: 0, fps: 25 });
  // One second before, to one second after.
  expect(plan.frames[0]).toEqual({ out: 16, in: null });
  expect(plan.frames.find((f) => f.in !== null)).toEqual({ out: 41, in: 7 });
  expect(plan.frames.find((f) => f.out === 50)).toEqual({ out: 50, in: 16 });
  expect(plan.frames).toHaveLength(61 - 16 + 1 + 25);
  expect(plan.feather_px).toBeGreaterThan(20);
  expect(planProof(passing, wish({ feather_px: 3, at: 44 }), sides)).toMatchObject({ feather_px: 3, from: 44 });
});

test('rates and speeds: 50 fps beside 25, played at half', () => {
  const fast = planProof(passing, wish(), { ...sides, inFps: 50, inCount: 200 })!;
  expect(fast.frames.filter((f) => f.out >= 41 && f.out <= 44).map((f) => f.in)).toEqual([0, 2, 4, 6]);
  const half = planProof(passing, wish({ speed_pct: 50 }), { ...sides, inFps: 50, inCount: 200 })!;
  expect(half.frames.filter((f) => f.out >= 41 && f.out <= 44).map((f) => f.in)).toEqual([0, 1, 2, 3]);
  const slow = planProof(passing, wish(), { ...sides, outFps: 50, outCount: 200 })!;
  expect(slow.frames.slice(0, 3).map((f) => f.out)).toEqual([0, 2, 4]);
});

test('kinds: what closes is replaced while it closes, up to a wall it is a cut, and what never covers gives no proof', () => {
  expect([revealMode('passing'), revealMode('panning'), revealMode('closing'), revealMode('approaching')]).toEqual([
    'behind',
    'behind',
    'instead',
    'cut',
  ]);
  expect(
    planProof(
      { ...passing, kind: 'closing', leave_frame: null, cut: { out_last_frame: 99, in_first_frame: 30 } },
      wish(),
      sides,
    ),
  ).toMatchObject({ mode: 'instead', from: 10, done: 30 });
  expect(
    planProof(
      { ...passing, kind: 'approaching', leave_frame: null, cut: { out_last_frame: 99, in_first_frame: 30 } },
      wish(),
      sides,
    ),
  ).toMatchObject({ mode: 'cut', from: 30, done: 30 });
  const never = {
    ...passing,
    enter_frame: null,
    first_full_frame: null,
    leave_frame: null,
    peak_frame: null,
    cut: { out_last_frame: null, in_first_frame: null },
  };
  expect(planProof(never, wish(), sides)).toBeNull();
  expect(planProof(passing, wish({ at: 100 }), sides)).toBeNull();
});

test('no frame is asked for that a side does not have, frames only go on, and what is missing is counted', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 45, max: 300 }),
      fc.integer({ min: 1, max: 300 }),
      fc.constantFrom(23.976, 24, 25, 29.97, 50, 60),
      fc.constantFrom(24, 25, 30),
      fc.integer({ min: 10, max: 400 }),
      fc.integer({ min: 0, max: 400 }),
      (outCount, inCount, inFps, fps, speed_pct, in_start) => {
        const plan = planProof(passing, wish({ speed_pct, in_start: Math.min(in_start, inCount - 1) }), {
          outCount,
          outFps: 25,
          inCount,
          inFps,
          fps,
        })!;
        let [lastOut, lastIn, still] = [-1, -1, 0];
        for (const f of plan.frames) {
          expect(f.out).toBeGreaterThanOrEqual(lastOut);
          expect(f.out).toBeLessThan(outCount);
          if (f.in !== null) {
            expect(f.in).toBeGreaterThanOrEqual(lastIn);
            expect(f.in).toBeLessThan(inCount);
            if (f.in === inCount - 1) still++;
            lastIn = f.in;
          }
          lastOut = f.out;
        }
        expect(plan.in_missing).toBeLessThanOrEqual(still);
      },
    ),
  );
});
