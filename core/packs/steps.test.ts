import { longestRun } from '../judge/runs';
import { worstFrame } from '../judge/worst-frame';
import type { TakeReport, VerdictWord } from '../report/types';
import { pairFound } from '../testing/pair-found';
import { missingOf } from './missing';
import { stepsOf, timeOf, timeWords, type StepsOf } from './steps';

const said = (verdict: VerdictWord) => ({
  verdict,
  reasons: [{ text: `${verdict}!`, frames: [{ start: 7, end: 9 }] }],
});
const report = (lock: VerdictWord = 'holds', light: VerdictWord = 'holds') =>
  ({
    lock: { ...said(lock), peak_frame: 3, peak_px: 4.2, make_still_crop_pct: 1.5 },
    light: { ...said(light), range_stops: 0.3 },
    focus: { ...said('holds'), worst_frame: 5 },
    presence: { present_runs: [{ start: 10, end: 29 }] },
  }) as unknown as TakeReport;

const nothing: StepsOf = {
  ...{
    assembly: null,
    pair: null,
    hide: null,
    cover: null,
    cloth: null,
    stills: null,
    mirror: false,
    opening: false,
    over: null,
  },
  takes: [
    { label: 'Plate, take 1', plate: true, report: report() },
    { label: 'Pass, take 2', plate: false, report: report() },
  ],
};
const whats = (more: Partial<StepsOf>) => stepsOf({ ...nothing, ...more }).map((s) => s.what);

test('the plate comes first; where nothing else is known whoever is in is cut out', () => {
  const [plate, cut, ...more] = whats({});
  expect([plate, more]).toEqual([expect.stringMatching(/^Lay Plate, take 1 under everything/), []]);
  expect(cut).toMatch(/^Cut Pass, take 2 out over the plate in frames 10 to 29/);
});

test('what the edit can mend of a take is said before its joining', () => {
  const takes = [{ label: 'Pass, take 2', plate: false, report: report('workable', 'workable') }];
  expect(whats({ takes, opening: true }).map((w) => w.split(' ')[0])).toEqual(['Hold', 'Even', 'Show']);
});

test('of two that meet every frame is named: those that a line serves, and those to be drawn by hand', () => {
  const line = {
    points: [
      [0, 0],
      [1, 9],
    ] as [number, number][],
    first_side: 'left' as const,
    feather_px: 4,
  };
  const pair = pairFound({
    moving_mask_runs: [
      { start: 20, end: 29 },
      { start: 40, end: 41 },
    ],
    moving_lines: [{ ...line, start: 20, end: 25 }],
    line_glides: [{ ...line, start: 18, end: 22, from: line.points, to: line.points }],
  });
  const steps = whats({ pair });
  expect(steps).toContainEqual(expect.stringContaining('other places in frames 20 to 25'));
  expect(steps).toContainEqual(expect.stringContaining('over frames 18 to 22 it moves evenly'));
  expect(steps).toContainEqual(expect.stringContaining('moving mask in frames 26 to 29, 40 to 41'));
});

test('times are added, and read as minutes or hours', () => {
  expect(
    timeOf([
      { what: '', minutes: [2, 5] },
      { what: '', minutes: [10, 30] },
    ]),
  ).toEqual([12, 35]);
  expect([timeWords([12, 35]), timeWords([73, 233]), timeWords([600, 1200])]).toEqual([
    '12 to 35 min',
    '1.2 to 3.9 h',
    '10 to 20 h',
  ]);
});

test('the worst frame is of the worst block; nothing wrong has none', () => {
  expect(worstFrame(report())).toBeNull();
  expect(worstFrame(report('workable', 'reshoot'))).toEqual({ frame: 7, text: 'reshoot!' });
  expect(worstFrame(report('workable'))).toEqual({ frame: 3, text: 'workable!' });
  expect([
    longestRun([]),
    longestRun([
      { start: 0, end: 4 },
      { start: 9, end: 13 },
    ]),
  ]).toEqual([null, { start: 0, end: 4 }]);
});

test('what is missing is said once, with who can mend it', () => {
  const requirement = (more: object) => ({
    ...{
      key: 'k',
      kind: 'apart',
      name: 'Apart',
      says: '',
      why: '',
      text: 'they meet',
      fix: null,
      byEye: false,
      eye: null,
    },
    ...{ ready: true, pending: false, applies: true, partNames: ['Pass'], partIds: [], verdict: 'holds' as const },
    ...more,
  });
  const requirements = [
    requirement({}),
    requirement({ verdict: 'reshoot' }),
    requirement({ verdict: 'unjudged' }),
    requirement({ verdict: 'unjudged', ready: false }),
    requirement({ verdict: 'reshoot', applies: false }),
  ];
  const part = (id: string, optional: boolean, states: string[]) => ({
    part: { id, name: id, optional },
    takes: states.map((state) => ({ record: { number: 1, circled: false, state } })),
  });
  const parts = [
    part('Plate', false, []),
    part('Extra', true, []),
    part('Pass', false, ['done']),
    part('B', false, ['working']),
  ];
  const trick = { id: 't', trick: { name: 'Double' }, parts: { plate: 'Plate', pass: 'Pass', b: 'B' } };
  const gate = { tricks: [{ id: 't', name: 'Double', requirements }] };
  const wish = { recordings: false, mattes: false, plates: true, takes: 'circled' as const };
  const found = missingOf({ number: 2, gate: gate as never }, parts, [trick as never], new Map(), wish);
  expect(found.map((m) => [m.by, m.text])).toEqual([
    ['set', '“Plate” was not rolled.'],
    ['choice', 'No take of “Pass” is circled.'],
    ['bench', '“B” is not measured.'],
    ['set', 'To be shot again: Apart (Pass): they meet.'],
    ['bench', 'Not judged: Apart (Pass): they meet.'],
  ]);
  expect(new Set(found.map((m) => `${m.setup} ${m.trick}`))).toEqual(new Set(['2 Double']));
});
