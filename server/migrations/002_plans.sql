-- Up Migration
ALTER TABLE shoots
  ADD COLUMN archived_at timestamptz,
  ADD COLUMN deleted_at timestamptz,
  ADD COLUMN latitude double precision CHECK (latitude BETWEEN -90 AND 90),
  ADD COLUMN longitude double precision CHECK (longitude BETWEEN -180 AND 180),
  ADD COLUMN time_zone text NOT NULL DEFAULT 'UTC',
  -- Days of shooting in the place's own calendar, "2027-10-05".
  ADD COLUMN days text[] NOT NULL DEFAULT '{}';

ALTER TABLE setups
  ADD COLUMN place text NOT NULL DEFAULT '',
  -- Camera, lens and what is set by hand.
  ADD COLUMN camera jsonb NOT NULL DEFAULT '{}',
  ADD COLUMN position integer NOT NULL DEFAULT 0,
  ADD COLUMN archived_at timestamptz,
  ADD COLUMN deleted_at timestamptz;
UPDATE setups SET position = number;

ALTER TABLE parts
  ADD COLUMN seconds double precision NOT NULL DEFAULT 10 CHECK (seconds > 0 AND seconds <= 3600),
  ADD COLUMN deleted_at timestamptz,
  -- The planned trick it went away with, so that it comes back with it.
  ADD COLUMN removed_with uuid,
  DROP CONSTRAINT parts_setup_id_position_key;

-- A trick on a setup: its own copy of the trick, which may be adjusted.
CREATE TABLE planned_tricks (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  setup_id uuid NOT NULL REFERENCES setups ON DELETE CASCADE,
  position integer NOT NULL,
  trick jsonb NOT NULL,
  wishes jsonb NOT NULL,
  deleted_at timestamptz
);
CREATE INDEX planned_tricks_of_setup ON planned_tricks (setup_id);

-- Which of the setup's parts records which part of a trick; several tricks may share one.
CREATE TABLE planned_parts (
  planned_id uuid NOT NULL REFERENCES planned_tricks ON DELETE CASCADE,
  part_key text NOT NULL,
  part_id uuid NOT NULL REFERENCES parts ON DELETE CASCADE,
  PRIMARY KEY (planned_id, part_key)
);
CREATE INDEX planned_parts_of_part ON planned_parts (part_id);

-- Somebody looked and says that a requirement holds.
CREATE TABLE eye_checks (
  planned_id uuid NOT NULL REFERENCES planned_tricks ON DELETE CASCADE,
  requirement_key text NOT NULL,
  checked_by text NOT NULL CHECK (length(checked_by) BETWEEN 1 AND 80),
  checked_at timestamptz NOT NULL,
  PRIMARY KEY (planned_id, requirement_key)
);

-- Lines ticked on the sheet for the set. The latest word counts, whenever it arrives.
CREATE TABLE ticks (
  setup_id uuid NOT NULL REFERENCES setups ON DELETE CASCADE,
  line text NOT NULL CHECK (length(line) BETWEEN 1 AND 200),
  done boolean NOT NULL,
  ticked_by text NOT NULL DEFAULT '',
  ticked_at timestamptz NOT NULL,
  PRIMARY KEY (setup_id, line)
);

-- A sum kept with a trick: what was typed; the answer is worked out when it is read.
CREATE TABLE kept_sums (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  planned_id uuid NOT NULL REFERENCES planned_tricks ON DELETE CASCADE,
  kind text NOT NULL,
  inputs jsonb NOT NULL,
  kept_at timestamptz NOT NULL DEFAULT now()
);

-- Sensors added by hand, and changed values of those that ship with the app.
CREATE TABLE sensors (
  key text PRIMARY KEY CHECK (length(key) BETWEEN 1 AND 60),
  name text NOT NULL CHECK (length(name) BETWEEN 1 AND 120),
  width_mm double precision NOT NULL CHECK (width_mm BETWEEN 1 AND 100),
  height_mm double precision NOT NULL CHECK (height_mm BETWEEN 1 AND 100)
);

-- Down Migration
DROP TABLE sensors, kept_sums, ticks, eye_checks, planned_parts, planned_tricks;
ALTER TABLE parts DROP COLUMN seconds, DROP COLUMN deleted_at, DROP COLUMN removed_with;
ALTER TABLE setups DROP COLUMN place, DROP COLUMN camera, DROP COLUMN position, DROP COLUMN archived_at, DROP COLUMN deleted_at;
ALTER TABLE shoots DROP COLUMN archived_at, DROP COLUMN deleted_at, DROP COLUMN latitude, DROP COLUMN longitude, DROP COLUMN time_zone, DROP COLUMN days;
