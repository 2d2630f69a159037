import type { Pool, PoolClient } from 'pg';

type Db = Pool | PoolClient;

export interface ShootRow {
  id: string; name: string; place: string; delivery_width: number; delivery_height: number; delivery_fps: number; demo: boolean;
}
export interface SetupRow { id: string; shoot_id: string; number: number; name: string; notes: string; scene: string }
export interface PartRow { id: string; setup_id: string; position: number; name: string; what: string; optional: boolean }

export async function listShoots(db: Db): Promise<(ShootRow & { setups: number; takes: number })[]> {
  const { rows } = await db.query(`
    SELECT s.id, s.name, s.place, s.delivery_width, s.delivery_height, s.delivery_fps, s.demo,
           count(DISTINCT u.id)::int AS setups, count(DISTINCT t.id)::int AS takes
    FROM shoots s
    LEFT JOIN setups u ON u.shoot_id = s.id
    LEFT JOIN parts p ON p.setup_id = u.id
    LEFT JOIN takes t ON t.part_id = p.id
    GROUP BY s.id
    ORDER BY s.created_at DESC`);
  return rows;
}

export async function findShoot(db: Db, id: string): Promise<ShootRow | null> {
  const { rows } = await db.query('SELECT id, name, place, delivery_width, delivery_height, delivery_fps, demo FROM shoots WHERE id = $1', [id]);
  return rows[0] ?? null;
}

export async function findDemoShoot(db: Db): Promise<ShootRow | null> {
  const { rows } = await db.query('SELECT id, name, place, delivery_width, delivery_height, delivery_fps, demo FROM shoots WHERE demo');
  return rows[0] ?? null;
}

export async function insertShoot(db: Db, s: Omit<ShootRow, 'id'>): Promise<ShootRow> {
  const { rows } = await db.query(`
    INSERT INTO shoots (name, place, delivery_width, delivery_height, delivery_fps, demo)
    VALUES ($1, $2, $3, $4, $5, $6)
    RETURNING id, name, place, delivery_width, delivery_height, delivery_fps, demo`,
  [s.name, s.place, s.delivery_width, s.delivery_height, s.delivery_fps, s.demo]);
  return rows[0];
}

export async function listSetups(db: Db, shootId: string): Promise<SetupRow[]> {
  const { rows } = await db.query('SELECT id, shoot_id, number, name, notes, scene FROM setups WHERE shoot_id = $1 ORDER BY number', [shootId]);
  return rows;
}

export async function findSetup(db: Db, id: string): Promise<SetupRow | null> {
  const { rows } = await db.query('SELECT id, shoot_id, number, name, notes, scene FROM setups WHERE id = $1', [id]);
  return rows[0] ?? null;
}

/** Adds a setup with the next free number; the shoot's row is held so that two at once do not get one number. */
export async function insertSetup(db: PoolClient, shootId: string, s: { name: string; notes: string; scene: string }): Promise<SetupRow> {
  await db.query('SELECT 1 FROM shoots WHERE id = $1 FOR UPDATE', [shootId]);
  const { rows } = await db.query(`
    INSERT INTO setups (shoot_id, number, name, notes, scene)
    SELECT $1, coalesce(max(number), 0) + 1, $2, $3, $4 FROM setups WHERE shoot_id = $1
    RETURNING id, shoot_id, number, name, notes, scene`, [shootId, s.name, s.notes, s.scene]);
  return rows[0];
}

export async function listParts(db: Db, setupIds: string[]): Promise<PartRow[]> {
  const { rows } = await db.query(`
    SELECT id, setup_id, position, name, what, optional FROM parts
    WHERE setup_id = ANY($1::uuid[]) ORDER BY setup_id, position`, [setupIds]);
  return rows;
}

export async function findPart(db: Db, id: string): Promise<PartRow | null> {
  const { rows } = await db.query('SELECT id, setup_id, position, name, what, optional FROM parts WHERE id = $1', [id]);
  return rows[0] ?? null;
}

export async function insertPart(db: PoolClient, setupId: string, p: { name: string; what: string; optional: boolean }): Promise<PartRow> {
  await db.query('SELECT 1 FROM setups WHERE id = $1 FOR UPDATE', [setupId]);
  const { rows } = await db.query(`
    INSERT INTO parts (setup_id, position, name, what, optional)
    SELECT $1, coalesce(max(position), 0) + 1, $2, $3, $4 FROM parts WHERE setup_id = $1
    RETURNING id, setup_id, position, name, what, optional`, [setupId, p.name, p.what, p.optional]);
  return rows[0];
}
