import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { probeFile } from '../media/probe';
import { callServer, freshDatabase, startServer, until, type RunningServer } from './testing';

const data = mkdtempSync(join(tmpdir(), 'umbrastat-wipes-'));
let server: RunningServer;
beforeAll(async () => {
  server = await startServer(await freshDatabase(), data);
});
afterAll(async () => {
  await server?.stop();
  rmSync(data, { recursive: true, force: true });
});

const call = (method: string, path: string, body?: unknown) => callServer(server.url, method, path, body);

const NOWHERE = '00000000-0000-4000-8000-000000000000';
let setupId: string, outPart: string, outId: string, inId: string;

async function roll(partId: string, settings: object): Promise<string> {
  const made = await call('POST', `/parts/${partId}/rolls`, { seconds: 2.4, ...settings });
  expect(made.status).toBe(201);
  const rolled = await until(
    () => call('GET', `/rolls/${made.body.id}`),
    (r) => r.body.state === 'rolled',
    150,
  );
  await until(
    () => call('GET', `/takes/${rolled.body.take_id}`),
    (t) => t.body.state === 'measured',
    150,
  );
  return rolled.body.take_id;
}
const bench = () => call('GET', `/setups/${setupId}/wipes`);
const requirement = async (kind: string) =>
  (await call('GET', `/setups/${setupId}`)).body.gate.tricks[0].requirements.find(
    (r: { kind: string }) => r.kind === kind,
  );

test('a wipe’s sides are measured without being asked, and the gate says what they lack', async () => {
  const shoot = await call('POST', '/shoots', {
    name: 'Night Ferry',
    delivery_width: 1280,
    delivery_height: 720,
    delivery_fps: 25,
  });
  setupId = (await call('POST', `/shoots/${shoot.body.id}/setups`, { name: 'Trolley', scene: 'pillar', parts: [] }))
    .body.id;
  await call('POST', `/setups/${setupId}/tricks`, { key: 'passing-wipe' });
  const { parts } = (await call('GET', `/setups/${setupId}`)).body;
  const [out, into] = ['Out side', 'In side'].map((name) => parts.find((p: { name: string }) => p.name === name).id);
  outPart = out;
  expect(await requirement('covers-frame')).toMatchObject({ verdict: 'unjudged', byEye: false });
  const bad = await roll(outPart, { wipe: 'cart', wipe_fault: 'misses-corner', seed: 6 });
  await until(
    () => requirement('covers-frame'),
    (r) => r.verdict !== 'unjudged',
    150,
  );
  expect(await requirement('covers-frame')).toMatchObject({
    verdict: 'reshoot',
    text: expect.stringMatching(/take 1: The object covers 9\d % of the picture at most; open: \d+ % /),
  });
  expect(await requirement('headroom-at-least')).toMatchObject({
    verdict: 'reshoot',
    text: expect.stringContaining('punch-in'),
  });
  outId = await roll(outPart, { wipe: 'cart', seed: 3 });
  await call('PUT', `/takes/${outId}/circled`, { circled: true });
  await until(
    () => requirement('covers-frame'),
    (r) => r.verdict === 'holds',
    150,
  );
  expect(await requirement('leaves-frame')).toMatchObject({
    verdict: 'holds',
    text: expect.stringMatching(/gone after frame \d+/),
  });
  expect(await requirement('same-direction')).toMatchObject({ verdict: 'unjudged', text: 'not rolled yet: In side' });
  inId = await roll(into, { scene: 'kiosk', wipe: 'cart', wipe_side: 'in', seed: 4 });
  await until(
    () => requirement('same-direction'),
    (r) => r.verdict !== 'unjudged',
    150,
  );
  expect(await requirement('same-direction')).toMatchObject({
    verdict: 'holds',
    text: 'The camera stands on both sides.',
  });
  const { body } = await bench();
  expect(body).toMatchObject({
    outId,
    inId,
    cover: { state: 'done', verdict: { verdict: 'holds' } },
    cut: { state: 'done', measure: { relation: 'still' } },
    proofs: [],
  });
  expect(body.sides.map((s: { id: string }) => s.id)).toEqual([bad, outId, inId]);
  expect(body.cover.edges.trail).toHaveLength(3);
  // Chosen sides are kept to; asking again for what is known makes no new work.
  expect((await call('GET', `/setups/${setupId}/wipes?out=${bad}`)).body).toMatchObject({
    outId: bad,
    cover: { verdict: { verdict: 'reshoot' } },
  });
  expect((await call('POST', `/takes/${outId}/cover`)).status).toBe(200);
  expect((await call('POST', '/cuts', { out_id: outId, in_id: inId })).status).toBe(200);
});

