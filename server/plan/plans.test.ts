import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Gate } from '../../core/gate/gate';
import type { Trick } from '../../core/tricks/types';
import { ownTrick } from '../../core/tricks/library/library';
import { Caller, freshDatabase, KEPT_MAIN, startServer, type RunningServer, until } from '../testing/running-server';

const data = mkdtempSync(join(tmpdir(), 'umbrastat-plans-'));
let server: RunningServer;

const call = <T = { id: string; error: string; name: string }>(method: string, path: string, body?: unknown) =>
  new Caller(server.url).call<T>(method, path, body);

interface Planned {
  id: string;
  trick: Trick;
  wishes: { speed_pct: number | null };
  parts: Record<string, string>;
  sums: { id: string; kind: string }[];
}
interface Board {
  id: string;
  name: string;
  parts: { id: string; name: string }[];
  planned: Planned[];
  gate: Gate;
  contradictions: { code: string; text: string }[];
  removed: { parts: { id: string; name: string }[]; tricks: { id: string; name: string }[] };
  camera: { fps: number | null };
}
interface ShootPage {
  setups: Board[];
  removed: { id: string }[];
  name: string;
}

const wishes = { speed_pct: null, push_pct: null, height_m: null, tilt_deg: null, lens_mm: null };
const board = async (id: string) => (await call<Board>('GET', `/setups/${id}`)).body;
async function newSetup(camera: object = {}): Promise<{ shootId: string; setupId: string }> {
  const shoot = await call('POST', '/shoots', {
    name: 'Night Ferry',
    delivery_width: 1280,
    delivery_height: 720,
    delivery_fps: 25,
  });
  const setup = await call('POST', `/shoots/${shoot.body.id}/setups`, { name: 'Kiosk' });
  if (Object.keys(camera).length) await call('PATCH', `/setups/${setup.body.id}`, { camera });
  return { shootId: shoot.body.id, setupId: setup.body.id };
}
const put = async (setupId: string, key: string) =>
  (await call<Planned>('POST', `/setups/${setupId}/tricks`, { key })).body;

beforeAll(async () => {
  server = await startServer(await freshDatabase(), data, {}, KEPT_MAIN);
});
afterAll(async () => {
  await server?.stop();
  rmSync(data, { recursive: true, force: true });
});

test('the demo shoot is planned in full: at least eight tricks on five setups', async () => {
  const own = server;
  const folder = mkdtempSync(join(tmpdir(), 'umbrastat-demo-'));
  server = await startServer(await freshDatabase(), folder, { UMBRASTAT_DEMO: 'yes' });
  const shoots = await call<{ id: string; name: string; demo: boolean; tricks: number }[]>('GET', '/shoots');
  const demo = shoots.body.find((s) => s.demo)!;
  const page = await call<ShootPage>('GET', `/shoots/${demo.id}`);
  const planned = page.body.setups.filter((s) => s.planned.length);
  expect(planned.length).toBeGreaterThanOrEqual(5);
  expect(new Set(planned.flatMap((s) => s.planned.map((p) => p.trick.key))).size).toBeGreaterThanOrEqual(8);
  expect(page.body.setups.flatMap((s) => s.contradictions).map((c) => c.code)).toContain('rate');
  const ics = await call<string>('GET', `/shoots/${demo.id}/daylight.ics`);
  expect(ics.body.match(/BEGIN:VEVENT/g)).toHaveLength(12);
  await server.stop();
  server = own;
  rmSync(folder, { recursive: true, force: true });
});

test('tricks share one empty frame, and go and come back with their parts', async () => {
  const { setupId } = await newSetup();
  await put(setupId, 'double');
  const slip = await put(setupId, 'slip-behind');
  expect((await board(setupId)).parts.map((p) => p.name)).toEqual(['Plate', 'Pass A', 'Pass B', 'Pass']);
  const cover = await put(setupId, 'cover-pull');
  expect((await board(setupId)).parts.map((p) => p.name)).toEqual([
    'Plate',
    'Pass A',
    'Pass B',
    'Pass',
    'Pass (Cover pull)',
    'Plate (Cover pull)',
  ]);
  await call('PUT', `/planned/${cover.id}/deleted`, { on: true });
  const without = await board(setupId);
  expect(without.parts.map((p) => p.name)).toEqual(['Plate', 'Pass A', 'Pass B', 'Pass']);
  expect(without.removed.tricks).toEqual([{ id: cover.id, name: 'Cover pull' }]);
  await call('PUT', `/planned/${cover.id}/deleted`, { on: false });
  expect((await board(setupId)).parts).toHaveLength(6);
  // A part that a trick rests on is not deleted under it.
  const refused = await call('PUT', `/parts/${slip.parts.plate}/deleted`, { on: true });
  expect(refused.status).toBe(409);
  expect(refused.body.error).toContain('Double and Slip-behind');
});

