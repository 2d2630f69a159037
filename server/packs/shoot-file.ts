import { NO_NOTES } from '../../core/plan/types';
import { SHOOT_FILE_VERSION, type FiledShoot, type ListName, type ShootFile } from '../../core/packs/shoot-file';
import type { Db } from '../platform/database';

/** What of a shoot is written down. */
export interface Filing {
  /** Only these setups of it, where they are given. */
  setupIds?: readonly string[];
  /** Only these takes, by their ids, with the paths under which a pack has their recordings; all of them where it is left out. */
  takes?: ReadonlyMap<string, string | null>;
  /** What was deleted too. */
  deleted?: boolean;
}

/** All may be asked, though not every list reads all of it. */
const ASKED = 'WITH asked AS (SELECT $1::uuid[], $2::uuid[], $3::boolean)';
/** Each list as it is read: $1 setups, $2 takes, $3 whether deleted rows are read too. */
const READ: Record<Exclude<ListName, 'sensors'>, string> = {
  setups: `SELECT id, number, name, notes, scene, place, camera, position, archived_at IS NOT NULL AS archived,
      deleted_at IS NOT NULL AS deleted
    FROM setups WHERE id = ANY($1::uuid[]) ORDER BY number`,
  parts: `SELECT id, setup_id, position, name, what, optional, seconds, purpose, deleted_at IS NOT NULL AS deleted
    FROM parts WHERE setup_id = ANY($1::uuid[]) ORDER BY setup_id, position, id`,
  tricks: `SELECT k.id, k.setup_id, k.position, k.trick, k.wishes, k.deleted_at IS NOT NULL AS deleted,
      coalesce((SELECT jsonb_object_agg(part_key, part_id) FROM planned_parts WHERE planned_id = k.id), '{}') AS parts
    FROM planned_tricks k WHERE k.setup_id = ANY($1::uuid[]) ORDER BY k.setup_id, k.position, k.id`,
  takes: `SELECT t.id, t.part_id, t.number, t.name, t.source, t.circled, t.rolled_at, t.meter, t.made_of,
      t.file_hash AS sha256, f.bytes::float8 AS bytes
    FROM takes t JOIN files f ON f.hash = t.file_hash JOIN parts p ON p.id = t.part_id JOIN setups u ON u.id = p.setup_id
    WHERE t.id = ANY($2::uuid[]) ORDER BY u.number, p.position, p.id, t.number`,
  marks: `SELECT id, take_id, frame, name, kind, found, deleted FROM marks WHERE take_id = ANY($2::uuid[])
    ORDER BY take_id, frame, id`,
  measures: `SELECT id, measure, take_id, against_id, wish, slot, plate_id, asked_at, deleted_at IS NOT NULL AS deleted FROM measures
    WHERE take_id = ANY($2::uuid[]) AND (against_id IS NULL OR against_id = ANY($2::uuid[]))
    ORDER BY measure, take_id, asked_at, id`,
  looks: `SELECT e.planned_id AS trick_id, e.requirement_key AS requirement, e.checked_by AS by, e.checked_at AS at
    FROM eye_checks e JOIN planned_tricks k ON k.id = e.planned_id WHERE k.setup_id = ANY($1::uuid[])
      AND (k.deleted_at IS NULL OR $3) ORDER BY 1, 2`,
  ticks: `SELECT setup_id, line, done, ticked_by AS by, ticked_at AS at FROM ticks WHERE setup_id = ANY($1::uuid[])
    ORDER BY 1, 2`,
  sums: `SELECT s.id, s.planned_id AS trick_id, s.kind, s.inputs
    FROM kept_sums s JOIN planned_tricks k ON k.id = s.planned_id WHERE k.setup_id = ANY($1::uuid[])
      AND (k.deleted_at IS NULL OR $3) ORDER BY s.kept_at, s.id`,
};

