import { readFileSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gunzipSync } from 'node:zlib';
import type { Pool } from 'pg';
import pino from 'pino';
import { putTogether } from '../../core/measures/apart';
import { ALL_MEASURES } from '../../core/measures';
import type { TakeReport } from '../../core/report/types';
import { readBench } from '../plates/plate-bench';
import { findSetup, findShoot } from '../plan/shoots';
import { readBoards } from '../plan/boards';
import { findJudged, findReport, findSent } from '../takes/judged';
import { freshDatabase, migrateDatabase } from '../testing/running-server';
import { readWipeBench } from '../wipes/wipe-bench';
import { askAgainForOld } from '../work/asking';
import { WorkQueue } from '../work/queue';
import { openPool } from './database';
import type { House } from './house';
import { SharedAnswers } from './shared-answers';
import { Storage } from './storage';

/** A database as it was before measures were kept in one place: made by the app of that day, with work in every state. */
const BEFORE = join(__dirname, '..', 'testing', 'fixtures', 'before-measures.sql.gz');
const MIGRATIONS_BEFORE = 5;
const data = mkdtempSync(join(tmpdir(), 'umbrastat-migration-'));

interface OldRow {
  id: string;
  a: string;
  b: string | null;
  state: string;
  failure: string | null;
  result: Record<string, unknown> | null;
  wish?: object;
}
const OLD: Record<string, string> = {
  take: 'SELECT take_id AS a, NULL AS b, state, failure, report AS result FROM measurements',
  compare: 'SELECT take_id AS a, against_id AS b, state, failure, gap AS result FROM comparisons',
  cover: "SELECT take_id AS a, NULL AS b, state, failure, result, jsonb_build_object('hand', hand) AS wish FROM covers",
  cut: 'SELECT out_id AS a, in_id AS b, state, failure, result FROM cuts',
  plate: `SELECT id, take_id AS a, against_id AS b, state, failure, CASE WHEN state = 'made' THEN jsonb_build_object(
      'source', source, 'comparison', comparison, 'width', width, 'height', height, 'bit_depth', bit_depth) END AS result
    FROM plates`,
  proof: 'SELECT id, out_id AS a, in_id AS b, state, failure, result, wish FROM proofs',
};

/** What was stored, less the verdicts, which are worked out now. */
function withoutVerdicts(value: unknown): unknown {
  if (Array.isArray(value) || typeof value !== 'object' || value === null) return value;
  const own = Object.entries(value).filter(([key]) => !['verdict', 'reasons', 'deciding'].includes(key));
  return Object.fromEntries(own.map(([key, held]) => [key, withoutVerdicts(held)]));
}

let pool: Pool;
let house: House;
const old: Record<string, OldRow[]> = {};
let rolls: { id: string; take_id: string | null }[];
let keptAs: { id: string; kept_as: string | null }[];

beforeAll(async () => {
  const database = await freshDatabase(true);
  migrateDatabase(database, MIGRATIONS_BEFORE);
  pool = openPool(database);
  await pool.query(gunzipSync(readFileSync(BEFORE)).toString('utf8'));
  for (const [key, text] of Object.entries(OLD)) old[key] = (await pool.query<OldRow>(text)).rows;
  rolls = (await pool.query<(typeof rolls)[number]>('SELECT id, take_id FROM rolls ORDER BY id')).rows;
  keptAs = (await pool.query<(typeof keptAs)[number]>('SELECT id, kept_as FROM plates ORDER BY id')).rows;
  migrateDatabase(database);
  const queue = await WorkQueue.open(database, 'test');
  const log = pino({ level: 'silent' });
  house = { pool, queue, storage: new Storage(data), log, measures: ALL_MEASURES, answers: new SharedAnswers() };
});
afterAll(async () => {
  await house?.queue.close();
  await pool?.end();
  rmSync(data, { recursive: true, force: true });
});

test('the old database had work of every kind, done, failed and under way', () => {
  for (const key of Object.keys(OLD)) expect(old[key].length).toBeGreaterThan(0);
  const states = new Set(Object.values(old).flatMap((rows) => rows.map((r) => r.state)));
  for (const state of ['measured', 'measuring', 'compared', 'made', 'done', 'waiting', 'working', 'failed'])
    expect([...states]).toContain(state);
});

test.each(Object.keys(OLD))('every %s is kept, with what was found, its wish and its failure', async (key) => {
  const { rows } = await pool.query<OldRow & { detail: object | null; finished: number }>(
    `SELECT m.id, m.take_id AS a, m.against_id AS b, m.failure, m.result, m.wish, m.finished, d.detail
     FROM measures m LEFT JOIN measure_details d ON d.measure_id = m.id WHERE m.measure = $1`,
    [key],
  );
  expect(rows).toHaveLength(old[key].length);
  for (const before of old[key]) {
    const now = rows.find((r) => r.a === before.a && r.b === before.b && (!before.id || r.id === before.id))!;
    expect(now.failure).toBe(before.failure);
    if (before.wish) expect(now.wish).toEqual(before.wish);
    if (!before.result) {
      expect(now.result).toBeNull();
      continue;
    }
    const { media, lock, light, focus, presence, grain_levels } = before.result;
    const found = { media, lock, light, focus, presence, grain_levels };
    expect(putTogether(now.result!, now.detail)).toEqual(withoutVerdicts(key === 'take' ? found : before.result));
    // Paths lie apart from what lists read.
    expect(JSON.stringify(now.result).length).toBeLessThan(6000);
    expect(now.finished).toBeGreaterThanOrEqual(1);
  }
});