test('a trick is adjusted, composed, copied, ordered; nonsense is refused in sentences', async () => {
  const { setupId } = await newSetup();
  const double = await put(setupId, 'double');
  const trick: Trick = {
    ...double.trick,
    name: 'Twins',
    parts: [
      ...double.trick.parts.filter((p) => p.key !== 'pass-b'),
      { ...double.trick.parts[1], key: 'pass-c', name: 'Pass C' },
    ],
    requirements: double.trick.requirements.filter((r) => !r.parts.includes('pass-b')),
  };
  expect(
    (
      await call('PUT', `/planned/${double.id}`, {
        trick: { ...trick, script: [] },
        wishes: { ...wishes, speed_pct: 50 },
      })
    ).status,
  ).toBe(200);
  expect((await board(setupId)).parts.map((p) => p.name)).toEqual(['Plate', 'Pass A', 'Pass C']);
  const bad = await call('PUT', `/planned/${double.id}`, {
    trick: { ...trick, requirements: [{ ...trick.requirements[0], parts: ['nobody'] }], script: [] },
    wishes,
  });
  expect(bad.status).toBe(422);
  expect(bad.body.error).toContain('speaks of a part "nobody"');
  const own = await call<Planned>('POST', `/setups/${setupId}/tricks`, { trick: ownTrick('Gulls') });
  expect(own.status).toBe(201);
  expect((await call('POST', `/setups/${setupId}/tricks`, { key: 'juggling' })).status).toBe(422);
  await call('POST', `/planned/${own.body.id}/copy`, { setup_id: setupId });
  expect((await board(setupId)).planned.map((p) => p.trick.name)).toEqual(['Twins', 'Gulls', 'Gulls, copy']);
  await call('PUT', `/setups/${setupId}/trick-order`, { ids: [own.body.id, double.id] });
  expect((await board(setupId)).planned.map((p) => p.trick.name)).toEqual(['Gulls', 'Twins', 'Gulls, copy']);
  const parts = (await board(setupId)).parts.map((p) => p.id);
  await call('PUT', `/setups/${setupId}/part-order`, { ids: [...parts].reverse() });
  expect((await board(setupId)).parts.map((p) => p.id)).toEqual([...parts].reverse());
});

test('25 fps cannot carry 40 % slow motion; noted at 100 fps it can', async () => {
  const { setupId } = await newSetup({ fps: 25 });
  const floater = await put(setupId, 'floater');
  await call('PUT', `/planned/${floater.id}`, { trick: floater.trick, wishes: { ...wishes, speed_pct: 40 } });
  expect((await board(setupId)).contradictions.map((c) => c.text).join()).toContain('40 % speed needs 62.5 fps');
  await call('PATCH', `/setups/${setupId}`, { camera: { fps: 100 } });
  expect((await board(setupId)).contradictions).toEqual([]);
});

test('shoots and setups are changed, copied, archived, deleted and brought back', async () => {
  const { shootId, setupId } = await newSetup({ fps: 50 });
  const double = await put(setupId, 'double');
  await call('POST', `/planned/${double.id}/sums`, { kind: 'retime', inputs: { capture: 50 } });
  const second = await call('POST', `/shoots/${shootId}/setups`, { name: 'Pillar' });
  await call('PUT', `/shoots/${shootId}/setup-order`, { ids: [second.body.id, setupId] });
  await call('PATCH', `/shoots/${shootId}`, { name: 'Ferry, day two', days: ['2027-10-05'], time_zone: 'Europe/Oslo' });
  expect((await call('PATCH', `/shoots/${shootId}`, { time_zone: 'Mars/North' })).body.error).toContain('time zone');
  const copy = await call('POST', `/shoots/${shootId}/copy`);
  const page = (await call<ShootPage>('GET', `/shoots/${copy.body.id}`)).body;
  expect(page.name).toBe('Ferry, day two, copy');
  expect(page.setups.map((s) => s.name)).toEqual(['Pillar', 'Kiosk']);
  expect(page.setups[1].planned[0]).toMatchObject({ trick: { name: 'Double' }, sums: [{ kind: 'retime' }] });
  expect(page.setups[1].camera.fps).toBe(50);
  expect(
    Object.values(page.setups[1].planned[0].parts).every((id) => page.setups[1].parts.some((p) => p.id === id)),
  ).toBe(true);
  await call('PUT', `/setups/${setupId}/deleted`, { on: true });
  let shoot = (await call<ShootPage>('GET', `/shoots/${shootId}`)).body;
  expect([shoot.setups.length, shoot.removed.map((s) => s.id)]).toEqual([1, [setupId]]);
  await call('PUT', `/setups/${setupId}/deleted`, { on: false });
  shoot = (await call<ShootPage>('GET', `/shoots/${shootId}`)).body;
  expect(shoot.setups).toHaveLength(2);
  await call('PUT', `/shoots/${shootId}/archived`, { on: true });
  const list = (await call<{ id: string; archived: boolean; deleted: boolean }[]>('GET', '/shoots')).body;
  expect(list.find((s) => s.id === shootId)).toMatchObject({ archived: true, deleted: false });
});

