import fc from 'fast-check';
import {
  judgeContents,
  judgeOneRoll,
  judgeSameLight,
  judgeSamePosition,
  pairOf,
  turnRound,
  type PairSide,
  type TakePair,
  type TakesGap,
} from './takes-apart';

const DELIVERY = { width: 1280, height: 720 };
const side = (id: string, name: string): PairSide => ({ id, name, number: 1, media: { width: 1920, height: 1080 } });
const [pass, plate] = [side('a', 'Pass A'), side('b', 'Plate')];
const gap = (more: { dx?: number; stops?: number; region?: number; red?: number; sigma?: number } = {}): TakesGap => ({
  offset: { dx_px: more.dx ?? 0, dy_px: 0, rotation_deg: 0, scale: 1, uncertainty_px: more.sigma ?? 0.02 },
  light: {
    gap_stops: more.stops ?? 0,
    red_stops: more.red ?? 0,
    blue_stops: 0,
    fade_in_frames: 9,
    uncertainty_stops: 0.005,
    worst_region: { x: 0, y: 0, width: 120, height: 120, stops: more.region ?? more.stops ?? 0 },
  },
  focus: { loss_pct: 1, softer: 'plate' },
  moved: [],
  intruders: [],
});

test.each([
  // Source pixels at 1920 wide; the limit is in delivery pixels at 1280 wide.
  [0.6, 'holds', /within 0\.40 px/],
  [9, 'workable', /6\.0 px off Plate, take 1: 9\.0 px right/],
  [60, 'reshoot', /40\.0 px off/],
] as const)('a take that lies %d px off is %s', (dx, verdict, says) => {
  const found = judgeSamePosition(pass, plate, gap({ dx }), 0.5, DELIVERY);
  expect(found.verdict).toBe(verdict);
  expect(found.text).toMatch(says);
  if (dx === 9) expect(found.fix).toMatch(/the picture moves 9\.0 px left .*crop of 0\.9 %/);
});

test('what measuring error explains is no movement, and what could not be laid on each other is unjudged', () => {
  expect(judgeSamePosition(pass, plate, gap({ dx: 1.5, sigma: 0.3 }), 0.5, DELIVERY).verdict).toBe('holds');
  expect(judgeSamePosition(pass, plate, gap({ dx: 1.5 }), 0.5, DELIVERY).verdict).toBe('workable');
  expect(judgeSamePosition(pass, plate, { ...gap(), offset: null }, 0.5, DELIVERY).verdict).toBe('unjudged');
  expect(judgeSameLight(pass, plate, { ...gap(), light: null }, 0.1).verdict).toBe('unjudged');
});

test.each([
  [{ stops: 0.04 }, 'holds', /agree within 0\.04 stop/],
  [{ stops: -0.3 }, 'workable', /0\.30 stop darker/],
  [{ stops: 0.9 }, 'reshoot', /0\.90 stop brighter/],
  [{ region: 0.25 }, 'workable', /differ by 0\.25 stop in part of the picture/],
  [{ red: -0.2 }, 'workable', /white .* differs by 0\.20 stop/],
] as const)('light %j is %s', (more, verdict, says) => {
  const found = judgeSameLight(pass, plate, gap(more), 0.1);
  expect(found.verdict).toBe(verdict);
  expect(found.text).toMatch(says);
});

test('one roll holds for two recordings in which nothing changed, and asks for one where something did', () => {
  expect(judgeOneRoll(pass, plate, gap(), DELIVERY).verdict).toBe('holds');
  const stopped = judgeOneRoll(pass, plate, gap({ stops: 0.34 }), DELIVERY);
  expect(stopped.verdict).toBe('workable');
  expect(stopped.text).toMatch(/^two recordings: Pass A, take 1 is 0\.34 stop brighter/);
  expect(stopped.fix).toMatch(/^Roll both without stopping the camera/);
});

test('a thing that stood elsewhere and somebody in the plate are named with their place; the performer who stays is not', () => {
  const box = { x: 1400, y: 700, width: 300, height: 300 };
  expect(judgeContents(pass, plate, gap())).toBeNull();
  expect(judgeContents(pass, plate, { ...gap(), intruders: [box] })!.text).toBe(
    'Plate, take 1 has something in it that Pass A, take 1 has not: at the lower right',
  );
  expect(judgeContents(pass, plate, { ...gap(), moved: [{ ...box, strength: 0.2, only: null }] })!.fix).toMatch(
    /Put it back where it stood in Pass A/,
  );
  expect(judgeContents(pass, plate, { ...gap(), moved: [{ ...box, strength: 0.2, only: 'take' }] })).toBeNull();
  expect(judgeContents(pass, plate, { ...gap(), intruders: [{ ...box, width: 4, height: 4 }] })).toBeNull();
});

test('a pair is the same pair from either side', () => {
  const number = fc.double({ min: -20, max: 20, noNaN: true });
  fc.assert(
    fc.property(
      number,
      number,
      fc.double({ min: -1, max: 1, noNaN: true }),
      fc.double({ min: 0.98, max: 1.02, noNaN: true }),
      number,
      (dx, dy, turn, scale, stops) => {
        const there: TakesGap = {
          ...gap({ stops }),
          offset: { dx_px: dx, dy_px: dy, rotation_deg: turn, scale, uncertainty_px: 0.02 },
          intruders: [{ x: 1, y: 2, width: 3, height: 4 }],
        };
        const back = turnRound(turnRound(there));
        expect(back.offset!.dx_px).toBeCloseTo(dx, 6);
        expect(back.offset!.dy_px).toBeCloseTo(dy, 6);
        expect(back.offset!.rotation_deg).toBeCloseTo(turn, 6);
        expect(back.offset!.scale).toBeCloseTo(scale, 6);
        expect(back.light!.gap_stops).toBeCloseTo(stops, 6);
        expect(back.intruders).toEqual(there.intruders);
        // A shift is as large from either side.
        const shifted = { ...there, offset: { ...there.offset!, rotation_deg: 0, scale: 1 } };
        expect(judgeSamePosition(pass, plate, turnRound(shifted), 0.5, DELIVERY).verdict).toBe(
          judgeSamePosition(pass, plate, shifted, 0.5, DELIVERY).verdict,
        );
      },
    ),
    { numRuns: 60 },
  );
  const pair: TakePair = { takeId: 'a', againstId: 'b', state: 'done', failure: null, gap: gap({ dx: 4, stops: 0.2 }) };
  expect(pairOf([pair], 'b', 'a')!.gap!.offset!.dx_px).toBeCloseTo(-4, 6);
  expect(pairOf([pair], 'b', 'a')!.gap!.light!.gap_stops).toBeCloseTo(-0.2, 6);
  expect(pairOf([pair], 'a', 'c')).toBeNull();
});
