import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { probeFile } from '../media/probe';
import { callServer, freshDatabase, startServer, until, type RunningServer } from './testing';

const data = mkdtempSync(join(tmpdir(), 'umbrastat-plates-'));
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
let setupId: string, passId: string, plateId: string, passPart: string, platePart: string;

/** Rolls the stand-in camera and waits until the take is measured. */
async function roll(partId: string, settings: object): Promise<string> {
  const made = await call('POST', `/parts/${partId}/rolls`, { seconds: 3, ...settings });
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

test('a double’s takes are held against each other without being asked, and the gate judges by that', async () => {
  const shoot = await call('POST', '/shoots', {
    name: 'Night Ferry',
    delivery_width: 1280,
    delivery_height: 720,
    delivery_fps: 25,
  });
  setupId = (await call('POST', `/shoots/${shoot.body.id}/setups`, { name: 'Pillar', scene: 'pillar', parts: [] })).body
    .id;
  await call('POST', `/setups/${setupId}/tricks`, { key: 'slip-behind' });
  const board = () => call('GET', `/setups/${setupId}`);
  const { parts } = (await board()).body;
  [passPart, platePart] = ['Pass', 'Plate'].map((name) => parts.find((p: { name: string }) => p.name === name).id);
  passId = await roll(passPart, { crossing: 'left-to-right', seed: 5 });
  plateId = await roll(platePart, { light: 'brighter', seed: 6 });
  const judged = await until(
    board,
    (b) => b.body.gate.tricks[0].requirements.every((r: { pending: boolean }) => !r.pending),
    150,
  );
  const found = (kind: string) =>
    judged.body.gate.tricks[0].requirements.find((r: { kind: string }) => r.kind === kind);
  expect(found('same-position')).toMatchObject({ verdict: 'holds', byEye: false });
  expect(found('same-light')).toMatchObject({ verdict: 'workable', byEye: false });
  expect(found('same-light').text).toMatch(/Pass, take 1 is 0\.3\d stop darker than Plate, take 1/);
  expect(judged.body.rates.map((r: { name: string; verdict: string }) => [r.name, r.verdict]).sort()).toEqual([
    ['Pass', 'holds'],
    ['Plate', 'holds'],
  ]);
});

test('another tolerance or another circled take is judged anew without measuring', async () => {
  const [planned] = (await call('GET', `/setups/${setupId}`)).body.planned;
  const trick = {
    ...planned.trick,
    requirements: planned.trick.requirements.map((r: { kind: string }) =>
      r.kind === 'same-light' ? { ...r, tolerance: 0.5 } : r,
    ),
  };
  const light = async () =>
    (await call('GET', `/setups/${setupId}`)).body.gate.tricks[0].requirements.find(
      (r: { kind: string }) => r.kind === 'same-light',
    );
  expect((await call('PUT', `/planned/${planned.id}`, { trick, wishes: planned.wishes })).status).toBe(200);
  expect(await light()).toMatchObject({ verdict: 'holds', pending: false });
  await call('PUT', `/planned/${planned.id}`, { trick: planned.trick, wishes: planned.wishes });
  expect(await light()).toMatchObject({ verdict: 'workable', pending: false });
  const second = await roll(platePart, { seed: 7 });
  // Compared in the background; circled, the new one counts at once.
  await until(
    () => call('GET', `/comparisons?take_id=${passId}&against_id=${second}`),
    (c) => c.body.comparison?.state === 'compared',
    150,
  );
  await call('PUT', `/takes/${second}/circled`, { circled: true });
  expect(await light()).toMatchObject({ verdict: 'holds', pending: false });
  await call('PUT', `/takes/${plateId}/circled`, { circled: true });
  expect(await light()).toMatchObject({ verdict: 'workable', pending: false });
});

test('two takes stand side by side, with what was measured between them and the light meter’s word', async () => {
  const { body } = await call('POST', '/comparisons', { take_id: plateId, against_id: passId });
  expect(body.take.part.name).toBe('Plate');
  expect(body.comparison).toMatchObject({ takeId: passId, againstId: plateId, state: 'compared' });
  expect(body.comparison.gap.light.gap_stops).toBeCloseTo(-0.34, 1);
  // The camera came back brighter; the set did not.
  const meter = body.settings.find((s: { name: string }) => s.name === 'Light meter');
  expect(meter).toMatchObject({ differs: false, first: expect.stringMatching(/^7\.\d\d EV$/) });
  expect(body.settings.find((s: { name: string }) => s.name === 'Rate')).toMatchObject({
    first: '25 fps',
    second: '25 fps',
    differs: false,
  });
  const noted = await call('PUT', `/takes/${plateId}/meter`, {
    readings: [
      { frame: 40, ev: 8.2 },
      { frame: 0, ev: 8.1 },
    ],
  });
  expect(noted.body.meter).toEqual([
    { frame: 0, ev: 8.1 },
    { frame: 40, ev: 8.2 },
  ]);
  const after = await call('POST', '/comparisons', { take_id: plateId, against_id: passId });
  expect(after.body.settings.find((s: { name: string }) => s.name === 'Light meter')).toMatchObject({ differs: true });
  expect((await call('PUT', `/takes/${plateId}/meter`, { readings: [{ frame: 0, ev: 'bright' }] })).status).toBe(422);
});

test('the bench offers the nearest empty picture first; a plate is made, looked at, saved in three ways and kept as a take', async () => {
  const bench = (await call('GET', `/setups/${setupId}/plates?for=${passId}`)).body;
  expect(bench.forId).toBe(passId);
  expect(bench.parts).toEqual([{ id: platePart, name: 'Plate' }]);
  expect(bench.offers.length).toBeGreaterThanOrEqual(3);
  expect(Math.abs(bench.offers[0].stops)).toBeLessThan(0.03);
  expect(bench.offers[bench.offers.length - 1].stops).toBeCloseTo(0.34, 1);
  const wish = {
    take_id: passId,
    against_id: passId,
    run: bench.offers.find((o: { takeId: string }) => o.takeId === passId).run,
  };
  const asked = await call('POST', `/setups/${setupId}/plates`, wish);
  expect(asked.status).toBe(201);
  expect((await call('POST', `/setups/${setupId}/plates`, wish)).body.id).toBe(asked.body.id);
  const made = await until(
    () => call('GET', `/plates/${asked.body.id}`),
    (p) => p.body.state === 'made' || p.body.state === 'failed',
    150,
  );
  expect(made.body).toMatchObject({
    state: 'made',
    width: 1280,
    height: 720,
    bit_depth: 8,
    source: { source: 'clear_run', unseen_share: 0 },
    comparison: { verdict: 'holds', moved: [], intruders: [] },
  });
  const get = async (query: string, name: string) => {
    const answer = await fetch(`${server.url}/api/plates/${asked.body.id}/${query}`);
    expect(answer.status).toBe(200);
    writeFileSync(join(data, name), Buffer.from(await answer.arrayBuffer()));
    return probeFile(join(data, name), name, true);
  };
  expect(
    readFileSync(join(data, 'plates', `${asked.body.id}.png`))
      .subarray(1, 4)
      .toString(),
  ).toBe('PNG');
  expect(await get('picture', 'p.jpg')).toMatchObject({ width: 960, height: 540 });
  expect(await get('file?as=full', 'p.png')).toMatchObject({ width: 1280, height: 720, still: 'png_pipe' });
  expect(await get('file?as=delivery', 'd.png')).toMatchObject({ width: 1280, height: 720 });
  expect(await get('file?as=clip&seconds=1.2', 'c.mp4')).toMatchObject({
    width: 1280,
    height: 720,
    containerFps: '25/1',
  });
  const kept = await call('POST', `/plates/${asked.body.id}/keep`, { part_id: platePart });
  expect(kept.status).toBe(201);
  expect(kept.body).toMatchObject({ source: 'plate', circled: true });
  expect((await call('POST', `/plates/${asked.body.id}/keep`, { part_id: platePart })).body.id).toBe(kept.body.id);
  const take = await until(
    () => call('GET', `/takes/${kept.body.id}`),
    (t) => t.body.state === 'measured' || t.body.state === 'failed',
    150,
  );
  expect(take.body).toMatchObject({ state: 'measured', verdict: 'holds' });
  const gate = await until(
    () => call('GET', `/setups/${setupId}`),
    (b) => b.body.gate.tricks[0].requirements.every((r: { pending: boolean }) => !r.pending),
    150,
  );
  for (const kind of ['same-light', 'same-position', 'clean-plate'])
    expect(gate.body.gate.tricks[0].requirements.find((r: { kind: string }) => r.kind === kind)).toMatchObject({
      verdict: 'holds',
    });
  await call('PUT', `/plates/${asked.body.id}/deleted`, { on: true });
  expect((await call('GET', `/plates/${asked.body.id}`)).status).toBe(404);
  await call('PUT', `/plates/${asked.body.id}/deleted`, { on: false });
  expect((await call('GET', `/plates/${asked.body.id}`)).status).toBe(200);
});

test('what cannot be asked for is refused with a sentence', async () => {
  for (const [method, path, body, status] of [
    ['GET', `/setups/${NOWHERE}/plates`, undefined, 404],
    ['GET', `/setups/${setupId}/plates?for=me`, undefined, 422],
    ['GET', `/plates/${NOWHERE}`, undefined, 404],
    ['POST', `/setups/${setupId}/plates`, { take_id: passId }, 422],
    ['POST', `/setups/${setupId}/plates`, { take_id: NOWHERE, against_id: passId }, 404],
    ['POST', `/setups/${setupId}/plates`, { take_id: passId, against_id: passId, run: { start: 3, end: 9000 } }, 422],
    ['POST', '/comparisons', { take_id: passId, against_id: passId }, 422],
    ['POST', '/comparisons', { take_id: passId, against_id: NOWHERE }, 404],
    ['GET', `/comparisons?take_id=${passId}`, undefined, 422],
    ['PUT', `/takes/${NOWHERE}/meter`, { readings: [] }, 404],
  ] as const) {
    const answer = await call(method, path, body);
    expect([path, answer.status]).toEqual([path, status]);
    expect(answer.body.error).toMatch(/^[A-Z].{10,}\.$/);
  }
  const other = await call('POST', `/shoots/${(await call('GET', `/setups/${setupId}`)).body.shoot.id}/setups`, {
    name: 'Elsewhere',
    parts: [{ name: 'Pass' }],
  });
  const part = (await call('GET', `/setups/${other.body.id}`)).body.parts[0].id;
  const elsewhere = await roll(part, { seed: 9 });
  expect(await call('POST', '/comparisons', { take_id: passId, against_id: elsewhere })).toMatchObject({
    status: 422,
    body: { error: expect.stringContaining('two setups') },
  });
});
