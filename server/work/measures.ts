import { createHash } from 'node:crypto';
import Joi from 'joi';
import type { PoolClient } from 'pg';
import type { AnyMeasure } from '../../core/measures';
import { putTogether, takeApart } from '../../core/measures/apart';
import { OUTLINES } from '../../core/measures/outlines/description';
import type { Outcome } from '../../core/judge/measure';
import type { Db } from '../platform/database';
import { JOB_LIVES, JOB_OF, PRIORITY, stateOf, type JobTable, type WorkQueue, type WorkRow } from './queue';
import { readResults } from './results';

/** A measure of takes: what was asked for, how far it is, and what lists see of what came of it. */
export interface MeasureRow extends WorkRow {
  id: string;
  measure: string;
  take_id: string;
  against_id: string | null;
  wish: object;
  /** The empty frame it is made with. */
  plate_id: string | null;
  result: object | null;
  asked_at: string;
  finished_at: string | null;
  deleted: boolean;
}

const STATE = stateOf('m', 'm.result IS NOT NULL');
const ROW = `
  SELECT m.id, m.measure, m.take_id, m.against_id, m.wish, m.plate_id, m.result, m.asked_at, m.finished_at,
    m.deleted_at IS NOT NULL AS deleted, ${STATE}
  FROM measures m ${JOB_OF.m}`;

/** The takes of a row, in the measure's order. */
export const takesOf = (row: { take_id: string; against_id: string | null }): string[] =>
  row.against_id === null ? [row.take_id] : [row.take_id, row.against_id];

/** A measure's row by its id; null when there is none. */
export async function findMeasure(db: Db, id: string): Promise<MeasureRow | null> {
  const { rows } = await db.query<MeasureRow>(`${ROW} WHERE m.id = $1`, [id]);
  return rows[0] ?? null;
}

/** The measure of some takes, whichever way round where that makes no difference; of several the newest. */
export async function findMeasureOf(db: Db, measure: AnyMeasure, takes: readonly string[]): Promise<MeasureRow | null> {
  const { rows } = await db.query<MeasureRow>(
    `${ROW} WHERE m.measure = $1 AND m.deleted_at IS NULL
       AND ((m.take_id = $2 AND m.against_id IS NOT DISTINCT FROM $3) OR ($4 AND m.take_id = $3 AND m.against_id = $2))
     ORDER BY m.asked_at DESC LIMIT 1`,
    [measure.key, takes[0], takes[1] ?? null, !measure.ordered],
  );
  return rows[0] ?? null;
}

/** All measures of a kind among some takes, the newest first. */
export async function listMeasuresOf(db: Db, key: string, takeIds: readonly string[]): Promise<MeasureRow[]> {
  const { rows } = await db.query<MeasureRow>(
    `${ROW} WHERE m.measure = $1 AND m.deleted_at IS NULL AND m.take_id = ANY($2::uuid[])
       AND (m.against_id IS NULL OR m.against_id = ANY($2::uuid[])) ORDER BY m.asked_at DESC`,
    [key, takeIds],
  );
  return rows;
}

/** What judges read of some takes, besides what measuring each by itself found. */
export async function listOutcomes(
  db: Db,
  takeIds: readonly string[],
  deciding: readonly string[],
): Promise<(Outcome & { plate: string | null })[]> {
  const { rows } = await db.query<Omit<MeasureRow, 'result'> & { finished: number }>(
    `SELECT m.id, m.measure, m.take_id, m.against_id, m.wish, m.plate_id, m.finished, ${STATE} FROM measures m ${JOB_OF.m}
     WHERE m.take_id = ANY($1::uuid[]) AND (m.against_id IS NULL OR m.against_id = ANY($1::uuid[]))
       AND m.measure = ANY($2) AND m.deleted_at IS NULL`,
    [takeIds, deciding],
  );
  const results = await readResults(
    db,
    rows.filter((r) => r.state === 'done'),
  );
  return rows.map((r) => ({
    measure: r.measure,
    takes: takesOf(r),
    wish: r.wish,
    plate: r.plate_id,
    state: r.state,
    failure: r.failure,
    result: results.get(r.id) ?? null,
  }));
}