/** Writes a shoot down as it is planned, rolled, marked and chosen; null where there is none of this id. */
export async function readShootFile(
  db: Db,
  shootId: string,
  { setupIds, takes, deleted = false }: Filing = {},
): Promise<{ file: ShootFile; deleted: ReadonlySet<string> } | null> {
  const found = await db.query<FiledShoot & { deleted?: boolean }>(
    `SELECT id, name, place, delivery_width, delivery_height, delivery_fps, latitude, longitude, time_zone, days, demo,
       deleted_at IS NOT NULL AS deleted FROM shoots WHERE id = $1`,
    [shootId],
  );
  if (!found.rows[0]) return null;
  const { deleted: isGone, ...shoot } = found.rows[0];
  const gone = new Set(isGone ? [shootId] : []);
  const setups = await db.query<{ id: string }>(
    `SELECT id FROM setups WHERE shoot_id = $1 AND (deleted_at IS NULL OR $2) AND ($3::uuid[] IS NULL OR id = ANY($3::uuid[]))`,
    [shootId, deleted, setupIds ?? null],
  );
  const own = setups.rows.map((s) => s.id);
  const rolled = await db.query<{ id: string }>(
    `SELECT t.id FROM takes t JOIN parts p ON p.id = t.part_id
     WHERE p.setup_id = ANY($1::uuid[]) AND (p.deleted_at IS NULL OR $2)`,
    [own, deleted],
  );
  const takeIds = rolled.rows.map((t) => t.id).filter((id) => !takes || takes.has(id));
  const list = async <T>(name: keyof typeof READ): Promise<T[]> => {
    const { rows } = await db.query<Record<string, unknown>>(`${ASKED} ${READ[name]}`, [own, takeIds, deleted]);
    return rows.flatMap(({ deleted: isDeleted, ...row }) => {
      if (isDeleted && !deleted) return [];
      if (isDeleted) gone.add(row.id as string);
      return [withTexts(row) as T];
    });
  };
  const parts = await list<ShootFile['parts'][number]>('parts');
  const measures = await list<ShootFile['measures'][number]>('measures');
  const there = new Set(parts.map((p) => p.id));
  const file: ShootFile = {
    format: 'umbrastat-shoot',
    version: SHOOT_FILE_VERSION,
    shoot,
    setups: (await list<ShootFile['setups'][number]>('setups')).map((s) => ({
      ...s,
      camera: { ...NO_NOTES, ...s.camera },
    })),
    parts,
    tricks: (await list<ShootFile['tricks'][number]>('tricks')).map((t) => ({
      ...t,
      parts: Object.fromEntries(Object.entries(t.parts).filter(([, id]) => there.has(id))),
    })),
    takes: (await list<ShootFile['takes'][number]>('takes')).map((t) => ({
      ...t,
      made_of: measures.some((m) => m.id === t.made_of) ? t.made_of : null,
      path: takes?.get(t.id) ?? null,
    })),
    marks: await list('marks'),
    measures,
    looks: await list('looks'),
    ticks: await list('ticks'),
    sums: await list('sums'),
    sensors: (
      await db.query<ShootFile['sensors'][number]>('SELECT key, name, width_mm, height_mm FROM sensors ORDER BY key')
    ).rows,
  };
  return { file, deleted: gone };
}

/** Moments as they are written. */
const withTexts = (row: Record<string, unknown>) =>
  Object.fromEntries(Object.entries(row).map(([k, v]) => [k, v instanceof Date ? v.toISOString() : v]));

/** A shoot as text, a record on each line: so that what is wrong with one can be found. */
export function shootFileText({ shoot, format, version, ...lists }: ShootFile): string {
  const records = Object.entries(lists).map(([name, all]) => {
    const lines = all.map((r) => `    ${JSON.stringify(r)}`).join(',\n');
    return `  ${JSON.stringify(name)}: [${lines ? `\n${lines}\n  ` : ''}]`;
  });
  const head = [
    `  "format": ${JSON.stringify(format)}`,
    `  "version": ${version}`,
    `  "shoot": ${JSON.stringify(shoot)}`,
  ];
  return `{\n${[...head, ...records].join(',\n')}\n}\n`;
}
