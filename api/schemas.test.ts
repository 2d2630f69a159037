import { TRICKS } from '../core/tricks/library/library';
import { changedPlanned, eyeCheck, importText, newPlanned, newSum, shotList, ticks, trick } from './plan-schemas';
import { cameraNotes, changedShoot, newSetup, newShoot, rollWish } from './schemas';

const wrong = (schema: { validate: (v: unknown, o?: object) => { error?: { message: string } } }, value: unknown) =>
  schema.validate(value, { abortEarly: false }).error?.message ?? null;

test.each(TRICKS.map((t) => [t.name, t] as const))(
  '%s of the library passes the same door as one composed by hand',
  (_name, t) => {
    expect(wrong(trick, t)).toBeNull();
    expect(wrong(newPlanned, { trick: t })).toBeNull();
    // What somebody could send: an unknown field, a wrong kind, a script for nobody.
    expect(wrong(trick, { ...t, evil: 1 })).toContain('evil');
    expect(wrong(trick, { ...t, requirements: [{ ...t.requirements[0], kind: 'lucky' }] })).not.toBeNull();
    expect(wrong(trick, { ...t, script: [{ part: 'nobody', say: 'Hello' }] })).toContain('nobody');
    expect(wrong(trick, { ...t, parts: [...t.parts, t.parts[0]] })).toContain('Two parts');
  },
);

test('shoots: defaults for what is left out, sentences for what cannot be', () => {
  expect(newShoot.validate({ name: ' Night Ferry ' }).value).toMatchObject({
    name: 'Night Ferry',
    delivery_width: 1920,
    delivery_fps: 25,
    latitude: null,
    days: [],
    time_zone: 'UTC',
  });
  expect(wrong(newShoot, {})).toBe('A name is missing.');
  expect(wrong(newShoot, { name: 'x'.repeat(121) })).toContain('longer than 120');
  expect(wrong(newShoot, { name: 'x', latitude: 91 })).not.toBeNull();
  expect(wrong(newShoot, { name: 'x', days: ['tomorrow'] })).toContain('2027-10-05');
  expect(wrong(newShoot, { name: 'x', days: ['2027-10-05', '2027-10-05'] })).not.toBeNull();
  expect(wrong(changedShoot, {})).not.toBeNull();
  expect(wrong(changedShoot, { time_zone: 'Europe/Oslo' })).toBeNull();
});

test('settings noted by hand keep within what cameras do; nothing noted is null', () => {
  expect(newSetup.validate({ name: 'Kiosk' }).value.camera).toEqual({
    camera: '',
    lens: '',
    focal_mm: null,
    width: null,
    height: null,
    fps: null,
    shutter_s: null,
    iso: null,
    white_k: null,
    focus_m: null,
    height_m: null,
    tilt_deg: null,
  });
  for (const bad of [
    { fps: 0 },
    { shutter_s: -1 },
    { width: 12.5 },
    { iso: 'high' },
    { tilt_deg: 200 },
    { colour: 'red' },
  ])
    expect(wrong(cameraNotes, bad)).not.toBeNull();
  expect(wrong(cameraNotes, { fps: 23.976, shutter_s: 1 / 48, white_k: 5600 })).toBeNull();
});

test('a trick is planned by its key or whole, with wishes that default to none', () => {
  expect(newPlanned.validate({ key: 'double' }).value.wishes).toEqual({
    speed_pct: null,
    push_pct: null,
    height_m: null,
    tilt_deg: null,
    lens_mm: null,
  });
  expect(wrong(newPlanned, {})).toContain('Choose a trick');
  expect(wrong(newPlanned, { key: 'double', trick: TRICKS[0] })).toContain('not both');
  expect(wrong(changedPlanned, { trick: TRICKS[0], wishes: { speed_pct: 0 } })).not.toBeNull();
});

test('ticks and looks need a time; a look needs a name', () => {
  const at = '2027-10-05T18:00:00Z';
  expect(wrong(ticks, { ticks: [{ line: 'part:a', done: true, at }] })).toBeNull();
  expect(wrong(ticks, { ticks: [] })).not.toBeNull();
  expect(wrong(ticks, { ticks: [{ line: 'part:a', done: true, at: 'now' }] })).not.toBeNull();
  expect(wrong(eyeCheck, { done: true, at })).toContain('Say who looked');
  expect(wrong(eyeCheck, { done: false, at })).toBeNull();
});

test('sums are kept with plain values only', () => {
  expect(wrong(newSum, { kind: 'cover', inputs: { width: 1.2, zone: 'Europe/Oslo' } })).toBeNull();
  for (const inputs of [{ width: { $gt: 0 } }, { 'a b': 1 }, { __proto__x: [1] }])
    expect(wrong(newSum, { kind: 'cover', inputs })).not.toBeNull();
  expect(wrong(newSum, { kind: 'fortune', inputs: {} })).not.toBeNull();
});

test('shot lists: only this app’s, in a version it knows, with each setup number and part name once', () => {
  const setup = {
    number: 1,
    name: 'Kiosk',
    place: '',
    notes: '',
    camera: newSetup.validate({ name: 'x' }).value.camera,
    parts: [],
    tricks: [],
  };
  const list = (setups: object[]) => ({
    format: 'umbrastat-shot-list',
    version: 1,
    shoot: { name: 'Night Ferry' },
    setups,
  });
  expect(wrong(shotList, list([setup]))).toBeNull();
  expect(wrong(shotList, list([setup, setup]))).toContain('duplicate');
  const part = { name: 'Plate', what: '', seconds: 5, optional: false, tricks: [] };
  expect(wrong(shotList, list([{ ...setup, parts: [part, { ...part, name: 'PLATE' }] }]))).toContain('duplicate');
  expect(wrong(shotList, { ...list([]), version: 2 })).toContain('another version');
  expect(wrong(importText, { text: '' })).toContain('empty or larger');
});

test('the stand-in camera rolls only what it can', () => {
  expect(rollWish.validate({}).value).toMatchObject({ tripod: 'still', crossing: 'nobody', fps: 25, width: 1280 });
  for (const bad of [{ seconds: 31 }, { fps: 27 }, { grain: -1 }, { seed: 0 }, { scene: 'moon' }])
    expect(wrong(rollWish, bad)).not.toBeNull();
});
