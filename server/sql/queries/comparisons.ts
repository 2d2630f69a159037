import type { Pool, PoolClient } from 'pg';
import type { TakePair, TakesGap } from '../../../core/judge/takes-apart';
import type { PlateComparison } from '../../../core/report/types';
import { SILENT } from './jobs';

type Db = Pool | PoolClient;

export interface PairKey {
  takeId: string;
  againstId: string;
}

const PAIR = `take_id AS "takeId", against_id AS "againstId"`;

/** Comparisons among some takes. */
export async function listPairs(db: Db, takeIds: readonly string[]): Promise<TakePair[]> {
  const { rows } = await db.query(
    `
    SELECT ${PAIR}, c.state, c.failure, c.gap, p.name AS "takeName", t.number AS "takeNumber",
      q.name AS "againstName", s.number AS "againstNumber"
    FROM comparisons c JOIN takes t ON t.id = c.take_id JOIN parts p ON p.id = t.part_id
      JOIN takes s ON s.id = c.against_id JOIN parts q ON q.id = s.part_id
    WHERE take_id = ANY($1::uuid[]) AND against_id = ANY($1::uuid[])`,
    [takeIds],
  );
  return rows;
}

/** The whole comparison of two takes, with settings and judgement; null until it is known. */
export async function findComparison(
  db: Db,
  a: string,
  b: string,
): Promise<(PairKey & { state: TakePair['state']; failure: string | null; gap: PlateComparison | null }) | null> {
  const { rows } = await db.query(
    `
    SELECT ${PAIR}, state, failure, gap FROM comparisons WHERE (take_id = $1 AND against_id = $2) OR (take_id = $2 AND against_id = $1)`,
    [a, b],
  );
  return rows[0] ?? null;
}

/** Notes that two measured takes of one setup are to be compared; false when that is known already, or they cannot be. */
export async function askComparison(db: Db, { takeId, againstId }: PairKey): Promise<boolean> {
  const { rowCount } = await db.query(
    `
    INSERT INTO comparisons (take_id, against_id)
    SELECT $1, $2 WHERE (SELECT count(*) FROM measurements WHERE take_id IN ($1, $2) AND state = 'measured') = 2
      AND NOT EXISTS (SELECT 1 FROM comparisons WHERE take_id = $2 AND against_id = $1)
    ON CONFLICT DO NOTHING`,
    [takeId, againstId],
  );
  return rowCount === 1;
}

/** Kinds of requirement that ask how two takes lie to each other. */
const KINDS = ['same-position', 'same-light', 'one-roll'];
/** So many takes of a part are compared without being asked for: the one it stands on, and the newest. */
const PER_PART = 3;

/** Pairs of measured takes that some requirement speaks of and nobody has compared yet. */
export async function listMissingPairs(db: Db, limit: number): Promise<PairKey[]> {
  const { rows } = await db.query(
    `
    WITH wanted AS (
      SELECT DISTINCT pa.part_id AS first, pb.part_id AS second
      FROM planned_tricks k
      JOIN setups u ON u.id = k.setup_id AND u.deleted_at IS NULL
      CROSS JOIN LATERAL jsonb_array_elements(k.trick->'requirements') r
      CROSS JOIN LATERAL jsonb_array_elements_text(r->'parts') WITH ORDINALITY a(key, n)
      JOIN LATERAL jsonb_array_elements_text(r->'parts') WITH ORDINALITY b(key, n) ON b.n > a.n
      JOIN planned_parts pa ON pa.planned_id = k.id AND pa.part_key = a.key
      JOIN planned_parts pb ON pb.planned_id = k.id AND pb.part_key = b.key
      WHERE k.deleted_at IS NULL AND r->>'kind' = ANY($1) AND pa.part_id <> pb.part_id),
    ranked AS (
      SELECT t.id, t.part_id, t.rolled_at,
        row_number() OVER (PARTITION BY t.part_id
          ORDER BY t.circled DESC, array_position(ARRAY['holds', 'workable', 'unjudged', 'reshoot'],
            m.report->'take'->>'verdict'), t.number DESC) AS standing,
        row_number() OVER (PARTITION BY t.part_id ORDER BY t.number DESC) AS newest
      FROM takes t JOIN measurements m ON m.take_id = t.id AND m.state = 'measured'
      WHERE t.part_id IN (SELECT first FROM wanted UNION SELECT second FROM wanted)),
    near AS (SELECT * FROM ranked WHERE standing = 1 OR newest <= ${PER_PART})
    SELECT a.id AS "takeId", b.id AS "againstId"
    FROM wanted w JOIN near a ON a.part_id = w.first JOIN near b ON b.part_id = w.second
    WHERE NOT EXISTS (SELECT 1 FROM comparisons c WHERE (c.take_id = a.id AND c.against_id = b.id)
      OR (c.take_id = b.id AND c.against_id = a.id))
    ORDER BY a.standing + b.standing, greatest(a.rolled_at, b.rolled_at) DESC
    LIMIT $2`,
    [KINDS, limit],
  );
  return rows;
}

