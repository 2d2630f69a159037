-- Up Migration
CREATE TABLE shoots (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  name text NOT NULL CHECK (length(name) BETWEEN 1 AND 120),
  place text NOT NULL DEFAULT '',
  delivery_width integer NOT NULL CHECK (delivery_width BETWEEN 16 AND 16384),
  delivery_height integer NOT NULL CHECK (delivery_height BETWEEN 16 AND 16384),
  delivery_fps double precision NOT NULL CHECK (delivery_fps BETWEEN 1 AND 1000),
  demo boolean NOT NULL DEFAULT false,
  created_at timestamptz NOT NULL DEFAULT now()
);
CREATE UNIQUE INDEX one_demo_shoot ON shoots (demo) WHERE demo;

CREATE TABLE setups (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  shoot_id uuid NOT NULL REFERENCES shoots ON DELETE CASCADE,
  number integer NOT NULL CHECK (number >= 1),
  name text NOT NULL CHECK (length(name) BETWEEN 1 AND 120),
  notes text NOT NULL DEFAULT '',
  -- Which view the stand-in camera shows from here.
  scene text NOT NULL DEFAULT 'kiosk',
  UNIQUE (shoot_id, number)
);

CREATE TABLE parts (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  setup_id uuid NOT NULL REFERENCES setups ON DELETE CASCADE,
  position integer NOT NULL CHECK (position >= 1),
  name text NOT NULL CHECK (length(name) BETWEEN 1 AND 120),
  what text NOT NULL DEFAULT '',
  optional boolean NOT NULL DEFAULT false,
  UNIQUE (setup_id, position)
);

-- A recording, stored once under the SHA-256 of its bytes.
CREATE TABLE files (
  hash text PRIMARY KEY CHECK (hash ~ '^[0-9a-f]{64}$'),
  bytes bigint NOT NULL CHECK (bytes > 0),
  stored_at timestamptz NOT NULL DEFAULT now()
);

CREATE TABLE takes (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  part_id uuid NOT NULL REFERENCES parts ON DELETE CASCADE,
  number integer NOT NULL CHECK (number >= 1),
  file_hash text NOT NULL REFERENCES files,
  name text NOT NULL,
  source text NOT NULL CHECK (source IN ('file', 'stand-in')),
  circled boolean NOT NULL DEFAULT false,
  -- The upload this take was made from, so that asking twice makes one take.
  upload_id text UNIQUE,
  rolled_at timestamptz NOT NULL DEFAULT now(),
  UNIQUE (part_id, number)
);
CREATE UNIQUE INDEX one_circled_take ON takes (part_id) WHERE circled;

CREATE TABLE measurements (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  take_id uuid NOT NULL UNIQUE REFERENCES takes ON DELETE CASCADE,
  state text NOT NULL DEFAULT 'waiting' CHECK (state IN ('waiting', 'measuring', 'measured', 'failed')),
  frames_done integer NOT NULL DEFAULT 0,
  frames_total integer NOT NULL DEFAULT 0,
  -- Which worker has it, and when it was last heard of: a claim that falls silent may be taken over.
  claim uuid,
  heard_at timestamptz,
  attempts integer NOT NULL DEFAULT 0,
  finished integer NOT NULL DEFAULT 0,
  failure text,
  report jsonb,
  CHECK ((state = 'measured') = (report IS NOT NULL)),
  CHECK ((state = 'failed') = (failure IS NOT NULL))
);

-- A recording of the stand-in camera under way.
CREATE TABLE rolls (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  part_id uuid NOT NULL REFERENCES parts ON DELETE CASCADE,
  settings jsonb NOT NULL,
  state text NOT NULL DEFAULT 'waiting' CHECK (state IN ('waiting', 'rolling', 'rolled', 'failed')),
  frames_done integer NOT NULL DEFAULT 0,
  frames_total integer NOT NULL DEFAULT 0,
  claim uuid,
  heard_at timestamptz,
  take_id uuid REFERENCES takes ON DELETE SET NULL,
  circle boolean NOT NULL DEFAULT false,
  failure text,
  asked_at timestamptz NOT NULL DEFAULT now()
);

-- Down Migration
DROP TABLE rolls, measurements, takes, files, parts, setups, shoots;
