import type { Pool, PoolClient } from 'pg';
import { NO_NOTES, type CameraNotes } from '../../../core/plan/types';

export type Db = Pool | PoolClient;

export interface ShootFields {
  name: string;
  place: string;
  delivery_width: number;
  delivery_height: number;
  delivery_fps: number;
  latitude: number | null;
  longitude: number | null;
  time_zone: string;
  days: string[];
}
export interface ShootRow extends ShootFields {
  id: string;
  demo: boolean;
  archived: boolean;
  deleted: boolean;
}

export interface SetupFields {
  name: string;
  notes: string;
  scene: string;
  place: string;
  camera: CameraNotes;
}
export interface SetupRow extends SetupFields {
  id: string;
  shoot_id: string;
  number: number;
  archived: boolean;
  deleted: boolean;
}

export interface PartFields {
  name: string;
  what: string;
  optional: boolean;
  seconds: number;
}
export interface PartRow extends PartFields {
  id: string;
  setup_id: string;
  position: number;
  deleted: boolean;
}

const SHOOT = `s.id, s.name, s.place, s.delivery_width, s.delivery_height, s.delivery_fps, s.demo, s.latitude,
  s.longitude, s.time_zone, s.days,
  s.archived_at IS NOT NULL AS archived, s.deleted_at IS NOT NULL AS deleted`;
const SETUP =
  `u.id, u.shoot_id, u.number, u.name, u.notes, u.scene, u.place, u.camera, u.archived_at IS NOT ` +
  `NULL AS archived, u.deleted_at IS NOT NULL AS deleted`;
const PART = 'p.id, p.setup_id, p.position, p.name, p.what, p.optional, p.seconds, p.deleted_at IS NOT NULL AS deleted';

/** What is not noted yet stands as null. */
const withNotes = (row: SetupRow): SetupRow => ({ ...row, camera: { ...NO_NOTES, ...row.camera } });

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

export async function listShoots(db: Db): Promise<(ShootRow & { setups: number; takes: number; tricks: number })[]> {
  const { rows } = await db.query(`
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

export async function findShoot(db: Db, id: string): Promise<ShootRow | null> {
  const { rows } = await db.query(`SELECT ${SHOOT} FROM shoots s WHERE s.id = $1`, [id]);
  return rows[0] ?? null;
}

export async function findDemoShoot(db: Db): Promise<ShootRow | null> {
  const { rows } = await db.query(`SELECT ${SHOOT} FROM shoots s WHERE s.demo`);
  return rows[0] ?? null;
}

export async function insertShoot(db: Db, s: ShootFields & { demo: boolean }): Promise<ShootRow> {
  const { rows } = await db.query(
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
export async function listSetups(db: Db, shootId: string, deleted = false): Promise<SetupRow[]> {
  const { rows } = await db.query(
    `
    SELECT ${SETUP} FROM setups u WHERE u.shoot_id = $1 AND (u.deleted_at IS NULL OR $2) ORDER BY u.position, u.number`,
    [shootId, deleted],
  );
  return rows.map(withNotes);
}

export async function findSetup(db: Db, id: string): Promise<SetupRow | null> {
  const { rows } = await db.query(`SELECT ${SETUP} FROM setups u WHERE u.id = $1`, [id]);
  return rows[0] ? withNotes(rows[0]) : null;
}

/** Adds a setup with the next free number, at the end; the shoot's row is held so that two at once do not get one number. */
export async function insertSetup(
  db: PoolClient,
  shootId: string,
  s: SetupFields,
  number: number | null = null,
): Promise<SetupRow> {
  await db.query('SELECT 1 FROM shoots WHERE id = $1 FOR UPDATE', [shootId]);
  const { rows } = await db.query(
    `
    INSERT INTO setups AS u (shoot_id, number, name, notes, scene, place, camera, position)
    SELECT $1, coalesce($7, max(number) + 1, 1), $2, $3, $4, $5, $6, coalesce(max(position), 0) + 1 FROM setups WHERE shoot_id = $1
    RETURNING ${SETUP}`,
    [shootId, s.name, s.notes, s.scene, s.place, JSON.stringify(s.camera), number],
  );
  return withNotes(rows[0]);
}

export async function updateSetup(db: Db, id: string, fields: Partial<SetupFields>): Promise<void> {
  await setColumns(db, 'setups', id, ['name', 'notes', 'scene', 'place', 'camera'], {
    ...fields,
    camera: fields.camera && JSON.stringify(fields.camera),
  });
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
export async function listParts(db: Db, setupIds: string[], deleted = false): Promise<PartRow[]> {
  const { rows } = await db.query(
    `
    SELECT ${PART} FROM parts p WHERE p.setup_id = ANY($1::uuid[]) AND (p.deleted_at IS NULL OR $2)
      ORDER BY p.setup_id, p.position, p.name`,
    [setupIds, deleted],
  );
  return rows;
}

export async function findPart(db: Db, id: string): Promise<PartRow | null> {
  const { rows } = await db.query(`SELECT ${PART} FROM parts p WHERE p.id = $1`, [id]);
  return rows[0] ?? null;
}

export async function insertPart(db: PoolClient, setupId: string, p: PartFields): Promise<PartRow> {
  await db.query('SELECT 1 FROM setups WHERE id = $1 FOR UPDATE', [setupId]);
  const { rows } = await db.query(
    `
    INSERT INTO parts AS p (setup_id, position, name, what, optional, seconds)
    SELECT $1, coalesce(max(position), 0) + 1, $2, $3, $4, $5 FROM parts WHERE setup_id = $1
    RETURNING ${PART}`,
    [setupId, p.name, p.what, p.optional, p.seconds],
  );
  return rows[0];
}

export async function updatePart(db: Db, id: string, fields: Partial<PartFields>): Promise<void> {
  await setColumns(db, 'parts', id, ['name', 'what', 'optional', 'seconds'], fields);
}
