-- Up Migration
-- The empty frame that a measure was made with, of measures that tell by it who stands in a take from first to last.
ALTER TABLE measures ADD COLUMN plate_id uuid REFERENCES takes ON DELETE SET NULL;

-- Down Migration
ALTER TABLE measures DROP COLUMN plate_id;
