-- Up Migration

-- The pass code, as a hash; a new one takes the place of the old.
CREATE TABLE door (
  one boolean PRIMARY KEY DEFAULT true CHECK (one),
  salt text NOT NULL,
  code_hash text NOT NULL,
  made_at timestamptz NOT NULL DEFAULT now()
);

-- Who has joined with the code. A device that is sent away is not here any more.
CREATE TABLE devices (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  name text NOT NULL,
  joined_at timestamptz NOT NULL DEFAULT now(),
  seen_at timestamptz NOT NULL DEFAULT now()
);
