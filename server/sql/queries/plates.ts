import type { Pool, PoolClient } from 'pg';
import type { PlateComparison, PlateSource, Run } from '../../../core/report/types';
import { SILENT } from './jobs';

type Db = Pool | PoolClient;

/** A plate of a setup, made or under way. */
export interface PlateRow {
  id: string;
  setup_id: string;
  take_id: string;
  against_id: string;
  run_start: number | null;
  run_end: number | null;
  keep_grain: boolean;
  state: 'waiting' | 'making' | 'made' | 'failed';
  doing: string;
  failure: string | null;
  source: PlateSource | null;
  comparison: PlateComparison | null;
  width: number | null;
  height: number | null;
  bit_depth: number | null;
  asked_at: Date;
  kept_as: string | null;
}

const PLATE =
  'id, setup_id, take_id, against_id, run_start, run_end, keep_grain, state, doing, failure, source, ' +
  'comparison, width, height, bit_depth, asked_at, kept_as';

export async function listPlates(db: Db, setupId: string): Promise<PlateRow[]> {
  const { rows } = await db.query(
    `SELECT ${PLATE} FROM plates WHERE setup_id = $1 AND deleted_at IS NULL ORDER BY asked_at DESC`,
    [setupId],
  );
  return rows;
}

export async function findPlate(db: Db, id: string): Promise<PlateRow | null> {
  const { rows } = await db.query(`SELECT ${PLATE} FROM plates WHERE id = $1 AND deleted_at IS NULL`, [id]);
  return rows[0] ?? null;
}

export interface NewPlate {
  setupId: string;
  takeId: string;
  againstId: string;
  run: Run | null;
  keepGrain: boolean;
}

/** Notes a plate to be made; the same plate asked for again is the one that is there. */
export async function askPlate(db: PoolClient, p: NewPlate): Promise<{ plate: PlateRow; isNew: boolean }> {
  await db.query('SELECT 1 FROM setups WHERE id = $1 FOR UPDATE', [p.setupId]);
  const values = [p.setupId, p.takeId, p.againstId, p.run?.start ?? null, p.run?.end ?? null, p.keepGrain];
  const same = await db.query(
    `
    SELECT ${PLATE} FROM plates WHERE setup_id = $1 AND take_id = $2 AND against_id = $3
      AND run_start IS NOT DISTINCT FROM $4 AND run_end IS NOT DISTINCT FROM $5
      AND keep_grain = $6 AND state <> 'failed' AND deleted_at IS NULL`,
    values,
  );
  if (same.rows[0]) return { plate: same.rows[0], isNew: false };
  const { rows } = await db.query(
    `
    INSERT INTO plates (setup_id, take_id, against_id, run_start, run_end, keep_grain) VALUES ($1, $2, $3, $4, $5, $6) RETURNING ${PLATE}`,
    values,
  );
  return { plate: rows[0], isNew: true };
}

export async function claimPlate(db: Db, id: string, claim: string): Promise<PlateRow | null> {
  const { rows } = await db.query(
    `
    UPDATE plates SET state = 'making', claim = $2, heard_at = now()
    WHERE id = $1 AND deleted_at IS NULL AND (state = 'waiting' OR (state = 'making' AND heard_at < now() - ${SILENT})) RETURNING ${PLATE}`,
    [id, claim],
  );
  return rows[0] ?? null;
}

export async function notePlate(db: Db, id: string, claim: string, doing: string): Promise<boolean> {
  const { rowCount } = await db.query(
    "UPDATE plates SET heard_at = now(), doing = $3 WHERE id = $1 AND claim = $2 AND state = 'making'",
    [id, claim, doing.slice(0, 200)],
  );
  return rowCount === 1;
}

export async function finishPlate(
  db: Db,
  id: string,
  claim: string,
  made: { source: PlateSource; comparison: PlateComparison; width: number; height: number; bitDepth: number },
): Promise<void> {
  await db.query(
    `
    UPDATE plates SET state = 'made', source = $3, comparison = $4, width = $5, height = $6, bit_depth = $7
      WHERE id = $1 AND claim = $2 AND state = 'making'`,
    [id, claim, JSON.stringify(made.source), JSON.stringify(made.comparison), made.width, made.height, made.bitDepth],
  );
}

export async function failPlate(db: Db, id: string, claim: string, failure: string): Promise<void> {
  await db.query("UPDATE plates SET state = 'failed', failure = $3 WHERE id = $1 AND claim = $2 AND state = 'making'", [
    id,
    claim,
    failure,
  ]);
}

export async function releasePlate(db: Db, id: string, claim: string): Promise<void> {
  await db.query(
    "UPDATE plates SET state = 'waiting', claim = NULL WHERE id = $1 AND claim = $2 AND state = 'making'",
    [id, claim],
  );
}

export async function keepPlateAs(db: Db, id: string, takeId: string): Promise<void> {
  await db.query('UPDATE plates SET kept_as = $2 WHERE id = $1', [id, takeId]);
}

/** Plates that wait, or whose worker fell silent. */
export async function listOrphanPlates(db: Db): Promise<string[]> {
  const { rows } = await db.query(
    `SELECT id FROM plates WHERE deleted_at IS NULL AND (state = 'waiting' OR (state = 'making' AND heard_at < ` +
      `now() - ${SILENT})) ORDER BY asked_at`,
  );
  return rows.map((r) => r.id);
}

/** Takes a plate out of sight, or back. */
export async function deletePlate(db: Db, id: string, on: boolean): Promise<void> {
  await db.query('UPDATE plates SET deleted_at = CASE WHEN $2 THEN now() END WHERE id = $1', [id, on]);
}
