import type { EyeCheckSaid, KeptSum, Planned, Tick, TickSaid } from '../../api/plan';
import type { SumKind, SumValues } from '../../core/calculators/kinds';
import type { Sensor } from '../../core/calculators/sensors';
import type { Db } from '../platform/database';
import { DROP_IDLE } from './draft-statements';
import { markRow } from './shoots';

export interface EyeCheckRow {
  planned_id: string;
  requirement_key: string;
  checked_by: string;
  checked_at: string;
}

const PLANNED = `
  SELECT k.id, k.version, k.setup_id, k.position, k.trick, k.wishes, k.deleted_at IS NOT NULL AS deleted, coalesce(m.parts, '{}') AS parts
  FROM planned_tricks k
  LEFT JOIN LATERAL (SELECT jsonb_object_agg(part_key, part_id) AS parts FROM planned_parts WHERE planned_id = k.id) m ON true`;

/** The tricks planned on some setups, in their order; deleted ones too when asked for. */
export async function listPlanned(db: Db, setupIds: readonly string[], deleted = false): Promise<Planned[]> {
  const { rows } = await db.query<Planned>(
    `${PLANNED} WHERE k.setup_id = ANY($1::uuid[]) AND (k.deleted_at IS NULL OR $2) ORDER BY k.setup_id, k.position`,
    [setupIds, deleted],
  );
  return rows;
}

export async function findPlanned(db: Db, id: string): Promise<Planned | null> {
  const { rows } = await db.query<Planned>(`${PLANNED} WHERE k.id = $1`, [id]);
  return rows[0] ?? null;
}

/** Takes a planned trick out of sight with the parts only it needed. */
export async function removeTrick(db: Db, planned: Planned): Promise<void> {
  await markRow(db, 'planned_tricks', planned.id, 'deleted_at', true);
  const parts = Object.values(planned.parts).map((part_id) => ({ part_id, planned_id: planned.id }));
  await db.query(DROP_IDLE, [JSON.stringify(parts)]);
}

/** Brings a planned trick back, with the parts that went with it or that it rests on. */
export async function restoreTrick(db: Db, planned: Planned): Promise<void> {
  await markRow(db, 'planned_tricks', planned.id, 'deleted_at', false);
  await db.query(
    `UPDATE parts SET deleted_at = NULL, removed_with = NULL
     WHERE removed_with = $1 OR id IN (SELECT part_id FROM planned_parts WHERE planned_id = $1)`,
    [planned.id],
  );
}

export async function listEyeChecks(db: Db, plannedIds: readonly string[]): Promise<EyeCheckRow[]> {
  const { rows } = await db.query<EyeCheckRow>(
    'SELECT planned_id, requirement_key, checked_by, checked_at FROM eye_checks WHERE planned_id = ANY($1::uuid[])',
    [plannedIds],
  );
  return rows;
}

/** Notes who looked and when, or takes it back. */
export async function sayEyeCheck(db: Db, plannedId: string, key: string, said: EyeCheckSaid): Promise<void> {
  if (said.done)
    await db.query(
      `INSERT INTO eye_checks (planned_id, requirement_key, checked_by, checked_at) VALUES ($1, $2, $3, least($4::timestamptz, now()))
       ON CONFLICT (planned_id, requirement_key) DO UPDATE
         SET checked_by = excluded.checked_by, checked_at = excluded.checked_at`,
      [plannedId, key, said.by, said.at],
    );
  else await db.query('DELETE FROM eye_checks WHERE planned_id = $1 AND requirement_key = $2', [plannedId, key]);
}

/** What somebody saw of a part's take says nothing of another: a part rolled anew must be looked at anew. */
export async function clearEyeChecksOfPart(db: Db, partId: string): Promise<void> {
  await db.query(
    `DELETE FROM eye_checks e USING planned_parts m, planned_tricks k
     WHERE m.part_id = $1 AND k.id = m.planned_id AND e.planned_id = k.id
       AND EXISTS (SELECT 1 FROM jsonb_array_elements(k.trick->'requirements') r
                   WHERE r->>'key' = e.requirement_key AND r->'parts' ? m.part_key)`,
    [partId],
  );
}

