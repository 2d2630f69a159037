-- Up Migration
-- What a part's takes are judged for where no trick rests on it; null as its name says.
ALTER TABLE parts ADD COLUMN purpose text CHECK (purpose IN ('locked', 'plate', 'out', 'in', 'moving', 'still'));

-- Tricks that were planned before steady light, white and focus were asked for ask for them now, of every part that must
-- be locked and shares its place or its light with another. A prop that lights up changes the light on purpose.
UPDATE planned_tricks k SET trick = jsonb_set(k.trick, '{requirements}', (k.trick->'requirements') || added.all)
FROM (
  SELECT k.id, jsonb_agg(jsonb_build_object(
      'key', v.kind || '-' || array_to_string(p.parts, '-'), 'kind', v.kind, 'parts', to_jsonb(p.parts), 'tolerance', v.tolerance,
      'why', v.why, 'remedySet', v.on_set, 'remedyEdit', v.in_edit)) AS all
  FROM planned_tricks k
  CROSS JOIN LATERAL (
    SELECT array_agg(DISTINCT q.key ORDER BY q.key) AS parts FROM (
      SELECT jsonb_array_elements_text(r->'parts') AS key FROM jsonb_array_elements(k.trick->'requirements') r
      WHERE r->>'kind' = 'locked') q) p
  CROSS JOIN (VALUES
    ('steady-light', 0.1, 'Light that changes within a take shows as a seam that comes and goes.',
      'Set exposure by hand, wait for steady light, and roll again.', 'Grade the change out along the take.'),
    ('steady-white', 0.07, 'A shift of white shows as a coloured half of the picture.',
      'Set white by hand and roll again.', 'Balance the shift out along the take.'),
    ('steady-focus', 15, 'A soft half of the picture beside a sharp one gives the mask away.',
      'Set focus by hand and roll again.',
      'Use the frames in which it is sharp, or soften the other take to match.')
  ) AS v(kind, tolerance, why, on_set, in_edit)
  WHERE p.parts IS NOT NULL
    AND EXISTS (SELECT 1 FROM jsonb_array_elements(k.trick->'requirements') r
      WHERE r->>'kind' IN ('same-position', 'same-light', 'one-roll') OR k.trick->>'key' = 'lit-prop')
    AND NOT EXISTS (SELECT 1 FROM jsonb_array_elements(k.trick->'requirements') r WHERE r->>'kind' LIKE 'steady-%' AND r->>'kind' <> 'steady-move')
    AND NOT (k.trick->>'key' = 'lit-prop' AND v.kind = 'steady-light')
  GROUP BY k.id
) added WHERE added.id = k.id;
