-- Up Migration
-- Every measure of takes, whatever it finds: what was asked for and what came of it. Verdicts are worked out when they are read.
-- Whether it waits or is being worked on, the queue knows.
CREATE TABLE measures (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  -- The key of its description.
  measure text NOT NULL,
  take_id uuid NOT NULL REFERENCES takes ON DELETE CASCADE,
  -- The second take, of measures of two.
  against_id uuid REFERENCES takes ON DELETE CASCADE,
  wish jsonb NOT NULL DEFAULT '{}',
  -- Tells measures of the same takes with other wishes apart, where there may be several; else empty.
  slot text NOT NULL DEFAULT '',
  -- The job in the queue; kept to find its state.
  job_id uuid,
  -- What was found, without what only its own page reads, and by which version of the measure.
  result jsonb,
  version integer,
  failure text,
  asked_at timestamptz NOT NULL DEFAULT now(),
  finished_at timestamptz,
  -- How often it came to an end.
  finished integer NOT NULL DEFAULT 0,
  deleted_at timestamptz,
  CHECK ((result IS NULL) = (version IS NULL)),
  CHECK (result IS NULL OR failure IS NULL)
);
CREATE UNIQUE INDEX one_measure_of_takes ON measures (measure, take_id, coalesce(against_id, take_id), slot);
CREATE INDEX measures_of_take ON measures (take_id);
CREATE INDEX measures_of_against ON measures (against_id);
CREATE INDEX measures_of_job ON measures (job_id);
CREATE INDEX measures_open ON measures (measure) WHERE result IS NULL AND failure IS NULL;

-- Paths with a number for each frame, and whatever else lists do not read.
CREATE TABLE measure_details (
  measure_id uuid PRIMARY KEY REFERENCES measures ON DELETE CASCADE,
  detail jsonb NOT NULL
);

-- A take that was made of a plate.
ALTER TABLE takes ADD COLUMN made_of uuid REFERENCES measures ON DELETE SET NULL;

INSERT INTO measures (measure, take_id, result, version, failure, finished_at, finished)
SELECT 'take', take_id,
  CASE WHEN state = 'measured' THEN jsonb_build_object(
    'media', (report->'media') - 'repeated_frames' - 'missing_frames',
    'lock', (report->'lock') - 'verdict' - 'reasons' - 'deciding' - 'path' - 'patches',
    'light', (report->'light') - 'verdict' - 'reasons' - 'deciding' - 'path',
    'focus', (report->'focus') - 'verdict' - 'reasons' - 'deciding' - 'path',
    'presence', (report->'presence') - 'path',
    'grain_levels', coalesce(report->'grain_levels', 'null')) END,
  CASE WHEN state = 'measured' THEN 1 END,
  failure, CASE WHEN state IN ('measured', 'failed') THEN now() END, finished
FROM measurements;
INSERT INTO measure_details (measure_id, detail)
SELECT m.id, jsonb_build_object(
  'media', jsonb_build_object('repeated_frames', report->'media'->'repeated_frames', 'missing_frames', report->'media'->'missing_frames'),
  'lock', jsonb_build_object('path', report->'lock'->'path', 'patches', report->'lock'->'patches'),
  'light', jsonb_build_object('path', report->'light'->'path'),
  'focus', jsonb_build_object('path', report->'focus'->'path'),
  'presence', jsonb_build_object('path', report->'presence'->'path'))
FROM measurements o JOIN measures m ON m.measure = 'take' AND m.take_id = o.take_id WHERE o.state = 'measured';

INSERT INTO measures (measure, take_id, against_id, result, version, failure, asked_at, finished_at, finished)
SELECT 'compare', take_id, against_id, gap - 'verdict' - 'reasons' - 'deciding', CASE WHEN gap IS NOT NULL THEN 1 END, failure, asked_at,
  CASE WHEN state IN ('compared', 'failed') THEN now() END, (state = 'compared')::integer
FROM comparisons;

INSERT INTO measures (measure, take_id, wish, result, version, failure, asked_at, finished_at, finished)
SELECT 'cover', take_id, jsonb_build_object('hand', coalesce(hand, 'null')),
  CASE WHEN state = 'done' THEN result - 'path' - 'edges' END, CASE WHEN state = 'done' THEN 1 END, failure, asked_at,
  CASE WHEN state IN ('done', 'failed') THEN now() END, (state = 'done')::integer
