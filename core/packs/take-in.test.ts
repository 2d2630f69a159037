import fc from 'fast-check';
import { NO_NOTES } from '../plan/types';
import { NO_WISHES } from '../tricks/types';
import { findTrick } from '../tricks/library/library';
import { faultsOfShoot, keyOf, LISTS, type AnyFiled, type ListName, type ShootFile } from './shoot-file';
import { planTakeIn, type ShootHere } from './take-in';

const sha = (n: number) => String(n).repeat(64).slice(0, 64);
const setup = (n: number) => {
  return {
    id: `s${n}`,
    number: n,
    name: `Place ${n}`,
    notes: '',
    scene: 'kiosk',
    place: '',
    camera: NO_NOTES,
    position: n,
    archived: false,
  };
};
const part = (n: number, of: number) => {
  return {
    id: `p${n}`,
    setup_id: `s${of}`,
    position: n,
    name: `Part ${n}`,
    what: '',
    optional: false,
    seconds: 5,
    purpose: null,
  };
};
const take = (n: number, of: number, number: number, circled = false): ShootFile['takes'][number] => {
  return {
    id: `t${n}`,
    part_id: `p${of}`,
    number,
    name: `${n}.mp4`,
    source: 'file',
    circled,
    rolled_at: '2027-10-05T18:30:00Z',
    meter: null,
    made_of: null,
    sha256: sha(n),
    bytes: 10 * n,
    path: `recordings/${n}.mp4`,
  };
};
const FILE: ShootFile = {
  format: 'umbrastat-shoot',
  version: 1,
  shoot: {
    id: 'shoot',
    name: 'Night Ferry',
    place: '',
    delivery_width: 1920,
    delivery_height: 1080,
    delivery_fps: 25,
    latitude: null,
    longitude: null,
    time_zone: 'UTC',
    days: [],
    demo: true,
  },
  setups: [setup(1), setup(2)],
  parts: [part(1, 1), part(2, 1), part(3, 2)],
  tricks: [
    {
      id: 'k1',
      setup_id: 's1',
      position: 1,
      trick: findTrick('slip-behind')!,
      wishes: NO_WISHES,
      parts: { plate: 'p1', pass: 'p2' },
    },
  ],
  takes: [take(1, 1, 1, true), take(2, 2, 1, true), take(3, 3, 1)],
  marks: [{ id: 'm1', take_id: 't2', frame: 3, name: 'Hit', kind: 'own', found: null }],
  measures: [
    {
      id: 'a1',
      measure: 'hide',
      take_id: 't2',
      against_id: null,
      wish: { at: 4 },
      slot: '',
      plate_id: 't1',
      asked_at: '2027-10-05T18:30:00Z',
    },
  ],
  looks: [{ trick_id: 'k1', requirement: 'locked', by: 'Ada', at: '2027-10-05T18:30:00Z' }],
  ticks: [{ setup_id: 's2', line: 'roll', done: true, by: 'Ada', at: '2027-10-05T18:30:00Z' }],
  sums: [{ id: 'x1', trick_id: 'k1', kind: 'retime', inputs: { speed: 40 } }],
  sensors: [{ key: 'own', name: 'Own', width_mm: 20, height_mm: 12 }],
};
const here = (file: ShootFile | null, more: Partial<ShootHere> = {}): ShootHere => {
  return { file, deleted: new Set(), recordings: new Set(file?.takes.map((t) => t.sha256)), demo: false, ...more };
};
const texts = (h: ShootHere, differing: 'keep' | 'take' = 'keep', file = FILE) =>
  planTakeIn(file, h, differing).changes.map((c) => c.text);

test('where nothing of it is, all of it comes, a line for each setup', () => {
  const plan = planTakeIn(FILE, here(null), 'keep');
  expect(plan.changes.map((c) => c.text)).toEqual([
    'the shoot “Night Ferry”',
    'setup 1, “Place 1”: new, with 2 parts, 1 trick, 2 takes, 1 mark, 1 measurement, 1 look by eye, 1 kept sum',
    'setup 2, “Place 2”: new, with 1 part, 1 take, 1 tick on a sheet',
    'all setups: new here: 1 sensor',
  ]);
  expect(plan.recordings.map((r) => r.bytes)).toEqual([10, 20, 30]);
  expect(plan.shoot!.demo).toBe(true);
  // There is one demo.
  expect(planTakeIn(FILE, here(null, { demo: true }), 'keep').shoot!.demo).toBe(false);
});

test('where all of it is, nothing happens: numbers given here, and where recordings lie, make no difference', () => {
  const own = { ...FILE, takes: FILE.takes.map((t) => ({ ...t, number: t.number + 4, path: null })) };
  const plan = planTakeIn(FILE, here(own), 'take');
  expect([plan.changes, plan.shoot, plan.recordings]).toEqual([[], null, []]);
  for (const list of LISTS) expect(plan.write[list]).toEqual([]);
});

