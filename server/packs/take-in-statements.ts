import type { ListName } from '../../core/packs/shoot-file';

// What taking a pack in writes: each statement takes its rows as one JSON array.

/** Which of some ids are another shoot's here. */
export const ELSEWHERE = {
  setups: 'SELECT 1 FROM setups WHERE id = ANY($1::uuid[]) AND shoot_id <> $2 LIMIT 1',
  parts: `SELECT 1 FROM parts p JOIN setups u ON u.id = p.setup_id WHERE p.id = ANY($1::uuid[]) AND u.shoot_id <> $2 LIMIT 1`,
  tricks: `SELECT 1 FROM planned_tricks k JOIN setups u ON u.id = k.setup_id
    WHERE k.id = ANY($1::uuid[]) AND u.shoot_id <> $2 LIMIT 1`,
  takes: `SELECT 1 FROM takes t JOIN parts p ON p.id = t.part_id JOIN setups u ON u.id = p.setup_id
    WHERE t.id = ANY($1::uuid[]) AND u.shoot_id <> $2 LIMIT 1`,
  marks: `SELECT 1 FROM marks m JOIN takes t ON t.id = m.take_id JOIN parts p ON p.id = t.part_id
    JOIN setups u ON u.id = p.setup_id WHERE m.id = ANY($1::uuid[]) AND u.shoot_id <> $2 LIMIT 1`,
  sums: `SELECT 1 FROM kept_sums s JOIN planned_tricks k ON k.id = s.planned_id JOIN setups u ON u.id = k.setup_id
    WHERE s.id = ANY($1::uuid[]) AND u.shoot_id <> $2 LIMIT 1`,
} as const;

export const WRITE_SHOOT = `
  INSERT INTO shoots (id, name, place, delivery_width, delivery_height, delivery_fps, latitude, longitude, time_zone, days, demo)
  SELECT * FROM jsonb_to_recordset($1) AS r(id uuid, name text, place text, delivery_width int, delivery_height int,
    delivery_fps float8, latitude float8, longitude float8, time_zone text, days text[], demo boolean) WHERE true
  ON CONFLICT (id) DO UPDATE SET name = excluded.name, place = excluded.place, delivery_width = excluded.delivery_width,
    delivery_height = excluded.delivery_height, delivery_fps = excluded.delivery_fps, latitude = excluded.latitude,
    longitude = excluded.longitude, time_zone = excluded.time_zone, days = excluded.days, deleted_at = NULL`;

/** Empty pictures know what made them, once that is written. */
export const WRITE_MADE_OF = `
  UPDATE takes t SET made_of = m.id FROM jsonb_to_recordset($1) AS r(id uuid, made_of uuid)
  JOIN measures m ON m.id = r.made_of WHERE t.id = r.id`;

