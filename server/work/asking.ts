import { neededMeasures } from '../../core/measures/needed';
import { OUTLINES } from '../../core/measures/outlines/description';
import { TAKE } from '../../core/measures/take/description';
import type { Setup } from '../../api/plan';
import { readNeeds } from '../plan/boards';
import { listLiveSetups } from '../plan/shoots';
import { inTransaction, type Db } from '../platform/database';
import { groupBy } from '../platform/group';
import { measureOf, type House } from '../platform/house';
import { askFor, setJob } from './measures';
import { JOB_LIVES, JOB_OF, PRIORITY } from './queue';

/** So many are asked for at a time: what is more important may come up meanwhile. */
const AT_A_TIME = 40;

interface Known {
  measure: string;
  take_id: string;
  against_id: string | null;
  wish: object;
  open: boolean;
}

/** Measures of some takes, whatever became of them; those that are neither done nor failed are open. */
async function listKnown(db: Db, keys: readonly string[], takeIds: readonly string[]): Promise<Known[]> {
  const { rows } = await db.query<Known>(
    `SELECT measure, take_id, against_id, wish, result IS NULL AND failure IS NULL AS open FROM measures
     WHERE measure = ANY($1) AND take_id = ANY($2::uuid[]) AND deleted_at IS NULL`,
    [keys, takeIds],
  );
  return rows;
}

/** Asks for what the plans of every shoot in sight need and nobody has asked for yet; gives the takes that parts stand on. */
export async function askMissing(house: House): Promise<string[]> {
  const setups = await listLiveSetups(house.pool);
  const standing: string[] = [];
  for (const own of groupBy(setups, (s) => s.shoot_id).values()) standing.push(...(await askForSetups(house, own)));
  return standing;
}

async function askForSetups(house: House, setups: readonly Setup[]): Promise<string[]> {
  const { pool, queue, measures } = house;
  const { needs, standing: onTakes, plates } = await readNeeds(house, setups);
  const needed = neededMeasures(needs, measures);
  const takeIds = [...new Set(needed.flatMap((n) => n.takes))];
  const keys = new Set(needed.flatMap((n) => [n.measure.key, ...n.measure.uses]));
  const known = await listKnown(pool, [...keys], takeIds);
  const asked = new Set(known.map((k) => [k.measure, k.take_id, k.against_id].join(' ')));
  const open = new Set(known.filter((k) => k.open).map((k) => [k.measure, k.take_id].join(' ')));
  const missing = needed.filter(({ measure, takes: [a, b = null], wish }) => {
    // Of those that may be several, each wish is one.
    if (wish) {
      const same = JSON.stringify(wish);
      return !known.some((k) => k.measure === measure.key && k.take_id === a && JSON.stringify(k.wish) === same);
    }
    if (asked.has([measure.key, a, b].join(' '))) return false;
    return measure.ordered || !asked.has([measure.key, b, a].join(' '));
  });
  for (const { measure, takes } of missing.slice(0, AT_A_TIME))
    for (const use of measure.uses)
      // What it uses is asked for in the same go, where it is needed at all.
      if (missing.some((m) => m.measure.key === use && m.takes[0] === takes[0])) open.add([use, takes[0]].join(' '));
  for (const { measure, takes, wish, standing } of missing.slice(0, AT_A_TIME)) {
    if (measure.uses.some((use) => open.has([use, takes[0]].join(' ')))) continue;
    const plate = measure.byPlate ? plates.get(takes[0]) : null;
    const priority = standing ? PRIORITY.standing : PRIORITY.planned;
    await inTransaction(pool, (db) => askFor(db, queue, { measure, takes, wish: wish ?? undefined, plate, priority }));
  }
  await askWithPlates(house, plates);
  return onTakes;
}

