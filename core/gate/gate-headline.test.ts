import type { VerdictWord } from '../report/types';
import { judgeGate, type Gate, type GatePart, type GateTake, type GateTrick } from './gate';
import { standingTake } from './standing';

type Requirement = GateTrick['requirements'][number];

let last = 0;
const take = (verdict: VerdictWord | null, more: Partial<GateTake> = {}): GateTake => ({
  id: `take-${++last}`,
  number: 1,
  circled: false,
  state: verdict ? 'done' : 'working',
  judged: verdict && {
    verdict,
    pending: false,
    broken: false,
    text: verdict === 'holds' ? 'The camera stayed put.' : 'The camera moved.',
    fix: verdict === 'holds' ? null : 'Weight the tripod.',
  },
  ...more,
});
const part = (name: string, takes: GateTake[] = [], more: Partial<GatePart> = {}): GatePart => ({
  id: name,
  name,
  optional: false,
  takes,
  elsewhere: false,
  ...more,
});
const requirement = (about: string[], more: Partial<Requirement> = {}): Requirement => ({
  key: about.join('-'),
  kind: 'same-light',
  name: 'Same light',
  says: 'the light agrees',
  why: 'A step shows.',
  verdict: 'holds',
  text: 'it agrees',
  fix: null,
  byEye: false,
  eye: null,
  ready: true,
  pending: false,
  applies: true,
  partNames: about,
  partIds: about,
  ...more,
});
const trick = (...requirements: Requirement[]): GateTrick[] => [{ id: 't', name: 'Double', requirements }];
const said = (g: Gate) => [g.headline, g.detail];
const fine = () => take('holds');

describe('the headline', () => {
  test('nothing planned, and nothing rolled', () => {
    expect(said(judgeGate([], []))).toEqual([
      'Nothing is planned here yet.',
      'Put a trick on this setup, or add the parts it must record.',
    ]);
    const all = judgeGate([part('Plate', [], { optional: true })], []);
    expect(all.headline).toBe('Nothing is rolled here yet.');
    expect(all.rollNext).toEqual({ partId: 'Plate', name: 'Plate', again: false });
    expect(all.mayStrike).toBe(false);
  });

  test('the next part to roll, as it is said in a sentence', () => {
    const g = judgeGate([part('Plate'), part('Pass A'), part('Out side')], []);
    expect(said(g)).toEqual(['Not yet. Roll the plate.', 'Still to roll: the plate, pass A, the out side.']);
    expect(g.rollNext).toEqual({ partId: 'Plate', name: 'Plate', again: false });
    const one = judgeGate([part('Plate', [fine()]), part('Pass A')], []);
    expect(said(one)).toEqual(['Not yet. Roll pass A.', 'It is the last part missing here.']);
  });

  test('a bad take before a missing one: it is to be rolled again', () => {
    const g = judgeGate([part('Plate'), part('Pass A', [take('reshoot')]), part('Pass B', [take('reshoot')])], []);
    expect(said(g)).toEqual(['Not yet. Roll pass A and pass B again.', 'The camera moved. Weight the tripod.']);
    expect(g.rollNext).toEqual({ partId: 'Pass A', name: 'Pass A', again: true });
    expect(g.verdict).toBe('reshoot');
  });

  test('takes that do not go together: the last of them is rolled again', () => {
    const apart = requirement(['Plate', 'Pass A'], {
      verdict: 'reshoot',
      text: 'they differ by 0.9 stop',
      fix: 'Roll now.',
    });
    const g = judgeGate([part('Plate', [fine()]), part('Pass A', [fine()])], trick(apart));
    expect(said(g)).toEqual(['Not yet. Roll pass A again.', 'they differ by 0.9 stop. Roll now.']);
    expect(g.rollNext?.partId).toBe('Pass A');
  });

  test('wait while something is measured, and while takes are held against each other', () => {
    const parts = [part('Plate', [fine()]), part('Pass A', [take(null)])];
    expect(said(judgeGate(parts, []))).toEqual(['Wait: a take is being measured.', 'Measuring pass A.']);
    const pending = requirement(['Plate'], { verdict: 'unjudged', pending: true });
    const g = judgeGate([part('Plate', [fine()])], trick(pending));
    expect(said(g)).toEqual(['Wait: takes are being held against each other.', 'First: same light of Plate.']);
    expect([g.mayStrike, g.rollNext]).toEqual([false, null]);
  });

  test('what could not be measured is looked at by eye, and may be rolled again', () => {
    const failed = part('Plate', [take(null, { state: 'failed' })]);
    const g = judgeGate([failed], []);
    expect(g.headline).toBe('Look at the plate by eye before you strike.');
    expect(g.rows[0].text).toBe('take 1 could not be measured');
    expect(g.rollNext).toMatchObject({ partId: 'Plate', again: true });
    expect(judgeGate([part('Plate', [take('unjudged')])], []).headline).toBe(
      'Look at the plate by eye before you strike.',
    );
  });

  test('things to look at are counted; once ticked they are done', () => {
    const look = (more: Partial<Requirement> = {}) =>
      requirement(['Plate'], { verdict: 'unjudged', byEye: true, name: 'Eyelines meet', ...more });
    const parts = [part('Plate', [fine()])];
    const two = judgeGate(parts, trick(look(), look({ key: 'two' })));
    expect(said(two)).toEqual([
      'Look at 2 things by eye before you strike.',
      'First: eyelines meet. Tick what you have seen to hold.',
    ]);
    expect(two.toLookAt).toBe(2);
    const eye = { by: 'Ines', at: '2027-10-05T18:00:00Z' };
    const ticked = judgeGate(parts, trick(look({ verdict: 'holds', eye }), look({ key: 'two' })));
    expect(ticked.headline).toBe('Look at one thing by eye before you strike.');
    const all = judgeGate(parts, trick(look({ verdict: 'holds', eye })));
    expect([all.toLookAt, all.mayStrike]).toEqual([0, true]);
  });

  test('struck with a fix in the edit, and struck as it is', () => {
    const workable = judgeGate([part('Plate', [take('workable')]), part('Pass A', [fine()])], []);
    expect(said(workable)).toEqual([
      'You may strike. Some takes need a fix in the edit.',
      'The camera moved. Weight the tripod.',
    ]);
    expect([workable.verdict, workable.mayStrike]).toEqual(['workable', true]);
    expect(said(judgeGate([part('Plate', [fine()])], []))).toEqual([
      'You may strike: every part holds.',
      'Every part is what it is meant to be.',
    ]);
    const planned = judgeGate([part('Plate', [fine()])], trick(requirement(['Plate'])));
    expect(planned.detail).toBe('Every requirement of every trick is met.');
  });
});

