import type { Pack, PackScope } from '../../api/packs';
import type { PackWish } from '../../core/packs/types';
import type { Db } from '../platform/database';
import { JOB_OF, stateOf, type WorkRow } from '../work/queue';

/** A file of a pack: in the pack's own folder, or a recording by its hash. */
export interface PackEntry {
  path: string;
  bytes: number;
  recording: string | null;
}

/** A pack as it is stored. */
export interface PackRow extends PackScope, WorkRow {
  id: string;
  shoot_id: string;
  named: string;
  wish: PackWish;
  made: {
    name: string;
    bytes: number;
    hash: string;
    at: string;
    entries: PackEntry[];
    /** Packs that were made before do not say. */
    left_behind?: string[];
    unmeasured?: string[];
  } | null;
  asked_at: string;
  finished_at: string | null;
}

const PACKS = `
  SELECT p.id, p.shoot_id, p.setup_id, p.planned_id, p.named, p.wish, p.made, p.asked_at, p.finished_at,
    ${stateOf('p', 'p.made IS NOT NULL')}
  FROM packs p ${JOB_OF.p}`;
/** So many of the packs of a shoot are listed. */
const MOST = 20;

export async function insertPack(db: Db, shootId: string, scope: PackScope, named: string, wish: PackWish) {
  const { rows } = await db.query<{ id: string }>(
    'INSERT INTO packs (shoot_id, setup_id, planned_id, named, wish) VALUES ($1, $2, $3, $4, $5) RETURNING id',
    [shootId, scope.setup_id, scope.planned_id, named, JSON.stringify(wish)],
  );
  return rows[0].id;
}

export async function findPack(db: Db, id: string): Promise<PackRow | null> {
  const { rows } = await db.query<PackRow>(`${PACKS} WHERE p.id = $1 AND p.deleted_at IS NULL`, [id]);
  return rows[0] ?? null;
}

/** The packs of a shoot, the newest first. */
export async function listPacks(db: Db, shootId: string): Promise<PackRow[]> {
  const { rows } = await db.query<PackRow>(
    `${PACKS} WHERE p.shoot_id = $1 AND p.deleted_at IS NULL ORDER BY p.asked_at DESC LIMIT ${MOST}`,
    [shootId],
  );
  return rows;
}

export async function endPack(db: Db, id: string, made: NonNullable<PackRow['made']>): Promise<void> {
  await db.query('UPDATE packs SET made = $2, failure = NULL, finished_at = now() WHERE id = $1', [
    id,
    JSON.stringify(made),
  ]);
}

export async function failPack(db: Db, id: string, failure: string): Promise<void> {
  await db.query('UPDATE packs SET failure = $2, finished_at = now() WHERE id = $1', [id, failure]);
}

export async function deletePack(db: Db, id: string): Promise<void> {
  await db.query('UPDATE packs SET deleted_at = now() WHERE id = $1', [id]);
}

/** Bytes of all recordings of a shoot. */
export async function bytesOfShoot(db: Db, shootId: string): Promise<number> {
  const { rows } = await db.query<{ bytes: number }>(
    `SELECT coalesce(sum(f.bytes), 0)::float8 AS bytes FROM takes t JOIN files f ON f.hash = t.file_hash
     JOIN parts p ON p.id = t.part_id JOIN setups u ON u.id = p.setup_id
     WHERE u.shoot_id = $1 AND u.deleted_at IS NULL AND p.deleted_at IS NULL`,
    [shootId],
  );
  return rows[0].bytes;
}

/** Keeps the hash of a recording. */
export async function keepXxh64(db: Db, hash: string, xxh64: string): Promise<void> {
  await db.query('UPDATE files SET xxh64 = $2 WHERE hash = $1', [hash, xxh64]);
}

/** A pack as it is sent. */
export function asPack({ named, made, ...row }: PackRow): Pack {
  const said = made && {
    name: made.name,
    bytes: made.bytes,
    files: made.entries.length,
    hash: made.hash,
    left_behind: made.left_behind ?? [],
    unmeasured: made.unmeasured ?? [],
  };
  return { ...row, of: named, made: said };
}
