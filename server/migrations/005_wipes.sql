-- Up Migration
-- What covers the picture in a take, measured once and judged afresh whenever it is read.
CREATE TABLE covers (
  take_id uuid PRIMARY KEY REFERENCES takes ON DELETE CASCADE,
  -- Edges a person set, with the kind and way they said: {"kind", "way", "keys": [{"frame", "edge", "from", "to"}]}.
  hand jsonb,
  state text NOT NULL DEFAULT 'waiting' CHECK (state IN ('waiting', 'working', 'done', 'failed')),
  claim uuid,
  heard_at timestamptz,
  frames_done integer NOT NULL DEFAULT 0,
  frames_total integer NOT NULL DEFAULT 0,
  failure text,
  result jsonb,
  asked_at timestamptz NOT NULL DEFAULT now(),
  CHECK (state <> 'done' OR result IS NOT NULL),
  CHECK ((state = 'failed') = (failure IS NOT NULL))
);

-- How the pictures of two takes move on both sides of a cut.
CREATE TABLE cuts (
  out_id uuid NOT NULL REFERENCES takes ON DELETE CASCADE,
  in_id uuid NOT NULL REFERENCES takes ON DELETE CASCADE,
  state text NOT NULL DEFAULT 'waiting' CHECK (state IN ('waiting', 'working', 'done', 'failed')),
  claim uuid,
  heard_at timestamptz,
  frames_done integer NOT NULL DEFAULT 0,
  frames_total integer NOT NULL DEFAULT 0,
  failure text,
  result jsonb,
  asked_at timestamptz NOT NULL DEFAULT now(),
  PRIMARY KEY (out_id, in_id),
  CHECK (out_id <> in_id),
  CHECK (state <> 'done' OR result IS NOT NULL),
  CHECK ((state = 'failed') = (failure IS NOT NULL))
);
CREATE INDEX cuts_of_in ON cuts (in_id);

-- A proof: the in side appearing behind what covers the out side. Its films and frames lie on disk.
CREATE TABLE proofs (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  out_id uuid NOT NULL REFERENCES takes ON DELETE CASCADE,
  in_id uuid NOT NULL REFERENCES takes ON DELETE CASCADE,
  -- What was chosen: {"at", "in_start", "speed_pct", "mirror", "feather_px", "mode"}.
  wish jsonb NOT NULL,
  state text NOT NULL DEFAULT 'waiting' CHECK (state IN ('waiting', 'working', 'done', 'failed')),
  claim uuid,
  heard_at timestamptz,
  frames_done integer NOT NULL DEFAULT 0,
  frames_total integer NOT NULL DEFAULT 0,
  failure text,
  result jsonb,
  asked_at timestamptz NOT NULL DEFAULT now(),
  deleted_at timestamptz,
  CHECK (state <> 'done' OR result IS NOT NULL),
  CHECK ((state = 'failed') = (failure IS NOT NULL))
);
CREATE INDEX proofs_of_out ON proofs (out_id);
CREATE INDEX proofs_of_in ON proofs (in_id);

-- Down Migration
DROP TABLE proofs, cuts, covers;
