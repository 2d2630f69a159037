import type { PoolClient } from 'pg';
import type { ChangedMark } from '../../api/takes';
import type { Mark, MarkFields } from '../../core/plan/marks';
import type { Db } from '../platform/database';

const FIELDS = "jsonb_build_object('id', k.id, 'frame', k.frame, 'name', k.name, 'kind', k.kind, 'found', k.found)";

/** SQL for the marks of a take, in the order of their frames, as a column. @param take its table's name in the query */
export function marksOf(take: string): string {
  return (
    `coalesce((SELECT jsonb_agg(${FIELDS} ORDER BY k.frame, k.made_at, k.id) FROM marks k ` +
    `WHERE k.take_id = ${take}.id AND NOT k.deleted), '[]')`
  );
}

/** A mark with the take it belongs to; null when there is none. Those that were deleted are found too. */
export async function findMark(db: Db, id: string): Promise<(Mark & { take_id: string }) | null> {
  const { rows } = await db.query<{ mark: Mark; take_id: string }>(
    `SELECT ${FIELDS} AS mark, k.take_id FROM marks k WHERE k.id = $1`,
    [id],
  );
  return rows[0] ? { ...rows[0].mark, take_id: rows[0].take_id } : null;
}

/** How many marks a take keeps; whoever adds one waits until this transaction ends. */
export async function countMarks(db: PoolClient, takeId: string): Promise<number> {
  await db.query('SELECT 1 FROM takes WHERE id = $1 FOR UPDATE', [takeId]);
  const { rows } = await db.query<{ n: number }>(
    'SELECT count(*)::int AS n FROM marks WHERE take_id = $1 AND NOT deleted',
    [takeId],
  );
  return rows[0].n;
}

/** Keeps a mark with a take; a beat that was kept before and deleted is brought back. Gives its id. */
export async function insertMark(db: PoolClient, takeId: string, mark: MarkFields): Promise<string> {
  const { frame, name, kind, found } = mark;
  const before =
    found !== null &&
    (await db.query<{ id: string }>('SELECT id FROM marks WHERE take_id = $1 AND kind = $2 AND found = $3', [
      takeId,
      kind,
      found,
    ]));
  if (before && before.rows[0]) {
    const [{ id }] = before.rows;
    await db.query('UPDATE marks SET deleted = false, frame = $2, name = $3 WHERE id = $1', [id, frame, name]);
    return id;
  }
  const { rows } = await db.query<{ id: string }>(
    'INSERT INTO marks (take_id, frame, name, kind, found) VALUES ($1, $2, $3, $4, $5) RETURNING id',
    [takeId, frame, name, kind, found],
  );
  return rows[0].id;
}

export async function changeMark(db: Db, id: string, { frame = null, name = null }: Nullable<ChangedMark>) {
  await db.query('UPDATE marks SET frame = coalesce($2, frame), name = coalesce($3, name) WHERE id = $1', [
    id,
    frame,
    name,
  ]);
}

type Nullable<T> = { [K in keyof T]: T[K] | null };

/** Takes a mark out of sight, or brings it back. */
export async function deleteMark(db: Db, id: string, on: boolean): Promise<void> {
  await db.query('UPDATE marks SET deleted = $2 WHERE id = $1', [id, on]);
}
