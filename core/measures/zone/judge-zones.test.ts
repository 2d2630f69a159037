import { ZONE } from './description';
import type { Asked, JudgedTake, Outcome } from '../../judge/measure';
import type { ZoneFound } from '../../report/zone-types';
import { mediaSummary, soundTake } from '../../testing/take-facts';
import { findTrick } from '../../tricks/library/library';
import type { Requirement, RequirementKind } from '../../tricks/types';
import { wantsZone, withZone, zoneOf, type Zone } from '../../tricks/zones';
import { PAIR_REQUIREMENTS } from '../compare/requirements';

const DRAWN: Zone = [
  [0.4, 0.2],
  [0.6, 0.2],
  [0.6, 0.7],
  [0.4, 0.7],
];

const free: ZoneFound = {
  entered_runs: [],
  first_frame: null,
  closest_px: 120,
  closest_frame: 30,
  entered: [],
  outside: [],
  pulled: null,
  changes: [],
  edge: { readable_share: 1, weakest: { x_px: 500, y_px: 200 }, step_over_grain: 5, lift_stops: 0 },
  known_share: 1,
  unjudged: null,
  path: { share: [], gap_px: [] },
};
const take = (id: string, name = 'Visitor'): JudgedTake => soundTake({}, { id, name });
const requirement = (kind: RequirementKind, zone: Zone | null): Requirement => ({
  key: kind,
  kind,
  parts: ['visitor'],
  tolerance: null,
  why: '',
  remedySet: 'Keep out of it.',
  remedyEdit: null,
  zone,
});
const made = (found: Partial<ZoneFound> | null, more: Partial<Outcome> = {}): Outcome => ({
  measure: 'zone',
  takes: ['a'],
  wish: { zone: DRAWN },
  state: 'done',
  failure: null,
  result: found && { ...free, ...found },
  ...more,
});
const asked = (kind: RequirementKind, outcomes: Outcome[], zone: Zone | null = DRAWN): Asked => ({
  requirement: requirement(kind, zone),
  takes: [take('a')],
  among: [],
  delivery: { width: 1280, height: 720, fps: 25 },
  outcomes,
});
const decide = (kind: 'zone-free' | 'inside-zone', ...rest: [Outcome[], (Zone | null)?]) =>
  ZONE.decides[kind]!(asked(kind, ...rest));

test('a zone that nobody drew is nobody’s to judge but the eye’s, and says what to do', () => {
  expect(decide('zone-free', [], null)).toMatchObject({ verdict: 'unjudged', text: 'no zone is drawn yet' });
  expect(decide('inside-zone', [made({})])).toMatchObject({ verdict: 'holds' });
  // One that was drawn elsewhere says nothing of this one.
  const elsewhere = made({}, { wish: { zone: DRAWN.map(([x, y]) => [x, y + 0.1]) } });
  expect(decide('zone-free', [elsewhere])).toBe('pending');
  expect(decide('zone-free', [made(null, { state: 'working' })])).toBe('pending');
  expect(decide('zone-free', [made(null, { state: 'failed', failure: 'It broke off.' })])).toMatchObject({
    verdict: 'unjudged',
    text: 'It broke off.',
  });
});

test('a zone kept free holds; one that somebody enters is shot again, by its frames', () => {
  expect(decide('zone-free', [made({})])).toEqual({
    verdict: 'holds',
    text: 'Visitor, take 2: nobody comes nearer to the zone than 120 px, at frame 30',
    fix: null,
  });
  const entered = [{ start: 12, end: 20, what: 'body' as const, share: 0.2, frame: 15 }];
  const found = decide('zone-free', [made({ entered_runs: [{ start: 12, end: 20 }], entered, closest_px: 0 })]);
  expect(found).toMatchObject({ verdict: 'reshoot' });
  expect(found).toHaveProperty('text', expect.stringMatching(/in the zone in frames 12 to 20, 20 % of it/));
});

test('whoever leaves the opening is named by the frames, and an edge lost in the dark by how much light it wants', () => {
  const out = (what: 'body' | 'shadow') => [{ start: 40, end: 52, what, share: 0.03, frame: 45 }];
  expect(decide('inside-zone', [made({ outside: out('body') })])).toMatchObject({
    verdict: 'reshoot',
    text: 'Visitor, take 2: somebody shows outside the opening in frames 40 to 52',
    fix: expect.stringMatching(/13 frames/),
  });
  expect(decide('inside-zone', [made({ outside: out('shadow') })])).toMatchObject({ verdict: 'workable' });
  const edge = { readable_share: 0.6, weakest: { x_px: 512.4, y_px: 300 }, step_over_grain: 0.8, lift_stops: 1.32 };
  expect(decide('inside-zone', [made({ edge })])).toMatchObject({
    verdict: 'workable',
    text: expect.stringMatching(/along 60 % of its length only; it is lost at 512, 300 px/),
    fix: expect.stringMatching(/1\.3 stops more/),
  });
  expect(decide('inside-zone', [made({ known_share: 0.3 })])).toMatchObject({ verdict: 'unjudged' });
});

test('outside the opening the two takes must be the same; inside it they may differ', () => {
  const gap = (more: object) => ({
    offset: null,
    light: null,
    focus: null,
    grain: null,
    moved: [],
    intruders: [],
    settings: [],
    ...more,
  });
  const outcome = (more: object): Outcome => ({
    measure: 'compare',
    takes: ['a', 'b'],
    state: 'done',
    failure: null,
    result: gap(more),
  });
  const both = (more: object, zone: Zone | null = DRAWN) =>
    PAIR_REQUIREMENTS['same-outside']!({
      ...asked('same-outside', [outcome(more)], zone),
      takes: [take('a', 'Base'), take('b')],
    });
  const { width, height } = mediaSummary();
  const box = (x: number, y: number) => ({ x: x * width - 40, y: y * height - 40, width: 80, height: 80 });
  expect(both({})).toMatchObject({ verdict: 'holds' });
  expect(both({}, null)).toMatchObject({ verdict: 'unjudged', text: 'the opening is not drawn yet' });
  expect(both({ intruders: [box(0.5, 0.5)], moved: [{ ...box(0.5, 0.4), strength: 1, only: null }] })).toMatchObject({
    verdict: 'holds',
  });
  expect(both({ moved: [{ ...box(0.8, 0.5), strength: 1, only: null }] })).toMatchObject({
    verdict: 'reshoot',
    text: expect.stringMatching(/^outside the opening something stood elsewhere/),
  });
  expect(both({ intruders: [box(0.1, 0.5)] })).toMatchObject({ verdict: 'reshoot' });
  // The base's own performers stand there.
  expect(both({ moved: [{ ...box(0.8, 0.5), strength: 1, only: 'take' }] })).toMatchObject({ verdict: 'holds' });
});

test('a trick has one zone, which all that speaks of it shares', () => {
  const visitor = findTrick('framed-visitor')!;
  expect([wantsZone(visitor), zoneOf(visitor), wantsZone(findTrick('double')!)]).toEqual([true, null, false]);
  const drawn = withZone(visitor, DRAWN);
  expect(zoneOf(drawn)).toEqual(DRAWN);
  expect(drawn.requirements.filter((r) => r.zone).map((r) => r.kind)).toEqual([
    'zone-free',
    'inside-zone',
    'light-inside',
    'same-outside',
  ]);
  expect(zoneOf(withZone(drawn, null))).toBeNull();
});