/** What is written of each list; numbers of what is here stay as they are. */
export const WRITES: Record<ListName, string[]> = {
  setups: [
    `INSERT INTO setups (id, shoot_id, number, name, notes, scene, place, camera, position, archived_at)
     SELECT r.id, r.shoot_id, r.number, r.name, r.notes, r.scene, r.place, r.camera, r.position, CASE WHEN r.archived THEN now() END
     FROM jsonb_to_recordset($1) AS r(id uuid, shoot_id uuid, number int, name text, notes text, scene text, place text, camera jsonb,
       position int, archived boolean) WHERE true
     ON CONFLICT (id) DO UPDATE SET name = excluded.name, notes = excluded.notes, scene = excluded.scene,
       place = excluded.place, camera = excluded.camera, position = excluded.position,
       archived_at = excluded.archived_at, deleted_at = NULL`,
  ],
  parts: [
    `INSERT INTO parts (id, setup_id, position, name, what, optional, seconds, purpose)
     SELECT r.* FROM jsonb_to_recordset($1) AS r(id uuid, setup_id uuid, position int, name text, what text,
       optional boolean, seconds float8, purpose text) WHERE true
     ON CONFLICT (id) DO UPDATE SET position = excluded.position, name = excluded.name, what = excluded.what,
       optional = excluded.optional, seconds = excluded.seconds, purpose = excluded.purpose, deleted_at = NULL,
       removed_with = NULL`,
  ],
  tricks: [
    `INSERT INTO planned_tricks (id, setup_id, position, trick, wishes)
     SELECT r.* FROM jsonb_to_recordset($1) AS r(id uuid, setup_id uuid, position int, trick jsonb, wishes jsonb) WHERE true
     ON CONFLICT (id) DO UPDATE SET position = excluded.position, trick = excluded.trick, wishes = excluded.wishes,
       deleted_at = NULL`,
    `DELETE FROM planned_parts m USING jsonb_to_recordset($1) AS r(id uuid)
     WHERE m.planned_id = r.id`,
    `INSERT INTO planned_parts (planned_id, part_key, part_id)
     SELECT r.id, p.key, p.value::uuid FROM jsonb_to_recordset($1) AS r(id uuid, parts jsonb), jsonb_each_text(r.parts) p`,
  ],
  takes: [
    `INSERT INTO files (hash, bytes)
     SELECT DISTINCT r.sha256, r.bytes FROM jsonb_to_recordset($1) AS r(sha256 text, bytes bigint) WHERE true
     ON CONFLICT (hash) DO NOTHING`,
    `INSERT INTO takes (id, part_id, number, file_hash, name, source, circled, rolled_at, meter)
     SELECT r.id, r.part_id, r.number, r.sha256, r.name, r.source, r.circled, r.rolled_at, r.meter
     FROM jsonb_to_recordset($1) AS r(id uuid, part_id uuid, number int, sha256 text, name text, source text,
       circled boolean, rolled_at timestamptz, meter jsonb) WHERE true
     ON CONFLICT (id) DO UPDATE SET name = excluded.name, circled = excluded.circled, meter = excluded.meter`,
  ],
  marks: [
    `INSERT INTO marks (id, take_id, frame, name, kind, found)
     SELECT r.* FROM jsonb_to_recordset($1) AS r(id uuid, take_id uuid, frame int, name text, kind text, found int) WHERE true
     ON CONFLICT (id) DO UPDATE SET frame = excluded.frame, name = excluded.name, kind = excluded.kind,
       found = excluded.found, deleted = false`,
  ],
  measures: [
    // Who wishes something else of what was measured has it measured again.
    `INSERT INTO measures AS m (id, measure, take_id, against_id, wish, slot, plate_id, asked_at)
     SELECT r.id, r.measure, r.take_id, r.against_id, r.wish, r.slot, (SELECT id FROM takes WHERE id = r.plate_id), r.asked_at
     FROM jsonb_to_recordset($1) AS r(id uuid, measure text, take_id uuid, against_id uuid, wish jsonb,
       slot text, plate_id uuid, asked_at timestamptz)
     WHERE NOT EXISTS (SELECT 1 FROM measures o WHERE o.id = r.id
       AND (o.measure, o.take_id, o.slot) IS DISTINCT FROM (r.measure, r.take_id, r.slot))
     ON CONFLICT (measure, take_id, coalesce(against_id, take_id), slot) DO UPDATE SET wish = excluded.wish,
       deleted_at = NULL, result = CASE WHEN m.wish = excluded.wish THEN m.result END,
       version = CASE WHEN m.wish = excluded.wish THEN m.version END, failure = NULL,
       job_id = CASE WHEN m.wish = excluded.wish THEN m.job_id END`,
  ],
  looks: [
    `INSERT INTO eye_checks (planned_id, requirement_key, checked_by, checked_at)
     SELECT r.trick_id, r.requirement, r.by, least(r.at, now())
     FROM jsonb_to_recordset($1) AS r(trick_id uuid, requirement text, by text, at timestamptz) WHERE true
     ON CONFLICT (planned_id, requirement_key) DO UPDATE SET checked_by = excluded.checked_by,
       checked_at = excluded.checked_at`,
  ],
  ticks: [
    `INSERT INTO ticks (setup_id, line, done, ticked_by, ticked_at)
     SELECT r.setup_id, r.line, r.done, r.by, least(r.at, now())
     FROM jsonb_to_recordset($1) AS r(setup_id uuid, line text, done boolean, by text, at timestamptz) WHERE true
     ON CONFLICT (setup_id, line) DO UPDATE SET done = excluded.done, ticked_by = excluded.ticked_by,
       ticked_at = excluded.ticked_at`,
  ],
  sums: [
    `INSERT INTO kept_sums (id, planned_id, kind, inputs)
     SELECT r.id, r.trick_id, r.kind, r.inputs
     FROM jsonb_to_recordset($1) AS r(id uuid, trick_id uuid, kind text, inputs jsonb) WHERE true
     ON CONFLICT (id) DO UPDATE SET kind = excluded.kind, inputs = excluded.inputs`,
  ],
  sensors: [
    `INSERT INTO sensors (key, name, width_mm, height_mm)
     SELECT r.* FROM jsonb_to_recordset($1) AS r(key text, name text, width_mm float8, height_mm float8) WHERE true
     ON CONFLICT (key) DO UPDATE SET name = excluded.name, width_mm = excluded.width_mm, height_mm = excluded.height_mm`,
  ],
};
