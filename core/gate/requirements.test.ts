import { findTrick } from '../tricks/library/library';
import { withZone } from '../tricks/zones';
import type { Requirement } from '../tricks/types';
import { judgeGate, type GatePart, type GateTrick } from './gate';
import type { VerdictWord } from '../report/types';
import type { JudgedTake, Outcome } from '../judge/measure';
import { judgeRequirement, type RequirementPart } from './requirements';
import type { PresenceSummary } from '../report/summaries';
import type { MediaSummary } from '../report/summaries';
import type { PairFound } from '../report/pair-types';
import type { TakesGap } from '../measures/compare/takes-apart';
import { pairFound } from '../testing/pair-found';
import { lockSummary, presenceSummary, soundTake } from '../testing/take-facts';

const DELIVERY = { width: 1280, height: 720, fps: 25 };
const lock = (peak: number) =>
  lockSummary({
    peak_px: peak,
    sure_peak_px: peak,
    peak_frame: 3,
    drift_px: peak,
    jitter_px: 0,
    make_still_crop_pct: peak / 10,
  });
const clear = presenceSummary();
const take = (peak: number, more: Partial<MediaSummary> = {}, presence: PresenceSummary = clear): JudgedTake =>
  soundTake({ media: more, lock: lock(peak), presence });
const part = (name: string, t: JudgedTake | null, more: Partial<RequirementPart> = {}): RequirementPart => ({
  name,
  optional: false,
  rolled: t !== null,
  take: t && { ...t, name },
  ...more,
});
const need = (kind: Requirement['kind'], tolerance: number | null): Requirement => ({
  key: kind,
  kind,
  parts: ['a'],
  tolerance,
  why: 'Because.',
  remedySet: 'Do it again.',
  remedyEdit: 'Mend it.',
});
const judge = (
  r: Requirement,
  parts: RequirementPart[],
  eye: { by: string; at: string } | null = null,
  outcomes: Outcome[] = [],
  others: JudgedTake[] = [],
) => judgeRequirement(r, parts, DELIVERY, eye, { among: [...parts.flatMap((p) => p.take ?? []), ...others], outcomes });

test('the lock is judged by the trick’s own tolerance, from the same measure', () => {
  expect(judge(need('locked', 0.35), [part('Plate', take(0.8))]).verdict).toBe('workable');
  expect(judge(need('locked', 1), [part('Plate', take(0.8))]).verdict).toBe('holds');
  expect(judge(need('locked', 0.35), [part('Plate', take(90))])).toMatchObject({ verdict: 'reshoot', byEye: false });
});

test('rate, headroom, length and settings come from the file', () => {
  expect(judge(need('rate-at-least', 50), [part('Pass', take(0.1))])).toMatchObject({
    verdict: 'reshoot',
    fix: 'Do it again.',
  });
  expect(
    judge(need('rate-at-least', 50), [part('Pass', take(0.1, { measured_fps: 50, real_fps: 49.9 }))]).verdict,
  ).toBe('holds');
  // A file that calls itself 50 and shows 25 distinct pictures is 25.
  expect(judge(need('rate-at-least', 50), [part('Pass', take(0.1, { measured_fps: 50, real_fps: 25 }))]).verdict).toBe(
    'reshoot',
  );
  expect(judge(need('headroom-at-least', 50), [part('Pass', take(0.1, { width: 1920, height: 1080 }))]).verdict).toBe(
    'holds',
  );
  expect(judge(need('headroom-at-least', 51), [part('Pass', take(0.1, { width: 1920, height: 1080 }))]).verdict).toBe(
    'reshoot',
  );
  expect(judge(need('length-at-least', 6.5), [part('Pass', take(0.1))]).verdict).toBe('reshoot');
  const same = need('same-settings', null);
  expect(judge(same, [part('A', take(0)), part('B', take(0))]).verdict).toBe('holds');
  expect(judge(same, [part('A', take(0)), part('B', take(0, { measured_fps: 29.97 }))])).toMatchObject({
    verdict: 'reshoot',
    text: 'A and B differ: 25 against 29.97 fps',
  });
  expect(judge(same, [part('A', take(0)), part('B', take(0, { variable_rate: true }))]).verdict).toBe('workable');
});

