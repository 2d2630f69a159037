-- Up Migration
-- Takes measured before light, focus and presence were known are measured once more.
UPDATE measurements SET state = 'waiting', report = NULL, claim = NULL, frames_done = 0
WHERE state = 'measured' AND (report->'take' IS NULL OR report->'light' = 'null');

-- Down Migration
SELECT 1;