/** A result with all that was kept apart; null when it is not known. */
export async function wholeResult(db: Db, id: string): Promise<object | null> {
  const { rows } = await db.query<{ result: object | null; detail: object | null }>(
    'SELECT m.result, d.detail FROM measures m LEFT JOIN measure_details d ON d.measure_id = m.id WHERE m.id = $1',
    [id],
  );
  return rows[0]?.result ? putTogether(rows[0].result, rows[0].detail) : null;
}

/** Keeps what was found, in place of what was found before. */
export async function keepResult(db: PoolClient, id: string, measure: AnyMeasure, result: object): Promise<void> {
  const { summary, detail } = takeApart(result, measure.apart);
  await db.query(
    `UPDATE measures SET result = $2, version = $3, failure = NULL, finished_at = now(), finished = finished + 1
     WHERE id = $1`,
    [id, JSON.stringify(summary), measure.version],
  );
  await db.query(
    `INSERT INTO measure_details (measure_id, detail) VALUES ($1, $2)
     ON CONFLICT (measure_id) DO UPDATE SET detail = excluded.detail`,
    [id, JSON.stringify(detail)],
  );
}

/** Keeps the sentence that says why there is no result. */
export async function keepFailure(db: Db, id: string, failure: string): Promise<void> {
  await db.query(
    `UPDATE measures SET failure = $2, result = NULL, version = NULL, finished_at = now(), finished = finished + 1
     WHERE id = $1`,
    [id, failure],
  );
}

export async function setJob(db: Db, table: JobTable, id: string, jobId: string | null): Promise<void> {
  await db.query(`UPDATE ${table} SET job_id = $2 WHERE id = $1`, [id, jobId]);
}

const CALLED_OFF = 'It was called off by hand. Run it again when there is time for it.';

/** Ends work on a measure, whether it waits or is under way; false when neither. */
export async function callOff(db: PoolClient, queue: WorkQueue, row: MeasureRow): Promise<boolean> {
  // Whoever finishes it holds the job's row first: either it is done before, or it is called off.
  const { rows } = await db.query<{ id: string }>(
    `SELECT j.id FROM measures m ${JOB_OF.m} WHERE m.id = $1 AND ${JOB_LIVES} FOR UPDATE OF j`.replace(
      'LEFT JOIN',
      'JOIN',
    ),
    [row.id],
  );
  // What waits for its outlines has no job yet.
  if (!rows[0] && row.state !== 'waiting') return false;
  if (rows[0]) await queue.callOff(db, 'measure', rows[0].id);
  await keepFailure(db, row.id, CALLED_OFF);
  return true;
}

/** Takes a measure out of sight, or back. */
export async function markDeleted(db: Db, id: string, on: boolean): Promise<void> {
  await db.query('UPDATE measures SET deleted_at = CASE WHEN $2 THEN now() END WHERE id = $1', [id, on]);
}

/** What is asked for. */
export interface Wanted {
  measure: AnyMeasure;
  takes: readonly string[];
  wish?: object;
  /** The empty frame to make it with. */
  plate?: string | null;
  priority: number;
}

/**
 * Asks for a measure. What is known already, or on its way, is not asked for again; what failed is, and so is what was
 * made with another wish. Call inside a transaction.
 */