const blind = { ...take(0), facts: { ...take(0).facts, lock: { ...lock(0), peak_px: null } } };

test('what no measure decides is never passed by itself, but by somebody who looked', () => {
  const r = need('beats-marked', 1);
  const judge = (r: Requirement, parts: RequirementPart[], eye: { by: string; at: string } | null = null) =>
    judgeRequirement(r, parts, DELIVERY, eye, undefined, []);
  expect(judge(r, [part('A', take(0)), part('B', take(0))])).toMatchObject({
    verdict: 'unjudged',
    text: 'unjudged: checked by eye',
    byEye: true,
    eye: null,
  });
  expect(judge(r, [part('A', take(0)), part('B', take(0))], { by: 'Ines', at: '2027-10-05T18:00:00Z' })).toMatchObject({
    verdict: 'holds',
    text: 'by eye: Ines',
  });
  // A tick does not stand in for a part that was never rolled.
  expect(judge(r, [part('A', take(0)), part('B', null)], { by: 'Ines', at: '' })).toMatchObject({
    verdict: 'unjudged',
    byEye: false,
  });
});

test('a tick does not overrule a measure, but stands in for one that cannot tell', () => {
  expect(judge(need('rate-at-least', 50), [part('A', take(0))], { by: 'Ines', at: '' }).verdict).toBe('reshoot');
  expect(judge(need('locked', 0.35), [part('A', blind)], { by: 'Ines', at: '' }).verdict).toBe('holds');
});

test('a part left out that may be left out does not count', () => {
  expect(judge(need('locked', 0.35), [part('Plate', null, { optional: true })]).applies).toBe(false);
});

/** All three takes of a double against each other, the second and third so many stops apart. */
const compared = (stops = 0): (Outcome & { result: TakesGap | null })[] =>
  [
    ['t-pass-a', 't-pass-b'],
    ['t-pass-a', 't-plate'],
    ['t-pass-b', 't-plate'],
  ].map((takes) => ({
    measure: 'compare',
    takes,
    state: 'done',
    failure: null,
    result: {
      offset: { dx_px: 0.05, dy_px: 0, rotation_deg: 0, scale: 1, uncertainty_px: 0.02 },
      focus: null,
      moved: [],
      intruders: [],
      light: {
        gap_stops: takes[1] === 't-plate' ? stops : 0,
        red_stops: 0,
        blue_stops: 0,
        worst_region: null,
        fade_in_frames: 0,
        uncertainty_stops: 0.005,
      },
    },
  }));

/** The two passes of a double, held against each other for where they meet. */
const parted = (more: Partial<PairFound> = {}): Outcome => ({
  measure: 'pair',
  takes: ['t-pass-a', 't-pass-b'],
  state: 'done',
  failure: null,
  result: pairFound(more),
});

const judged = (verdict: VerdictWord) => ({ verdict, text: 'Said.', fix: null, pending: false, broken: false });

