import fc from 'fast-check';
import type { SweptFrame } from '../cover/sweep';
import { judgeCut } from './judge';
import { angleBetween, compareSides, measureSide, patternOf } from './measure';

/** A camera that goes this many small pixels a frame, as the sweep would see it. */
const side = (
  dx: number,
  dy: number,
  more: { frames?: number; unsure?: (f: number) => boolean; jitter?: (f: number) => number } = {},
) => {
  const swept = Array.from({ length: more.frames ?? 30 }, (_, f): SweptFrame => ({
    pose: { dx: dx * f + (more.jitter?.(f) ?? 0), dy: dy * f, rotation: 0, scale: 1 },
    sure: !more.unsure?.(f),
    covered: new Uint8Array(0),
    share: 0,
    gain: 1,
  }));
  return measureSide(swept, { width: 240, fps: 25, first: 0, fromEnd: true, count: 20 });
};
const rates = { out: 25, in: 25, delivery: 25 };

test('speed in widths a second and angle, from the frames that are well seen', () => {
  const right = side(4.8, 0, { unsure: (f) => f > 20 });
  expect(right.speed_widths_per_s).toBeCloseTo(0.5, 5);
  expect(right.angle_deg).toBeCloseTo(0, 5);
  expect(right.steady_share).toBe(1);
  expect(right.frames!.end).toBe(20);
  expect(side(0, 2.4).angle_deg).toBeCloseTo(90, 5);
  expect(side(0, 0).angle_deg).toBeNull();
  expect(side(2, 0, { unsure: () => true }).speed_widths_per_s).toBeNull();
  expect(side(3, 0, { jitter: (f) => (f % 2 ? 4 : 0) }).steady_share).toBeLessThan(0.6);
});

test('same, across, against, still; what a mirror or a reverse would help', () => {
  expect(compareSides(side(4, 0), side(3, 0.5), rates)).toMatchObject({
    relation: 'same',
    mirror_helps: false,
    reverse_helps: false,
  });
  const against = compareSides(side(4, 0), side(-4, 0), rates);
  expect(against).toMatchObject({ relation: 'against', mirror_helps: true, reverse_helps: true });
  expect(against.angle_gap_deg).toBeCloseTo(180);
  expect(judgeCut(against)).toMatchObject({ verdict: 'workable' });
  // Up against down: no mirror helps, which turns left to right.
  const upDown = compareSides(side(0, 4), side(0, -4), rates);
  expect(upDown).toMatchObject({ relation: 'against', mirror_helps: false });
  expect(judgeCut(upDown).verdict).toBe('reshoot');
  expect(compareSides(side(4, 0), side(0, 4), rates)).toMatchObject({ relation: 'across' });
  const still = compareSides(side(0, 0), side(0, 0), rates);
  expect(still).toMatchObject({ relation: 'still', speed_ratio: null, retime_pct: null });
  expect(judgeCut(still).verdict).toBe('holds');
  expect(judgeCut(compareSides(side(4, 0), side(0, 0), rates)).verdict).toBe('reshoot');
});

test('a faster in side is slowed down, and the frames that makes are named', () => {
  const twice = compareSides(side(2, 0), side(4, 0), { out: 25, in: 50, delivery: 25 });
  expect(twice.speed_ratio).toBeCloseTo(2 * 1, 5);
  expect(twice.retime_pct).toBeCloseTo(50, 5);
  expect(twice.rate.in_pattern).toBe('every frame');
  const verdict = judgeCut(twice);
  expect(verdict.reasons.map((r) => r.code)).toEqual(expect.arrayContaining(['speed', 'rates']));
  expect(judgeCut(compareSides(side(2, 0), side(2.05, 0), rates)).verdict).toBe('holds');
  expect(patternOf(24, 25, 1)).toBe('1 repeats a second');
  expect(patternOf(50, 25, 1)).toBe('every 2nd frame');
  expect(patternOf(30, 25, 1)).toContain('uneven');
  expect(patternOf(null, 25, 1)).toBeNull();
});

test('shutters as noted: alike, a stop apart, not noted, and of no matter where nothing moves', () => {
  const moving = compareSides(side(2, 0), side(2.05, 0), rates),
    codes = (out: number | null, into: number | null, c = moving) =>
      judgeCut(c, { out, in: into }).reasons.map((r) => r.code);
  expect(codes(1 / 50, 1 / 48)).toEqual(['match']);
  expect(codes(1 / 50, 1 / 100)).toEqual(['shutter']);
  expect(judgeCut(moving, { out: 1 / 50, in: 1 / 100 })).toMatchObject({
    verdict: 'workable',
    reasons: [{ text: expect.stringContaining('1/50 s, the in side’s as 1/100 s') }],
  });
  expect(codes(null, 1 / 100)).toEqual(['match']);
  expect(codes(1 / 50, 1 / 100, compareSides(side(0, 0), side(0, 0), rates))).toEqual(['still']);
});

test('angles: the smaller way round, whichever comes first', () => {
  fc.assert(
    fc.property(fc.double({ min: 0, max: 720, noNaN: true }), fc.double({ min: 0, max: 720, noNaN: true }), (a, b) => {
      const d = angleBetween(a, b);
      expect(d).toBeGreaterThanOrEqual(0);
      expect(d).toBeLessThanOrEqual(180);
      expect(angleBetween(b, a)).toBeCloseTo(d, 9);
      expect(angleBetween(a + 360, b)).toBeCloseTo(d, 6);
    }),
  );
});
