-- Up Migration

-- Frames of a take that somebody keeps. What was deleted can be brought back.
CREATE TABLE marks (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  take_id uuid NOT NULL REFERENCES takes ON DELETE CASCADE,
  frame integer NOT NULL CHECK (frame >= 0),
  name text NOT NULL CHECK (name <> ''),
  kind text NOT NULL,
  -- The frame on which it was found; null for a mark of one's own.
  found integer CHECK (found >= 0),
  made_at timestamptz NOT NULL DEFAULT now(),
  deleted boolean NOT NULL DEFAULT false
);
CREATE INDEX marks_take ON marks (take_id);
CREATE TRIGGER marks_told AFTER INSERT OR UPDATE OR DELETE ON marks FOR EACH STATEMENT EXECUTE FUNCTION tell_change();

-- A body is carried off well beside the way of what comes: 60 degrees are usual, where nobody chose otherwise.
UPDATE planned_tricks SET trick = jsonb_set(trick, '{requirements}', (
  SELECT jsonb_agg(CASE WHEN r->>'kind' = 'opposite-direction' AND r->>'tolerance' = '20'
    THEN jsonb_set(r, '{tolerance}', '60') ELSE r END ORDER BY n)
  FROM jsonb_array_elements(trick->'requirements') WITH ORDINALITY AS e(r, n)
))
WHERE trick->>'key' = 'staged-impact' AND jsonb_array_length(trick->'requirements') > 0;

-- Down Migration
DROP TABLE marks;
