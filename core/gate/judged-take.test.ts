import type { Outcome } from '../judge/measure';
import type { PlannedTrick } from '../plan/types';
import { coverSummary } from '../testing/cover-summary';
import { soundTake } from '../testing/take-facts';
import { findTrick } from '../tricks/library/library';
import { NO_WISHES, type Purpose } from '../tricks/types';
import { askedByPurpose, askedOfPart, type AskedOfTake } from './asked';
import { judgeTake, reportTake, type TakeContext } from './judged-take';
import type { TakeMeasures } from '../report/types';

const DELIVERY = { width: 1280, height: 720, fps: 25 };
const cover = (more = {}): Outcome => ({
  measure: 'cover',
  takes: ['t'],
  state: 'done',
  failure: null,
  result: coverSummary(more),
});
type Change = Parameters<typeof soundTake>[0];
const judged = (asked: AskedOfTake, change: Change = {}, context: Partial<TakeContext> = {}) => {
  const take = soundTake(change);
  return judgeTake(take, asked, { delivery: DELIVERY, among: [take], outcomes: [], ...context });
};
const by = (purpose: Purpose) => askedByPurpose(purpose);
const planned = (key: string, parts: Record<string, string>, id = key): PlannedTrick => ({
  id,
  trick: findTrick(key)!,
  wishes: NO_WISHES,
  parts,
});
const HUNT = { focus: { worst_loss_pct: 82, worst_frame: 80, hunts: [{ start: 72, end: 93 }] } };
const PANNED = { lock: { peak_px: 1817, drift_px: 1817, make_still_crop_pct: 100, moves: true } };
const DRIFTED = { light: { drift_stops: 0.3, range_stops: 0.32 } };

test('a sound take is sound for whatever it is', () => {
  for (const purpose of ['locked', 'plate', 'out', 'in', 'moving', 'still'] as const) {
    const found = judged(by(purpose), {}, { outcomes: [cover()] });
    expect([purpose, found.verdict, found.fix, found.pending]).toEqual([purpose, 'holds', null, false]);
    expect(found.text).toMatch(/^[A-Z].*\.$/);
  }
});

test.each<[string, Change, Purpose, string]>([
  ['a planned pan', PANNED, 'moving', 'holds'],
  ['a planned pan', PANNED, 'in', 'holds'],
  ['a planned pan', PANNED, 'out', 'holds'],
  ['the same pan', PANNED, 'locked', 'reshoot'],
  ['a focus that hunts', HUNT, 'locked', 'reshoot'],
  ['a focus that hunts', HUNT, 'in', 'holds'],
  ['light that drifts', DRIFTED, 'locked', 'workable'],
  ['light that drifts', DRIFTED, 'moving', 'holds'],
  ['a white that shifts', { light: { white: { red_stops: 0.22, blue_stops: 0 } } }, 'plate', 'workable'],
  ['somebody in it', { presence: { clear_runs: [], present_runs: [{ start: 0, end: 149 }] } }, 'plate', 'reshoot'],
  ['somebody in it', { presence: { clear_runs: [], present_runs: [{ start: 0, end: 149 }] } }, 'locked', 'holds'],
])('%s %j as %s: %s', (_, change, purpose, verdict) => {
  expect(judged(by(purpose), change, { outcomes: [cover()] }).verdict).toBe(verdict);
});

test('of a plate whose focus hunts for a while the rest will do; of a pass it will not', () => {
  const plate = judged(by('plate'), HUNT);
  expect(plate).toMatchObject({ verdict: 'workable' });
  expect(plate.text).toMatch(/focus goes from frame 72 to 93: 82 %/);
  expect(plate.fix).toMatch(/^Use frames 0 to 71 as the plate; better, set focus by hand/);
  const always = { focus: { ...HUNT.focus, hunts: [{ start: 3, end: 145 }] } };
  expect(judged(by('plate'), always).verdict).toBe('reshoot');
});

test('what is true of any file counts whatever it is for, the worse of both is said', () => {
  expect(judged(by('moving'), { media: { variable_rate: true } })).toMatchObject({ verdict: 'workable' });
  const both = judged(by('locked'), { ...PANNED, media: { variable_rate: true } });
  expect(both.verdict).toBe('reshoot');
  expect(both.text).toMatch(/^The (camera|picture)/);
  expect(both.file!.reasons[0].code).toBe('wandering-rate');
});

test('a file that breaks off is judged for nothing', () => {
  const broken = { media: { complete: false, frame_count: 65, declared_frames: 150 } };
  for (const purpose of ['locked', 'plate', 'out', 'moving'] as const) {
    const found = judged(by(purpose), { ...broken, ...PANNED }, { outcomes: [cover()] });
    expect(found).toMatchObject({ verdict: 'unjudged', findings: [], fix: 'Copy it from the card again.' });
    expect(found.text).toMatch(/^The file breaks off at frame 65 of 150\./);
  }
});