/** Comparisons that wait, or whose worker fell silent, the oldest first. */
export async function listOrphanPairs(db: Db): Promise<PairKey[]> {
  const { rows } = await db.query(`
    SELECT ${PAIR} FROM comparisons WHERE state = 'waiting' OR (state = 'comparing'
      AND heard_at < now() - ${SILENT}) ORDER BY asked_at LIMIT 40`);
  return rows;
}

/** A take's file as a job needs it. */
export interface TakeFileRow {
  id: string;
  file_hash: string;
  name: string;
}

/** Takes a comparison over; gives both takes, or null when somebody else has it or it is done. */
export async function claimComparison(
  db: Db,
  { takeId, againstId }: PairKey,
  claim: string,
): Promise<{ take: TakeFileRow; against: TakeFileRow } | null> {
  const { rowCount } = await db.query(
    `
    UPDATE comparisons SET state = 'comparing', claim = $3, heard_at = now()
    WHERE take_id = $1 AND against_id = $2 AND (state = 'waiting' OR (state = 'comparing' AND heard_at < now() - ${SILENT}))`,
    [takeId, againstId, claim],
  );
  if (rowCount !== 1) return null;
  const { rows } = await db.query<TakeFileRow>('SELECT id, file_hash, name FROM takes WHERE id IN ($1, $2)', [
    takeId,
    againstId,
  ]);
  const take = rows.find((r) => r.id === takeId),
    against = rows.find((r) => r.id === againstId);
  return take && against ? { take, against } : null;
}

/** Says that a comparison is still under way; false when the claim was lost. */
export async function noteComparison(db: Db, { takeId, againstId }: PairKey, claim: string): Promise<boolean> {
  const { rowCount } = await db.query(
    "UPDATE comparisons SET heard_at = now() WHERE take_id = $1 AND against_id = $2 AND claim = $3 AND state = 'comparing'",
    [takeId, againstId, claim],
  );
  return rowCount === 1;
}

export async function finishComparison(
  db: Db,
  { takeId, againstId }: PairKey,
  claim: string,
  gap: TakesGap,
): Promise<void> {
  await db.query(
    "UPDATE comparisons SET state = 'compared', gap = $4 WHERE take_id = $1 AND against_id = $2 AND claim = $3 AND state = 'comparing'",
    [takeId, againstId, claim, JSON.stringify(gap)],
  );
}

export async function failComparison(
  db: Db,
  { takeId, againstId }: PairKey,
  claim: string,
  failure: string,
): Promise<void> {
  await db.query(
    "UPDATE comparisons SET state = 'failed', failure = $4 WHERE take_id = $1 AND against_id = $2 AND claim = $3 AND state = 'comparing'",
    [takeId, againstId, claim, failure],
  );
}

/** Gives a comparison back unfinished, for the next worker. */
export async function releaseComparison(db: Db, { takeId, againstId }: PairKey, claim: string): Promise<void> {
  await db.query(
    "UPDATE comparisons SET state = 'waiting', claim = NULL WHERE take_id = $1 AND against_id = $2 AND claim = $3 AND state = 'comparing'",
    [takeId, againstId, claim],
  );
}
