// What a draft of a plan writes: each statement takes its rows as one JSON array.

export const INSERT_SETUPS = `
  INSERT INTO setups (id, shoot_id, number, name, notes, scene, place, camera, position)
  SELECT r.id, r.shoot_id, r.number, r.name, r.notes, r.scene, r.place, r.camera,
    (SELECT coalesce(max(position), 0) FROM setups s WHERE s.shoot_id = r.shoot_id) + r.nth
  FROM ROWS FROM (jsonb_to_recordset($1)
      AS (id uuid, shoot_id uuid, number int, name text, notes text, scene text, place text, camera jsonb))
    WITH ORDINALITY AS r(id, shoot_id, number, name, notes, scene, place, camera, nth)`;
export const INSERT_PARTS = `
  INSERT INTO parts (id, setup_id, position, name, what, optional, seconds, purpose)
  SELECT * FROM jsonb_to_recordset($1)
    AS r(id uuid, setup_id uuid, position int, name text, what text, optional boolean,
      seconds double precision, purpose text)`;
export const INSERT_TRICKS = `
  INSERT INTO planned_tricks (id, setup_id, position, trick, wishes)
  SELECT * FROM jsonb_to_recordset($1) AS r(id uuid, setup_id uuid, position int, trick jsonb, wishes jsonb)`;
export const UPDATE_SETUPS = `
  UPDATE setups s SET name = r.name, notes = r.notes, scene = r.scene, place = r.place, camera = r.camera
  FROM jsonb_to_recordset($1) AS r(id uuid, name text, notes text, scene text, place text, camera jsonb) WHERE s.id = r.id`;
export const UPDATE_PARTS = `
  UPDATE parts p SET name = r.name, what = r.what, optional = r.optional, seconds = r.seconds
  FROM jsonb_to_recordset($1) AS r(id uuid, name text, what text, optional boolean, seconds double precision) WHERE p.id = r.id`;
export const UPDATE_TRICKS = `
  UPDATE planned_tricks k SET trick = r.trick, wishes = r.wishes
  FROM jsonb_to_recordset($1) AS r(id uuid, trick jsonb, wishes jsonb) WHERE k.id = r.id`;
export const UNLINK = `
  DELETE FROM planned_parts m USING jsonb_to_recordset($1) AS r(planned_id uuid, part_key text)
  WHERE m.planned_id = r.planned_id AND m.part_key = r.part_key`;
export const LINK = `
  INSERT INTO planned_parts (planned_id, part_key, part_id)
  SELECT * FROM jsonb_to_recordset($1) AS r(planned_id uuid, part_key text, part_id uuid)
  ON CONFLICT (planned_id, part_key) DO UPDATE SET part_id = excluded.part_id`;
export const INSERT_SUMS = `
  INSERT INTO kept_sums (planned_id, kind, inputs)
  SELECT * FROM jsonb_to_recordset($1) AS r(planned_id uuid, kind text, inputs jsonb)`;
/** Parts go out of sight when no planned trick rests on them and they have no take; they remember what they went with. */
export const DROP_IDLE = `
  UPDATE parts p SET deleted_at = now(), removed_with = r.planned_id
  FROM jsonb_to_recordset($1) AS r(part_id uuid, planned_id uuid)
  WHERE p.id = r.part_id AND p.deleted_at IS NULL
    AND NOT EXISTS (SELECT 1 FROM takes t WHERE t.part_id = p.id)
    AND NOT EXISTS (
      SELECT 1 FROM planned_parts m JOIN planned_tricks k ON k.id = m.planned_id
      WHERE m.part_id = p.id AND k.deleted_at IS NULL)`;