FROM covers;
INSERT INTO measure_details (measure_id, detail)
SELECT m.id, jsonb_build_object('path', o.result->'path', 'edges', o.result->'edges')
FROM covers o JOIN measures m ON m.measure = 'cover' AND m.take_id = o.take_id WHERE o.state = 'done';

INSERT INTO measures (measure, take_id, against_id, result, version, failure, asked_at, finished_at, finished)
SELECT 'cut', out_id, in_id, CASE WHEN state = 'done' THEN result END, CASE WHEN state = 'done' THEN 1 END, failure, asked_at,
  CASE WHEN state IN ('done', 'failed') THEN now() END, (state = 'done')::integer
FROM cuts;

INSERT INTO measures (id, measure, take_id, against_id, slot, wish, result, version, failure, asked_at, finished_at, finished, deleted_at)
SELECT id, 'plate', take_id, against_id, id::text,
  jsonb_build_object('keep_grain', keep_grain,
    'run', CASE WHEN run_start IS NULL THEN 'null'::jsonb ELSE jsonb_build_object('start', run_start, 'end', run_end) END),
  CASE WHEN state = 'made' THEN jsonb_build_object('source', source, 'comparison', comparison - 'verdict' - 'reasons' - 'deciding',
    'width', width, 'height', height, 'bit_depth', bit_depth) END,
  CASE WHEN state = 'made' THEN 1 END, failure, asked_at, CASE WHEN state IN ('made', 'failed') THEN now() END,
  (state = 'made')::integer, deleted_at
FROM plates;
UPDATE takes SET made_of = p.id FROM plates p WHERE p.kept_as = takes.id;

INSERT INTO measures (id, measure, take_id, against_id, slot, wish, result, version, failure, asked_at, finished_at, finished, deleted_at)
SELECT id, 'proof', out_id, in_id, id::text, wish, CASE WHEN state = 'done' THEN result - 'out' - 'in' END,
  CASE WHEN state = 'done' THEN 1 END, failure, asked_at, CASE WHEN state IN ('done', 'failed') THEN now() END,
  (state = 'done')::integer, deleted_at
FROM proofs;
INSERT INTO measure_details (measure_id, detail)
SELECT id, jsonb_build_object('out', result->'out', 'in', result->'in') FROM proofs WHERE state = 'done';

-- What a roll came to stands here; whether it waits or runs, the queue knows.
ALTER TABLE rolls ADD COLUMN job_id uuid, DROP COLUMN state, DROP COLUMN frames_done, DROP COLUMN frames_total, DROP COLUMN claim, DROP COLUMN heard_at;

DROP TABLE measurements, comparisons, covers, cuts, plates, proofs;

-- Whatever is looked up by its parent.
CREATE INDEX parts_of_setup ON parts (setup_id);
CREATE INDEX takes_of_file ON takes (file_hash);
CREATE INDEX takes_made_of ON takes (made_of);
CREATE INDEX rolls_of_part ON rolls (part_id);
CREATE INDEX rolls_of_take ON rolls (take_id);
CREATE INDEX rolls_open ON rolls (asked_at) WHERE take_id IS NULL AND failure IS NULL;
CREATE INDEX kept_sums_of_planned ON kept_sums (planned_id);

-- Whoever asks for measures hears when a plan or its takes have changed.
CREATE FUNCTION tell_plan_changed() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM pg_notify('umbrastat_plan', '');
  RETURN NULL;
END $$;
CREATE TRIGGER planned_tricks_changed AFTER INSERT OR UPDATE OR DELETE ON planned_tricks FOR EACH STATEMENT EXECUTE FUNCTION tell_plan_changed();
CREATE TRIGGER planned_parts_changed AFTER INSERT OR UPDATE OR DELETE ON planned_parts FOR EACH STATEMENT EXECUTE FUNCTION tell_plan_changed();
CREATE TRIGGER takes_changed AFTER INSERT OR UPDATE OR DELETE ON takes FOR EACH STATEMENT EXECUTE FUNCTION tell_plan_changed();

-- Down Migration
-- What was brought together is not taken apart again: a copy of the data folder made before is the way back.
DO $$ BEGIN RAISE EXCEPTION 'The measures cannot be put back into their old tables.'; END $$;
