import type { PlannedTrick } from '../../../core/plan/types';
import type { SumKind, SumValues } from '../../../core/sums/kinds';
import type { Trick, TrickWishes } from '../../../core/tricks/types';
import type { Db } from './shoots';

export interface PlannedRow extends PlannedTrick {
  setup_id: string;
  position: number;
  deleted: boolean;
}
export interface EyeCheckRow {
  planned_id: string;
  requirement_key: string;
  checked_by: string;
  checked_at: Date;
}
export interface TickRow {
  line: string;
  done: boolean;
  ticked_by: string;
  ticked_at: Date;
}
export interface KeptSumRow {
  id: string;
  planned_id: string;
  kind: SumKind;
  inputs: SumValues;
}
export interface SensorRow {
  key: string;
  name: string;
  width_mm: number;
  height_mm: number;
}

const PLANNED = `
  SELECT k.id, k.setup_id, k.position, k.trick, k.wishes, k.deleted_at IS NOT NULL AS deleted,
         coalesce((SELECT jsonb_object_agg(m.part_key, m.part_id) FROM planned_parts m WHERE m.planned_id = k.id), '{}') AS parts
  FROM planned_tricks k`;

/** The tricks planned on some setups, in their order; deleted ones too when asked for. */
export async function listPlanned(db: Db, setupIds: string[], deleted = false): Promise<PlannedRow[]> {
  const { rows } = await db.query(
    `${PLANNED} WHERE k.setup_id = ANY($1::uuid[]) AND (k.deleted_at IS NULL OR $2) ORDER BY k.setup_id, k.position`,
    [setupIds, deleted],
  );
  return rows;
}

export async function findPlanned(db: Db, id: string): Promise<PlannedRow | null> {
  const { rows } = await db.query(`${PLANNED} WHERE k.id = $1`, [id]);
  return rows[0] ?? null;
}

export async function insertPlanned(db: Db, setupId: string, trick: Trick, wishes: TrickWishes): Promise<string> {
  const { rows } = await db.query(
    `
    INSERT INTO planned_tricks (setup_id, position, trick, wishes)
    SELECT $1, coalesce(max(position), 0) + 1, $2, $3 FROM planned_tricks WHERE setup_id = $1 RETURNING id`,
    [setupId, JSON.stringify(trick), JSON.stringify(wishes)],
  );
  return rows[0].id;
}

export async function updatePlanned(db: Db, id: string, trick: Trick, wishes: TrickWishes): Promise<void> {
  await db.query('UPDATE planned_tricks SET trick = $2, wishes = $3 WHERE id = $1', [
    id,
    JSON.stringify(trick),
    JSON.stringify(wishes),
  ]);
}

export async function linkPart(db: Db, plannedId: string, key: string, partId: string): Promise<void> {
  await db.query(
    'INSERT INTO planned_parts (planned_id, part_key, part_id) VALUES ($1, $2, $3) ON CONFLICT (planned_id, ' +
      'part_key) DO UPDATE SET part_id = $3',
    [plannedId, key, partId],
  );
}

export async function unlinkPart(db: Db, plannedId: string, key: string): Promise<void> {
  await db.query('DELETE FROM planned_parts WHERE planned_id = $1 AND part_key = $2', [plannedId, key]);
}

/** Takes parts out of sight that no planned trick rests on any more and that have no take; they remember what they went with. */
export async function dropIdleParts(db: Db, partIds: string[], plannedId: string): Promise<void> {
  await db.query(
    `
    UPDATE parts p SET deleted_at = now(), removed_with = $2
    WHERE p.id = ANY($1::uuid[]) AND p.deleted_at IS NULL
      AND NOT EXISTS (SELECT 1 FROM takes t WHERE t.part_id = p.id)
      AND NOT EXISTS (SELECT 1 FROM planned_parts m JOIN planned_tricks k ON k.id = m.planned_id
        WHERE m.part_id = p.id AND k.deleted_at IS NULL)`,
    [partIds, plannedId],
  );
}

/** Brings parts back that went away with a planned trick, or that it rests on. */
export async function restoreParts(db: Db, plannedId: string): Promise<void> {
  await db.query(
    `
    UPDATE parts SET deleted_at = NULL, removed_with = NULL
    WHERE removed_with = $1 OR id IN (SELECT part_id FROM planned_parts WHERE planned_id = $1)`,
    [plannedId],
  );
}

