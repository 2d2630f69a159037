import type { Pool } from 'pg';
import { newSetup, newShoot } from '../../api/schemas';
import { findTrick } from '../../core/tricks/library/library';
import { NO_WISHES, type Trick } from '../../core/tricks/types';
import { inTransaction, openPool } from '../platform/database';
import { checked } from '../platform/http';
import { freshDatabase, migrateDatabase } from '../testing/running-server';
import { PlanDraft } from './draft';
import { listPlanned, listSums } from './plans';
import { insertShoot, listParts, listSetups } from './shoots';

let pool: Pool;
let shootId: string;

beforeAll(async () => {
  const database = await freshDatabase();
  migrateDatabase(database);
  pool = openPool(database);
});
beforeEach(async () => {
  shootId = (await insertShoot(pool, { ...checked(newShoot, { name: 'Night Ferry' }), demo: false })).id;
});
afterAll(() => pool?.end());

const setupFields = checked(newSetup, { name: 'Kiosk' });
const double = () => structuredClone(findTrick('double')!);
const other = () => structuredClone(findTrick('slip-behind')!);

/** Changes the plan in one transaction and writes it down. */
const change = <T>(work: (draft: PlanDraft) => T | Promise<T>): Promise<T> =>
  inTransaction(pool, async (db) => {
    const draft = await PlanDraft.open(db, shootId);
    const given = await work(draft);
    await draft.save();
    return given;
  });
/** The plan as it is written down. */
async function written() {
  const setups = await listSetups(pool, shootId, true);
  const ids = setups.map((s) => s.id);
  const [parts, planned] = [await listParts(pool, ids), await listPlanned(pool, ids)];
  return { setups, parts, planned, names: parts.map((p) => p.name) };
}
const put = (trick: Trick) =>
  change((draft) => {
    const setup = draft.setupNumbered(1) ?? draft.addSetup(setupFields);
    return draft.putTrick(setup.id, trick, { ...NO_WISHES });
  });

test('a setup, a trick and its parts are written down as they were drafted', async () => {
  const planned = await put(double());
  const now = await written();
  expect(now.setups).toMatchObject([{ number: 1, name: 'Kiosk' }]);
  expect(now.names).toEqual(['Plate', 'Pass A', 'Pass B']);
  expect(now.planned).toMatchObject([{ id: planned.id, parts: planned.parts, trick: { key: 'double' } }]);
  expect(Object.values(planned.parts).sort()).toEqual(now.parts.map((p) => p.id).sort());
});

test('nothing that was drafted and not saved is there', async () => {
  await inTransaction(pool, async (db) => {
    const draft = await PlanDraft.open(db, shootId);
    draft.addSetup(setupFields);
  });
  expect((await written()).setups).toEqual([]);
});

test('numbers go on after the highest, deleted setups counted', async () => {
  await change((d) => [d.addSetup(setupFields), d.addSetup(setupFields), d.addSetup(setupFields, 9)]);
  const { setups } = await written();
  expect(setups.map((s) => s.number).sort()).toEqual([1, 2, 9]);
  const last = setups.find((s) => s.number === 9)!;
  await pool.query('UPDATE setups SET deleted_at = now() WHERE id = $1', [last.id]);
  expect((await change((d) => d.addSetup(setupFields))).number).toBe(10);
  expect(await change((d) => d.setupNumbered(9))).toBeUndefined();
});

test('two at once do not give out one number', async () => {
  const made = await Promise.all(Array.from({ length: 5 }, () => change((d) => d.addSetup(setupFields))));
  expect(made.map((s) => s.number).sort()).toEqual([1, 2, 3, 4, 5]);
});

test('two locked tricks share one empty frame, their passes stay apart', async () => {
  const first = await put(double());
  const second = await put({ ...double(), name: 'Twins' });
  expect(second.parts.plate).toBe(first.parts.plate);
  expect(second.parts['pass-a']).not.toBe(first.parts['pass-a']);
  expect((await written()).names).toEqual(['Plate', 'Pass A', 'Pass B', 'Pass A (Twins)', 'Pass B (Twins)']);
});

test('a name that is taken twice gets a number', async () => {
  await put(double());
  await put({ ...double(), name: 'Twins' });
  await put({ ...double(), name: 'Twins' });
  const { names } = await written();
  expect(names).toContain('Pass A (Twins) 2');
  expect(new Set(names.map((n) => n.toLowerCase())).size).toBe(names.length);
});

