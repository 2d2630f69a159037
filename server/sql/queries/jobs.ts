import type { Pool, PoolClient } from 'pg';
import type { TakeReport } from '../../../core/report/types';

type Db = Pool | PoolClient;

/** A claim that has not been heard of for this long belongs to a worker that is gone. */
export const SILENT = "interval '15 seconds'";

/** What a worker needs to measure a take. */
export interface MeasureWork {
  take_id: string;
  file_hash: string;
  name: string;
  delivery_width: number;
  delivery_height: number;
  delivery_fps: number;
}

/** Takes a measurement over, if it waits or its worker fell silent; null when somebody else has it or it is done. */
export async function claimMeasurement(db: Db, takeId: string, claim: string): Promise<MeasureWork | null> {
  const { rows } = await db.query(
    `
    WITH mine AS (
      UPDATE measurements SET state = 'measuring', claim = $2, heard_at = now(), attempts = attempts + 1, frames_done = 0, frames_total = 0
      WHERE take_id = $1 AND (state = 'waiting' OR (state = 'measuring' AND heard_at < now() - ${SILENT}))
      RETURNING take_id)
    SELECT t.id AS take_id, t.file_hash, t.name, s.delivery_width, s.delivery_height, s.delivery_fps
    FROM mine JOIN takes t ON t.id = mine.take_id JOIN parts p ON p.id = t.part_id
    JOIN setups u ON u.id = p.setup_id JOIN shoots s ON s.id = u.shoot_id`,
    [takeId, claim],
  );
  return rows[0] ?? null;
}

/** Says how far a measurement is; false when the claim was lost. */
export async function noteMeasurement(
  db: Db,
  takeId: string,
  claim: string,
  done: number,
  total: number,
): Promise<boolean> {
  const { rowCount } = await db.query(
    `
    UPDATE measurements SET frames_done = $3, frames_total = $4, heard_at = now()
    WHERE take_id = $1 AND claim = $2 AND state = 'measuring'`,
    [takeId, claim, done, total],
  );
  return rowCount === 1;
}

/** Ends a measurement with its report, once; false when the claim was lost. */
export async function finishMeasurement(db: Db, takeId: string, claim: string, report: TakeReport): Promise<boolean> {
  const { rowCount } = await db.query(
    `
    UPDATE measurements SET state = 'measured', report = $3, frames_done = $4, frames_total = $4, finished = finished + 1
    WHERE take_id = $1 AND claim = $2 AND state = 'measuring'`,
    [takeId, claim, JSON.stringify(report), report.media.frame_count],
  );
  return rowCount === 1;
}

/** Gives a measurement back unfinished, for the next worker. */
export async function releaseMeasurement(db: Db, takeId: string, claim: string): Promise<void> {
  await db.query(
    "UPDATE measurements SET state = 'waiting', claim = NULL WHERE take_id = $1 AND claim = $2 AND state = 'measuring'",
    [takeId, claim],
  );
}

export async function failMeasurement(db: Db, takeId: string, claim: string, failure: string): Promise<void> {
  await db.query(
    `
    UPDATE measurements SET state = 'failed', failure = $3 WHERE take_id = $1 AND claim = $2 AND state = 'measuring'`,
    [takeId, claim, failure],
  );
}

/** Puts a failed measurement back in line; false when it had not failed. */
export async function retryMeasurement(db: Db, takeId: string): Promise<boolean> {
  const { rowCount } = await db.query(
    `
    UPDATE measurements SET state = 'waiting', failure = NULL, claim = NULL WHERE take_id = $1 AND state = 'failed'`,
    [takeId],
  );
  return rowCount === 1;
}

/** Work that waits, or whose worker fell silent. */
export async function listOrphans(db: Db): Promise<{ takes: string[]; rolls: string[] }> {
  const takes = await db.query(`
    SELECT take_id FROM measurements WHERE state = 'waiting' OR (state = 'measuring' AND heard_at < now() - ${SILENT}) ORDER BY take_id`);
  const rolls = await db.query(`
    SELECT id FROM rolls WHERE state = 'waiting' OR (state = 'rolling' AND heard_at < now() - ${SILENT}) ORDER BY asked_at`);
  return { takes: takes.rows.map((r) => r.take_id), rolls: rolls.rows.map((r) => r.id) };
}

export interface RollRow {
  id: string;
  part_id: string;
  settings: unknown;
  state: 'waiting' | 'rolling' | 'rolled' | 'failed';
  frames_done: number;
  frames_total: number;
  take_id: string | null;
  failure: string | null;
  circle: boolean;
}

const ROLL = 'id, part_id, settings, state, frames_done, frames_total, take_id, failure, circle';

export async function insertRoll(db: Db, partId: string, settings: unknown, circle: boolean): Promise<RollRow> {
  const { rows } = await db.query(
    `INSERT INTO rolls (part_id, settings, circle) VALUES ($1, $2, $3) RETURNING ${ROLL}`,
    [partId, JSON.stringify(settings), circle],
  );
  return rows[0];
}

export async function findRoll(db: Db, id: string): Promise<RollRow | null> {
  const { rows } = await db.query(`SELECT ${ROLL} FROM rolls WHERE id = $1`, [id]);
  return rows[0] ?? null;
}

export async function listRollsUnderWay(db: Db, partIds: string[]): Promise<RollRow[]> {
  const { rows } = await db.query(
    `
    SELECT ${ROLL} FROM rolls WHERE part_id = ANY($1::uuid[]) AND state IN ('waiting', 'rolling') ORDER BY asked_at`,
    [partIds],
  );
  return rows;
}

export async function claimRoll(db: Db, id: string, claim: string): Promise<RollRow | null> {
  const { rows } = await db.query(
    `
    UPDATE rolls SET state = 'rolling', claim = $2, heard_at = now(), frames_done = 0
    WHERE id = $1 AND (state = 'waiting' OR (state = 'rolling' AND heard_at < now() - ${SILENT}))
    RETURNING ${ROLL}`,
    [id, claim],
  );
  return rows[0] ?? null;
}

export async function noteRoll(db: Db, id: string, claim: string, done: number, total: number): Promise<boolean> {
  const { rowCount } = await db.query(
    `
    UPDATE rolls SET frames_done = $3, frames_total = $4, heard_at = now() WHERE id = $1 AND claim = $2 AND state = 'rolling'`,
    [id, claim, done, total],
  );
  return rowCount === 1;
}

export async function finishRoll(db: Db, id: string, claim: string, takeId: string): Promise<boolean> {
  const { rowCount } = await db.query(
    `
    UPDATE rolls SET state = 'rolled', take_id = $3 WHERE id = $1 AND claim = $2 AND state = 'rolling'`,
    [id, claim, takeId],
  );
  return rowCount === 1;
}

/** Gives a roll back unfinished, for the next worker. */
export async function releaseRoll(db: Db, id: string, claim: string): Promise<void> {
  await db.query(
    "UPDATE rolls SET state = 'waiting', claim = NULL WHERE id = $1 AND claim = $2 AND state = 'rolling'",
    [id, claim],
  );
}

export async function failRoll(db: Db, id: string, claim: string, failure: string): Promise<void> {
  await db.query("UPDATE rolls SET state = 'failed', failure = $3 WHERE id = $1 AND claim = $2", [id, claim, failure]);
}
