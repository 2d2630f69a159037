import { clearEyeChecksOfPart } from './plans';
import type { MeterReading } from '../../../core/judge/meter';
import type { FocusSummary } from '../../../core/judge/focus';
import type { LightSummary } from '../../../core/judge/light';
import type { LockSummary } from '../../../core/judge/lock';
import type { PresenceSummary } from '../../../core/judge/presence';
import type { Pool, PoolClient } from 'pg';
import type { Run, TakeReport, VerdictWord } from '../../../core/report/types';

type Db = Pool | PoolClient;

export type MeasureState = 'waiting' | 'measuring' | 'measured' | 'failed';

/** Where a take's file came from: the card, the stand-in camera, or a plate made of another take. */
export type TakeSource = 'file' | 'stand-in' | 'plate';

/** A take as lists show it. */
export interface TakeRow {
  id: string;
  part_id: string;
  number: number;
  name: string;
  source: TakeSource;
  circled: boolean;
  rolled_at: Date;
  meter: MeterReading[] | null;
  file_hash: string;
  state: MeasureState;
  frames_done: number;
  frames_total: number;
  failure: string | null;
  verdict: VerdictWord | null;
  text: string | null;
  fix: string | null;
  line: string | null;
  frame_count: number | null;
}

const TAKE = `
  SELECT t.id, t.part_id, t.number, t.name, t.source, t.circled, t.rolled_at, t.file_hash, t.meter,
         m.state, m.frames_done, m.frames_total, m.failure,
         m.report->'take'->>'verdict' AS verdict,
         m.report->'take'->>'text' AS text,
         m.report->'take'->>'fix' AS fix,
         m.report->'take'->>'line' AS line,
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

/** What judging needs of measured takes: the file's facts, and the measures without their paths. */
export interface MeasuresRow {
  id: string;
  media: TakeReport['media'];
  lock: LockSummary;
  light: LightSummary;
  focus: FocusSummary;
  presence: PresenceSummary;
}

export async function listMeasures(db: Db, takeIds: string[]): Promise<MeasuresRow[]> {
  const { rows } = await db.query(
    `
    SELECT take_id AS id, (report->'media') - 'repeated_frames' - 'missing_frames' AS media, (report->'lock') - 'path' - 'patches' AS lock,
           (report->'light') - 'path' AS light, (report->'focus') - 'path' AS focus, (report->'presence') - 'path' AS presence
    FROM measurements WHERE take_id = ANY($1::uuid[]) AND state = 'measured'`,
    [takeIds],
  );
  return rows;
}

export async function findReport(db: Db, takeId: string): Promise<TakeReport | null> {
  const { rows } = await db.query('SELECT report FROM measurements WHERE take_id = $1', [takeId]);
  return rows[0]?.report ?? null;
}

/** Takes of every shoot with where they belong: those to look at first, then the newest. */
export async function listTakesToCheck(
  db: Db,
  limit: number,
): Promise<
  (TakeRow & { shoot_name: string; setup_id: string; setup_number: number; setup_name: string; part_name: string })[]
> {
  const { rows } = await db.query(
    `
    SELECT k.*, p.name AS part_name, u.id AS setup_id, u.number AS setup_number, u.name AS setup_name, s.name AS shoot_name
    FROM (${TAKE}) k
    JOIN parts p ON p.id = k.part_id JOIN setups u ON u.id = p.setup_id JOIN shoots s ON s.id = u.shoot_id
    WHERE p.deleted_at IS NULL AND u.deleted_at IS NULL AND s.deleted_at IS NULL AND s.archived_at IS NULL
    ORDER BY array_position(ARRAY['reshoot', 'unjudged', NULL, 'workable', 'holds'], k.verdict), k.rolled_at DESC
    LIMIT $1`,
    [limit],
  );
  return rows;
}

export interface NewTake {
  partId: string;
  hash: string;
  bytes: number;
  name: string;
  source: TakeSource;
  meter?: MeterReading[];
  uploadId: string | null;
  circled: boolean;
}

/** Records a stored file as the part's next take, with its measurement waiting. All or nothing: call inside a transaction. */
export async function insertTake(db: PoolClient, t: NewTake): Promise<string> {
  await db.query('SELECT 1 FROM parts WHERE id = $1 FOR UPDATE', [t.partId]);
  await db.query('INSERT INTO files (hash, bytes) VALUES ($1, $2) ON CONFLICT (hash) DO NOTHING', [t.hash, t.bytes]);
  const { rows } = await db.query(
    `
    INSERT INTO takes (part_id, number, file_hash, name, source, upload_id, circled, meter)
    SELECT $1, coalesce(max(number), 0) + 1, $2, $3, $4, $5, $6, $7 FROM takes WHERE part_id = $1
    RETURNING id`,
    [t.partId, t.hash, t.name, t.source, t.uploadId, t.circled, t.meter ? JSON.stringify(t.meter) : null],
  );
  await db.query('INSERT INTO measurements (take_id) VALUES ($1)', [rows[0].id]);
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

/** What is needed to look for plates in the measured takes of a setup. */
export interface PlateTakeRow {
  id: string;
  part_id: string;
  part_name: string;
  number: number;
  circled: boolean;
  rolled_at: Date;
  file_hash: string;
  frame_count: number;
  fps: number | null;
  width: number;
  height: number;
  clear: Run[];
  unjudged: string | null;
  stops: (number | null)[];
  displacement: (number | null)[];
  grain: number | null;
  verdict: VerdictWord;
}

export async function listPlateTakes(db: Db, setupId: string): Promise<PlateTakeRow[]> {
  const { rows } = await db.query(
    `
    SELECT t.id, t.part_id, p.name AS part_name, t.number, t.circled, t.rolled_at, t.file_hash,
      (m.report->'media'->>'frame_count')::int AS frame_count, (m.report->'media'->>'measured_fps')::float AS fps,
      (m.report->'media'->>'width')::int AS width, (m.report->'media'->>'height')::int AS height,
      m.report->'presence'->'clear_runs' AS clear, m.report->'presence'->>'unjudged' AS unjudged,
        m.report->'light'->'path'->'stops' AS stops,
      m.report->'lock'->'path'->'displacement_px' AS displacement, (m.report->>'grain_levels')::float AS grain,
        m.report->'take'->>'verdict' AS verdict
    FROM takes t JOIN measurements m ON m.take_id = t.id AND m.state = 'measured' JOIN parts p ON p.id = t.part_id
    WHERE p.setup_id = $1 AND p.deleted_at IS NULL ORDER BY p.position, t.number`,
    [setupId],
  );
  return rows;
}