test('a migrated take is read as it was measured, judged for what it is for; a failed one still says why', async () => {
  for (const { a, state, result, failure } of old.take) {
    const take = (await findSent(house, pool, a))!;
    if (state === 'failed') expect(take).toMatchObject({ state: 'failed', failure });
    if (state === 'measuring') expect(take).toMatchObject({ state: 'waiting', failure: null });
    if (state !== 'measured') continue;
    const report = (await findReport(pool, (await findJudged(house, pool, a))!))!;
    const was = result as unknown as TakeReport;
    for (const key of ['lock', 'light', 'focus', 'presence', 'media'] as const)
      expect(report[key]).toMatchObject(withoutVerdicts(was[key]) as object);
    expect(take).toMatchObject({ state: 'done', verdict: report.take.verdict, frame_count: was.media.frame_count });
    expect(take.judged_for).toMatch(/ of |^a /);
  }
});

test('boards and benches read a migrated shoot whole', async () => {
  const [done] = old.proof.filter((p) => p.state === 'done');
  const { rows } = await pool.query<{ id: string; shoot_id: string; name: string }>(
    'SELECT id, shoot_id, name FROM setups',
  );
  const shoot = (await findShoot(pool, rows[0].shoot_id))!;
  const setups = await Promise.all(rows.map(async (r) => (await findSetup(pool, r.id))!));
  const boards = await readBoards(house, shoot, setups);
  // What is pending waits for a measure that came later.
  for (const board of boards)
    for (const { requirements } of board.gate.tricks)
      expect(requirements.flatMap((r) => (r.pending && r.kind !== 'hidden-at' ? [r] : []))).toEqual([]);
  const wipes = await readWipeBench(
    house,
    setups.find((s) => s.name === 'Trolley')!,
    { out: done.a, in: done.b },
  );
  expect(wipes).toMatchObject({ outId: done.a, inId: done.b, cover: { state: 'done' }, cut: { state: 'done' } });
  expect(wipes.cover!.result!.edges.lead.length).toBe(3);
  expect(wipes.proofs.map((p) => p.id)).toEqual([done.id]);
  const plates = (
    await readBench(
      house,
      setups.find((s) => s.name === 'Pillar')!,
      null,
    )
  ).plates;
  const kept = keptAs.find((p) => p.kept_as)!;
  expect(plates.map((p) => [p.id, p.kept_as])).toEqual([[kept.id, kept.kept_as]]);
});

test('what was under way is asked for again, rolls too; what failed or is done is not', async () => {
  await askAgainForOld(house, []);
  const { rows } = await pool.query<{ measure: string; n: number }>(
    `SELECT m.measure, count(*)::int AS n FROM measures m JOIN pgboss.job j ON j.id = m.job_id WHERE j.state = 'created'
     GROUP BY 1 ORDER BY 1`,
  );
  // What an older version of the measure found is asked for again too.
  const of = (key: string) => ALL_MEASURES.find((m) => m.key === key)!;
  const isOld = (key: string) => of(key).version > 1;
  // What rests on something that is still open waits for it.
  const waits = (key: string, { a, b }: OldRow) =>
    ['take', ...of(key).needs, ...of(key).uses].some(
      (on) => on !== key && old[on]?.some((o) => [a, b].includes(o.a) && !o.b && !o.result && !o.failure),
    );
  const open = (key: string) =>
    old[key].filter((r) => !r.failure && (!r.result || isOld(key)) && !waits(key, r)).length;
  expect(old.cut.some((r) => waits('cut', r))).toBe(true);
  const wanted = Object.keys(OLD)
    .filter((key) => open(key) > 0)
    .sort()
    .map((measure) => ({ measure, n: open(measure) }));
  expect(rows).toEqual(wanted);
  const camera = await pool.query<{ id: string }>('SELECT r.id FROM rolls r JOIN pgboss.job j ON j.id = r.job_id');
  expect(camera.rows.map((r) => r.id)).toEqual(rolls.filter((r) => !r.take_id).map((r) => r.id));
  // Asking twice makes no second job.
  await askAgainForOld(house, []);
  const again = await pool.query("SELECT 1 FROM pgboss.job WHERE state = 'created'");
  expect(again.rowCount).toBe(wanted.reduce((n, w) => n + w.n, 0) + camera.rows.length);
});

test('a result of an older version is measured again in the background, what parts stand on first; one too old is none', async () => {
  await pool.query('DELETE FROM pgboss.job');
  const done = old.take.filter((t) => t.state === 'measured').map((t) => t.a);
  const newer = ALL_MEASURES.map((m) => (m.key === 'take' ? { ...m, version: 3 } : m));
  await pool.query('DELETE FROM measures WHERE result IS NULL AND failure IS NULL');
  await askAgainForOld({ ...house, measures: newer }, [done[2]]);
  const { rows } = await pool.query<{ take_id: string; priority: number; result: object | null }>(
    `SELECT m.take_id, j.priority, m.result FROM pgboss.job j JOIN measures m ON m.job_id = j.id
     WHERE m.measure = 'take' ORDER BY j.priority DESC`,
  );
  expect(rows.map((r) => r.take_id).sort()).toEqual([...done].sort());
  expect(rows[0].take_id).toBe(done[2]);
  expect(rows[0].priority).toBeGreaterThan(rows[1].priority);
  // Until then the old result can be read.
  expect(rows.every((r) => r.result !== null)).toBe(true);
  expect((await findSent(house, pool, done[0]))!.state).toBe('done');
  const unreadable = ALL_MEASURES.map((m) => (m.key === 'take' ? { ...m, version: 3, reads: 3 } : m));
  await askAgainForOld({ ...house, measures: unreadable }, []);
  expect(await findSent(house, pool, done[0])).toMatchObject({ state: 'waiting', verdict: null });
});
