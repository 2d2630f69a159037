import type { HideFound } from '../../report/hide-types';
import { hideFound as hidden } from '../../testing/hide-found';
import type { ZoneFound } from '../../report/zone-types';
import { judgeHidden, judgeHide } from './judge';
import { judgeKeptFree, judgeZone } from '../zone/judge';

const SIZE = { width: 1280, height: 720 };
const spill = (frames: number, what: 'body' | 'shadow') => ({
  split: { ...hidden().split!, fixed: false, margin_px: 0 },
  spill: [{ frame: 41, what, x: 0, y: 0, width: 9, height: 9 }],
  spill_frames: [{ start: 40, end: 39 + frames }],
});
const judged = (more: Partial<HideFound>) => {
  const { verdict, reasons } = judgeHide(hidden(more), { size: SIZE, delivery: SIZE, plate: true });
  return [verdict, reasons[0].code];
};

test.each<[string, string, Partial<HideFound>]>([
  ['holds', 'hidden', {}],
  ['workable', 'narrow', { split: { ...hidden().split!, margin_px: 4 } }],
  ['workable', 'spill', spill(10, 'body')],
  ['reshoot', 'crosses', spill(60, 'body')],
  ['reshoot', 'shadow-crosses', spill(60, 'shadow')],
  ['reshoot', 'shadow-shows', { hidden_runs: [], shadow_shows: [{ start: 60, end: 90 }] }],
  ['reshoot', 'never-hidden', { hidden_runs: [], switch_frame: null, split: null }],
  ['reshoot', 'leaves', { leaves_by: 'right', split: null, behind: null }],
  ['workable', 'spill', { ...spill(10, 'body'), switch_chosen: true, hidden_runs: [] }],
  ['holds', 'hidden', { switch_chosen: true, hidden_runs: [] }],
  ['unjudged', 'at-once', { switch_frame: null, split: null }],
  ['unjudged', 'nobody-in', { in_share: 0, hidden_runs: [], switch_frame: null }],
  ['unjudged', 'not-known', { known_share: 0.4 }],
  ['reshoot', 'offset', { offset: { ...hidden().offset!, dx_px: 60 } }],
  ['workable', 'light', { light: { gap_stops: -0.3, red_stops: null, blue_stops: null } }],
])('%s: %s', (verdict, code, more) => expect(judged(more)).toEqual([verdict, code]));

test('as a requirement it wants so many frames, and says it in the middle of a sentence', () => {
  expect(judgeHidden(hidden(), 31, 1280)).toMatchObject({ verdict: 'holds', fix: null });
  // It is the run at the switch that counts, not one in which they have left.
  const left = { start: 100, end: 149 };
  const short = judgeHidden(hidden({ hidden_runs: [{ start: 60, end: 90 }, left] }), 40, 1280);
  expect(short.verdict).toBe('workable');
  expect(short.text).toBe('they are hidden whole for 31 frames; 40 are asked for');
});

const free = (more: Partial<ZoneFound> = {}): ZoneFound => ({
  entered_runs: [],
  first_frame: null,
  closest_px: 120,
  closest_frame: 30,
  entered: [],
  outside: [],
  pulled: null,
  changes: [],
  edge: null,
  known_share: 1,
  unjudged: null,
  path: { share: [], gap_px: [] },
  ...more,
});
const run = { start: 10, end: 19 };
const entered = (what: 'body' | 'shadow') => ({
  entered_runs: [run],
  entered: [{ ...run, what, share: 0.2, frame: 15 }],
  closest_px: 0,
});

test.each<[string, string, Partial<ZoneFound>]>([
  ['holds', 'free', {}],
  ['holds', 'free', { closest_px: null, closest_frame: null }],
  ['holds', 'free', { changes: [{ ...run, stops: 0.08 }] }],
  ['workable', 'near', { closest_px: 5 }],
  ['workable', 'shadow', entered('shadow')],
  ['workable', 'light', { changes: [{ ...run, stops: 0.3 }] }],
  ['reshoot', 'entered', entered('body')],
  ['unjudged', 'not-known', { known_share: 0.2 }],
])('zone, %s: %s', (verdict, code, more) => {
  const found = judgeZone(free(more), 1280);
  expect([found.verdict, found.reasons[0].code]).toEqual([verdict, code]);
  const said = judgeKeptFree(free(more), 'Base', 1280);
  expect([said.verdict, said.text.startsWith('Base: ')]).toEqual([verdict, true]);
});