test('a proof is rendered, plays as film and frame by frame, is saved, removed and brought back', async () => {
  const { measure } = (await bench()).body.cover;
  const asked = await call('POST', '/proofs', { out_id: outId, in_id: inId, in_start: 5 });
  expect(asked.status).toBe(201);
  const early = await call('GET', `/proofs/${asked.body.id}/frames/0`);
  expect([409, 200]).toContain(early.status);
  const made = await until(
    () => call('GET', `/proofs/${asked.body.id}`),
    (p) => p.body.state === 'done' || p.body.state === 'failed',
    150,
  );
  expect(made.body).toMatchObject({
    state: 'done',
    result: { mode: 'behind', from: measure.cut.in_first_frame, width: 640 },
  });
  const { result } = made.body;
  const at = result.out.indexOf(measure.cut.in_first_frame);
  expect([result.in[at - 1], result.in[at], result.in[at + 4]]).toEqual([null, 5, 9]);
  const film = async (as: string) => {
    const answer = await fetch(`${server.url}/api/proofs/${asked.body.id}/film?as=${as}&save=true`);
    expect(answer.headers.get('content-disposition')).toContain(`.${as}`);
    const path = join(data, `film.${as}`);
    writeFileSync(path, Buffer.from(await answer.arrayBuffer()));
    return probeFile(path, `film.${as}`);
  };
  expect(await film('mp4')).toMatchObject({ width: 640, height: result.height, codec: 'h264', containerFps: '25/1' });
  expect(await film('webm')).toMatchObject({ width: 640, codec: 'vp9' });
  const frame = await fetch(`${server.url}/api/proofs/${asked.body.id}/frames/${result.frames - 1}`);
  expect(
    Buffer.from(await frame.arrayBuffer())
      .subarray(0, 2)
      .toString('hex'),
  ).toBe('ffd8');
  expect((await call('GET', `/proofs/${asked.body.id}/frames/${result.frames}`)).status).toBe(404);
  // Part of a film is sent when a browser asks for it.
  expect(
    (await fetch(`${server.url}/api/proofs/${asked.body.id}/film`, { headers: { Range: 'bytes=0-99' } })).status,
  ).toBe(206);
  await call('PUT', `/proofs/${asked.body.id}/deleted`, { on: true });
  expect((await bench()).body.proofs).toEqual([]);
  await call('PUT', `/proofs/${asked.body.id}/deleted`, { on: false });
  expect((await bench()).body.proofs).toHaveLength(1);
});

test('edges set by hand give the numbers, and go again', async () => {
  const before = (await bench()).body.cover.measure;
  const at = (f: number, edge: 'lead' | 'trail') => before.path[`${edge}_px`][f] / 1280;
  const known = (edge: 'lead' | 'trail') =>
    before.path[`${edge}_px`].flatMap((v: number | null, f: number) => (v === null ? [] : [f]));
  const keys = (['lead', 'trail'] as const).flatMap((edge) => {
    const frames = known(edge),
      middle = frames[frames.length >> 1];
    return [frames[0], middle, frames[frames.length - 1]].map((frame) => ({
      frame,
      edge,
      from: at(frame, edge),
      to: at(frame, edge),
    }));
  });
  expect((await call('PUT', `/takes/${outId}/cover/edges`, { hand: { kind: 'passing', way: 0, keys } })).status).toBe(
    200,
  );
  const set = await until(bench, (b) => b.body.cover.state === 'done' && b.body.cover.measure.by_hand !== null, 150);
  expect(set.body.cover.measure).toMatchObject({ kind: 'passing', by_hand: { keys: 6 } });
  for (const name of ['enter_frame', 'first_full_frame', 'last_full_frame', 'leave_frame'])
    expect(Math.abs(set.body.cover.measure[name] - before[name])).toBeLessThanOrEqual(1);
  expect(set.body.cover.hand.keys).toHaveLength(6);
  await call('PUT', `/takes/${outId}/cover/edges`, { hand: null });
  const back = await until(bench, (b) => b.body.cover.state === 'done' && b.body.cover.measure.by_hand === null, 150);
  expect(back.body.cover.measure.path.trail_px).toEqual(before.path.trail_px);
});

test('what cannot be asked for is refused with a sentence', async () => {
  const key = { frame: 3, edge: 'lead', from: 0.2, to: 0.2 };
  for (const [method, path, body, status] of [
    ['GET', `/setups/${NOWHERE}/wipes`, undefined, 404],
    ['GET', `/setups/${setupId}/wipes?out=me`, undefined, 422],
    ['POST', `/takes/${NOWHERE}/cover`, undefined, 404],
    ['POST', '/cuts', { out_id: outId, in_id: outId }, 422],
    ['POST', '/cuts', { out_id: outId, in_id: NOWHERE }, 404],
    ['POST', '/proofs', { out_id: outId, in_id: inId, at: 9000 }, 422],
    ['POST', '/proofs', { out_id: outId, in_id: inId, in_start: 9000 }, 422],
    ['POST', '/proofs', { out_id: outId, in_id: inId, speed_pct: 0 }, 422],
    ['POST', '/proofs', { out_id: inId, in_id: outId }, 409],
    ['GET', `/proofs/${NOWHERE}`, undefined, 404],
    ['GET', `/proofs/${NOWHERE}/film`, undefined, 404],
    ['PUT', `/takes/${outId}/cover/edges`, {}, 422],
    ['PUT', `/takes/${outId}/cover/edges`, { hand: { kind: 'passing', way: 45, keys: [key] } }, 422],
    ['PUT', `/takes/${outId}/cover/edges`, { hand: { kind: 'passing', way: 0, keys: [] } }, 422],
    ['PUT', `/takes/${outId}/cover/edges`, { hand: { kind: 'passing', way: 0, keys: [{ ...key, frame: 9000 }] } }, 422],
    [
      'PUT',
      `/takes/${outId}/cover/edges`,
      { hand: { kind: 'closing', way: 90, keys: [{ ...key, edge: 'trail' }] } },
      422,
    ],
  ] as const) {
    const answer = await call(method, path, body);
    expect([path, body, answer.status]).toEqual([path, body, status]);
    expect(answer.body.error).toMatch(/^[A-Z].{10,}\.$/s);
  }
});
