/** What `report.json` of a pack is made of, version 1, as JSON Schema (draft 2020-12). */

const text = { type: 'string' };
const number = { type: 'number' };
const count = { type: 'integer', minimum: 0 };
const flag = { type: 'boolean' };
const orNull = (schema: object) => ({ anyOf: [schema, { type: 'null' }] });
const list = (items: object) => ({ type: 'array', items });
const ref = (name: string) => ({ $ref: `#/$defs/${name}` });
/** An object of exactly these fields; with `open` others are allowed. */
const object = (properties: Record<string, object>, open = false) => ({
  type: 'object',
  properties,
  required: Object.keys(properties),
  additionalProperties: open,
});
const oneOf = (...words: string[]) => ({ enum: words });

const run = object({ start: count, end: count });
const verdict = oneOf('holds', 'workable', 'reshoot', 'unjudged');
const rate = { type: 'array', items: { type: 'integer', minimum: 1 }, minItems: 2, maxItems: 2 };
const inPack = { type: 'string', pattern: '^[A-Za-z0-9][A-Za-z0-9._-]*(/[A-Za-z0-9][A-Za-z0-9._-]*)*$' };

const piece = object({ take: text, start: count, frames: count, from: count, speed: { type: 'number', minimum: 0 } });
const assembly = object({
  rate: ref('rate'),
  frames: count,
  layers: list(
    object({
      name: text,
      pieces: list(piece),
      mask: { enum: ['seam', 'opening', 'figure', 'cover', 'cloth', 'strength', null] },
    }),
  ),
  cut: orNull(count),
});
const requirement = object({
  key: text,
  kind: text,
  name: text,
  says: text,
  why: text,
  verdict: ref('verdict'),
  text,
  fix: orNull(text),
  byEye: flag,
  eye: orNull(object({ by: text, at: text })),
  ready: flag,
  pending: flag,
  applies: flag,
  partNames: list(text),
});
const file = object({
  path: ref('path'),
  kind: oneOf(
    ...['page', 'timeline', 'list', 'marks', 'plate', 'still', 'cutout', 'matte', 'line', 'mask', 'edges'],
    ...['camera-path', 'recording'],
  ),
  says: text,
});
const mark = object({ id: text, frame: count, name: text, kind: text, found: orNull(count) });
const cue = object({ take: text, frame: count, name: text, kind: oneOf('cut', 'beat', 'worst', 'key') });
const wishes = object({}, true);

const recording = object({
  path: ref('path'),
  in_pack: flag,
  bytes: count,
  sha256: { type: 'string', pattern: '^[0-9a-f]{64}$' },
  xxh64: orNull({ type: 'string', pattern: '^[0-9a-f]{16}$' }),
});
const unmeasured = object({
  ...{ id: text, setup_id: text, part_id: text, part: text, number: { type: 'integer', minimum: 1 }, label: text },
  ...{ circled: flag, name: text, rolled_at: text, recording, why: text },
});
const take = object({
  id: text,
  setup_id: text,
  part_id: text,
  part: text,
  number: { type: 'integer', minimum: 1 },
  label: text,
  circled: flag,
  source: oneOf('file', 'stand-in', 'plate'),
  name: text,
  rolled_at: text,
  reel: { type: 'string', pattern: '^[A-Z0-9]{1,8}$' },
  recording,
  rate: ref('rate'),
  media: object({ width: count, height: count, frame_count: count, codec: text, timecode: orNull(text) }, true),
  report: object({ file: text, take: object({ verdict: ref('verdict'), text, fix: orNull(text) }, true) }, true),
  worst_frame: orNull(count),
  clear_runs: list(ref('run')),
  marks: list(mark),
  files: list(ref('file')),
});

const trick = object({
  id: text,
  setup_id: text,
  key: text,
  name: text,
  summary: text,
  wishes,
  parts: list(
    object({
      key: text,
      name: text,
      role: oneOf('plate', 'pass', 'out-side', 'in-side', 'still'),
      what: text,
      optional: flag,
      take_id: orNull(text),
    }),
  ),
  requirements: list(requirement),
  zone: orNull(list({ type: 'array', items: number, minItems: 2, maxItems: 2 })),
  verdict: ref('verdict'),
  found: list(
    object({ measure: text, takes: list(text), wish: wishes, result: wishes, verdict: orNull(ref('verdict')) }),
  ),
  assembly: orNull(assembly),
  not_assembled: orNull(text),
  left_out: list(text),
  cues: list(cue),
  steps: list(object({ what: text, minutes: { type: 'array', items: number, minItems: 2, maxItems: 2 } })),
  files: list(ref('file')),
});

/** Fields that packs of before did not have. */
const LATER = ['unmeasured', 'left_behind'];

const whole = {
  ...object({
    format: { const: 'umbrastat-pack' },
    version: { const: 1 },
    made_at: text,
    wish: object({ recordings: flag, mattes: flag, plates: flag, takes: oneOf('circled', 'standing', 'all') }),
    shoot: object({
      id: text,
      name: text,
      place: text,
      days: list(text),
      delivery: object({ width: count, height: count, fps: { type: 'number', exclusiveMinimum: 0 } }),
    }),
    setups: list(
      object({ id: text, number: count, name: text, place: text, notes: text, camera: wishes, headline: text }),
    ),
    tricks: list(trick),
    takes: list(take),
    unmeasured: list(unmeasured),
    left_behind: list(text),
    missing: list(object({ setup: count, trick: orNull(text), text, by: oneOf('set', 'bench', 'choice'), fix: text })),
    files: list(ref('file')),
  }),
};

export const PACK_SCHEMA = {
  $schema: 'https://json-schema.org/draft/2020-12/schema',
  title: 'Report of an Umbrastat pack',
  ...whole,
  required: whole.required.filter((name) => !LATER.includes(name)),
  $defs: { run, verdict, rate, file, path: inPack },
} as const;