/** Asks again for what was made without the empty frame that its setup has now, or with another one. */
async function askWithPlates({ pool, queue, measures }: House, plates: Map<string, string | null>): Promise<void> {
  const keys = measures.filter((m) => m.byPlate === true).map((m) => m.key);
  const wanted = JSON.stringify([...plates].map(([take, plate]) => ({ take, plate })));
  const { rows } = await pool.query<{ id: string; plate: string | null }>(
    `SELECT m.id, w.plate FROM measures m ${JOB_OF.m} JOIN jsonb_to_recordset($2) AS w(take uuid, plate uuid) ON w.take = m.take_id
     WHERE m.measure = ANY($1) AND m.deleted_at IS NULL AND m.plate_id IS DISTINCT FROM w.plate AND m.take_id IS DISTINCT FROM w.plate
       AND m.against_id IS DISTINCT FROM w.plate AND NOT coalesce(${JOB_LIVES}, false) LIMIT ${AT_A_TIME}`,
    [keys, wanted],
  );
  for (const { id, plate } of rows)
    await inTransaction(pool, async (db) => {
      // What was told by the other one is not shown, only to be taken back.
      await db.query('UPDATE measures SET plate_id = $2, result = NULL, version = NULL, failure = NULL WHERE id = $1', [
        id,
        plate,
      ]);
      await setJob(db, 'measures', id, await queue.send(db, 'measure', id, PRIORITY.againStanding));
    });
}

interface Again {
  id: string;
  priority: number;
}

/**
 * Asks again for what was made by an older version of a measure, of the takes that parts stand on first; and for whatever waits
 * without a job, once all that it rests on is known. Results that are too old to be read are no results any more.
 */
export async function askAgainForOld(house: House, standing: readonly string[]): Promise<void> {
  const { pool, queue, measures } = house;
  const versions = JSON.stringify(
    measures.map(({ key, version, reads, needs, uses, byOutlines }) => {
      const outlines = byOutlines ? [OUTLINES.key] : [];
      const rests = [TAKE.key, ...needs, ...uses, ...outlines].filter((other) => other !== key);
      return { key, version, reads, rests };
    }),
  );
  await pool.query(
    `UPDATE measures m SET result = NULL, version = NULL FROM jsonb_to_recordset($1) AS v(key text, reads int)
     WHERE m.measure = v.key AND m.version < v.reads`,
    [versions],
  );
  const { rows } = await pool.query<Again & { measure: string }>(
    `SELECT m.id, m.measure, 
       CASE WHEN m.result IS NULL THEN greatest($2::int, (
           SELECT max(w.priority) FROM measures o JOIN pgboss.job w ON w.name = 'measure' AND w.id = o.job_id
           WHERE o.take_id IN (m.take_id, m.against_id) AND o.measure = $6))
         WHEN m.take_id = ANY($5::uuid[]) THEN $3::int ELSE $4::int END AS priority
     FROM measures m ${JOB_OF.m}
     JOIN jsonb_to_recordset($1) AS v(key text, version int, rests text[]) ON v.key = m.measure
     WHERE m.deleted_at IS NULL AND m.failure IS NULL AND (m.result IS NULL OR m.version < v.version)
       AND NOT coalesce(${JOB_LIVES} OR j.state = 'failed', false)
       AND NOT EXISTS (SELECT 1 FROM measures o WHERE o.take_id IN (m.take_id, m.against_id, m.plate_id)
         AND o.against_id IS NULL AND o.measure = ANY(v.rests)
         AND o.result IS NULL AND o.failure IS NULL AND o.deleted_at IS NULL)
     ORDER BY priority DESC LIMIT ${AT_A_TIME}`,
    [versions, PRIORITY.planned, PRIORITY.againStanding, PRIORITY.again, standing, OUTLINES.key],
  );
  for (const { id, measure, priority } of rows) {
    if (!measureOf(house, measure)) continue;
    await inTransaction(pool, async (db) => setJob(db, 'measures', id, await queue.send(db, 'measure', id, priority)));
  }
  const rolls = await pool.query<{ id: string }>(
    `SELECT r.id FROM rolls r ${JOB_OF.r} WHERE r.take_id IS NULL AND r.failure IS NULL
       AND NOT coalesce(${JOB_LIVES} OR j.state = 'failed', false) ORDER BY r.asked_at LIMIT ${AT_A_TIME}`,
  );
  for (const { id } of rolls.rows)
    await inTransaction(pool, async (db) => setJob(db, 'rolls', id, await queue.send(db, 'roll', id, PRIORITY.fresh)));
}
