import type { ChangedSetup, Part, PartFields, Setup, Shoot, ShootFields, ShootInList } from '../../api/plan';
import { NO_NOTES } from '../../core/plan/types';
import type { Db } from '../platform/database';

const SHOOT = `s.id, s.version, s.name, s.place, s.delivery_width, s.delivery_height, s.delivery_fps, s.demo, s.latitude,
  s.longitude, s.time_zone, s.days,
  s.archived_at IS NOT NULL AS archived, s.deleted_at IS NOT NULL AS deleted`;
const SETUP =
  `u.id, u.version, u.shoot_id, u.number, u.name, u.notes, u.scene, u.place, u.camera, u.archived_at IS NOT ` +
  `NULL AS archived, u.deleted_at IS NOT NULL AS deleted`;
const PART =
  'p.id, p.version, p.setup_id, p.position, p.name, p.what, p.optional, p.seconds, p.purpose, p.deleted_at IS NOT NULL AS deleted';

/** What is not noted yet stands as null. */
const withNotes = <T extends Setup>(row: T): T => ({ ...row, camera: { ...NO_NOTES, ...row.camera } });

/** Sets the given columns of one row. Column names come from the caller's own list, never from a request. */
async function setColumns(
  db: Db,
  table: 'shoots' | 'setups' | 'parts',
  id: string,
  columns: readonly string[],
  values: Record<string, unknown>,
): Promise<void> {
  const chosen = columns.filter((c) => values[c] !== undefined);
  if (chosen.length === 0) return;
  await db.query(`UPDATE ${table} SET ${chosen.map((c, i) => `${c} = $${i + 2}`).join(', ')} WHERE id = $1`, [
    id,
    ...chosen.map((c) => values[c]),
  ]);
}

export async function listShoots(db: Db): Promise<Omit<ShootInList, 'struck' | 'next'>[]> {
  const { rows } = await db.query<Omit<ShootInList, 'struck' | 'next'>>(`
    SELECT ${SHOOT}, count(DISTINCT u.id)::int AS setups, count(DISTINCT t.id)::int AS takes, count(DISTINCT k.id)::int AS tricks
    FROM shoots s
    LEFT JOIN setups u ON u.shoot_id = s.id AND u.deleted_at IS NULL
    LEFT JOIN parts p ON p.setup_id = u.id
    LEFT JOIN takes t ON t.part_id = p.id
    LEFT JOIN planned_tricks k ON k.setup_id = u.id AND k.deleted_at IS NULL
    GROUP BY s.id
    ORDER BY s.created_at DESC`);
  return rows;
}

export async function findShoot(db: Db, id: string): Promise<Shoot | null> {
  const { rows } = await db.query<Shoot>(`SELECT ${SHOOT} FROM shoots s WHERE s.id = $1`, [id]);
  return rows[0] ?? null;
}

export async function findDemoShoot(db: Db): Promise<Shoot | null> {
  const { rows } = await db.query<Shoot>(`SELECT ${SHOOT} FROM shoots s WHERE s.demo`);
  return rows[0] ?? null;
}

export async function insertShoot(db: Db, s: ShootFields & { demo: boolean }): Promise<Shoot> {
  const { rows } = await db.query<Shoot>(
    `
    INSERT INTO shoots AS s (name, place, delivery_width, delivery_height, delivery_fps, demo, latitude, longitude, time_zone, days)
    VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10) RETURNING ${SHOOT}`,
    [
      s.name,
      s.place,
      s.delivery_width,
      s.delivery_height,
      s.delivery_fps,
      s.demo,
      s.latitude,
      s.longitude,
      s.time_zone,
      s.days,
    ],
  );
  return rows[0];
}

export async function updateShoot(db: Db, id: string, fields: Partial<ShootFields>): Promise<void> {
  await setColumns(
    db,
    'shoots',
    id,
    [
      'name',
      'place',
      'delivery_width',
      'delivery_height',
      'delivery_fps',
      'latitude',
      'longitude',
      'time_zone',
      'days',
    ],
    fields,
  );
}