describe('what does not count', () => {
  test('a part that may be left out, or belongs to the other place, holds nothing up', () => {
    const parts = [
      part('Plate', [fine()]),
      part('Still', [], { optional: true }),
      part('In side', [], { elsewhere: true }),
    ];
    const g = judgeGate(parts, []);
    expect(g.mayStrike).toBe(true);
    expect(g.rows.map((r) => r.text).slice(1)).toEqual(['not rolled; may be left out', 'belongs to the other place']);
  });

  test('but once rolled it does', () => {
    expect(judgeGate([part('Plate', [fine()]), part('Still', [take('reshoot')], { optional: true })], []).verdict).toBe(
      'reshoot',
    );
  });

  test('a requirement about a part that was left out', () => {
    const off = requirement(['Still'], { verdict: 'reshoot', applies: false });
    const parts = [part('Plate', [fine()]), part('Still', [], { optional: true })];
    expect(judgeGate(parts, trick(requirement(['Plate']), off)).mayStrike).toBe(true);
  });
});

describe('rows', () => {
  test('say the take, and whether it is circled', () => {
    const rows = judgeGate(
      [part('Plate', [take('holds', { number: 3, circled: true })]), part('Pass A', [fine()])],
      [],
    ).rows;
    expect(rows.map((r) => r.text)).toEqual([
      'take 3 circled · The camera stayed put.',
      'take 1 · The camera stayed put.',
    ]);
    expect(rows[0].takeNumber).toBe(3);
  });

  test('say what was judged, and the gate says what to do', () => {
    const g = judgeGate([part('Plate', [take('workable')])], []);
    expect(g.rows[0]).toMatchObject({ verdict: 'workable', text: 'take 1 · The camera moved.' });
    expect(g.detail).toBe('The camera moved. Weight the tripod.');
  });

  test('a take of which something is still looked at is waited for', () => {
    const pending = take('unjudged');
    pending.judged = {
      ...pending.judged!,
      text: 'What covers the picture is being measured.',
      fix: null,
      pending: true,
    };
    expect(said(judgeGate([part('Out side', [pending])], []))).toEqual([
      'Wait: a take is being looked at.',
      'What covers the picture is being measured.',
    ]);
  });

  test('a file that breaks off is copied again before anything else is looked at', () => {
    const cut = take('unjudged');
    cut.judged = { ...cut.judged!, text: 'The file breaks off at frame 65 of 150.', broken: true };
    const g = judgeGate([part('Plate', [cut])], []);
    expect(said(g)).toEqual([
      'Not yet. Copy the plate from the card again.',
      'The file breaks off at frame 65 of 150. If it breaks off there too, roll it again.',
    ]);
    expect(g.mayStrike).toBe(false);
  });

  test.each([
    ['Plate', 'the plate'],
    ['Pass B', 'pass B'],
    ['Out side', 'the out side'],
    ['Start pass', 'the start pass'],
    ['Empty frame', 'the empty frame'],
    ['Performer reacts', '“Performer reacts”'],
    ['Fall or jump', '“Fall or jump”'],
  ])('a part called %s is "%s" inside a sentence', (name, inside) => {
    expect(judgeGate([part(name)], []).headline).toBe(`Not yet. Roll ${inside}.`);
  });
});

describe('the take that a part stands on', () => {
  const numbered = (verdict: VerdictWord | null, number: number, more: Partial<GateTake> = {}) =>
    take(verdict, { number, ...more });
  test.each<[string, GateTake[], number | null]>([
    ['none of none', [], null],
    ['the circled one, whatever it is', [numbered('holds', 1), numbered('reshoot', 2, { circled: true })], 2],
    ['else the best', [numbered('workable', 1), numbered('holds', 2), numbered('reshoot', 3)], 2],
    ['of equals the later', [numbered('holds', 1), numbered('holds', 2), numbered('unjudged', 3)], 2],
    ['what is judged before what is not', [numbered('reshoot', 1), numbered(null, 2)], 1],
    ['what is being measured before what failed', [numbered(null, 1), numbered(null, 2, { state: 'failed' })], 1],
  ])('%s', (_, takes, number) => {
    expect(standingTake(takes)?.number ?? null).toBe(number);
  });
});