test('ticks: the latest word counts, whenever it arrives, and sending twice is harmless', async () => {
  const { setupId } = await newSetup();
  await put(setupId, 'double');
  const tick = (line: string, done: boolean, at: string) => ({ line, done, by: 'Ines', at });
  const late = [tick('part:a', true, '2026-10-05T18:00:00Z'), tick('part:b', true, '2026-10-05T18:01:00Z')];
  await call('PUT', `/setups/${setupId}/ticks`, { ticks: late });
  await call('PUT', `/setups/${setupId}/ticks`, { ticks: [...late, tick('part:a', false, '2026-10-05T17:00:00Z')] });
  await call('PUT', `/setups/${setupId}/ticks`, { ticks: [tick('part:b', false, '2026-10-05T19:00:00Z')] });
  const sheet = await call<{
    ticks: { line: string; done: boolean }[];
    steps: { part: { name: string }; script: unknown[]; why: string }[];
    orders: string[];
  }>('GET', `/setups/${setupId}/sheet`);
  expect(Object.fromEntries(sheet.body.ticks.map((t) => [t.line, t.done]))).toEqual({
    'part:a': true,
    'part:b': false,
  });
  expect(sheet.body.steps[0].part.name).toBe('Plate');
  expect(sheet.body.steps.every((s) => s.why)).toBe(true);
  expect(sheet.body.orders.join(' ')).toContain('Nobody touches the tripod');
});

test('what no measure can tell waits for an eye, and a new take asks for a new look', async () => {
  const { setupId } = await newSetup();
  const wipe = await put(setupId, 'lit-prop');
  const passId = wipe.parts.pass;
  const roll = async () => {
    const caller = new Caller(server.url);
    return caller.measured(await caller.roll(passId, { seconds: 1, seed: 5 }));
  };
  expect((await board(setupId)).gate.headline).toBe('Not yet. Roll the pass.');
  await roll();
  // Its beats are looked for first.
  const looked = () =>
    until(
      async () => (await board(setupId)).gate,
      (g) => g.toLookAt === 2,
      60,
    );
  let gate = await looked();
  expect(gate).toMatchObject({ mayStrike: false, toLookAt: 2, headline: 'Look at 2 things by eye before you strike.' });
  const eyes = gate.tricks[0].requirements.filter((r) => r.byEye);
  expect(eyes.map((r) => [r.verdict, r.text]).sort()).toEqual([
    ['unjudged', 'no beat is marked, and none was found'],
    ['unjudged', 'no zone is drawn yet'],
  ]);
  expect(gate.tricks[0].requirements.find((r) => r.kind === 'locked')).toMatchObject({
    verdict: 'holds',
    byEye: false,
  });
  expect(
    (await call('PUT', `/planned/${wipe.id}/eye-checks/${eyes[0].key}`, { done: true, at: '2026-10-05T18:00:00Z' }))
      .body.error,
  ).toContain('Say who looked');
  for (const r of eyes)
    await call('PUT', `/planned/${wipe.id}/eye-checks/${r.key}`, {
      done: true,
      by: 'Ines',
      at: '2026-10-05T18:00:00Z',
    });
  gate = (await board(setupId)).gate;
  expect(gate).toMatchObject({ verdict: 'holds', mayStrike: true, toLookAt: 0 });
  expect(gate.tricks[0].requirements.find((r) => r.key === eyes[0].key)).toMatchObject({
    text: 'by eye: Ines',
    eye: { by: 'Ines', at: '2026-10-05T18:00:00.000Z' },
  });
  // Circling the take that was looked at changes nothing; a new take does.
  const first = (
    await call<{ parts: { id: string; takes: { id: string }[] }[] }>('GET', `/setups/${setupId}`)
  ).body.parts.find((p) => p.id === passId)!.takes[0];
  await call('PUT', `/takes/${first.id}/circled`, { circled: true });
  expect((await board(setupId)).gate).toMatchObject({ verdict: 'holds', toLookAt: 0 });
  await roll();
  expect((await looked()).toLookAt).toBe(2);
});

