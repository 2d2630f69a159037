import fc from 'fast-check';
import type { FocusSummary, LightSummary } from '../../report/summaries';
import { judgeFocus } from '../focus/judge';
import { judgeLight } from './judge';
import { lightSummary } from '../../testing/take-facts';
import { LIMITS } from '../../judge/limits';

const FRAMES = 150;

const light = lightSummary;
const judge = (more: Partial<LightSummary>, stops: number = LIMITS.light.holds_stops) =>
  judgeLight(light(more), FRAMES, { stops, white: LIMITS.light.white_stops });
const codes = (more: Partial<LightSummary>) => judge(more).reasons.map((r) => r.code);

describe('light', () => {
  const bounds = LIMITS.light;

  test('that stays the same holds, with its span', () => {
    expect(judge({})).toMatchObject({
      verdict: 'holds',
      reasons: [{ code: 'steady', text: 'The light stayed the same: 0.03 stop at most.', fix: null }],
    });
  });

  test.each<[string, Partial<LightSummary>, string, string]>([
    [
      'a jump that can be graded',
      { steps: [{ frame: 60, stops: 0.3 }], drift_stops: 0.3, range_stops: 0.31 },
      'step',
      'workable',
    ],
    [
      'a jump too large',
      { steps: [{ frame: 60, stops: -0.9 }], drift_stops: -0.9, range_stops: 0.9 },
      'step',
      'reshoot',
    ],
    ['a slow drift', { drift_stops: -0.3, range_stops: 0.31 }, 'drift', 'workable'],
    ['a slow drift too large', { drift_stops: 0.8, range_stops: 0.8 }, 'drift', 'reshoot'],
    ['a cloud', { drift_stops: 0.02, range_stops: 0.4 }, 'cloud', 'workable'],
    ['a dark cloud', { drift_stops: 0.02, range_stops: 1.2 }, 'cloud', 'reshoot'],
    ['flicker', { flicker: { share_pct: 3, seen_hz: 7.5 } }, 'flicker', 'workable'],
    ['strong flicker', { flicker: { share_pct: 20, seen_hz: 7.5 } }, 'flicker', 'reshoot'],
    ['a shift of white', { white: { red_stops: 0.02, blue_stops: -0.2 } }, 'white', 'workable'],
  ])('%s', (_, more, code, verdict) => {
    const v = judge(more);
    expect(v.verdict).toBe(verdict);
    expect(v.reasons.map((r) => r.code)).toEqual([code]);
    expect(v.reasons[0].fix).toBeTruthy();
  });

  test('each bound is a bound: just below it nothing is said', () => {
    expect(judge({ drift_stops: bounds.holds_stops, range_stops: bounds.holds_stops }).verdict).toBe('holds');
    expect(judge({ steps: [{ frame: 9, stops: bounds.step_stops }] }).verdict).toBe('holds');
    expect(judge({ flicker: { share_pct: bounds.flicker_pct, seen_hz: 5 } }).verdict).toBe('holds');
    expect(judge({ white: { red_stops: bounds.white_stops, blue_stops: 0 } }).verdict).toBe('holds');
    expect(judge({ white: null }).verdict).toBe('holds');
  });

  test('a jump within its noise is none, and a step explains the drift it leaves behind', () => {
    expect(codes({ steps: [{ frame: 9, stops: 0.08 }], uncertainty_stops: 0.1 })).toEqual(['steady']);
    const stepped = { steps: [{ frame: 60, stops: 0.3 }], drift_stops: 0.3, range_stops: 0.31 };
    expect(codes(stepped)).toEqual(['step']);
    expect(codes({ ...stepped, drift_stops: 0.5, range_stops: 0.5 })).toEqual(['drift', 'step']);
  });

  test('a jump says when, which way, and how to grade it out from there', () => {
    const [r] = judge({ steps: [{ frame: 60, stops: 0.3 }], drift_stops: 0.3, range_stops: 0.3 }).reasons;
    expect(r.text).toContain('+0.30 stop at frame 60');
    expect(r.fix).toContain('from frame 60 on (−0.30 stop)');
    expect(r.frames).toEqual([{ start: 60, end: 60 }]);
  });

  test.each<[string, Partial<LightSummary>]>([
    ['the drift is not known', { drift_stops: null }],
    ['the range is not known', { range_stops: null }],
    ['it was read in too few frames', { measured_share: bounds.measured_share - 0.01 }],
  ])('is not judged when %s', (_, more) => {
    expect(judge(more)).toMatchObject({ verdict: 'unjudged', reasons: [{ code: 'no-background' }] });
  });

  test('a tighter tolerance of the trick counts', () => {
    const more = { drift_stops: 0.08, range_stops: 0.08 };
    expect(judge(more).verdict).toBe('holds');
    expect(judge(more, 0.05).verdict).toBe('workable');
  });

  test('the numbers that decide name what was found', () => {
    const names = (more: Partial<LightSummary>) => judge(more).deciding.map((d) => d.name);
    expect(names({})).toEqual(['span', 'drift']);
    expect(names({ flicker: { share_pct: 3, seen_hz: 7 } })).toEqual(['span', 'flicker']);
    expect(names({ white: { red_stops: 0.01, blue_stops: 0.2 } })).toEqual(['span', 'blue shift']);
  });

  test('more of a fault is never a better verdict, and the worst comes first', () => {
    const rank = { reshoot: 0, unjudged: 1, workable: 2, holds: 3 };
    const stops = fc.double({ min: 0, max: 2, noNaN: true });
    fc.assert(
      fc.property(stops, stops, (a, b) => {
        const [less, more] = [Math.min(a, b), Math.max(a, b)];
        const word = (s: number) => judge({ drift_stops: s, range_stops: s }).verdict;
        expect(rank[word(more)]).toBeLessThanOrEqual(rank[word(less)]);
      }),
    );
    const both = judge({ drift_stops: 0.9, range_stops: 0.9, white: { red_stops: 0.3, blue_stops: 0 } });
    expect(both.reasons.map((r) => r.code)).toEqual(['drift', 'white']);
    expect(both.verdict).toBe('reshoot');
  });
});

