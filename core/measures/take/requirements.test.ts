import type { Asked, Finding, JudgedTake, Outcome } from '../../judge/measure';
import type { MediaFacts, PresenceMeasure, Run, Side } from '../../report/types';
import { REQUIREMENT_KINDS } from '../../tricks/requirement-kinds';
import type { Requirement, RequirementKind } from '../../tricks/types';
import { soundTake } from '../../testing/take-facts';
import { TAKE_REQUIREMENTS } from './requirements';

const NO_EDGES = { left: [], right: [], top: [], bottom: [] };

interface Change {
  name?: string;
  number?: number;
  media?: Partial<MediaFacts>;
  presence?: Partial<PresenceMeasure>;
}

const take = ({ media, presence, ...change }: Change = {}): JudgedTake =>
  soundTake(
    { media: { width: 3840, height: 2160, ...media }, presence: { travel: null, ...presence } },
    { id: change.name ?? 'a', name: 'Plate', ...change },
  );

const need = (kind: RequirementKind, tolerance: number | null = null): Requirement => ({
  ...{ key: kind, kind, parts: [], tolerance, why: 'It must.' },
  ...{ remedySet: 'Roll it again.', remedyEdit: 'Mirror it.' },
});
const decide = (
  kind: RequirementKind,
  takes: JudgedTake[],
  tolerance: number | null = null,
  outcomes: Outcome[] = [],
): Finding => {
  const asked = {
    ...{ requirement: need(kind, tolerance), takes, delivery: { width: 1920, height: 1080, fps: 25 } },
    ...{ outcomes, among: takes },
  } as unknown as Asked;
  const found = TAKE_REQUIREMENTS[kind]!(asked);
  if (found === 'pending') throw new Error('it waits');
  return found;
};

test('of no take nothing is said to hold', () => {
  const single = (Object.keys(TAKE_REQUIREMENTS) as RequirementKind[]).filter((k) => REQUIREMENT_KINDS[k].parts === 1);
  expect(single.length).toBeGreaterThan(3);
  for (const kind of single) expect(decide(kind, []).verdict).toBe('unjudged');
});

describe('rate', () => {
  test.each([
    [50, 50, 'holds'],
    [25, 50, 'reshoot'],
    [59.94, 60, 'holds'],
    [47, 50, 'reshoot'],
  ])('%d of %d asked for: %s', (fps, asked, verdict) => {
    const found = decide('rate-at-least', [take({ media: { measured_fps: fps, real_fps: fps } })], asked);
    expect(found.verdict).toBe(verdict);
    expect(found.text).toContain(`Plate, take 2: ${fps.toFixed(2)} distinct pictures a second`);
    expect(found.fix).toBe(verdict === 'holds' ? null : 'Roll it again.');
  });

  test('repeated pictures do not count, wandering is said, and an unknown rate is not judged', () => {
    expect(decide('rate-at-least', [take({ media: { measured_fps: 50, real_fps: 25 } })], 50).verdict).toBe('reshoot');
    expect(decide('rate-at-least', [take({ media: { variable_rate: true } })], 25).text).toContain(', wandering;');
    const none = decide('rate-at-least', [take({ media: { measured_fps: null, real_fps: null } })], 25);
    expect(none).toMatchObject({ verdict: 'unjudged', text: 'Plate, take 2: the rate is not known' });
  });

  test('of several takes the worst is said', () => {
    const slow = take({ name: 'Pass A', number: 5, media: { measured_fps: 25, real_fps: 25 } });
    const found = decide('rate-at-least', [take({ media: { measured_fps: 50, real_fps: 50 } }), slow], 50);
    expect(found.text).toMatch(/^Pass A, take 5:/);
  });
});

test.each([
  [6, 3, 'holds'],
  [3, 3, 'holds'],
  [2.9, 3, 'reshoot'],
])('length: %d s of %d asked for: %s', (duration_s, asked, verdict) => {
  const found = decide('length-at-least', [take({ media: { duration_s } })], asked);
  expect(found).toMatchObject({
    verdict,
    text: `Plate, take 2: ${duration_s.toFixed(1)} s can be used; ${asked} s are asked for`,
  });
});

test('a length that is not known is not judged', () => {
  expect(decide('length-at-least', [take({ media: { duration_s: null } })], 3).verdict).toBe('unjudged');
});

test.each([
  [3840, 2160, 50, 'holds', 100],
  [2304, 1296, 20, 'holds', 20],
  [2200, 1238, 20, 'reshoot', 15],
  [1920, 1080, 20, 'reshoot', 0],
])('headroom: %d x %d with %d %% asked for: %s', (width, height, asked, verdict, spare) => {
  const found = decide('headroom-at-least', [take({ media: { width, height } })], asked);
  expect(found.verdict).toBe(verdict);
  expect(found.text).toContain(`${spare} % larger than delivery; ${asked} % are asked for`);
});

