-- Up Migration

-- A tick or a look dated after its own day could never be taken back.
UPDATE ticks SET ticked_at = now() WHERE ticked_at > now();
UPDATE eye_checks SET checked_at = now() WHERE checked_at > now();
