import type { Part } from '../../api/plan';
import { MEASURES } from '../../core/measures';
import { coverSummary } from '../../core/testing/cover-summary';
import { soundTake } from '../../core/testing/take-facts';
import { findTrick } from '../../core/tricks/library/library';
import { NO_WISHES } from '../../core/tricks/types';
import { hideFound } from '../../core/testing/hide-found';
import { judgeSetup, standingOf, type SetupRows } from './judge-setup';
import type { TakeRecord } from './takes';

const ALL = Object.values(MEASURES);
const DELIVERY = { width: 1280, height: 720, fps: 25 };

const part = (id: string, more: Partial<Part> = {}): Part => ({
  id,
  version: 1,
  setup_id: 's',
  name: id,
  what: '',
  seconds: 6,
  optional: false,
  position: 1,
  purpose: null,
  deleted: false,
  ...more,
});

const facts = (change: Parameters<typeof soundTake>[0] = {}) => soundTake(change).facts;
const HUNT = facts({ focus: { worst_loss_pct: 82, worst_frame: 80, hunts: [{ start: 72, end: 93 }] } });

const record = (id: string, partId: string, more: Partial<TakeRecord> = {}): TakeRecord => ({
  id,
  part_id: partId,
  number: 1,
  marks: [],
  name: `${id}.mp4`,
  source: 'file',
  circled: false,
  rolled_at: '2026-11-20T08:00:00Z',
  file_hash: id,
  meter: null,
  measure_id: `m-${id}`,
  job_id: null,
  finished: 1,
  facts: SOUND,
  delivery: DELIVERY,
  state: 'done',
  failure: null,
  frames_done: 0,
  frames_total: 0,
  doing: '',
  ...more,
});
const SOUND = facts();

const double = findTrick('double')!;
const trick = {
  id: 'k',
  version: 1,
  setup_id: 's',
  position: 1,
  deleted: false,
  trick: double,
  wishes: NO_WISHES,
  parts: Object.fromEntries(double.parts.map((p) => [p.key, p.key])),
};
const PARTS = double.parts.map((p) => part(p.key));
const [first, second] = ['pass-a', 'pass-b'];

let setups = 0;
/** Rows of a setup of its own, so that tests do not find what others left. */
const rows = (more: Partial<SetupRows> = {}): SetupRows => ({
  id: `setup-${(setups += 1)}`,
  records: [record('a', first), record('b', second)],
  parts: PARTS,
  planned: [trick],
  eyes: [],
  rolling: [],
  outcomes: [],
  ...more,
});
const wordOf = (judged: ReturnType<typeof judgeSetup>, take: string) =>
  judged.parts.flatMap((p) => p.takes).find((t) => t.record.id === take)!.judged?.verdict;

test('rows that say the same are not judged again, whoever read them', () => {
  const before = rows();
  const again = { ...before, records: before.records.map((r) => ({ ...r })), planned: [{ ...trick }] };
  expect(judgeSetup(ALL, again)).toBe(judgeSetup(ALL, before));
});

test('setups are kept apart though their rows are alike', () => {
  const one = rows(),
    other = { ...one, id: 'another' };
  expect(judgeSetup(ALL, one)).not.toBe(judgeSetup(ALL, other));
  expect(judgeSetup(ALL, other).id).toBe('another');
});

test('other measures judge anew', () => {
  const same = rows();
  expect(judgeSetup([...ALL], same)).not.toBe(judgeSetup(ALL, same));
});

test.each<[string, (r: SetupRows) => Partial<SetupRows>]>([
  ['a take is circled', (r) => ({ records: [{ ...r.records[0], circled: true }, r.records[1]] })],
  ['a take was measured again', (r) => ({ records: [{ ...r.records[0], facts: HUNT }, r.records[1]] })],
  ['a take is new', (r) => ({ records: [...r.records, record('c', second, { number: 2 })] })],
  ['a take went', (r) => ({ records: [r.records[0]] })],
  ['measuring went on', (r) => ({ records: [{ ...r.records[0], frames_done: 40 }, r.records[1]] })],
  [
    'the edit is finished larger',
    (r) => ({ records: r.records.map((t) => ({ ...t, delivery: { ...DELIVERY, width: 3840, height: 2160 } })) }),
  ],
  ['a part was removed', () => ({ parts: [PARTS[0], { ...PARTS[1], deleted: true }] })],
  ['a part got another name', () => ({ parts: [PARTS[0], { ...PARTS[1], name: 'Ferryman' }] })],
  ['the trick went', () => ({ planned: [] })],
  ['the trick has other wishes', () => ({ planned: [{ ...trick, wishes: { ...NO_WISHES, speed_pct: 50 } }] })],
  [
    'somebody looked',
    () => ({
      eyes: [
        { planned_id: 'k', requirement_key: double.requirements[0].key, checked_by: 'Ida', checked_at: '2026-11-20' },
      ],
    }),
  ],
  [
    'two takes were held against each other',
    () => ({ outcomes: [{ measure: 'compare', takes: ['a', 'b'], state: 'working', failure: null, result: null }] }),
  ],
])('judged anew when %s', (_, change) => {
  const before = rows();
  const found = judgeSetup(ALL, before);
  const after = { ...before, ...change(before) };
  expect(judgeSetup(ALL, after)).not.toBe(found);
  // And what is found is what somebody finds who never saw the setup before.
  const plain = (s: typeof found) => JSON.stringify({ ...s, id: null });
  expect(plain(judgeSetup(ALL, after))).toBe(plain(judgeSetup(ALL, { ...after, id: `${before.id}-new` })));
});