export async function askFor(
  db: PoolClient,
  queue: WorkQueue,
  wanted: Wanted,
): Promise<{ id: string; isNew: boolean }> {
  const { measure, takes, priority } = wanted;
  const wish = wanted.wish ?? (measure.wish(Joi).validate({}).value as object);
  // Two who ask at once get one measure.
  await db.query('SELECT 1 FROM takes WHERE id = ANY($1::uuid[]) ORDER BY id FOR NO KEY UPDATE', [takes]);
  const slot = measure.many ? await slotOf(db, measure, takes, wish) : '';
  const { rows } = await db.query<MeasureRow & { lives: boolean; same: boolean; job_id: string | null }>(
    `SELECT m.id, m.result, m.failure, m.job_id, coalesce(${JOB_LIVES}, false) AS lives, m.wish = $5::jsonb AS same
     FROM measures m ${JOB_OF.m}
     WHERE m.measure = $1 AND m.slot = $4
       AND ((m.take_id = $2 AND m.against_id IS NOT DISTINCT FROM $3) OR ($6 AND m.take_id = $3 AND m.against_id = $2))`,
    [measure.key, takes[0], takes[1] ?? null, slot, JSON.stringify(wish), !measure.ordered],
  );
  const [found] = rows;
  // Asked for by itself, it takes whatever wish it was last made with.
  const fits = found && (found.same || wanted.wish === undefined);
  if (fits && (found.result || found.lives)) {
    if (found.lives && found.job_id) await queue.raise(db, 'measure', found.job_id, priority);
    await db.query('UPDATE measures SET deleted_at = NULL WHERE id = $1 AND deleted_at IS NOT NULL', [found.id]);
    return { id: found.id, isNew: false };
  }
  // What is made by another wish just now is not wanted any more, nor what it finds.
  if (found?.lives && found.job_id) await queue.callOff(db, 'measure', found.job_id);
  const id = found ? found.id : await insertMeasure(db, wanted, slot, wish);
  if (found)
    await db.query(
      `UPDATE measures SET result = NULL, version = NULL, failure = NULL, deleted_at = NULL,
         wish = CASE WHEN $3 THEN $2::jsonb ELSE wish END
       WHERE id = $1`,
      [id, JSON.stringify(wish), wanted.wish !== undefined],
    );
  // What waits without a job gets one once its outlines are there.
  if (measure.byOutlines && !(await askOutlines(db, queue, wanted))) await setJob(db, 'measures', id, null);
  else await setJob(db, 'measures', id, await queue.send(db, 'measure', id, priority));
  return { id, isNew: true };
}

/** Has whoever is in some takes outlined, as soon as what tells by it is wanted; says whether that is done, or cannot be. */
async function askOutlines(db: PoolClient, queue: WorkQueue, { takes, priority }: Wanted): Promise<boolean> {
  // Who ends one of them just now waits until what rests on it stands here, or is waited for.
  await db.query('SELECT 1 FROM measures WHERE measure = $1 AND take_id = ANY($2::uuid[]) ORDER BY id FOR UPDATE', [
    OUTLINES.key,
    takes,
  ]);
  let done = true;
  for (const take of takes) {
    const row = await findMeasureOf(db, OUTLINES, [take]);
    if (row?.state === 'done' || row?.state === 'failed') continue;
    await askFor(db, queue, { measure: OUTLINES, takes: [take], priority });
    done = false;
  }
  return done;
}

async function insertMeasure(db: Db, { measure, takes, plate = null }: Wanted, slot: string, wish: object) {
  const { rows } = await db.query<{ id: string }>(
    `INSERT INTO measures (measure, take_id, against_id, slot, wish, plate_id) VALUES ($1, $2, $3, $4, $5, $6)
     RETURNING id`,
    [measure.key, takes[0], takes[1] ?? null, slot, JSON.stringify(wish), plate],
  );
  return rows[0].id;
}

/** Tells wishes apart, and one wish from itself after what it rests on was measured anew. */
async function slotOf(db: Db, measure: AnyMeasure, takes: readonly string[], wish: object): Promise<string> {
  const { rows } = await db.query<{ at: string }>(
    `SELECT coalesce(string_agg(finished_at::text, ' ' ORDER BY take_id, measure), '') AS at FROM measures
     WHERE measure = ANY($1) AND take_id = ANY($2::uuid[]) AND against_id IS NULL`,
    [measure.needs, takes],
  );
  const sorted = JSON.stringify(Object.entries(wish).sort(([a], [b]) => (a < b ? -1 : 1)));
  return createHash('sha256').update(`${sorted} ${rows[0].at}`).digest('hex').slice(0, 32);
}

/** Has a failed measure made again; false when it had not failed. */
export async function askAgain(db: PoolClient, queue: WorkQueue, row: MeasureRow): Promise<boolean> {
  if (row.state !== 'failed') return false;
  await db.query('UPDATE measures SET failure = NULL WHERE id = $1', [row.id]);
  await setJob(db, 'measures', row.id, await queue.send(db, 'measure', row.id, PRIORITY.screen));
  return true;
}
