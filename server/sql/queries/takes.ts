import { clearEyeChecksOfPart } from './plans';
import type { LockSummary } from '../../../core/judge/lock';
import type { Pool, PoolClient } from 'pg';
import type { TakeReport, VerdictWord } from '../../../core/report/types';

type Db = Pool | PoolClient;

export type MeasureState = 'waiting' | 'measuring' | 'measured' | 'failed';

/** A take as lists show it. */
export interface TakeRow {
  id: string; part_id: string; number: number; name: string; source: 'file' | 'stand-in'; circled: boolean; rolled_at: Date; file_hash: string;
  state: MeasureState; frames_done: number; frames_total: number; failure: string | null;
  verdict: VerdictWord | null; text: string | null; fix: string | null; frame_count: number | null;
}

const TAKE = `
  SELECT t.id, t.part_id, t.number, t.name, t.source, t.circled, t.rolled_at, t.file_hash,
         m.state, m.frames_done, m.frames_total, m.failure,
         m.report->'lock'->>'verdict' AS verdict,
         m.report->'lock'->'reasons'->0->>'text' AS text,
         m.report->'lock'->'reasons'->0->>'fix' AS fix,
         (m.report->'media'->>'frame_count')::int AS frame_count
  FROM takes t JOIN measurements m ON m.take_id = t.id`;

export async function listTakesOfParts(db: Db, partIds: string[]): Promise<TakeRow[]> {
  const { rows } = await db.query(`${TAKE} WHERE t.part_id = ANY($1::uuid[]) ORDER BY t.part_id, t.number`, [partIds]);
  return rows;
}

export async function findTake(db: Db, id: string): Promise<TakeRow | null> {
  const { rows } = await db.query(`${TAKE} WHERE t.id = $1`, [id]);
  return rows[0] ?? null;
}

export async function findTakeByUpload(db: Db, uploadId: string): Promise<TakeRow | null> {
  const { rows } = await db.query(`${TAKE} WHERE t.upload_id = $1`, [uploadId]);
  return rows[0] ?? null;
}

/** What judging needs of measured takes: the file's facts and the lock without its path. */
export async function listMeasures(db: Db, takeIds: string[]): Promise<{ id: string; media: TakeReport['media']; lock: LockSummary }[]> {
  const { rows } = await db.query(`
    SELECT take_id AS id, (report->'media') - 'repeated_frames' - 'missing_frames' AS media, (report->'lock') - 'path' - 'patches' AS lock
    FROM measurements WHERE take_id = ANY($1::uuid[]) AND state = 'measured'`, [takeIds]);
  return rows;
}

export async function findReport(db: Db, takeId: string): Promise<TakeReport | null> {
  const { rows } = await db.query('SELECT report FROM measurements WHERE take_id = $1', [takeId]);
  return rows[0]?.report ?? null;
}

/** Takes of every shoot with where they belong: those to look at first, then the newest. */
export async function listTakesToCheck(db: Db, limit: number): Promise<(TakeRow & { shoot_name: string; setup_id: string; setup_number: number; setup_name: string; part_name: string })[]> {
  const { rows } = await db.query(`
    SELECT k.*, p.name AS part_name, u.id AS setup_id, u.number AS setup_number, u.name AS setup_name, s.name AS shoot_name
    FROM (${TAKE}) k
    JOIN parts p ON p.id = k.part_id JOIN setups u ON u.id = p.setup_id JOIN shoots s ON s.id = u.shoot_id
    WHERE p.deleted_at IS NULL AND u.deleted_at IS NULL AND s.deleted_at IS NULL AND s.archived_at IS NULL
    ORDER BY array_position(ARRAY['reshoot', 'unjudged', NULL, 'workable', 'holds'], k.verdict), k.rolled_at DESC
    LIMIT $1`, [limit]);
  return rows;
}

export interface NewTake { partId: string; hash: string; bytes: number; name: string; source: 'file' | 'stand-in'; uploadId: string | null; circled: boolean }

/** Records a stored file as the part's next take, with its measurement waiting. All or nothing: call inside a transaction. */
export async function insertTake(db: PoolClient, t: NewTake): Promise<string> {
  await db.query('SELECT 1 FROM parts WHERE id = $1 FOR UPDATE', [t.partId]);
  await db.query('INSERT INTO files (hash, bytes) VALUES ($1, $2) ON CONFLICT (hash) DO NOTHING', [t.hash, t.bytes]);
  const { rows } = await db.query(`
    INSERT INTO takes (part_id, number, file_hash, name, source, upload_id, circled)
    SELECT $1, coalesce(max(number), 0) + 1, $2, $3, $4, $5, $6 FROM takes WHERE part_id = $1
    RETURNING id`, [t.partId, t.hash, t.name, t.source, t.uploadId, t.circled]);
  await db.query('INSERT INTO measurements (take_id) VALUES ($1)', [rows[0].id]);
  // What somebody saw in an earlier take says nothing of this one.
  await clearEyeChecksOfPart(db, t.partId);
  return rows[0].id;
}

/** Circles one take of its part, or none. */
export async function circleTake(db: PoolClient, takeId: string, circled: boolean): Promise<void> {
  await db.query('UPDATE takes SET circled = false WHERE part_id = (SELECT part_id FROM takes WHERE id = $1)', [takeId]);
  if (circled) await db.query('UPDATE takes SET circled = true WHERE id = $1', [takeId]);
}