test('a take without its recording is left out with all that is about it; one that is here needs none', () => {
  const file = { ...FILE, takes: FILE.takes.map((t) => ({ ...t, path: null })) };
  const plan = planTakeIn(file, here(null, { recordings: new Set([sha(1)]) }), 'keep');
  expect(plan.changes.filter((c) => c.kind === 'left-out').map((c) => c.text)).toEqual([
    'setup 1, “Place 1”: Part 2, take 1 is left out: its recording is neither in the file nor here',
    'setup 2, “Place 2”: Part 3, take 1 is left out: its recording is neither in the file nor here',
  ]);
  expect([plan.write.takes.map((t) => t.id), plan.write.marks, plan.write.measures]).toEqual([['t1'], [], []]);
});

test('what differs is named with both words, and stays or changes as was said', () => {
  const own = {
    ...FILE,
    setups: [{ ...setup(1), name: 'Quay' }, setup(2)],
    shoot: { ...FILE.shoot, place: 'Harbour' },
  };
  expect(texts(here(own))).toEqual([
    'the shoot “Night Ferry”: other place (“Harbour” here, none in the file); stays as it is',
    'setup 1, “Place 1”: other name (“Quay” here, “Place 1” in the file); stays as it is',
  ]);
  const taken = planTakeIn(FILE, here(own), 'take');
  expect([taken.shoot!.place, taken.write.setups]).toEqual(['', [setup(1)]]);
  expect(texts(here(FILE, { deleted: new Set(['m1']) }))).toEqual([
    'setup 1, “Place 1”: Part 2, take 1, mark “Hit”: was deleted here; stays as it is',
  ]);
  const other = { ...FILE, takes: [{ ...take(1, 1, 1, true), sha256: sha(9) }, ...FILE.takes.slice(1)] };
  expect(texts(here(other), 'take')).toEqual([expect.stringMatching(/another recording is here/)]);
});

test('numbers are never given twice, and only one take of a part is circled', () => {
  const own: ShootFile = {
    ...FILE,
    setups: [setup(1)],
    parts: FILE.parts.slice(0, 2),
    takes: [take(7, 2, 1, true)],
    marks: [],
    measures: [],
    ticks: [],
  };
  const plan = planTakeIn({ ...FILE, setups: [setup(1), { ...setup(2), number: 1 }] }, here(own), 'keep');
  expect(plan.write.setups.map((s) => s.number)).toEqual([2]);
  expect(plan.write.takes.map((t) => [t.id, t.number, t.circled])).toEqual([
    ['t1', 1, true],
    ['t2', 2, false],
    ['t3', 1, false],
  ]);
});

test('whatever is here already, taken in twice the second time nothing comes or changes', () => {
  const changed = (file: ShootFile, gone: readonly string[], renamed: readonly string[]): ShootFile => {
    const isGone = (r: AnyFiled): boolean =>
      gone.some((id) => Object.values(r).includes(id)) ||
      ('setup_id' in r && gone.includes(r.setup_id)) ||
      ('take_id' in r && gone.includes(file.takes.find((t) => t.id === r.take_id)!.part_id));
    const lists = LISTS.map((list) => {
      const kept = (file[list] as AnyFiled[]).filter((r) => !isGone(r));
      return [
        list,
        kept.map((r) => ('name' in r && 'id' in r && renamed.includes(r.id) ? { ...r, name: 'Other' } : r)),
      ];
    });
    return { ...file, ...(Object.fromEntries(lists) as Pick<ShootFile, ListName>) };
  };
  const ids = fc.subarray(['s2', 't1', 't2', 't3', 'k1', 'm1', 'p1', 'x1', 'own']);
  fc.assert(
    fc.property(ids, ids, fc.constantFrom('keep', 'take'), (gone, renamed, differing) => {
      const own = changed(FILE, gone.includes('p1') ? [...gone, 't1', 'k1'] : gone, renamed);
      const plan = planTakeIn(FILE, here(own, { recordings: new Set() }), differing);
      const after = { ...own, shoot: plan.shoot ?? own.shoot };
      for (const list of LISTS) {
        const written = plan.write[list] as AnyFiled[];
        const keys = new Set(written.map((r) => keyOf(list, r)));
        (after[list] as AnyFiled[]) = [
          ...(own[list] as AnyFiled[]).filter((r) => !keys.has(keyOf(list, r))),
          ...written,
        ];
      }
      expect(faultsOfShoot(after)).toEqual([]);
      const again = planTakeIn(FILE, here(after), differing);
      expect(again.changes.filter((c) => c.kind !== 'differs' || differing === 'take')).toEqual([]);
      expect(again.changes.filter((c) => c.kind === 'differs')).toEqual(
        differing === 'take' ? [] : plan.changes.filter((c) => c.kind === 'differs'),
      );
    }),
  );
});

test('what refers to nothing, or stands there twice, is a fault with its place', () => {
  const wrong = { ...FILE, marks: [...FILE.marks, { ...FILE.marks[0], take_id: 'nowhere' }] };
  expect(faultsOfShoot(wrong)).toEqual([
    { at: ['marks', 1], text: 'It stands in this file twice.' },
    { at: ['marks', 1, 'take_id'], text: 'It belongs to a take that is not in this file.' },
  ]);
  const foreign = { ...FILE, tricks: [{ ...FILE.tricks[0], parts: { plate: 'p3' } }] };
  expect(faultsOfShoot(foreign)).toEqual([
    { at: ['tricks', 0, 'parts', 'plate'], text: expect.stringMatching(/not of its setup/) },
  ]);
});
