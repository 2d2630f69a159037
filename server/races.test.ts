import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Tick } from '../api/plan';
import { wallClip } from '../media/testing/wall-clip';
import { Caller, freshDatabase, query, startServer, until, type RunningServer } from './testing/running-server';

/** What several devices do at the same moment. */
const data = mkdtempSync(join(tmpdir(), 'umbrastat-races-'));
let server: RunningServer;
let ask: Caller;
beforeAll(async () => {
  wallClip(join(data, 'clip.mp4'), 1, 'crop=320:180');
  server = await startServer(await freshDatabase(), data);
  ask = new Caller(server.url);
});
afterAll(async () => {
  await server?.stop();
  rmSync(data, { recursive: true, force: true });
});

const clip = () => readFileSync(join(data, 'clip.mp4'));
const statuses = (answers: { status: number }[]) => [...new Set(answers.map((a) => a.status))];

test('devices that tick many lines, each in its own order, all get through', async () => {
  const { setupId } = await ask.newPart();
  const lines = Array.from({ length: 40 }, (_, k) => `line-${k}`);
  const at = new Date().toISOString();
  const batch = (turn: number) => {
    const own = lines.map((line) => ({ line, done: true, by: `device ${turn}`, at }));
    return { ticks: turn % 2 ? own.reverse() : own };
  };
  const sent = await Promise.all(
    Array.from({ length: 60 }, (_, k) => ask.call('PUT', `/setups/${setupId}/ticks`, batch(k))),
  );
  expect(statuses(sent)).toEqual([200]);
});

test('a tick from a clock that is years ahead can be taken back, and nonsense of a moment is refused', async () => {
  const { setupId } = await ask.newPart();
  const tick = (done: boolean, at: string) =>
    ask.call<Tick[]>('PUT', `/setups/${setupId}/ticks`, { ticks: [{ line: 'lens', done, by: 'Ida', at }] });
  expect((await tick(true, '2099-01-01T00:00:00Z')).body).toMatchObject([{ line: 'lens', done: true }]);
  expect((await tick(false, new Date().toISOString())).body).toMatchObject([{ line: 'lens', done: false }]);
  for (const at of ['-000001-01-01T00:00:00Z', '+275760-09-13T00:00:00Z', '0000-01-01T00:00:00Z', 'today'])
    expect((await tick(true, at)).status).toBe(422);
});

test('notes of the camera made at the same time by four are all kept', async () => {
  const { setupId } = await ask.newPart();
  const notes = { focal_mm: 35, iso: 800, white_k: 5600, lens: 'prime' };
  const sent = await Promise.all(
    Object.entries(notes).map(([key, value]) => ask.call('PATCH', `/setups/${setupId}`, { camera: { [key]: value } })),
  );
  expect(statuses(sent)).toEqual([200]);
  expect((await ask.board(setupId)).camera).toMatchObject(notes);
});

test('many circlings at once leave one take circled', async () => {
  const { partId } = await ask.newPart();
  const takes: string[] = [];
  for (let k = 0; k < 3; k++) takes.push((await ask.addTake(partId, clip(), `A00${k}.mp4`)).body.id);
  const sent = await Promise.all(
    Array.from({ length: 60 }, (_, k) => ask.call('PUT', `/takes/${takes[k % 3]}/circled`, { circled: true })),
  );
  expect(statuses(sent)).toEqual([200]);
  const circled = await query(server.database, 'SELECT 1 FROM takes WHERE part_id = $1 AND circled', [partId]);
  expect(circled).toHaveLength(1);
  await Promise.all(takes.map((id) => ask.measured(id)));
});

test('a plate that four keep at once becomes one take', async () => {
  const { partId } = await ask.newPart();
  const take = (await ask.addTake(partId, clip(), 'A001.mp4')).body;
  await ask.measured(take.id);
  const plate = await ask.measure('plate', [take.id, take.id], { keep_grain: false });
  expect(plate.failure).toBeNull();
  const kept = await Promise.all(
    [1, 2, 3, 4].map(() => ask.call('POST', `/plates/${plate.id}/keep`, { part_id: partId })),
  );
  expect(kept.every((k) => k.status < 300)).toBe(true);
  expect(new Set(kept.map((k) => k.body.id)).size).toBe(1);
});

test('a take that is circled while a circled roll waits stays circled, and the roll becomes a take', async () => {
  const { partId } = await ask.newPart();
  const take = (await ask.addTake(partId, clip(), 'A001.mp4')).body;
  const settings = { scene: 'kiosk', seconds: 1, width: 640, fps: 25, seed: 1, grain: 0 };
  const asked = await ask.call('POST', `/parts/${partId}/rolls`, settings);
  await query(server.database, 'UPDATE rolls SET circle = true WHERE id = $1', [asked.body.id]);
  await ask.call('PUT', `/takes/${take.id}/circled`, { circled: true });
  const roll = await until(
    () => ask.call('GET', `/rolls/${asked.body.id}`),
    ({ body }) => body.take_id !== null || body.failure !== null,
    60,
  );
  expect(roll.body.failure).toBeNull();
  const rows = await query(server.database, 'SELECT id, circled FROM takes WHERE part_id = $1 ORDER BY number', [
    partId,
  ]);
  expect(rows).toMatchObject([{ id: take.id, circled: true }, { circled: false }]);
});

