import type { Roll, RollWish } from '../../api/rolls';
import type { Db } from '../platform/database';
import { JOB_OF, stateOf } from '../work/queue';

/** What a roll records: the wish, and the place it shows; and frames to be marked in it, where the demo has some. */
export interface RollRow extends Roll {
  settings: RollWish & { marks?: { frame: number; name: string }[] };
  /** Whether the take it becomes is circled. */
  circle: boolean;
}

const ROLLS = `
  SELECT r.id, r.part_id, r.take_id, r.settings, r.circle, ${stateOf('r', 'r.take_id IS NOT NULL')}
  FROM rolls r ${JOB_OF.r}`;

export async function insertRoll(db: Db, partId: string, settings: object, circle: boolean): Promise<string> {
  const { rows } = await db.query<{ id: string }>(
    'INSERT INTO rolls (part_id, settings, circle) VALUES ($1, $2, $3) RETURNING id',
    [partId, JSON.stringify(settings), circle],
  );
  return rows[0].id;
}

/** Notes many rolls, in their order. */
export async function insertRolls(
  db: Db,
  rolls: readonly { partId: string; settings: object; circled: boolean }[],
): Promise<void> {
  await db.query(
    `INSERT INTO rolls (part_id, settings, circle, asked_at)
     SELECT r."partId", r.settings, r.circled, now() + nth * interval '1 millisecond'
     FROM ROWS FROM (jsonb_to_recordset($1) AS ("partId" uuid, settings jsonb, circled boolean))
       WITH ORDINALITY AS r("partId", settings, circled, nth)`,
    [JSON.stringify(rolls)],
  );
}

export async function findRoll(db: Db, id: string): Promise<RollRow | null> {
  const { rows } = await db.query<RollRow>(`${ROLLS} WHERE r.id = $1`, [id]);
  return rows[0] ?? null;
}

/** A roll as it is sent. */
export function asRoll({ id, part_id, state, frames_done, frames_total, failure, take_id }: RollRow): Roll {
  return { id, part_id, state, frames_done, frames_total, failure, take_id };
}

/** Rolls of some parts that have not ended. */
export async function listRollsUnderWay(db: Db, partIds: readonly string[]): Promise<Roll[]> {
  const { rows } = await db.query<RollRow>(
    `${ROLLS} WHERE r.part_id = ANY($1::uuid[]) AND r.take_id IS NULL AND r.failure IS NULL
       AND j.state IS DISTINCT FROM 'failed' ORDER BY r.asked_at`,
    [partIds],
  );
  return rows.map(asRoll);
}

export async function endRoll(db: Db, id: string, takeId: string): Promise<void> {
  await db.query('UPDATE rolls SET take_id = $2 WHERE id = $1', [id, takeId]);
}

export async function failRoll(db: Db, id: string, failure: string): Promise<void> {
  await db.query('UPDATE rolls SET failure = $2 WHERE id = $1', [id, failure]);
}
