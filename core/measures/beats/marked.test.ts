import fc from 'fast-check';
import { MEET } from '../meet/description';
import { BEATS } from './description';
import type { Asked, Finding, JudgedTake, Outcome } from '../../judge/measure';
import { freshName, layingSlides, nearestBeat, openBeats, type Mark } from '../../plan/marks';
import type { Beat, BeatKind, BeatsFound, MeetFound, SpotFound } from '../../report/moment-types';
import { soundTake } from '../../testing/take-facts';
import { judgeMarked } from './marked';
import { atDistance, judgeSpot } from '../spot/judge';

const beat = (frame: number, kind: BeatKind = 'strikes', strength = 0.5): Beat => ({
  ...{ frame, time_s: frame / 25, kind, strength, x: null, y: null, width: null, height: null },
});
const found = (...beats: Beat[]): BeatsFound => ({
  ...{ beats, light_steps: [], sound_offset_frames: null, has_sound: false, known_share: 1, unjudged: null },
});
const mark = (frame: number, more: Partial<Mark> = {}): Mark => ({
  ...{ id: `m${frame}`, frame, name: 'Hit', kind: 'own', found: null, ...more },
});

describe('marks', () => {
  test('a beat that is kept is offered no more, wherever it was moved to', () => {
    const beats = [beat(10), beat(10, 'sound'), beat(40)];
    const kept = [mark(12, { kind: 'strikes', found: 10 })];
    expect(openBeats(beats, kept)).toEqual([beat(10, 'sound'), beat(40)]);
    expect(openBeats(beats, [])).toEqual(beats);
  });

  test('the nearest beat is the nearest; of two as near, the clearer', () => {
    expect(nearestBeat([], 5)).toBeNull();
    expect(nearestBeat([beat(0), beat(9)], 5)).toMatchObject({ off: 4 });
    expect(nearestBeat([beat(3, 'starts', 0.2), beat(7, 'stops', 0.9)], 5)).toMatchObject({ off: 2 });
    fc.assert(
      fc.property(fc.array(fc.nat(500), { minLength: 1 }), fc.nat(500), (frames, at) => {
        const least = Math.min(...frames.map((f) => Math.abs(f - at)));
        return (
          Math.abs(
            nearestBeat(
              frames.map((f) => beat(f)),
              at,
            )!.off,
          ) === least
        );
      }),
    );
  });

  test('names are new ones', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 8 }), (n) => {
        const marks: { name: string }[] = [];
        for (let k = 0; k < n; k++) marks.push({ name: freshName('strike', marks) });
        return new Set(marks.map((m) => m.name)).size === n && marks[0].name === 'Strike';
      }),
    );
  });

  test('two takes are laid on each other by marks of one name first, then by beats of one kind', () => {
    const first = [mark(40, { name: 'Clap', kind: 'sound', found: 40 }), mark(80)];
    const second = [mark(31, { name: 'hit' }), mark(55, { name: 'Slate', kind: 'sound', found: 55 })];
    expect(layingSlides(first, second)).toEqual([
      { name: 'Hit', first: 80, second: 31, slide: 49, named: true },
      { name: 'Clap on Slate', first: 40, second: 55, slide: -15, named: false },
    ]);
  });
});

describe('beats marked', () => {
  test('none marked: what was found is said, and somebody must choose', () => {
    expect(judgeMarked([], found(beat(10), beat(31, 'light', 0.9)), 1)).toMatchObject({
      verdict: 'unjudged',
      text: '2 beats were found, the clearest a step of light at frame 31; none is marked yet',
    });
    expect(judgeMarked([], found(), 1).text).toBe('no beat is marked, and none was found');
  });

  test.each([
    [41, null, 'holds'],
    [43, null, 'workable'],
    // Who moved what was found knows better.
    [43, 41, 'holds'],
    // Nothing was found near it: it stands as somebody set it.
    [70, null, 'holds'],
  ])('a mark at %d, found at %j, with a strike at 41: %s', (frame, at, verdict) => {
    const said = judgeMarked([mark(frame, { kind: at === null ? 'own' : 'strikes', found: at })], found(beat(41)), 1);
    expect(said.verdict).toBe(verdict);
    expect(said.text).toContain(`frame ${frame}`);
  });

  test('the requirement waits for the measure, and says why there is none', () => {
    const take: JudgedTake = { ...soundTake({}), marks: [] };
    const ask = (outcomes: Outcome[], marks: Mark[] = []) =>
      BEATS.decides['beats-marked']!({
        ...{ requirement: { tolerance: 1, remedySet: 'Clap.' }, takes: [{ ...take, marks }], among: [], outcomes },
      } as unknown as Asked);
    const outcome = (more: Partial<Outcome>): Outcome => ({
      ...{ measure: 'beats', takes: [take.id], state: 'done', failure: null, result: found(beat(41)), ...more },
    });
    expect(ask([])).toBe('pending');
    expect(ask([outcome({ state: 'working', result: null })])).toBe('pending');
    expect(ask([outcome({ state: 'failed', failure: 'It broke off.', result: null })])).toMatchObject({
      text: 'It broke off.',
    });
    expect(ask([outcome({ state: 'failed', failure: 'It broke off.', result: null })], [mark(3)])).toMatchObject({
      verdict: 'holds',
    });
    expect(ask([outcome({})], [mark(41)])).toMatchObject({ verdict: 'holds', text: 'Hit at frame 41' });
  });
});