test('the gate of a double: reshoot, roll, wait, look, strike', () => {
  const double = findTrick('double')!;
  const run = (
    peaks: Record<string, number | null>,
    eyes: boolean,
    outcomes: Outcome[] = [...compared(), parted()],
  ) => {
    const parts: GatePart[] = double.parts.map((p) => ({
      id: p.key,
      name: p.name,
      optional: false,
      elsewhere: false,
      takes:
        peaks[p.key] === null
          ? []
          : [
              {
                id: `t-${p.key}`,
                number: 1,
                circled: false,
                state: 'done',
                judged: judged(peaks[p.key]! > 1 ? 'reshoot' : 'holds'),
              },
            ],
    }));
    const trick: GateTrick = {
      id: 'd',
      name: double.name,
      requirements: double.requirements.map((r) => ({
        ...judge(
          r,
          r.parts.map((k) =>
            part(
              double.parts.find((p) => p.key === k)!.name,
              peaks[k] === null ? null : { ...take(peaks[k]!), id: `t-${k}` },
            ),
          ),
          eyes ? { by: 'Ines', at: 'now' } : null,
          outcomes,
        ),
        partIds: r.parts,
      })),
    };
    return judgeGate(parts, [trick]);
  };
  expect(run({ plate: 90, 'pass-a': 0, 'pass-b': null }, false)).toMatchObject({
    verdict: 'reshoot',
    headline: 'Not yet. Roll the plate again.',
  });
  expect(run({ plate: 0, 'pass-a': 0, 'pass-b': null }, false)).toMatchObject({
    headline: 'Not yet. Roll pass B.',
    rollNext: { partId: 'pass-b', again: false },
  });
  // Where the measure cannot tell whether the two meet, somebody looks.
  const unknown = [...compared(), parted({ known_share: 0.4 })];
  const look = run({ plate: 0, 'pass-a': 0, 'pass-b': 0 }, false, unknown);
  expect(look).toMatchObject({ verdict: 'unjudged', mayStrike: false });
  expect(look.headline).toBe('Look at one thing by eye before you strike.');
  expect(look.toLookAt).toBe(1);
  const overlap = [...compared(), parted({ overlap_runs: [{ start: 40, end: 61 }], closest_px: 0 })];
  const meet = run({ plate: 0, 'pass-a': 0, 'pass-b': 0 }, true, overlap);
  expect(meet).toMatchObject({ verdict: 'reshoot', mayStrike: false, headline: 'Not yet. Roll pass B again.' });
  expect(meet.tricks[0].requirements.find((r) => r.kind === 'apart')!.text).toMatch(/overlap in frames 40 to 61/);
  // What the takes have in common is measured: nothing may be struck before that is known, whoever looked.
  expect(run({ plate: 0, 'pass-a': 0, 'pass-b': 0 }, true, [])).toMatchObject({
    verdict: 'unjudged',
    mayStrike: false,
    headline: 'Wait: takes are being held against each other.',
  });
  const brighter = run({ plate: 0, 'pass-a': 0, 'pass-b': 0 }, true, [...compared(0.3), parted()]);
  expect(brighter).toMatchObject({ verdict: 'workable', mayStrike: true });
  expect(brighter.tricks[0].requirements.find((r) => r.kind === 'same-light')!.text).toMatch(/0\.30 stop brighter/);
  expect(run({ plate: 0, 'pass-a': 0, 'pass-b': 0 }, true, [...compared(1.2), parted()])).toMatchObject({
    verdict: 'reshoot',
    mayStrike: false,
  });
  const failed = [...compared(), parted()].map((p) => ({
    ...p,
    state: 'failed' as const,
    result: null,
    failure: 'the file is gone.',
  }));
  expect(run({ plate: 0, 'pass-a': 0, 'pass-b': 0 }, false, failed).toLookAt).toBe(4);
  expect(run({ plate: 0, 'pass-a': 0, 'pass-b': 0 }, true)).toMatchObject({ verdict: 'holds', mayStrike: true });
});