test('a result in place of another counts, though its row reads the same', () => {
  const out = part('out', { purpose: 'out' });
  const covered = (more = {}) => ({
    measure: 'cover',
    takes: ['o'],
    state: 'done' as const,
    failure: null,
    result: coverSummary(more),
  });
  const base = rows({ records: [record('o', 'out')], parts: [out], planned: [], outcomes: [covered()] });
  const before = judgeSetup(ALL, base),
    after = judgeSetup(ALL, { ...base, outcomes: [covered()] });
  expect(after).not.toBe(before);
  expect(wordOf(after, 'o')).toBe(wordOf(before, 'o'));
});

test('a fault that a new measuring finds is said of the take, and the other take of the part stands', () => {
  const before = rows({ records: [record('a', first), record('c', first, { number: 2 })] });
  const pass = (s: typeof before) => judgeSetup(ALL, s).parts.find((p) => p.part.id === first)!;
  expect(pass(before).stands?.record.id).toBe('c');
  const hunted = { ...before, records: [before.records[0], { ...before.records[1], facts: HUNT, circled: false }] };
  const found = judgeSetup(ALL, hunted);
  expect([wordOf(found, 'a'), wordOf(found, 'c')]).toEqual(['holds', 'reshoot']);
  expect(standingOf(pass(hunted).takes)?.record.id).toBe(pass(hunted).stands?.record.id);
  expect(pass(hunted).stands?.record.id).toBe('a');
});

test('a take that is not measured has no verdict, and nothing stands where nothing was rolled', () => {
  const waiting = record('a', first, { facts: null, state: 'waiting', finished: 0 });
  const { parts } = judgeSetup(ALL, rows({ records: [waiting] }));
  const [plate, pass] = parts;
  expect(pass.takes[0].judged).toBeNull();
  expect(pass.standing).toBeNull();
  expect(plate.stands).toBeNull();
  expect(plate.takes).toEqual([]);
});

test('what is measured of takes is given only where all of them are asked for', () => {
  const pair = { measure: 'compare', takes: ['a', 'b'], state: 'failed' as const, failure: 'no', result: null };
  const { outcomesOf } = judgeSetup(ALL, rows({ outcomes: [pair] }));
  expect(outcomesOf(new Set(['a', 'b']))).toEqual([pair]);
  expect(outcomesOf(new Set(['a']))).toEqual([]);
  expect(outcomesOf(new Set(['b']))).toEqual([]);
});

const slip = findTrick('slip-behind')!;
const slipped = { ...trick, trick: slip, parts: Object.fromEntries(slip.parts.map((p) => [p.key, p.key])) };
const [plateKey, passKey] = ['plate', 'pass'].map((role) => slip.parts.find((p) => p.role === role)!.key);
/** A pass in which somebody is never hidden, as it was told by an empty frame. */
const shown = (plate: string | null) => ({
  measure: 'hide',
  takes: ['a'],
  plate,
  state: 'done' as const,
  failure: null,
  result: hideFound({ hidden_runs: [], least_shown: { frame: 60, share: 0.4 } }),
});
const slipRows = (more: Partial<SetupRows>) =>
  rows({ parts: slip.parts.map((p) => part(p.key)), planned: [slipped], ...more });
const ofPass = (r: SetupRows) => {
  const judged = judgeSetup(ALL, r);
  const found = judged.parts.flatMap((p) => p.takes).find((t) => t.record.id === 'a')!.judged!;
  return [found.verdict, found.pending, judged.outcomesOf(new Set(['a']))[0].state];
};
const pass = record('a', passKey);
const plate = record('p', plateKey);

test('a red that rests on another empty frame than the setup has, or is about to have, is not said', () => {
  // Nothing else is to come: it is said.
  expect(ofPass(slipRows({ records: [pass], outcomes: [shown(null)] }))).toEqual(['reshoot', false, 'done']);
  // The plate is being rolled, then measured, then it is there, and the measure by it is still to come.
  const coming = record('p', plateKey, { facts: null, state: 'working' });
  for (const more of [
    { records: [pass], rolling: [plateKey] },
    { records: [pass, coming] },
    { records: [pass, { ...coming, state: 'waiting' as const }] },
    { records: [pass, plate] },
  ])
    expect(ofPass(slipRows({ ...more, outcomes: [shown(null)] }))).toEqual(['unjudged', true, 'waiting']);
  expect(ofPass(slipRows({ records: [pass, plate], outcomes: [shown('p')] }))).toEqual(['reshoot', false, 'done']);
  // Another take of another part changes nothing.
  const other = slipRows({ records: [pass, plate], rolling: [passKey], outcomes: [shown('p')] });
  expect(ofPass(other)).toEqual(['reshoot', false, 'done']);
  // The plate it was told by went.
  expect(ofPass(slipRows({ records: [pass], outcomes: [shown('p')] }))).toEqual(['unjudged', true, 'waiting']);
});