test('shot lists go out and in: a preview first, all or nothing, nothing removed', async () => {
  const { shootId, setupId } = await newSetup({ fps: 25, camera: 'B camera' });
  await put(setupId, 'double');
  await call('POST', `/setups/${setupId}/tricks`, { trick: ownTrick('Gulls') });
  await put(setupId, 'cover-pull');
  const other = await call('POST', '/shoots', { name: 'Second unit' });
  type Preview = {
    changes: { kind: string; text: string }[];
    errors: { line: number; text: string }[];
    applied: boolean;
  };
  for (const kind of ['csv', 'json']) {
    const out = await call<unknown>('GET', `/shoots/${shootId}/shot-list.${kind}`);
    const text = typeof out.body === 'string' ? out.body : JSON.stringify(out.body);
    // Taken into the shoot it came from, nothing changes.
    expect((await call<Preview>('POST', `/shoots/${shootId}/shot-list`, { text })).body).toMatchObject({
      changes: [],
      errors: [],
    });
    if (kind === 'csv') {
      expect(
        (await call<Preview>('POST', `/shoots/${other.body.id}/shot-list`, { text })).body.errors[0].text,
      ).toContain('"Gulls" is in neither');
      continue;
    }
    const preview = await call<Preview>('POST', `/shoots/${other.body.id}/shot-list`, { text });
    expect(preview.body.changes.map((c) => c.kind)).toEqual(
      expect.arrayContaining(['add-setup', 'add-part', 'add-trick', 'change-setup']),
    );
    expect(preview.body.applied).toBe(false);
    expect((await call<ShootPage>('GET', `/shoots/${other.body.id}`)).body.setups).toHaveLength(0);
    await call('POST', `/shoots/${other.body.id}/shot-list`, { text, apply: true });
    const again = await call<unknown>('GET', `/shoots/${other.body.id}/shot-list.json`);
    expect((again.body as { setups: unknown }).setups).toEqual((out.body as { setups: unknown }).setups);
  }
  const bad = 'setup,part,fps\n1,Plate,fast\n';
  expect((await call<Preview>('POST', `/shoots/${shootId}/shot-list`, { text: bad })).body.errors).toEqual(
    [{ line: 2, text: '"fast" is not a number from 1 to 1000.' }].map((e) => ({ ...e, text: `fps: ${e.text}` })),
  );
  expect((await call('POST', `/shoots/${shootId}/shot-list`, { text: bad, apply: true })).status).toBe(422);
  expect(
    (
      await call<Preview>('POST', `/shoots/${shootId}/shot-list`, {
        text: '{"format": "umbrastat-shot-list",\n "version": 1,',
      })
    ).body.errors[0].text,
  ).toContain('breaks off');
  expect(
    (await call<Preview>('POST', `/shoots/${shootId}/shot-list`, { text: '{"format":"other"}' })).body.errors[0].text,
  ).toContain('not a shot list');
  const csv = readFileSync(writeCsv(), 'utf8');
  await call('POST', `/shoots/${shootId}/shot-list`, { text: csv, apply: true });
  const page = (await call<ShootPage>('GET', `/shoots/${shootId}`)).body;
  expect(page.setups.map((s) => [s.name, s.parts.length])).toEqual([
    ['Kiosk at night', 6],
    ['Quay', 2],
  ]);
  expect(page.setups[0].camera.fps).toBe(50);
  expect(page.setups[1].planned.map((p) => p.trick.name)).toEqual(['Passing wipe']);
});

/** A list as a spreadsheet would save it: with a byte order mark and semicolons. */
function writeCsv(): string {
  const path = join(data, 'list.csv');
  const text =
    'setup;setup_name;fps;part;seconds;tricks\r\n1;Kiosk at night;50;Plate;6;Double\r\n2;Quay;;Out ' +
    'side;8;Passing wipe\r\n2;;;In side;8;\r\n';
  execFileSync('bash', ['-c', 'printf "\\xef\\xbb\\xbf%s" "$0" > "$1"', text, path]);
  return path;
}

test('the table of sensors can be changed, added to and put back', async () => {
  type Sensor = { key: string; name: string; width_mm: number; changed: boolean; built_in: boolean };
  const find = async (key: string) => (await call<Sensor[]>('GET', '/sensors')).body.find((s) => s.key === key);
  expect(await find('full-frame')).toMatchObject({ width_mm: 36, changed: false, built_in: true });
  await call('PUT', '/sensors/full-frame', { name: 'Full frame, as measured', width_mm: 35.8, height_mm: 23.8 });
  await call('PUT', '/sensors/our-b-camera', { name: 'Our B camera', width_mm: 23, height_mm: 13 });
  expect(await find('full-frame')).toMatchObject({ width_mm: 35.8, changed: true });
  expect(await find('our-b-camera')).toMatchObject({ built_in: false });
  await call('DELETE', '/sensors/full-frame');
  expect(await find('full-frame')).toMatchObject({ width_mm: 36, changed: false });
  expect((await call('PUT', '/sensors/x', { name: '', width_mm: 0, height_mm: 1 })).status).toBe(422);
});
