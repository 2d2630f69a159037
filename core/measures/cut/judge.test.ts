import type { CutMeasure, CutSide } from '../../report/wipe-types';
import { judgeCut, type NotedShutters } from './judge';
import { LIMITS } from '../../judge/limits';

const side = (more: Partial<CutSide> = {}): CutSide => ({
  angle_deg: 180,
  speed_widths_per_s: 0.8,
  steady_share: 0.95,
  speed_spread: 0.1,
  growth_per_s: 0,
  frames: { start: 40, end: 66 },
  ...more,
});

/** Two sides that match. */
const cut = (more: Partial<CutMeasure> = {}): CutMeasure => ({
  out: side(),
  in: side(),
  angle_gap_deg: 2,
  speed_ratio: 1.02,
  relation: 'same',
  retime_pct: 98,
  mirror_helps: false,
  reverse_helps: false,
  rate: { out_fps: 25, in_fps: 25, delivery_fps: 25, out_pattern: 'every frame', in_pattern: 'every frame' },
  ...more,
});
const rate = (more: Partial<CutMeasure['rate']>) => cut({ rate: { ...cut().rate, ...more } });
const codes = (c: CutMeasure, shutters?: NotedShutters) => judgeCut(c, shutters).reasons.map((r) => r.code);
/** A ratio of speeds so many octaves apart. */
const apart = (octaves: number): Partial<CutMeasure> => ({
  speed_ratio: 2 ** octaves,
  retime_pct: 100 * 2 ** -octaves,
});

test('two sides that match hold, with the way and both speeds', () => {
  const v = judgeCut(cut());
  expect(v.verdict).toBe('holds');
  expect(v.reasons[0].text).toBe('Both sides move to the left at 0.80 widths a second and 0.80 widths a second.');
  expect(v.deciding).toEqual([{ name: 'speed of the in side', value: 102, unit: '%', limit: 100, frame: null }]);
});

test('a side that could not be followed is named, and nothing is said of its movement', () => {
  const lost = side({ speed_widths_per_s: null, angle_deg: null });
  const v = judgeCut(cut({ in: lost, speed_ratio: null, angle_gap_deg: null }));
  expect(v).toMatchObject({ verdict: 'unjudged', deciding: [], reasons: [{ code: 'no-background' }] });
  expect(v.reasons[0].text).toBe('The background of the in side could not be followed.');
  expect(judgeCut(cut({ in: lost, out: lost })).reasons[0].text).toContain('the out side and the in side');
});

test('two that stand match; one that stands beside one that moves must be rolled again', () => {
  const still = side({ angle_deg: null, speed_widths_per_s: 0 });
  const none = { angle_gap_deg: null, speed_ratio: null };
  expect(judgeCut(cut({ ...none, out: still, in: still, relation: 'still' }))).toMatchObject({
    verdict: 'holds',
    reasons: [{ code: 'still' }],
  });
  const v = judgeCut(cut({ ...none, out: still }));
  expect(v).toMatchObject({ verdict: 'reshoot', reasons: [{ code: 'one-stands' }] });
  expect(v.reasons[0].text).toContain('The in side moves at 0.80 widths a second, the out side stands.');
  expect(judgeCut(cut({ ...none, in: still })).reasons[0].fix).toContain('Roll the in side again');
});

test('against each other: mirrored it is workable, else a reshoot, and backwards is offered', () => {
  const against = { relation: 'against', angle_gap_deg: 178, in: side({ angle_deg: 2 }) } as const;
  const bare = judgeCut(cut(against));
  expect(bare.verdict).toBe('reshoot');
  expect(bare.reasons[0].text).toBe('The two sides move against each other: to the left and to the right.');
  expect(bare.reasons[0].fix).toBe('Roll the in side again, moving to the left.');
  expect(judgeCut(cut({ ...against, reverse_helps: true })).reasons[0].fix).toContain('play it backwards');
  const mirrored = judgeCut(cut({ ...against, mirror_helps: true, reverse_helps: true }));
  expect(mirrored.verdict).toBe('workable');
  expect(mirrored.reasons[0].fix).toContain('mirror it');
});