export async function listEyeChecks(db: Db, plannedIds: string[]): Promise<EyeCheckRow[]> {
  const { rows } = await db.query(
    'SELECT planned_id, requirement_key, checked_by, checked_at FROM eye_checks WHERE planned_id = ANY($1::uuid[])',
    [plannedIds],
  );
  return rows;
}

export async function setEyeCheck(db: Db, plannedId: string, key: string, by: string, at: string): Promise<void> {
  await db.query(
    `
    INSERT INTO eye_checks (planned_id, requirement_key, checked_by, checked_at) VALUES ($1, $2, $3, $4)
    ON CONFLICT (planned_id, requirement_key) DO UPDATE SET checked_by = $3, checked_at = $4`,
    [plannedId, key, by, at],
  );
}

export async function clearEyeCheck(db: Db, plannedId: string, key: string): Promise<void> {
  await db.query('DELETE FROM eye_checks WHERE planned_id = $1 AND requirement_key = $2', [plannedId, key]);
}

/** A tick that was superseded by a newer word on the same spot: a part rolled anew must be looked at anew. */
export async function clearEyeChecksOfPart(db: Db, partId: string): Promise<void> {
  await db.query(
    `
    DELETE FROM eye_checks e USING planned_parts m, planned_tricks k
    WHERE m.part_id = $1 AND k.id = m.planned_id AND e.planned_id = k.id
      AND EXISTS (SELECT 1 FROM jsonb_array_elements(k.trick->'requirements') r WHERE r->>'key' = e.requirement_key
        AND r->'parts' ? m.part_key)`,
    [partId],
  );
}

export async function listTicks(db: Db, setupId: string): Promise<TickRow[]> {
  const { rows } = await db.query('SELECT line, done, ticked_by, ticked_at FROM ticks WHERE setup_id = $1', [setupId]);
  return rows;
}

/** Notes a tick unless a later word on the same line is already known. */
export async function putTick(
  db: Db,
  setupId: string,
  t: { line: string; done: boolean; by: string; at: string },
): Promise<void> {
  await db.query(
    `
    INSERT INTO ticks (setup_id, line, done, ticked_by, ticked_at) VALUES ($1, $2, $3, $4, $5)
    ON CONFLICT (setup_id, line) DO UPDATE SET done = $3, ticked_by = $4, ticked_at = $5 WHERE ticks.ticked_at <= $5`,
    [setupId, t.line, t.done, t.by, t.at],
  );
}

export async function listSums(db: Db, plannedIds: string[]): Promise<KeptSumRow[]> {
  const { rows } = await db.query(
    'SELECT id, planned_id, kind, inputs FROM kept_sums WHERE planned_id = ANY($1::uuid[]) ORDER BY kept_at',
    [plannedIds],
  );
  return rows;
}

export async function insertSum(db: Db, plannedId: string, kind: SumKind, inputs: SumValues): Promise<KeptSumRow> {
  const { rows } = await db.query(
    'INSERT INTO kept_sums (planned_id, kind, inputs) VALUES ($1, $2, $3) RETURNING id, planned_id, kind, inputs',
    [plannedId, kind, JSON.stringify(inputs)],
  );
  return rows[0];
}

export async function deleteSum(db: Db, id: string): Promise<boolean> {
  const { rowCount } = await db.query('DELETE FROM kept_sums WHERE id = $1', [id]);
  return rowCount === 1;
}

export async function listSensors(db: Db): Promise<SensorRow[]> {
  const { rows } = await db.query('SELECT key, name, width_mm, height_mm FROM sensors ORDER BY name');
  return rows;
}

export async function putSensor(db: Db, s: SensorRow): Promise<void> {
  await db.query(
    `
    INSERT INTO sensors (key, name, width_mm, height_mm) VALUES ($1, $2, $3, $4)
    ON CONFLICT (key) DO UPDATE SET name = $2, width_mm = $3, height_mm = $4`,
    [s.key, s.name, s.width_mm, s.height_mm],
  );
}

export async function deleteSensor(db: Db, key: string): Promise<void> {
  await db.query('DELETE FROM sensors WHERE key = $1', [key]);
}