test('a clean plate is decided by who is in it: nobody, a clear run to use, or nothing but somebody', () => {
  const r = need('clean-plate', null);
  expect(judge(r, [part('Plate', take(0))])).toMatchObject({ verdict: 'holds', byEye: false });
  const somebody = { ...clear, clear_runs: [{ start: 0, end: 40 }], present_runs: [{ start: 41, end: 149 }] };
  expect(judge(r, [part('Plate', take(0, {}, somebody))])).toMatchObject({
    verdict: 'workable',
    fix: 'Use frames 0 to 40 as the plate.',
  });
  const always = { ...clear, clear_runs: [{ start: 0, end: 3 }], present_runs: [{ start: 4, end: 149 }] };
  const bad = judge(r, [part('Plate', take(0, {}, always))]);
  expect(bad.verdict).toBe('reshoot');
  expect(bad.fix).toContain('roll the plate now');
  const shadow = judge(r, [part('Plate', take(0, {}, { ...always, shadow_runs: [{ start: 4, end: 149 }] }))]);
  expect(shadow.text).toContain('A shadow is in it');
  const wild = judge(r, [part('Plate', take(0, {}, { ...clear, restless_share: 0.6 }))]);
  expect(wild).toMatchObject({ verdict: 'unjudged', byEye: true });
  expect(wild.text).toContain('60 %');
  expect(
    judge(r, [part('Plate', take(0, {}, { ...clear, unjudged: 'The camera moves too far.' }))], { by: 'Ines', at: '' }),
  ).toMatchObject({ verdict: 'holds', text: 'by eye: Ines' });
});

test('somebody seen only beside another take is found whichever was held against the other', () => {
  const crate = { x: 400, y: 300, width: 120, height: 90 };
  const [known] = compared();
  const inPlate = { ...known, takes: ['pass', 'plate'], result: { ...known.result!, intruders: [crate] } };
  const turned = {
    ...known,
    takes: ['plate', 'pass'],
    result: { ...known.result!, moved: [{ ...crate, strength: 0.5, only: 'take' as const }] },
  };
  const pass = { ...take(0), id: 'pass', name: 'Pass B' };
  const plate = part('Plate', { ...take(0), id: 'plate' });
  for (const pair of [inPlate, turned]) {
    const found = judge(need('clean-plate', null), [plate], null, [pair], [pass]);
    expect(found.verdict).toBe('reshoot');
    expect(found.text).toContain('has something in it that Pass B');
  }
  // What stands in the pass alone is the performer, and no fault of the plate.
  expect(judge(need('clean-plate', null), [plate], null, [{ ...inPlate, result: turned.result }], [pass]).verdict).toBe(
    'holds',
  );
});

test('in its zone a plate of afterwards lacks what the pass is about; anything else that moved is still said', () => {
  const zone: [number, number][] = [
    [0.5, 0.3],
    [0.7, 0.3],
    [0.7, 0.6],
  ];
  const pass = { ...take(0), id: 'pass', name: 'Pass' };
  const { width, height } = pass.facts.media;
  const moved = (x: number) => ({
    ...{ x: x * width, y: 0.4 * height, width: 40, height: 60, strength: 0.5, only: null },
  });
  const said = (trickKey: string, x: number) => {
    const r = withZone(findTrick(trickKey)!, zone).requirements.find((own) => own.kind === 'clean-plate')!;
    const [known] = compared();
    const pair = { ...known, takes: ['pass', 'plate'], result: { ...known.result!, moved: [moved(x)] } };
    return judge(r, [part('Plate', { ...take(0), id: 'plate' })], null, [pair], [pass]).verdict;
  };
  expect([said('dialled-fade', 0.6), said('dialled-fade', 0.1)]).toEqual(['holds', 'reshoot']);
  // What floats is in no plate, and its zone hides nothing else.
  expect(said('floater', 0.6)).toBe('reshoot');
});

test('what stays inside the frame holds; what touches an edge is shown with its frames for somebody to look at', () => {
  const r = need('inside-frame', null);
  expect(judge(r, [part('Pass', take(0))]).verdict).toBe('holds');
  const touched = judge(r, [
    part('Pass', take(0, {}, { ...clear, edge_runs: { ...clear.edge_runs, left: [{ start: 12, end: 18 }] } })),
  ]);
  expect(touched).toMatchObject({ verdict: 'unjudged', byEye: true });
  expect(touched.text).toContain('left edge touched in frames 12 to 18');
});