export async function listTicks(db: Db, setupId: string): Promise<Tick[]> {
  const { rows } = await db.query<Tick>('SELECT line, done, ticked_by, ticked_at FROM ticks WHERE setup_id = $1', [
    setupId,
  ]);
  return rows;
}

/** Notes ticks; a line of which a later word is known already stays as it is. A clock that is ahead counts as now. */
export async function putTicks(db: Db, setupId: string, ticks: readonly TickSaid[]): Promise<void> {
  // Of several words on one line in one message the latest counts.
  const latest = new Map<string, TickSaid>();
  for (const t of ticks) if (!(Date.parse(latest.get(t.line)?.at ?? '') > Date.parse(t.at))) latest.set(t.line, t);
  await db.query(
    `INSERT INTO ticks (setup_id, line, done, ticked_by, ticked_at)
     SELECT $1, r.line, r.done, r.by, least(r.at, now())
     FROM jsonb_to_recordset($2) AS r(line text, done boolean, by text, at timestamptz)
     ON CONFLICT (setup_id, line) DO UPDATE
       SET done = excluded.done, ticked_by = excluded.ticked_by, ticked_at = excluded.ticked_at
       WHERE ticks.ticked_at <= excluded.ticked_at`,
    // In one order, whoever sends them: so no two wait for each other.
    [setupId, JSON.stringify([...latest.values()].sort((a, b) => (a.line < b.line ? -1 : 1)))],
  );
}

export async function listSums(db: Db, plannedIds: readonly string[]): Promise<KeptSum[]> {
  const { rows } = await db.query<KeptSum>(
    'SELECT id, planned_id, kind, inputs FROM kept_sums WHERE planned_id = ANY($1::uuid[]) ORDER BY kept_at',
    [plannedIds],
  );
  return rows;
}

export async function insertSum(db: Db, plannedId: string, kind: SumKind, inputs: SumValues): Promise<KeptSum> {
  const { rows } = await db.query<KeptSum>(
    'INSERT INTO kept_sums (planned_id, kind, inputs) VALUES ($1, $2, $3) RETURNING id, planned_id, kind, inputs',
    [plannedId, kind, JSON.stringify(inputs)],
  );
  return rows[0];
}

export async function deleteSum(db: Db, id: string): Promise<boolean> {
  const { rowCount } = await db.query('DELETE FROM kept_sums WHERE id = $1', [id]);
  return rowCount === 1;
}

export async function listSensors(db: Db): Promise<Sensor[]> {
  const { rows } = await db.query<Sensor>('SELECT key, name, width_mm, height_mm FROM sensors ORDER BY name');
  return rows;
}

export async function putSensor(db: Db, s: Sensor): Promise<void> {
  await db.query(
    `INSERT INTO sensors (key, name, width_mm, height_mm) VALUES ($1, $2, $3, $4)
     ON CONFLICT (key) DO UPDATE SET name = $2, width_mm = $3, height_mm = $4`,
    [s.key, s.name, s.width_mm, s.height_mm],
  );
}

export async function deleteSensor(db: Db, key: string): Promise<void> {
  await db.query('DELETE FROM sensors WHERE key = $1', [key]);
}

/** The sensor's width, millimetres, as it was last entered in a sum kept with a trick of a setup; null where none was. */
export async function sensorOfSetup(db: Db, setupId: string): Promise<number | null> {
  const { rows } = await db.query<{ mm: number }>(
    `SELECT (s.inputs->>'sensor_width')::float8 AS mm FROM kept_sums s JOIN planned_tricks t ON t.id = s.planned_id
     WHERE t.setup_id = $1 AND jsonb_typeof(s.inputs->'sensor_width') = 'number' ORDER BY s.kept_at DESC LIMIT 1`,
    [setupId],
  );
  return rows[0]?.mm ?? null;
}