describe('two that go against each other', () => {
  const opposed = (a: number | null, b: number | null, tolerance = 20, more: Partial<MeetFound> = {}): Finding => {
    const takes = [soundTake({}, { id: 'a', name: 'Performer' }), soundTake({}, { id: 'b', name: 'Vehicle' })];
    const result = { a_direction_deg: a, b_direction_deg: b, unjudged: null, ...more };
    const said = MEET.decides['opposite-direction']!({
      requirement: { tolerance, remedySet: 'Roll it again.', remedyEdit: 'Mirror it.' },
      takes,
      outcomes: [{ measure: 'meet', takes: ['a', 'b'], state: 'done', failure: null, result }],
    } as unknown as Asked);
    return said as Finding;
  };

  test.each([
    [0, 180, 'holds', 0],
    [10, 175, 'holds', 15],
    [350, 170, 'holds', 0],
    [-170, 10, 'holds', 0],
    [0, 150, 'reshoot', 30],
    [0, 10, 'workable', 170],
  ])('%d and %d degrees: %s', (a, b, verdict, off) => {
    const said = opposed(a, b);
    expect(said.verdict).toBe(verdict);
    expect(said.text).toContain(`${off}° from opposite; 20° are allowed`);
    expect(said.fix).toBe({ holds: null, workable: 'Mirror it.', reshoot: 'Roll it again.' }[verdict]);
    expect(opposed(b, a).verdict).toBe(verdict);
  });

  test('one whose way is not known is named; what could not be measured is said', () => {
    expect(opposed(0, null)).toMatchObject({
      verdict: 'unjudged',
      text: 'which way it goes could not be told in Vehicle',
    });
    expect(opposed(null, null).text).toContain('Performer, Vehicle');
    expect(opposed(0, 180, 20, { unjudged: 'It is too dark.' })).toMatchObject({
      verdict: 'unjudged',
      text: 'It is too dark',
    });
  });
});

describe('how far a prop must be moved', () => {
  const spot: SpotFound = {
    ...{ at_a: 74, at_b: 0, dx_px: 92, dy_px: -24, size_ratio: 1, angle_deg: 0, a: null, b: null, best: null },
    ...{ uncertainty_px: 0.5, unjudged: null },
  };

  test('in pixels, and in centimetres where lens, sensor and distance are noted', () => {
    expect(judgeSpot(spot, 1).reasons[0].fix).toBe(
      'Move it 92 px to the left and 24 px lower and roll the second again.',
    );
    // 24.9 mm behind 50 mm show 2.49 m of what is 5 m away: 1280 px.
    const at = atDistance(50, 5, 24.9, 1280)!;
    expect(at.cm_per_px).toBeCloseTo(0.1945, 3);
    expect(judgeSpot(spot, 1, 20, at).reasons[0].fix).toBe(
      'Move it 92 px (about 18 cm) to the left and 24 px (about 4.7 cm) lower, at 5 m, and roll the second again.',
    );
    expect(atDistance(50, null, 24.9, 1280)).toBeNull();
    expect(atDistance(null, 5, 24.9, 1280)).toBeNull();
  });

  test('what is larger has the larger outline and the larger box; an outline with a hole is not smaller', () => {
    const box = (width: number, height: number) => ({
      ...{ x: 0, y: 0, width, height, x_centre_px: 0, y_centre_px: 0, angle_deg: 90 },
    });
    const near = { ...spot, dx_px: 0.6, dy_px: 4.2, size_ratio: 0.918 };
    expect(judgeSpot({ ...near, a: box(120, 336), b: box(117, 339) }, 1).verdict).toBe('holds');
    expect(judgeSpot({ ...near, a: box(120, 336), b: box(110, 309) }, 1)).toMatchObject({
      verdict: 'workable',
      reasons: [
        {
          code: 'size',
          fix: 'Bring it nearer to the lens and roll the second again, or scale it to 109 % in the edit.',
        },
      ],
    });
  });
});