test.each([
  [LIMITS.cut.angle_deg, 'same', 'holds', 'match'],
  [LIMITS.cut.angle_deg + 1, 'same', 'workable', 'across'],
  [80, 'across', 'reshoot', 'across'],
] as const)('%d degrees apart (%s): %s', (angle_gap_deg, relation, verdict, code) => {
  expect(judgeCut(cut({ angle_gap_deg, relation }))).toMatchObject({ verdict, reasons: [{ code }] });
});

test.each([
  [LIMITS.cut.speed_octaves - 0.01, 'holds'],
  [LIMITS.cut.speed_octaves + 0.01, 'workable'],
  [LIMITS.cut.retime_octaves - 0.01, 'workable'],
  [LIMITS.cut.retime_octaves + 0.01, 'reshoot'],
])('speeds %d octaves apart, either way: %s', (octaves, verdict) => {
  for (const sign of [1, -1]) expect(judgeCut(cut(apart(sign * octaves))).verdict).toBe(verdict);
});

test('another speed says at what to play it, and what that makes of the frames', () => {
  const c = { ...cut(apart(-0.5)), rate: { ...cut().rate, in_pattern: '7 repeats a second' } };
  expect(judgeCut(c).reasons[0].fix).toBe(
    'Play the in side at 141 % (7 repeats a second); or roll it again at 0.80 widths a second.',
  );
  expect(judgeCut(cut(apart(1.5))).reasons[0].fix).toBe('Roll the in side again at 0.80 widths a second.');
});

test('an uneven side is named; one that stands has no pace to keep', () => {
  const uneven = { steady_share: LIMITS.cut.steady_share - 0.01 };
  const v = judgeCut(cut({ out: side(uneven) }));
  expect(v).toMatchObject({ verdict: 'workable', reasons: [{ code: 'unsteady' }] });
  expect(v.reasons[0].text).toContain('The out side’s movement is uneven: 59 %');
  expect(codes(cut({ out: side(uneven), in: side(uneven) }))).toEqual(['unsteady', 'unsteady']);
});

test.each([
  [25, 25, []],
  [25, 25.01, []],
  [25, 23.976, ['rates']],
  [29.97, 30, []],
  [null, 25, []],
])('rates of %s and %s', (out_fps, in_fps, found) => {
  expect(codes(rate({ out_fps, in_fps })).filter((c) => c === 'rates')).toEqual(found);
});

test('two rates are said with the edit’s own', () => {
  expect(judgeCut(rate({ in_fps: 50 })).reasons[0].text).toMatch(/; the edit runs at 25\.$/);
  expect(judgeCut(rate({ in_fps: 50, delivery_fps: null })).reasons[0].text).toMatch(/the in side at 50\.$/);
});

test.each<[NotedShutters, boolean]>([
  [{ out: 1 / 50, in: 1 / 50 }, false],
  [{ out: 1 / 50, in: 1 / 60 }, false],
  [{ out: 1 / 50, in: 1 / 100 }, true],
  [{ out: 1 / 200, in: 1 / 50 }, true],
  [{ out: null, in: 1 / 50 }, false],
])('shutters %j', (shutters, found) => {
  expect(codes(cut(), shutters).includes('shutter')).toBe(found);
});

test('shutters make no odds where nothing moves', () => {
  const still = side({ angle_deg: null, speed_widths_per_s: 0 });
  const c = cut({ out: still, in: still, relation: 'still', angle_gap_deg: null, speed_ratio: null });
  expect(codes(c, { out: 1 / 50, in: 1 / 400 })).toEqual(['still']);
});

test('the worst comes first and gives the word, and the others stay', () => {
  const v = judgeCut({ ...cut(apart(1.5)), in: side({ steady_share: 0.3 }) }, { out: 1 / 50, in: 1 / 200 });
  expect(v.verdict).toBe('reshoot');
  expect(v.reasons.map((r) => r.code)).toEqual(['speed', 'unsteady', 'shutter']);
});