test('only where nobody said that it must stand is it asked whether it was meant to move', () => {
  const hint = /if it was meant to, judge it as a moving shot, an out side or an in side/;
  expect(judged(by('locked'), PANNED).text).toMatch(hint);
  const trick = askedOfPart({ id: 'p', name: 'Pass A', purpose: null }, [planned('double', { 'pass-a': 'p' })]);
  expect(judged(trick, PANNED).text).not.toMatch(hint);
  expect(judged(by('locked'), { lock: { ...PANNED.lock, moves: false } }).text).not.toMatch(hint);
});

describe('an out side', () => {
  test('waits while what covers it is measured, unless something else is bad already', () => {
    const waiting = judged(by('out'));
    expect(waiting).toMatchObject({ verdict: 'unjudged', pending: true, fix: null });
    expect(waiting.text).toBe('What covers the picture is being measured.');
    expect(judged(by('out'), { media: { real_fps: 12 } }).verdict).toBe('reshoot');
  });

  test('that misses a corner, or stays in, is rolled again; a lid that ends closed is none', () => {
    const missed = { first_full_frame: null, last_full_frame: null, peak_cover_share: 0.94, missed: [] };
    expect(judged(by('out'), {}, { outcomes: [cover(missed)] }).verdict).toBe('reshoot');
    expect(judged(by('out'), {}, { outcomes: [cover({ leave_frame: null })] }).verdict).toBe('reshoot');
    expect(judged(by('out'), {}, { outcomes: [cover({ leave_frame: null, kind: 'closing' })] }).verdict).toBe('holds');
  });
});

describe('a part that tricks rest on', () => {
  const part = { id: 'plate', name: 'Plate', purpose: 'moving' as Purpose };
  const double = planned('double', { plate: 'plate', 'pass-a': 'a', 'pass-b': 'b' }),
    lit = planned('lit-prop', { plate: 'plate', pass: 'c' });

  test('is judged for all of them, and for nothing else', () => {
    const asked = askedOfPart(part, [double, lit]);
    expect(asked).toMatchObject({ purpose: null, isPlate: true, judgedFor: 'plate of Double and plate of Lit prop' });
    expect(judged(asked, PANNED).verdict).toBe('reshoot');
    const names = new Set(judged(asked, PANNED).findings.map((f) => f.trick));
    expect(names).toEqual(new Set(['Double']));
    expect(askedOfPart({ ...part, id: 'other' }, [double, lit])).toMatchObject({ purpose: 'moving' });
    expect(askedOfPart({ id: 'x', name: 'Plate', purpose: null }, []).purpose).toBe('plate');
  });

  test('its light may change where the trick changes it', () => {
    const pass = askedOfPart({ id: 'c', name: 'Pass', purpose: null }, [lit]);
    const beats = { beats: [], sound_offset_frames: null, has_sound: false, known_share: 1, unjudged: null };
    const outcome: Outcome = { measure: 'beats', takes: ['t'], state: 'done', failure: null, result: beats };
    expect(judged(pass, DRIFTED, { outcomes: [outcome] }).verdict).toBe('holds');
    expect(judged(askedOfPart({ id: 'a', name: 'Pass A', purpose: null }, [double]), DRIFTED).verdict).toBe('workable');
  });

  test('what somebody saw to hold holds where the measure could not tell', () => {
    const asked = askedOfPart(part, [double]);
    const blank = { lock: { peak_px: null, textured_share: 0.01 } };
    expect(judged(asked, blank).verdict).toBe('unjudged');
    const seen = judged(asked, blank, {
      eye: (_, key) => (key.startsWith('locked') ? { by: 'Ines', at: 'now' } : null),
    });
    expect(seen.verdict).toBe('holds');
    expect(seen.findings.find((f) => f.kind === 'locked')!.text).toBe('by eye: Ines');
  });
});

test('in the report what nobody asked for is a plain fact: no verdict, no limit, nothing to do', () => {
  const take = soundTake(PANNED);
  const found = {
    ...take.facts,
    media: { ...take.facts.media, repeated_frames: [], missing_frames: [] },
  } as unknown as TakeMeasures;
  const reported = (purpose: Purpose) => {
    const asked = by(purpose);
    return reportTake('a.mp4', found, DELIVERY, asked, judged(asked, PANNED));
  };
  const moving = reported('moving');
  for (const block of [moving.lock, moving.light, moving.focus]) {
    expect(block.verdict).toBeNull();
    expect(block.reasons).toMatchObject([{ limit: null, fix: null }]);
    expect(block.deciding.every((n) => n.limit === null)).toBe(true);
  }
  expect(moving.lock.reasons[0].text).toMatch(/1817/);
  const locked = reported('locked');
  expect([locked.lock.verdict, locked.light.verdict, locked.focus.verdict]).toEqual(['reshoot', 'holds', 'holds']);
  expect(locked.take).toMatchObject({ verdict: 'reshoot', judged_for: 'a locked pass' });
});

test('only of a plate is it said that all of it is clear: whoever stands in a pass throughout is background to it', () => {
  const alike = { presence: { clear_runs: [{ start: 0, end: 149 }] } };
  expect(judged(by('plate'), alike).line).toMatch(/clear 0 to 149$/);
  expect(judged(by('locked'), alike).line).toMatch(/nobody comes or goes$/);
  expect(judged(by('locked'), { presence: { clear_runs: [{ start: 0, end: 40 }] } }).line).toMatch(/clear 0 to 40$/);
});
