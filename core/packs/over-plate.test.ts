import type { FigureFound } from '../report/figure-types';
import type { TakeReport } from '../report/types';
import type { ZoneFound } from '../report/zone-types';
import { findTrick } from '../tricks/library/library';
import { NO_WISHES } from '../tricks/types';
import { joiningOf } from '../measures/joined/joinings';
import { finishTrick } from './finish';
import { overPlateSteps } from './over-plate';
import { overPlateOf, type OverPlate } from '../measures/joined/over-plate';
import type { PackFound, PackTake } from './types';

const present = [{ start: 20, end: 60 }];
const take = (id: string, label: string, marks: [number, string][] = []): PackTake =>
  ({
    ...{
      id,
      label,
      rate: [25, 1],
      media: { frame_count: 100 },
      clear_runs: [{ start: 0, end: 19 }],
      worst_frame: null,
    },
    marks: marks.map(([frame, kind], n) => ({ id: `${n}`, frame, name: 'Mark', kind, found: null })),
    report: {
      lock: { verdict: 'holds' },
      light: { verdict: 'holds' },
      presence: { present_runs: present },
    } as unknown as TakeReport,
  }) as unknown as PackTake;
const planned = (key: string) => {
  const trick = findTrick(key)!;
  return {
    id: key,
    setup_id: 's',
    trick,
    wishes: NO_WISHES,
    parts: Object.fromEntries(trick.parts.map((p) => [p.key, p.key])),
  };
};
const texts = (how: OverPlate, marks: [number, string][] = [], found: { zone?: object; figure?: object } = {}) =>
  overPlateSteps(how, {
    pass: take('p', 'Pass, take 1', marks),
    zone: (found.zone ?? null) as ZoneFound | null,
    figure: (found.figure ?? null) as FigureFound | null,
  }).map((s) => s.what);

test.each<[string, OverPlate, string]>([
  ['see-through', 'mixed', 'through'],
  ['dialled-fade', 'faded', 'through'],
  ['over-the-bars', 'figure', 'figure'],
  ['floater', 'hung', 'figure'],
  ['pulled-in', 'lifted', 'figure'],
  ['cover-pull', 'pulled', 'opening'],
  ['mime-screen', 'edge', 'edge'],
  ['lit-prop', 'alone', 'through'],
])('%s is finished as it is meant: %s; its proof: %s', (key, how, proof) => {
  const trick = planned(key);
  expect(joiningOf(trick)).toMatchObject({ how: proof, over: how });
});

test('a pass and a plate of which nothing is asked: whoever is in is cut out', () => {
  const trick = { ...planned('see-through'), trick: { ...findTrick('see-through')!, requirements: [] } };
  expect(overPlateOf(trick)).toBe('figure');
});

test('each says what is to be drawn, in which frames, and no more', () => {
  expect(texts('mixed')).toEqual([expect.stringMatching(/nothing is to be masked/)]);
  expect(texts('figure')).toEqual([
    expect.stringMatching(/^Cut Pass, take 1 out over the plate in frames 20 to 60: start/),
  ]);
  const run = { start: 0, end: 99 };
  expect(texts('hung', [], { figure: { run } })[0]).toContain('in frames 0 to 99, without whatever holds it');
  expect(texts('hung')[0]).toContain('in frames 20 to 60, without whatever holds it');
  const lifted_runs = [{ start: 30, end: 44 }];
  expect(texts('lifted', [], { figure: { lifted_runs } })[0]).toContain(
    'in frames 30 to 44, while they are off the ground',
  );
  const zone = { entered_runs: [{ start: 50, end: 52 }], pulled: { start: 53, end: 60, touched_runs: [] } };
  expect(
    texts(
      'faded',
      [
        [30, 'starts'],
        [50, 'stops'],
      ],
      { zone },
    ),
  ).toEqual([
    expect.stringContaining('inside the zone alone, from frame 30 to frame 50'),
    expect.stringContaining('reaches into the zone in frames 50 to 52'),
  ]);
  expect(texts('pulled', [], { zone })).toEqual([
    expect.stringMatching(/frames 53 to 60; from frame 61 on show the plate/),
  ]);
  expect(
    texts('edge', [
      [38, 'starts'],
      [68, 'stops'],
    ])[0],
  ).toContain('set it first at the marks, frames 38, 68');
  expect(
    texts('alone', [
      [10, 'own'],
      [40, 'light'],
    ])[0],
  ).toContain('Brighten the prop itself from frame 40 on');
});

test('the layers say the same: what lets the pass be seen, and no plate where none is needed', () => {
  const takes = new Map([
    ['plate', take('plate', 'Plate, take 1')],
    ['pass', take('pass', 'Pass, take 1', [[40, 'light']])],
  ]);
  const made = (key: string, found: PackFound[] = []) => finishTrick({ trick: planned(key), takes, found });
  const masks = (key: string) => made(key).assembly!.layers.map((l) => l.mask);
  expect(masks('cover-pull')).toEqual([null, 'cloth']);
  expect(masks('mime-screen')).toEqual([null, 'seam']);
  expect(masks('see-through')).toEqual([null, 'strength']);
  expect(masks('floater')).toEqual([null, 'figure']);
  const lit = made('lit-prop');
  expect([lit.assembly!.layers.map((l) => l.name), lit.left_out]).toEqual([['Pass, take 1'], ['Plate, take 1']]);
  expect(lit.steps.map((s) => s.what)).toEqual([expect.stringMatching(/^Nothing is to be masked/)]);
  expect(made('cover-pull').steps[0].what).toMatch(/^Lay Plate, take 1 under everything/);
});
