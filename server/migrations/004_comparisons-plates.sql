-- Up Migration
-- Readings of a light meter beside the camera: [{"frame": 0, "ev": 7.4}].
ALTER TABLE takes
  ADD COLUMN meter jsonb,
  DROP CONSTRAINT takes_source_check,
  ADD CONSTRAINT takes_source_check CHECK (source IN ('file', 'stand-in', 'plate'));

-- One take held against another. Judged afresh whenever it is read.
CREATE TABLE comparisons (
  take_id uuid NOT NULL REFERENCES takes ON DELETE CASCADE,
  against_id uuid NOT NULL REFERENCES takes ON DELETE CASCADE,
  state text NOT NULL DEFAULT 'waiting' CHECK (state IN ('waiting', 'comparing', 'compared', 'failed')),
  claim uuid,
  heard_at timestamptz,
  failure text,
  gap jsonb,
  asked_at timestamptz NOT NULL DEFAULT now(),
  PRIMARY KEY (take_id, against_id),
  CHECK (take_id <> against_id),
  CHECK ((state = 'compared') = (gap IS NOT NULL)),
  CHECK ((state = 'failed') = (failure IS NOT NULL))
);
CREATE INDEX comparisons_of_against ON comparisons (against_id);

-- An empty picture made from a take of the setup, and how it fits one of them.
CREATE TABLE plates (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  setup_id uuid NOT NULL REFERENCES setups ON DELETE CASCADE,
  take_id uuid NOT NULL REFERENCES takes ON DELETE CASCADE,
  -- First and last frame of the clear run it is averaged from; null when it is stitched.
  run_start integer,
  run_end integer,
  keep_grain boolean NOT NULL DEFAULT false,
  -- The take it is held against.
  against_id uuid NOT NULL REFERENCES takes ON DELETE CASCADE,
  state text NOT NULL DEFAULT 'waiting' CHECK (state IN ('waiting', 'making', 'made', 'failed')),
  claim uuid,
  heard_at timestamptz,
  doing text NOT NULL DEFAULT '',
  failure text,
  source jsonb,
  comparison jsonb,
  width integer,
  height integer,
  bit_depth integer,
  asked_at timestamptz NOT NULL DEFAULT now(),
  deleted_at timestamptz,
  -- The take of the plate's part that was made of it.
  kept_as uuid REFERENCES takes ON DELETE SET NULL,
  CHECK ((run_start IS NULL) = (run_end IS NULL)),
  CHECK ((state = 'made') = (source IS NOT NULL)),
  CHECK ((state = 'failed') = (failure IS NOT NULL))
);
CREATE INDEX plates_of_setup ON plates (setup_id);

-- Down Migration
DROP TABLE plates, comparisons;
ALTER TABLE takes DROP COLUMN meter, DROP CONSTRAINT takes_source_check, ADD CONSTRAINT takes_source_check CHECK (source IN ('file', 'stand-in'));