/** Sets or clears a time stamp that takes a row out of sight. */
export async function markRow(
  db: Db,
  table: 'shoots' | 'setups' | 'planned_tricks' | 'parts',
  id: string,
  column: 'archived_at' | 'deleted_at',
  on: boolean,
): Promise<void> {
  await db.query(`UPDATE ${table} SET ${column} = ${on ? 'now()' : 'NULL'} WHERE id = $1`, [id]);
}

/** The setups of a shoot in their order; deleted ones too when asked for. */
export async function listSetups(db: Db, shootId: string, deleted = false): Promise<Setup[]> {
  const { rows } = await db.query<Setup>(
    `
    SELECT ${SETUP} FROM setups u WHERE u.shoot_id = $1 AND (u.deleted_at IS NULL OR $2) ORDER BY u.position, u.number`,
    [shootId, deleted],
  );
  return rows.map(withNotes);
}

/** The setups of every shoot that is neither archived nor deleted, but those deleted themselves. */
export async function listLiveSetups(db: Db): Promise<(Setup & { shoot_name: string })[]> {
  const { rows } = await db.query<Setup & { shoot_name: string }>(`
    SELECT ${SETUP}, s.name AS shoot_name FROM setups u JOIN shoots s ON s.id = u.shoot_id
    WHERE u.deleted_at IS NULL AND s.deleted_at IS NULL AND s.archived_at IS NULL`);
  return rows.map(withNotes);
}

export async function findSetup(db: Db, id: string): Promise<Setup | null> {
  const { rows } = await db.query<Setup>(`SELECT ${SETUP} FROM setups u WHERE u.id = $1`, [id]);
  return rows[0] ? withNotes(rows[0]) : null;
}

/** The setup that a take was rolled at. */
export async function findSetupOfTake(db: Db, takeId: string): Promise<Setup | null> {
  const { rows } = await db.query<Setup>(
    `SELECT ${SETUP} FROM takes t JOIN parts p ON p.id = t.part_id JOIN setups u ON u.id = p.setup_id WHERE t.id = $1`,
    [takeId],
  );
  return rows[0] ? withNotes(rows[0]) : null;
}

export async function updateSetup(db: Db, id: string, fields: ChangedSetup): Promise<void> {
  await setColumns(db, 'setups', id, ['name', 'notes', 'scene', 'place'], fields);
  // Note by note: somebody else may be noting another.
  if (fields.camera)
    await db.query("UPDATE setups SET camera = coalesce(camera, '{}') || $2 WHERE id = $1", [
      id,
      JSON.stringify(fields.camera),
    ]);
}

/** Puts rows of one parent into the given order; rows not named keep their place after them. */
export async function orderRows(
  db: Db,
  table: 'setups' | 'parts' | 'planned_tricks',
  parent: 'shoot_id' | 'setup_id',
  parentId: string,
  ids: string[],
): Promise<void> {
  await db.query(
    `
    UPDATE ${table} x SET position = coalesce(array_position($2::uuid[], x.id), 100000 + x.position) WHERE x.${parent} = $1`,
    [parentId, ids],
  );
}

/** The parts of some setups in their order; deleted ones too when asked for. */
export async function listParts(db: Db, setupIds: string[], deleted = false): Promise<Part[]> {
  const { rows } = await db.query<Part>(
    `
    SELECT ${PART} FROM parts p WHERE p.setup_id = ANY($1::uuid[]) AND (p.deleted_at IS NULL OR $2)
      ORDER BY p.setup_id, p.position, p.name`,
    [setupIds, deleted],
  );
  return rows;
}

export async function findPart(db: Db, id: string): Promise<Part | null> {
  const { rows } = await db.query<Part>(`SELECT ${PART} FROM parts p WHERE p.id = $1`, [id]);
  return rows[0] ?? null;
}

export async function updatePart(db: Db, id: string, fields: Partial<PartFields>): Promise<void> {
  await setColumns(db, 'parts', id, ['name', 'what', 'optional', 'seconds', 'purpose'], fields);
}