test('a part of that name that no trick rests on yet is taken', async () => {
  const part = await change((d) => {
    const setup = d.addSetup(setupFields);
    return d.addPart(setup.id, { name: 'pass a', what: 'Mine', optional: false, seconds: 8 });
  });
  expect((await put(double())).parts['pass-a']).toBe(part.id);
});

describe('a trick that is changed', () => {
  const changed = (trick: Trick) =>
    change((d) => {
      const [planned] = d.tricksOf(d.setupNumbered(1)!.id);
      d.changeTrick(planned, trick, { ...NO_WISHES, speed_pct: 50 });
      return planned;
    });

  test('gives its parts its names, and keeps its wishes', async () => {
    await put(double());
    const trick = double();
    trick.parts[1].name = 'The first one';
    trick.parts[1].seconds = 33;
    await changed(trick);
    const now = await written();
    expect(now.parts.find((p) => p.name === 'The first one')).toMatchObject({ seconds: 33 });
    expect(now.planned[0].wishes.speed_pct).toBe(50);
  });

  test('a part it no longer has goes, one it has now comes', async () => {
    await put(double());
    const trick = double();
    trick.parts = [...trick.parts.slice(0, 2), { ...trick.parts[2], key: 'pass-c', name: 'Pass C' }];
    trick.requirements = [];
    const planned = await changed(trick);
    expect((await written()).names.sort()).toEqual(['Pass A', 'Pass C', 'Plate']);
    expect(Object.keys(planned.parts).sort()).toEqual(['pass-a', 'pass-c', 'plate']);
  });

  test('what it shares with another trick is left as that one needs it', async () => {
    await put(double());
    await put({ ...double(), name: 'Twins' });
    const trick = double();
    trick.parts[0].name = 'Nothing at all';
    trick.parts[0].seconds = 99;
    await changed(trick);
    const plate = (await written()).parts.find((p) => p.name === 'Plate')!;
    expect(plate.seconds).not.toBe(99);
  });

  test('a shared part it gives up stays for the other', async () => {
    await put(double());
    await put({ ...double(), name: 'Twins' });
    const trick = double();
    trick.parts = trick.parts.slice(1);
    trick.requirements = [];
    await changed(trick);
    expect((await written()).names).toContain('Plate');
  });
});

describe('copies', () => {
  test('of a setup have parts and sums of their own, shared as they were', async () => {
    const first = await put(double());
    await put({ ...other(), name: 'Second' });
    await change((d) => d.addSum(first.id, 'headroom', { capture_width: 4096 }));
    await change(async (d) => d.copySetups([d.setupNumbered(1)!], (s) => `${s.name}, copy`));
    const now = await written();
    const [own, copy] = [1, 2].map((n) => now.setups.find((s) => s.number === n)!);
    expect(copy.name).toBe('Kiosk, copy');
    const of = (id: string) => ({
      parts: now.parts.filter((p) => p.setup_id === id),
      tricks: now.planned.filter((p) => p.setup_id === id),
    });
    expect(of(copy.id).parts.map((p) => p.name)).toEqual(of(own.id).parts.map((p) => p.name));
    const ids = new Set(of(own.id).parts.map((p) => p.id));
    for (const trick of of(copy.id).tricks)
      for (const id of Object.values(trick.parts)) {
        expect(ids.has(id)).toBe(false);
        expect(of(copy.id).parts.some((p) => p.id === id)).toBe(true);
      }
    const sums = await listSums(
      pool,
      of(copy.id).tricks.map((t) => t.id),
    );
    expect(sums).toMatchObject([{ kind: 'headroom', inputs: { capture_width: 4096 } }]);
  });

  test('of a trick take its sums along, and a name of their own', async () => {
    const first = await put(double());
    await change((d) => d.addSum(first.id, 'headroom', {}));
    const copy = await change((d) => d.copyTrick(first, d.setupNumbered(1)!.id, 'Double again'));
    expect(copy.trick.name).toBe('Double again');
    expect(copy.parts.plate).toBe(first.parts.plate);
    expect(await listSums(pool, [copy.id])).toHaveLength(1);
  });
});

test('what goes wrong half way leaves the plan as it was', async () => {
  await put(double());
  const before = await written();
  const broken = change((d) => {
    d.addSetup(setupFields);
    d.addPart('00000000-0000-0000-0000-000000000000', { name: 'Lost', what: '', optional: false, seconds: 5 });
  });
  await expect(broken).rejects.toThrow();
  expect(await written()).toEqual(before);
});
