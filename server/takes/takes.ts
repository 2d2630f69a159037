import type { PoolClient } from 'pg';
import type { Take, TakeInList, TakeSource } from '../../api/takes';
import { standingTake, type GateTake } from '../../core/judge/gate';
import type { MeterReading } from '../../core/judge/meter';
import { judgeTake, reportTake, summariseTake, type TakeFacts } from '../../core/judge/take';
import { byWorst } from '../../core/judge/verdicts';
import { TAKE } from '../../core/measures/take';
import type { Delivery } from '../../core/plan/types';
import type { TakeMeasures, TakeReport } from '../../core/report/types';
import { clearEyeChecksOfPart } from '../plan/plans';
import type { Db } from '../platform/database';
import { askFor, wholeResult } from '../work/measures';
import { readResults } from '../work/results';
import { JOB_OF, PRIORITY, stateOf, type WorkQueue, type WorkRow } from '../work/queue';

/** A take as it is stored, with what measuring it by itself found and what the edit is finished at. */
export interface TakeRecord extends WorkRow {
  id: string;
  part_id: string;
  number: number;
  name: string;
  source: TakeSource;
  circled: boolean;
  rolled_at: string;
  file_hash: string;
  meter: MeterReading[] | null;
  measure_id: string;
  job_id: string | null;
  /** How often its measuring ended. */
  finished: number;
  /** Null until it is measured. */
  facts: TakeFacts | null;
  delivery: Delivery;
}

const TAKES = `
  SELECT t.id, t.part_id, t.number, t.name, t.source, t.circled, t.rolled_at, t.file_hash, t.meter,
    m.id AS measure_id, m.job_id, m.finished, ${stateOf('m', 'm.result IS NOT NULL')},
    jsonb_build_object('width', s.delivery_width, 'height', s.delivery_height, 'fps', s.delivery_fps) AS delivery`;
const FROM = `
  FROM takes t JOIN measures m ON m.measure = '${TAKE.key}' AND m.take_id = t.id ${JOB_OF.m}
  JOIN parts p ON p.id = t.part_id JOIN setups u ON u.id = p.setup_id JOIN shoots s ON s.id = u.shoot_id`;
const IN_SIGHT = `p.deleted_at IS NULL AND u.deleted_at IS NULL AND s.deleted_at IS NULL AND s.archived_at IS NULL`;

/** Reads takes, and of those that are measured what was found. */
async function readTakes<T extends TakeRecord>(db: Db, rest: string, values: unknown[], more = ''): Promise<T[]> {
  const { rows } = await db.query<T>(`${TAKES}${more} ${FROM} ${rest}`, values);
  const done = rows.flatMap((t) => (t.state === 'done' ? [{ id: t.measure_id, finished: t.finished }] : []));
  const found = await readResults(db, done);
  for (const t of rows) t.facts = (found.get(t.measure_id) as TakeFacts | undefined) ?? null;
  return rows;
}

/** The takes of some parts, in the order of their numbers. */
export async function listTakesOfParts(db: Db, partIds: readonly string[]): Promise<TakeRecord[]> {
  return readTakes(db, 'WHERE t.part_id = ANY($1::uuid[]) ORDER BY t.part_id, t.number', [partIds]);
}

/** The takes of all parts of some setups, in the order of their numbers; those of removed parts too. */
export async function listTakesOfSetups(db: Db, setupIds: readonly string[]): Promise<TakeRecord[]> {
  return readTakes(db, 'WHERE p.setup_id = ANY($1::uuid[]) ORDER BY t.part_id, t.number', [setupIds]);
}

export async function findTake(db: Db, id: string): Promise<TakeRecord | null> {
  const [take] = await readTakes(db, 'WHERE t.id = $1', [id]);
  return take ?? null;
}

export async function findTakeByUpload(db: Db, uploadId: string): Promise<TakeRecord | null> {
  const [take] = await readTakes(db, 'WHERE t.upload_id = $1', [uploadId]);
  return take ?? null;
}

/** What was last said of a take, and for which delivery: lists ask again and again, and neither changes often. */
const said = new WeakMap<TakeFacts, { delivery: string; summary: ReturnType<typeof summariseTake> }>();

function summaryOf(facts: TakeFacts, delivery: Delivery) {
  const { width, height, fps } = delivery;
  const key = `${width}x${height} ${fps}`;
  const last = said.get(facts);
  if (last?.delivery === key) return last.summary;
  const summary = summariseTake(judgeTake(facts, delivery), facts.presence);
  said.set(facts, { delivery: key, summary });
  return summary;
}

