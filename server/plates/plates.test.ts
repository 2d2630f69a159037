import { spawnSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { PlateBenchPage } from '../../api/plates';
import type { TakesCompared } from '../../api/takes';
import type { SetupPage } from '../../api/boards';
import type { PlateResult } from '../../core/measures/plate/description';
import { probeFile } from '../../media/ffmpeg/probe';
import {
  Caller,
  freshDatabase,
  KEPT_MAIN,
  NOWHERE,
  startServer,
  until,
  type RunningServer,
} from '../testing/running-server';

const data = mkdtempSync(join(tmpdir(), 'umbrastat-plates-'));
let server: RunningServer;
let ask: Caller;
let setupId: string, passPart: string, platePart: string;
/** A pass; a plate of it that came back a third of a stop brighter; and one in the same light. */
let passId: string, brightId: string, sameId: string;

const requirement = (board: SetupPage, kind: string) => board.gate.tricks[0].requirements.find((r) => r.kind === kind)!;
const settled = () =>
  until(
    () => ask.board(setupId),
    (b) => b.gate.tricks[0].requirements.every((r) => !r.pending),
    150,
  );
const circle = (id: string, circled = true) => ask.call('PUT', `/takes/${id}/circled`, { circled });

beforeAll(async () => {
  server = await startServer(await freshDatabase(), data, {}, KEPT_MAIN);
  ask = new Caller(server.url);
  const made = await ask.newSetup({ name: 'Pillar', scene: 'pillar', parts: [] });
  ({ setupId } = made);
  await ask.call('PATCH', `/shoots/${made.shootId}`, { delivery_width: 1280, delivery_height: 720 });
  await ask.putTrick(setupId, 'slip-behind');
  const { parts } = await ask.board(setupId);
  [passPart, platePart] = ['Pass', 'Plate'].map((name) => parts.find((p) => p.name === name)!.id);
  const small = { width: 640 };
  passId = await ask.roll(passPart, { ...small, crossing: 'left-to-right', seed: 5 });
  brightId = await ask.roll(platePart, { ...small, light: 'brighter', seed: 6 });
  sameId = await ask.roll(platePart, { ...small, seed: 7 });
});
beforeEach(() => circle(brightId));
afterAll(async () => {
  await server?.stop();
  rmSync(data, { recursive: true, force: true });
});

test('a trick’s takes are held against each other without being asked, and the gate judges by that', async () => {
  const judged = await settled();
  expect(requirement(judged, 'same-position')).toMatchObject({ verdict: 'holds', byEye: false });
  expect(requirement(judged, 'same-light')).toMatchObject({ verdict: 'workable', byEye: false });
  expect(requirement(judged, 'same-light').text).toMatch(/Pass, take 1 is 0\.3\d stop darker than Plate, take 1/);
  expect(judged.rates.map((r) => [r.name, r.verdict]).sort()).toEqual([
    ['Pass', 'holds'],
    ['Plate', 'holds'],
  ]);
});

test('another tolerance or another circled take is judged anew without measuring', async () => {
  const light = async () => requirement(await settled(), 'same-light').verdict;
  const [{ id, trick, wishes }] = (await settled()).planned;
  const wider = {
    ...trick,
    requirements: trick.requirements.map((r) => (r.kind === 'same-light' ? { ...r, tolerance: 0.5 } : r)),
  };
  expect((await ask.call('PUT', `/planned/${id}`, { trick: wider, wishes })).status).toBe(200);
  expect(await light()).toBe('holds');
  await ask.call('PUT', `/planned/${id}`, { trick, wishes });
  expect(await light()).toBe('workable');
  await circle(sameId);
  expect(await light()).toBe('holds');
  await circle(brightId);
  expect(await light()).toBe('workable');
});

test('two takes stand side by side, with what was measured between them and the light meter’s word', async () => {
  await settled();
  const page = async () =>
    (await ask.call<TakesCompared>('GET', `/comparisons?take_id=${brightId}&against_id=${passId}`)).body;
  const { take, comparison, settings } = await page();
  expect(take.part.name).toBe('Plate');
  // One measure, whichever way round it was asked for.
  expect(comparison).toMatchObject({ take_id: passId, against_id: brightId, state: 'done' });
  expect(comparison!.result!.light!.gap_stops).toBeCloseTo(-0.34, 1);
  expect(comparison!.verdict!.verdict).toBe('workable');
  // The camera came back brighter; the set did not.
  const meter = settings.find((s) => s.name === 'Light meter');
  expect(meter).toMatchObject({ differs: false, first: expect.stringMatching(/^7\.\d\d EV$/) as string });
  expect(settings.find((s) => s.name === 'Rate')).toMatchObject({ first: '25 fps', second: '25 fps', differs: false });
  const readings = [
    { frame: 40, ev: 8.2 },
    { frame: 0, ev: 8.1 },
  ];
  const noted = await ask.call('PUT', `/takes/${brightId}/meter`, { readings });
  expect(noted.body.meter).toEqual([readings[1], readings[0]]);
  expect((await page()).settings.find((s) => s.name === 'Light meter')).toMatchObject({ differs: true });
  const wrong = { readings: [{ frame: 0, ev: 'bright' }] };
  expect((await ask.call('PUT', `/takes/${brightId}/meter`, wrong)).status).toBe(422);
});

test('the bench offers the nearest empty picture first; a plate is made, saved in three ways and kept as a take', async () => {
  await settled();
  const page = async () => (await ask.call<PlateBenchPage>('GET', `/setups/${setupId}/plates?for=${passId}`)).body;
  const bench = await page();
  expect(bench.forId).toBe(passId);
  expect(bench.parts).toEqual([{ id: platePart, name: 'Plate' }]);
  expect(bench.offers.length).toBeGreaterThanOrEqual(3);
  expect(Math.abs(bench.offers[0].stops!)).toBeLessThan(0.03);
  expect(bench.offers.at(-1)!.stops).toBeCloseTo(0.34, 1);

  const wish = { run: bench.offers.find((o) => o.takeId === passId)!.run, keep_grain: false };
  const plate = await ask.measure('plate', [passId, passId], wish);
  expect(plate).toMatchObject({ state: 'done', verdict: { verdict: 'holds' } });
  const { source, comparison, ...picture } = plate.result as PlateResult;
  expect(source).toMatchObject({ source: 'clear_run', unseen_share: 0 });
  expect(comparison).toMatchObject({ moved: [], intruders: [] });
  expect(picture).toEqual({ width: 640, height: 360, bit_depth: 8 });
  // The same wish is the same plate; another one is another.
  expect((await ask.measure('plate', [passId, passId], wish)).id).toBe(plate.id);
  expect((await ask.measure('plate', [passId, passId], { ...wish, keep_grain: true })).id).not.toBe(plate.id);

  const get = async (path: string, name: string) => {
    const answer = await fetch(`${server.url}/api/plates/${plate.id}/${path}`);
    expect(answer.status).toBe(200);
    writeFileSync(join(data, name), Buffer.from(await answer.arrayBuffer()));
    return probeFile(join(data, name), name, true);
  };
  expect(readFileSync(join(data, 'plates', `${plate.id}.png`), 'latin1').slice(1, 4)).toBe('PNG');
  expect(await get('picture', 'p.jpg')).toMatchObject({ width: 640, height: 360 });
  const full = { width: 1280, height: 720 };
  expect(await get('file?as=full', 'p.png')).toMatchObject({ width: 640, height: 360, still: 'png_pipe' });
  expect(await get('file?as=delivery', 'd.png')).toMatchObject(full);
  expect(await get('file?as=clip&seconds=1.2', 'c.mp4')).toMatchObject({ ...full, containerFps: '25/1' });

  // Whoever leaves while a clip is written for them does not leave the writing behind.
  const writing = () =>
    spawnSync('pgrep', ['-P', String(server.process.pid), 'ffmpeg'], { encoding: 'utf8' }).stdout.trim();
  const leave = new AbortController();
  const left = fetch(`${server.url}/api/plates/${plate.id}/file?as=clip&seconds=60`, { signal: leave.signal }).then(
    () => 'sent',
    () => 'left',
  );
  await until(() => Promise.resolve(writing()), Boolean, 20);
  leave.abort();
  expect(await left).toBe('left');
  await until(
    () => Promise.resolve(writing()),
    (pid) => pid === '',
    1,
  );
  expect(readdirSync(join(data, 'rolling'))).toEqual([]);

  const keep = () => ask.call('POST', `/plates/${plate.id}/keep`, { part_id: platePart });
  const kept = await keep();
  expect(kept.status).toBe(201);
  expect(kept.body).toMatchObject({ source: 'plate', circled: true });
  expect((await keep()).body.id).toBe(kept.body.id);
  expect(await ask.measured(kept.body.id)).toMatchObject({ state: 'done', verdict: 'holds' });
  const gate = await settled();
  for (const kind of ['same-light', 'same-position', 'clean-plate'])
    expect(requirement(gate, kind)).toMatchObject({ verdict: 'holds' });
  expect((await page()).plates.find((p) => p.id === plate.id)!.kept_as).toBe(kept.body.id);

  await ask.call('PUT', `/measures/${plate.id}/deleted`, { on: true });
  expect((await ask.call('GET', `/plates/${plate.id}/picture`)).status).toBe(404);
  expect((await page()).plates.map((p) => p.id)).not.toContain(plate.id);
  await ask.call('PUT', `/measures/${plate.id}/deleted`, { on: false });
  expect((await page()).plates.map((p) => p.id)).toContain(plate.id);
});

test('what cannot be asked for is refused with a sentence', async () => {
  const frames = { take: passId, against: passId, wish: { run: { start: 3, end: 9000 } } };
  for (const [method, path, body, status] of [
    ['GET', `/setups/${NOWHERE}/plates`, undefined, 404],
    ['GET', `/setups/${setupId}/plates?for=me`, undefined, 422],
    ['GET', `/plates/${NOWHERE}/picture`, undefined, 404],
    ['POST', '/measures/plate', { take: passId }, 422],
    ['POST', '/measures/plate', { take: NOWHERE, against: passId }, 404],
    ['POST', '/measures/plate', frames, 422],
    ['POST', '/measures/compare', { take: passId, against: passId }, 422],
    ['POST', '/measures/compare', { take: passId, against: NOWHERE }, 404],
    ['POST', '/measures/mood', { take: passId }, 404],
    ['POST', '/measures/take', { take: passId, against: brightId }, 422],
    ['GET', `/measures/compare/of?take=${passId}`, undefined, 422],
    ['GET', `/comparisons?take_id=${passId}`, undefined, 422],
    ['PUT', `/takes/${NOWHERE}/meter`, { readings: [] }, 404],
  ] as const) {
    const answer = await ask.call(method, path, body);
    expect([path, answer.status]).toEqual([path, status]);
    expect(answer.body.error).toMatch(/^[A-Z].{10,}\.$/);
  }
});

test('takes of two setups are not laid over each other', async () => {
  const { partId } = await ask.newPart();
  const elsewhere = await ask.roll(partId, { seed: 9, seconds: 1, width: 640 });
  const asked = await ask.call('POST', '/measures/compare', { take: passId, against: elsewhere });
  expect([asked.status, asked.body.error]).toEqual([422, expect.stringContaining('two setups')]);
  const read = await ask.call('GET', `/comparisons?take_id=${passId}&against_id=${elsewhere}`);
  expect([read.status, read.body.error]).toEqual([422, expect.stringContaining('two setups')]);
});
