-- Up Migration

-- What hides somebody in a cloth drop is the cloth, which has a measure of its own; only fixed things are looked for by
-- "hidden at the switch".
UPDATE planned_tricks SET trick = jsonb_set(trick, '{requirements}', (
  SELECT jsonb_agg(CASE WHEN r->>'kind' = 'hidden-at' THEN jsonb_set(r, '{kind}', '"cloth-hides"') ELSE r END ORDER BY n)
  FROM jsonb_array_elements(trick->'requirements') WITH ORDINALITY AS e(r, n)
))
WHERE trick->>'key' = 'cloth-drop' AND jsonb_array_length(trick->'requirements') > 0;

-- Down Migration
UPDATE planned_tricks SET trick = jsonb_set(trick, '{requirements}', (
  SELECT jsonb_agg(CASE WHEN r->>'kind' = 'cloth-hides' THEN jsonb_set(r, '{kind}', '"hidden-at"') ELSE r END ORDER BY n)
  FROM jsonb_array_elements(trick->'requirements') WITH ORDINALITY AS e(r, n)
))
WHERE trick->>'key' = 'cloth-drop' AND jsonb_array_length(trick->'requirements') > 0;
