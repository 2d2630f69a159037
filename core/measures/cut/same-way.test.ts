import type { CutMeasure, CutSide } from '../../report/wipe-types';
import type { Requirement } from '../../tricks/types';
import type { CoverSummary } from '../cover/judge';
import { judgeSameWay } from './requirements';
import { judgeCovered, type CoveredSide, type TakeCut } from '../cover/requirements';

const moving = (angle_deg: number | null, more: Partial<CutSide> = {}): CutSide => ({
  angle_deg,
  speed_widths_per_s: angle_deg === null ? 0 : 0.8,
  steady_share: 0.95,
  speed_spread: 0.1,
  growth_per_s: 0,
  frames: { start: 40, end: 66 },
  ...more,
});
const cut = (more: Partial<CutMeasure> = {}): CutMeasure => ({
  out: moving(180),
  in: moving(182),
  angle_gap_deg: 2,
  speed_ratio: 1,
  relation: 'same',
  retime_pct: 100,
  mirror_helps: false,
  reverse_helps: false,
  rate: { out_fps: 25, in_fps: 25, delivery_fps: 25, out_pattern: 'every frame', in_pattern: 'every frame' },
  ...more,
});
const cutOf = (measure: CutMeasure | null, more: Partial<TakeCut> = {}): TakeCut => ({
  ...{ outId: 'o', inId: 'i', state: 'done', failure: null, measure },
  ...more,
});
const side = (id: string, name: string, measure: Partial<CoverSummary> | null = null): CoveredSide => ({
  ...{ id, name, number: 1, width: 1920, height: 1080, frameCount: 100 },
  cover: measure && { state: 'done', failure: null, measure: measure as CoverSummary },
});
const need = (more: Partial<Requirement> = {}): Requirement => ({
  ...{ key: 'same', kind: 'same-direction', parts: ['out', 'in'], tolerance: 15, why: 'It shows.' },
  ...{ remedySet: 'Roll it the same way.', remedyEdit: 'Mirror it.' },
  ...more,
});
const judge = (cuts: TakeCut[], crossing: Partial<CoverSummary> | null = null, r = need()) =>
  judgeSameWay(r, side('o', 'Out side', crossing), side('i', 'In side'), cuts);

test('waits until the two were held against each other', () => {
  expect(judge([])).toBe('pending');
  expect(judge([cutOf(null, { state: 'working' })])).toBe('pending');
  expect(judge([cutOf(cut(), { outId: 'i', inId: 'o' })])).toBe('pending');
});

test('says why they could not be', () => {
  expect(judge([cutOf(null, { state: 'failed', failure: 'The file is cut short.' })])).toEqual({
    verdict: 'unjudged',
    text: 'Out side and In side could not be compared: The file is cut short.',
    fix: 'Roll it the same way.',
  });
  const lost = cut({ in: moving(null, { speed_widths_per_s: null }), angle_gap_deg: null, speed_ratio: null });
  expect(judge([cutOf(lost)])).toMatchObject({
    verdict: 'unjudged',
    text: 'The background of the in side could not be followed.',
  });
});

test.each([
  [2, 'holds', null],
  [15, 'holds', null],
  [16, 'reshoot', 'Roll it the same way.'],
])('%d° apart of 15: %s', (angle_gap_deg, verdict, fix) => {
  expect(judge([cutOf(cut({ angle_gap_deg }))])).toEqual({
    verdict,
    text: `Out side and In side move ${angle_gap_deg}° apart; 15° are allowed`,
    fix,
  });
});

test('where mirroring helps it is workable, with the trick’s own remedy', () => {
  const against = cutOf(cut({ angle_gap_deg: 178, relation: 'against', mirror_helps: true }));
  expect(judge([against])).toMatchObject({ verdict: 'workable', fix: 'Mirror it.' });
  expect(judge([against], null, need({ remedyEdit: null }))).toMatchObject({
    verdict: 'workable',
    fix: expect.stringContaining('mirror it') as string,
  });
});

test.each([
  [1, 'holds'],
  [1.5, 'workable'],
  [0.6, 'workable'],
  [3, 'reshoot'],
  [0.3, 'reshoot'],
])('the same way at %d of the speed: %s', (speed_ratio, verdict) => {
  const found = judge([cutOf(cut({ speed_ratio, retime_pct: 100 / speed_ratio }))]);
  expect(found).toMatchObject({ verdict });
  if (verdict !== 'holds' && found !== 'pending') expect(found.text).toMatch(/15° are allowed\. The in side moves at/);
});

describe('a camera that stands while something crosses', () => {
  const standing = (angle: number) =>
    cutOf(cut({ out: moving(null), in: moving(angle), angle_gap_deg: null, speed_ratio: null, relation: 'across' }));

  test.each([
    [0, 5, 'holds'],
    [350, 3, 'holds'],
    [0, 20, 'reshoot'],
    [0, 180, 'reshoot'],
  ])('what crosses at %d°, the in side at %d°: %s', (direction_deg, angle, verdict) => {
    const found = judge([standing(angle)], { direction_deg });
    expect(found).toMatchObject({ verdict });
    if (found !== 'pending') expect(found.text).toMatch(/^what crosses goes to the right, the in side moves /);
  });

  test('is a fault where nothing is known to cross; two that stand are none', () => {
    expect(judge([standing(5)])).toMatchObject({ verdict: 'reshoot' });
    const both = cut({
      out: moving(null),
      in: moving(null),
      angle_gap_deg: null,
      speed_ratio: null,
      relation: 'still',
    });
    expect(judge([cutOf(both)])).toMatchObject({ verdict: 'holds', fix: null });
  });
});

test('how evenly a side moves is taken from the cut where there is one', () => {
  const even = need({ kind: 'steady-move', tolerance: 15 });
  const own = side('o', 'Out side', { kind: 'passing', sure_share: 1, edge: { speed_spread: 0.9 } } as CoverSummary);
  const whole = {
    ...{ reasons: [], missed: [], peak_cover_share: 1, by_hand: null, free_ends: 'both', changes_per_pixel: 2 },
    ...{
      largest_jump_share: 0,
      first_full_frame: 3,
      last_full_frame: 5,
      leave_frame: 9,
      approach: null,
      punch_in: null,
    },
  };
  const known = {
    ...own,
    cover: { ...own.cover!, measure: { ...own.cover!.measure!, ...whole } as unknown as CoverSummary },
  };
  const delivery = { width: 1920, height: 1080 };
  const beside = cutOf(cut({ out: moving(180, { speed_spread: 0.04 }) }));
  expect(judgeCovered(even, known, delivery, [beside])).toMatchObject({
    verdict: 'holds',
    text: 'Out side, take 1: the speed varies by 4 %; 15 % are allowed',
  });
  expect(judgeCovered(even, known, delivery, [])).toMatchObject({ verdict: 'reshoot' });
});