const changed = (method: string, path: string, body: object, seen: number | string) =>
  fetch(`${server.url}/api${path}`, {
    method,
    headers: { 'Content-Type': 'application/json', 'If-Match': typeof seen === 'number' ? `"${seen}"` : seen },
    body: JSON.stringify(body),
  }).then(async (r) => ({ status: r.status, body: (await r.json()) as Changed }));
interface Changed {
  version: number;
  code: string;
  error: string;
  here: { version: number; name: string; trick: { summary: string } };
  yours: object;
}

test('two that change one thing from the same state: the second is told what the first made of it, and may save over it', async () => {
  const { shootId, setupId } = await ask.newSetup();
  const planned = await ask.putTrick(setupId, 'double');
  const { parts } = await ask.board(setupId);
  const trick = (summary: string) => ({ trick: { ...planned.trick, summary }, wishes: planned.wishes });
  const rows: [string, string, (text: string) => object][] = [
    ['PUT', `/planned/${planned.id}`, trick],
    ['PATCH', `/setups/${setupId}`, (name) => ({ name })],
    ['PATCH', `/parts/${parts[0].id}`, (name) => ({ name })],
    ['PATCH', `/shoots/${shootId}`, (name) => ({ name })],
  ];
  for (const [method, path, body] of rows) {
    const seen = (await changed(method, path, body('Before'), '"1"')).body.version;
    const both = await Promise.all(['One', 'Two'].map((text) => changed(method, path, body(text), seen)));
    expect([path, both.map((b) => b.status).sort()]).toEqual([path, [200, 409]]);
    const [won, lost] = both[0].status === 200 ? ['One', 'Two'] : ['Two', 'One'];
    const refused = both.find((b) => b.status === 409)!.body;
    expect(refused).toMatchObject({ code: 'changed', yours: body(lost), error: expect.stringContaining('else') });
    expect(refused.here).toMatchObject(body(won));
    // Saved over it on purpose, and without a word of a version as before.
    const again = await changed(method, path, body(lost), refused.here.version);
    expect([again.status, again.body]).toEqual([200, expect.objectContaining(body(lost))]);
    expect((await ask.call(method, path, body('Last'))).status).toBe(200);
    expect((await changed(method, path, body('Odd'), 'three')).status).toBe(422);
  }
});

test('a zone that two draw from the same state is not lost in silence', async () => {
  const { setupId } = await ask.newSetup();
  const { id, version } = await ask.putTrick(setupId, 'dialled-fade');
  const box = (x: number) => ({
    zone: [
      [x, 0],
      [x + 0.1, 0],
      [x + 0.1, 0.1],
    ],
  });
  expect((await changed('PUT', `/planned/${id}/zone`, box(0.1), version)).status).toBe(200);
  const second = await changed('PUT', `/planned/${id}/zone`, box(0.5), version);
  expect([second.status, second.body.code, second.body.yours]).toEqual([409, 'changed', box(0.5)]);
});

test('what somebody removed meanwhile is not changed, and nothing is added to it: that is said, not dropped', async () => {
  const { shootId, setupId } = await ask.newSetup();
  const planned = await ask.putTrick(setupId, 'dialled-fade');
  const [part] = (await ask.board(setupId)).parts;
  const { trick, wishes } = planned;
  const zone = { zone: null };
  const at = new Date().toISOString();
  const remove = (path: string, on: boolean) => ask.call('PUT', `${path}/deleted`, { on });
  const refused = async (all: [string, string, object][]) => {
    for (const [method, path, body] of all)
      expect([path, (await ask.call(method, path, body)).body]).toEqual([
        path,
        { error: expect.stringContaining('was deleted'), code: 'deleted' },
      ]);
  };
  const ofTrick: [string, string, object][] = [
    ['PUT', `/planned/${planned.id}`, { trick, wishes }],
    ['PUT', `/planned/${planned.id}/zone`, zone],
    ['POST', `/planned/${planned.id}/sums`, { kind: 'retime', inputs: { speed: 40 } }],
    ['PUT', `/planned/${planned.id}/eye-checks/${trick.requirements[0].key}`, { done: true, by: 'Ida', at }],
  ];
  const ofSetup: [string, string, object][] = [
    ['PATCH', `/setups/${setupId}`, { name: 'New' }],
    ['POST', `/setups/${setupId}/parts`, { name: 'Extra' }],
    ['POST', `/setups/${setupId}/tricks`, { key: 'double' }],
    ['PUT', `/setups/${setupId}/part-order`, { ids: [] }],
    ['PATCH', `/parts/${part.id}`, { name: 'New' }],
  ];
  await remove(`/planned/${planned.id}`, true);
  await refused(ofTrick);
  await remove(`/planned/${planned.id}`, false);
  await remove(`/setups/${setupId}`, true);
  await refused([...ofTrick, ...ofSetup]);
  await remove(`/setups/${setupId}`, false);
  await remove(`/shoots/${shootId}`, true);
  await refused([...ofTrick, ...ofSetup, ['POST', `/shoots/${shootId}/setups`, { name: 'New' }]]);
  await remove(`/shoots/${shootId}`, false);
  expect((await ask.call('PATCH', `/setups/${setupId}`, { name: 'New' })).status).toBe(200);
});
