import type { PoolClient } from 'pg';
import type { Take, TakeSource } from '../../api/takes';
import type { TakeJudged } from '../../core/gate/judged-take';
import type { MeterReading } from '../../core/judge/meter';
import type { TakeFacts } from '../../core/report/summaries';
import type { Mark } from '../../core/plan/marks';
import { asNow, TAKE } from '../../core/measures/take/description';
import type { Delivery } from '../../core/plan/types';
import { clearEyeChecksOfPart } from '../plan/plans';
import type { Db } from '../platform/database';
import { askFor } from '../work/measures';
import { readResults } from '../work/results';
import { marksOf } from './marks';
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
  marks: Mark[];
  measure_id: string;
  job_id: string | null;
  /** How often its measuring ended. */
  finished: number;
  /** Null until it is measured. */
  facts: TakeFacts | null;
  delivery: Delivery;
}

const MARKS = marksOf('t');
const TAKES = `
  SELECT t.id, t.part_id, t.number, t.name, t.source, t.circled, t.rolled_at, t.file_hash, t.meter,
    ${MARKS} AS marks, m.id AS measure_id, m.job_id, m.finished, ${stateOf('m', 'm.result IS NOT NULL')},
    jsonb_build_object('width', s.delivery_width, 'height', s.delivery_height, 'fps', s.delivery_fps) AS delivery`;
const FROM = `
  FROM takes t JOIN measures m ON m.measure = '${TAKE.key}' AND m.take_id = t.id ${JOB_OF.m}
  JOIN parts p ON p.id = t.part_id JOIN setups u ON u.id = p.setup_id JOIN shoots s ON s.id = u.shoot_id`;

/** Reads takes, and of those that are measured what was found. */
async function readTakes(db: Db, rest: string, values: unknown[]): Promise<TakeRecord[]> {
  const { rows } = await db.query<TakeRecord>(`${TAKES} ${FROM} ${rest}`, values);
  const done = rows.flatMap((t) => (t.state === 'done' ? [{ id: t.measure_id, finished: t.finished }] : []));
  const found = await readResults(db, done);
  for (const t of rows) {
    const facts = found.get(t.measure_id) as TakeFacts | undefined;
    t.facts = facts ? asNow(facts) : null;
  }
  return rows;
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

/** A take as it is sent: its verdict is worked out now, from what was measured, for what it is for. */
export function asTake(record: TakeRecord, judged: TakeJudged | null): Take {
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
    doing: record.doing,
    verdict: judged?.verdict ?? null,
    text: judged?.text ?? null,
    fix: judged?.fix ?? null,
    line: judged?.line ?? null,
    pending: judged?.pending ?? false,
    judged_for: judged?.judged_for ?? null,
    frame_count: record.facts?.media.frame_count ?? null,
  };
}

export interface NewTakeRow {
  partId: string;
  hash: string;
  bytes: number;
  name: string;
  source: TakeSource;
  meter?: MeterReading[];
  uploadId: string | null;
  /** Whether it is circled where no other take of its part is by then. */
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
     SELECT $1, coalesce(max(number), 0) + 1, $2, $3, $4, $5, $6 AND NOT coalesce(bool_or(circled), false), $7, $8
     FROM takes WHERE part_id = $1
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
  // Whoever changes what is circled holds the part first, and so in one order.
  await db.query('SELECT 1 FROM parts WHERE id = (SELECT part_id FROM takes WHERE id = $1) FOR UPDATE', [takeId]);
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