describe('inside the frame', () => {
  const runs: Run[] = [{ start: 3, end: 9 }];

  test('nothing touches an edge', () => {
    expect(decide('inside-frame', [take()])).toMatchObject({ verdict: 'holds', fix: null });
  });

  const of = (edges: Partial<Record<Side, Run[]>>, present: Run[]) =>
    decide('inside-frame', [take({ presence: { edge_runs: { ...NO_EDGES, ...edges }, present_runs: present } })]);

  test.each(['left', 'right', 'bottom'] as const)(
    'the %s edge, touched in the middle, is named with its frames for somebody to look at',
    (edge) => {
      const found = of({ [edge]: runs }, [{ start: 0, end: 40 }]);
      expect(found.verdict).toBe('unjudged');
      expect(found.text).toContain(`${edge} edge touched in frames 3 to 9`);
    },
  );

  test('whoever is cut off at the top in the middle is rolled again', () => {
    expect(of({ top: runs }, [{ start: 0, end: 40 }])).toMatchObject({
      verdict: 'reshoot',
      text: 'Plate, take 2: cut off: top edge touched in frames 3 to 9',
    });
  });

  test('coming in and going out over an edge is no fault', () => {
    const found = of({ left: [{ start: 10, end: 16 }], right: [{ start: 60, end: 70 }] }, [{ start: 10, end: 70 }]);
    expect(found).toMatchObject({ verdict: 'holds', fix: null });
    expect(found.text).toContain('whole in the picture from frame 17 to 59');
    // Who is never whole reaches in all the while.
    expect(of({ left: [{ start: 10, end: 70 }] }, [{ start: 10, end: 70 }]).verdict).toBe('unjudged');
  });

  test.each([
    [{}, 'drop', 'holds'],
    [{ top: [{ start: 20, end: 24 }] }, 'drop', 'workable'],
    [{ left: [{ start: 20, end: 24 }] }, 'drop', 'workable'],
    [{ left: [{ start: 20, end: 24 }] }, 'pull', 'holds'],
  ])('of a cloth, the cloth counts: %j of a %s', (edges, kind, verdict) => {
    const edge_runs = { ...NO_EDGES, ...edges };
    const result = { kind, edge_runs, unjudged: null, hides_runs: [{ start: 10, end: 14 }] };
    const outcome = { measure: 'cloth', takes: ['a'], state: 'done', failure: null, result };
    const cut = take({
      name: 'a',
      presence: { edge_runs: { ...NO_EDGES, top: runs }, present_runs: [{ start: 0, end: 40 }] },
    });
    const found = decide('inside-frame', [cut], null, [outcome as Outcome]);
    expect(found.verdict).toBe(verdict);
    expect(found.text).toContain('the cloth');
  });

  test('where presence could not be told it is not judged either', () => {
    expect(decide('inside-frame', [take({ presence: { unjudged: 'It is too dark.' } })]).text).toBe(
      'Plate, take 2: what touches the edges is not known',
    );
  });
});

describe('settings of several takes', () => {
  const settings = (...media: Partial<MediaFacts>[]) =>
    decide(
      'same-settings',
      media.map((m, k) => take({ name: `Part ${k}`, media: m })),
    );

  test('that agree hold, with what they are', () => {
    expect(settings({}, {}, {})).toEqual({ verdict: 'holds', text: '3840 × 2160 px at 25.00 fps in all', fix: null });
  });

  test.each<[string, Partial<MediaFacts>, string]>([
    ['size', { width: 1920, height: 1080 }, '3840 × 2160 against 1920 × 1080 px'],
    ['rate', { measured_fps: 50 }, '25 against 50 fps'],
    ['rate, not known', { measured_fps: null }, '25 against ? fps'],
    ['depth', { bit_depth: 10 }, '8 against 10 bit'],
    [
      'all three',
      { width: 1920, height: 1080, measured_fps: 24, bit_depth: 10 },
      ' px, 25 against 24 fps, 8 against 10 bit',
    ],
  ])('that differ in %s are a reshoot, with both values', (_, other, text) => {
    const found = settings({}, {}, other);
    expect(found.verdict).toBe('reshoot');
    expect(found.text).toMatch(/^Part 0 and Part 2 differ: /);
    expect(found.text).toContain(text);
    expect(found.fix).toBe('Roll it again.');
  });

  test('a wandering rate is workable, and no difference of rate is claimed', () => {
    const found = settings({}, { measured_fps: 24.6, variable_rate: true });
    expect(found.verdict).toBe('workable');
    expect(found.text).toBe('Part 1 has a wandering rate, 24.60 fps on average');
  });

  test('repeated frames are a reshoot', () => {
    const found = settings({}, { real_fps: 12.5 });
    expect(found.verdict).toBe('reshoot');
    expect(found.text).toContain('Part 1 repeats frames: 12.50 distinct pictures a second in a file of 25');
  });
});

describe('a clean plate', () => {
  const plate = (present: Run[], clear: Run[], media: Partial<MediaFacts> = {}) =>
    decide('clean-plate', [take({ presence: { present_runs: present, clear_runs: clear }, media })]);

  test('needs half a second clear, or all of a shorter take', () => {
    expect(plate([], [{ start: 0, end: 149 }]).verdict).toBe('holds');
    expect(plate([{ start: 12, end: 149 }], [{ start: 0, end: 11 }]).verdict).toBe('reshoot');
    expect(plate([{ start: 13, end: 149 }], [{ start: 0, end: 12 }]).verdict).toBe('workable');
    expect(plate([], [{ start: 0, end: 4 }], { frame_count: 5 }).verdict).toBe('holds');
    // Twice the rate needs twice the frames.
    expect(plate([{ start: 13, end: 149 }], [{ start: 0, end: 12 }], { measured_fps: 50 }).verdict).toBe('reshoot');
  });
});