describe('focus', () => {
  const bounds = LIMITS.focus;
  const focus = (more: Partial<FocusSummary> = {}): FocusSummary => ({
    worst_loss_pct: 25,
    worst_frame: 70,
    hunts: [{ start: 60, end: 90 }],
    breathing: false,
    textured_share: 0.6,
    uncertainty_pct: 1,
    ...more,
  });

  test.each([
    [bounds.holds_pct, 'holds', 'sharp'],
    [bounds.holds_pct + 1, 'workable', 'hunt'],
    [bounds.soften_pct, 'workable', 'hunt'],
    [bounds.soften_pct + 1, 'reshoot', 'hunt'],
  ])('%d %% of detail lost: %s', (worst_loss_pct, verdict, code) => {
    expect(judgeFocus(focus({ worst_loss_pct }), FRAMES)).toMatchObject({ verdict, reasons: [{ code }] });
  });

  test('a loss without a hunt is no fault of the focus', () => {
    expect(judgeFocus(focus({ hunts: [] }), FRAMES).verdict).toBe('holds');
  });

  test('of several hunts the worst is named, and all are shown', () => {
    const hunts = [
      { start: 10, end: 20 },
      { start: 60, end: 90 },
    ];
    const [r] = judgeFocus(focus({ hunts }), FRAMES).reasons;
    expect(r.text).toContain('from frame 60 to 90, 2 times');
    expect(r.frames).toEqual(hunts);
    expect(r.fix).toContain('other frames than 60 to 90');
    expect(judgeFocus(focus({ hunts, worst_frame: null }), FRAMES).reasons[0].text).toContain('from frame 10 to 20');
  });

  test('a picture that changes its size says that the lens is on automatic', () => {
    expect(judgeFocus(focus({ breathing: true }), FRAMES).reasons[0].text).toMatch(/lens is on automatic\.$/);
  });

  test('without detail it is not judged', () => {
    const v = judgeFocus(focus({ worst_loss_pct: null, textured_share: 0.01 }), FRAMES);
    expect(v).toMatchObject({ verdict: 'unjudged', reasons: [{ code: 'no-detail', value: 0.01 }] });
    expect(judgeFocus(focus({ worst_loss_pct: null }), 0).reasons[0].frames).toEqual([]);
  });
});
