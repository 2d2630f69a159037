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
  const settings = { scene: 'kiosk', seconds: 1, width: 960, fps: 25, seed: 1, grain: 0 };
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
