-- Up Migration

-- What is handed off: everything of a shoot, a setup or a trick, in one file.
CREATE TABLE packs (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  shoot_id uuid NOT NULL REFERENCES shoots ON DELETE CASCADE,
  setup_id uuid REFERENCES setups ON DELETE CASCADE,
  planned_id uuid REFERENCES planned_tricks ON DELETE CASCADE,
  -- What goes along.
  wish jsonb NOT NULL,
  -- "Night Ferry, setup 2", as it was called when it was asked for.
  named text NOT NULL,
  job_id uuid,
  failure text,
  -- The files in it, each beside the data or among the recordings, and what it is known by.
  made jsonb,
  asked_at timestamptz NOT NULL DEFAULT now(),
  finished_at timestamptz,
  deleted_at timestamptz,
  CHECK (made IS NULL OR failure IS NULL)
);
CREATE INDEX packs_of_shoot ON packs (shoot_id);
CREATE TRIGGER packs_told AFTER INSERT OR UPDATE OR DELETE ON packs FOR EACH STATEMENT EXECUTE FUNCTION tell_change();

-- Worked out when a recording is first handed off.
ALTER TABLE files ADD COLUMN xxh64 text CHECK (xxh64 ~ '^[0-9a-f]{16}$');

-- Down Migration
ALTER TABLE files DROP COLUMN xxh64;
DROP TABLE packs;