/** A take as it is sent: its verdict is worked out now, from what was measured and what the edit is finished at now. */
export function asTake(record: TakeRecord): Take {
  const { facts } = record;
  const summary = facts && summaryOf(facts, record.delivery);
  return {
    id: record.id,
    part_id: record.part_id,
    number: record.number,
    name: record.name,
    source: record.source,
    meter: record.meter,
    circled: record.circled,
    rolled_at: record.rolled_at,
    state: record.state,
    failure: record.failure,
    frames_done: record.frames_done,
    frames_total: record.frames_total,
    verdict: summary?.verdict ?? null,
    text: summary?.text ?? null,
    fix: summary?.fix ?? null,
    line: summary?.line ?? null,
    frame_count: facts?.media.frame_count ?? null,
  };
}

/** A take as the gate sees it. */
export function gateTake(t: Take): GateTake {
  const { id, number, circled, state } = t;
  const lock = t.verdict && t.text !== null ? { verdict: t.verdict, text: t.text, fix: t.fix } : null;
  return { id, number, circled, state, lock };
}

/** Of some takes the one to go on with: the one that one part stands on, or of several parts the best; null for none. */
export function standingOf(takes: readonly TakeRecord[]): TakeRecord | null {
  const standing = standingTake(takes.map((t) => gateTake(asTake(t))));
  return takes.find((t) => t.id === standing?.id) ?? null;
}

/** Everything that was measured of a take by itself, judged; null until it is measured. */
export async function findReport(db: Db, take: TakeRecord): Promise<TakeReport | null> {
  const found = await wholeResult(db, take.measure_id);
  return found && reportTake(take.name, found as TakeMeasures, take.delivery);
}

/** Takes of every shoot with where they belong: those to look at first, then the newest. */
export async function listTakesToCheck(db: Db, limit: number): Promise<TakeInList[]> {
  const rows = await readTakes<TakeRecord & Omit<TakeInList, keyof Take>>(
    db,
    `WHERE ${IN_SIGHT} ORDER BY t.rolled_at DESC`,
    [],
    ', p.name AS part_name, u.id AS setup_id, u.number AS setup_number, u.name AS setup_name, s.name AS shoot_name',
  );
  const all = rows.map((row): TakeInList => {
    const { part_name, setup_id, setup_number, setup_name, shoot_name } = row;
    return { ...asTake(row), part_name, setup_id, setup_number, setup_name, shoot_name };
  });
  // What is not measured yet stands between what must be looked at and what is fine.
  const order = (t: Take) => ({ verdict: t.verdict ?? 'unjudged' }).verdict;
  return all.sort((a, b) => byWorst(order(a), order(b))).slice(0, limit);
}

export interface NewTakeRow {
  partId: string;
  hash: string;
  bytes: number;
  name: string;
  source: TakeSource;
  meter?: MeterReading[];
  uploadId: string | null;
  circled: boolean;
  /** The plate it was made of. */
  madeOf?: string;
}

/** Records a stored file as the part's next take and has it measured. All or nothing: call inside a transaction. */
export async function insertTake(db: PoolClient, queue: WorkQueue, t: NewTakeRow): Promise<string> {
  await db.query('SELECT 1 FROM parts WHERE id = $1 FOR UPDATE', [t.partId]);
  await db.query('INSERT INTO files (hash, bytes) VALUES ($1, $2) ON CONFLICT (hash) DO NOTHING', [t.hash, t.bytes]);
  const meter = t.meter ? JSON.stringify(t.meter) : null;
  const { rows } = await db.query<{ id: string }>(
    `INSERT INTO takes (part_id, number, file_hash, name, source, upload_id, circled, meter, made_of)
     SELECT $1, coalesce(max(number), 0) + 1, $2, $3, $4, $5, $6, $7, $8 FROM takes WHERE part_id = $1
     RETURNING id`,
    [t.partId, t.hash, t.name, t.source, t.uploadId, t.circled, meter, t.madeOf ?? null],
  );
  await askFor(db, queue, { measure: TAKE, takes: [rows[0].id], priority: PRIORITY.fresh });
  // What somebody saw in an earlier take says nothing of this one.
  await clearEyeChecksOfPart(db, t.partId);
  return rows[0].id;
}

/** Circles one take of its part, or none. */
export async function circleTake(db: PoolClient, takeId: string, circled: boolean): Promise<void> {
  await db.query('UPDATE takes SET circled = false WHERE part_id = (SELECT part_id FROM takes WHERE id = $1)', [
    takeId,
  ]);
  if (circled) await db.query('UPDATE takes SET circled = true WHERE id = $1', [takeId]);
}

/** Keeps a light meter's readings with a take. */
export async function keepMeter(db: Db, takeId: string, readings: readonly MeterReading[]): Promise<void> {
  await db.query('UPDATE takes SET meter = $2 WHERE id = $1', [
    takeId,
    readings.length ? JSON.stringify(readings) : null,
  ]);
}
