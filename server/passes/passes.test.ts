import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { MeasureSent } from '../../api/measures';
import type { Joined, PassBenchPage, ZonePage } from '../../api/passes';
import type { Planned } from '../../api/plan';
import { unpackGaps, type PassOutlines } from '../../core/movers/kept';
import { zoneOf } from '../../core/tricks/zones';
import {
  Caller,
  freshDatabase,
  KEPT_MAIN,
  NOWHERE,
  query,
  startServer,
  until,
  workerOf,
  type RunningServer,
} from '../testing/running-server';
import { few } from '../../core/testing/few';

const data = mkdtempSync(join(tmpdir(), 'umbrastat-passes-'));
let server: RunningServer;
let ask: Caller;
let double: string, window: string, visitor: Planned;
/** One who stays on their side, one who reaches over, and the other. */
let acrossId: string, reachesId: string, otherId: string;
/** The scene with the opening empty, and somebody in it. */
let baseId: string, visitorId: string;

const FRAMES = 60;
const small = { width: 640, seconds: FRAMES / 25 };
const MIDDLE = { points: [[320, 0], [320, 360]], first_side: 'left' }; // prettier-ignore
const WINDOW = [
  [0.5781, 0.4028],
  [0.6781, 0.4028],
  [0.6781, 0.5611],
  [0.5781, 0.5611],
];
const bench = async (setup: string, query = '') =>
  (await ask.call<PassBenchPage>('GET', `/setups/${setup}/passes${query}`)).body;
const zones = async () => (await ask.call<ZonePage>('GET', `/setups/${window}/zones`)).body;
const requirement = async (setup: string, kind: string) =>
  (await ask.board(setup)).gate.tricks[0].requirements.find((r) => r.kind === kind)!;
/** A requirement once it is decided. */
const decided = (setup: string, kind: string) =>
  until(
    () => requirement(setup, kind),
    (r) => r.ready && !r.pending,
    150,
  );

beforeAll(async () => {
  server = await startServer(await freshDatabase(), data, {}, KEPT_MAIN);
  ask = new Caller(server.url);
  const { shootId, setupId } = await ask.newSetup({ name: 'Kiosk', scene: 'kiosk', parts: [] });
  double = setupId;
  await ask.putTrick(double, 'double');
  window = (await ask.call<{ id: string }>('POST', `/shoots/${shootId}/setups`, { name: 'Window', scene: 'kiosk' }))
    .body.id;
  visitor = await ask.putTrick(window, 'framed-visitor');
  const roll = async (setup: string, part: string, more: object) => {
    const { parts } = await ask.board(setup);
    return ask.roll(parts.find((p) => p.name === part)!.id, { ...small, ...more });
  };
  reachesId = await roll(double, 'Pass A', { crossing: 'reaches-over', seed: 2 });
  acrossId = await roll(double, 'Pass A', { crossing: 'stands-across', seed: 3 });
  otherId = await roll(double, 'Pass B', { crossing: 'comes-and-stays', seed: 4 });
  baseId = await roll(window, 'Base', { crossing: 'stands-across', seed: 3 });
  visitorId = await roll(window, 'Visitor', { crossing: 'in-opening', seed: 6 });
});
afterAll(async () => {
  await server?.stop();
  rmSync(data, { recursive: true, force: true });
});

test('the bench takes the passes that the gate stands on, and says how their trick joins them', async () => {
  const shown = await bench(double);
  expect(shown).toMatchObject({ firstId: acrossId, secondId: otherId, how: 'line', zone: null, proofs: [] });
  expect(shown.takes.map((t) => t.id).sort()).toEqual([acrossId, reachesId, otherId].sort());
  expect(await bench(double, `?first=${reachesId}`)).toMatchObject({ firstId: reachesId, secondId: otherId });
  expect(await bench(window)).toMatchObject({ firstId: baseId, secondId: visitorId, how: 'opening' });
});

test('who stands where in two passes is kept, and how near they are at any slide', async () => {
  await ask.measure('pair', [acrossId, otherId]);
  const { pair } = await bench(double);
  expect(pair!.verdict!.verdict).toBe('holds');
  const outlines = (await ask.call<PassOutlines>('GET', `/pairs/${pair!.id}/outlines`)).body;
  expect(outlines).toMatchObject({ step: 1, count: { a: FRAMES, b: FRAMES } });
  expect(outlines.width * outlines.factor).toBeGreaterThanOrEqual(640);
  expect(outlines.a.filter((f) => f?.length)).toHaveLength(FRAMES);
  const gaps = await (await fetch(`${server.url}/api/pairs/${pair!.id}/gaps`)).arrayBuffer();
  const table = unpackGaps(gaps)!;
  expect([table.rows, table.columns]).toEqual([FRAMES, FRAMES]);
  const least = Math.min(...table.gaps) / 32;
  expect(Math.abs(least * outlines.fine_factor - pair!.result!.closest_px!)).toBeLessThan(2 * outlines.fine_factor);
});

test('whoever is in is outlined once, by itself, before what tells by it', async () => {
  const rows = await query<{ measure: string; take_id: string; finished: number; finished_at: Date }>(
    server.database,
    "SELECT measure, take_id, finished, finished_at FROM measures WHERE measure IN ('outlines', 'pair')",
  );
  const outlined = new Map(rows.filter((r) => r.measure === 'outlines').map((r) => [r.take_id, r]));
  expect([...outlined.keys()]).toEqual(expect.arrayContaining([acrossId, reachesId, otherId]));
  // Some are still to be made, and none is made twice.
  expect([...outlined.values()].every((r) => r.finished <= 1)).toBe(true);
  const pair = rows.find((r) => r.measure === 'pair' && r.finished > 0)!;
  expect(pair.finished_at.getTime()).toBeGreaterThan(outlined.get(pair.take_id)!.finished_at.getTime());

  // Asked for by somebody who looks at it: it waits until then, can be called off, and is made when asked for again.
  const { setupId } = await ask.newSetup({ name: 'Quay', scene: 'bench', parts: [{ name: 'Walk' }] });
  const [{ id: partId }] = (await ask.board(setupId)).parts;
  const takeId = await ask.roll(partId, { seconds: 1, crossing: 'comes-and-stays', seed: 12 });
  const worker = workerOf(server);
  process.kill(worker, 'SIGSTOP');
  const asked = await ask.call<MeasureSent>('POST', '/measures/stills', { take: takeId });
  expect([asked.status, asked.body.state]).toEqual([201, 'waiting']);
  const off = await ask.call<MeasureSent>('POST', `/measures/${asked.body.id}/call-off`);
  expect([off.status, off.body.state]).toEqual([200, 'failed']);
  expect((await ask.call('POST', '/measures/stills', { take: takeId })).body.state).toBe('waiting');
  process.kill(worker, 'SIGCONT');
  expect((await ask.measure('stills', [takeId])).state).toBe('done');
  expect((await ask.measure('outlines', [takeId])).result).toMatchObject({ known_frames: 25 });
});

test('whoever reaches over meets the other, in the middle of the take', async () => {
  const found = await ask.measure('pair', [reachesId, otherId]);
  const { overlap_runs: runs } = found.result as { overlap_runs: { start: number; end: number }[] };
  expect(runs.length).toBeGreaterThan(0);
  expect(found.verdict!.verdict).not.toBe('holds');
  // The arm comes out from 0.35 on and is back by 0.75 of the take.
  expect(runs[0].start).toBeGreaterThanOrEqual(0.33 * FRAMES);
  expect(runs.at(-1)!.end).toBeLessThanOrEqual(0.77 * FRAMES);
});

test.each(
  few(2, [
    ['line', { line: MIDDLE, feather_px: 27, slide: 3 }, FRAMES - 3, [3, 0]],
    ['through', { strength: [{ frame: 0, pct: 100 }, { frame: 50, pct: 20 }] }, FRAMES, [0, 0]], // prettier-ignore
    ['switch', { at: 40 }, FRAMES, [0, 0]],
    ['figure', {}, FRAMES, [0, 0]],
    [
      'opening',
      { outline: WINDOW.map(([x, y]) => [640 * x, 360 * y]), lift_stops: 0.5, feather_px: 4 },
      FRAMES,
      [0, 0],
    ],
  ] as const),
)('a proof joined by %s is a film that can be stepped through', async (how, more, frames, start) => {
  const takes = how === 'opening' ? [baseId, visitorId] : [acrossId, otherId];
  const made = (await ask.measure('joined', takes, { how, ...more })) as Joined;
  expect(made.result).toMatchObject({ frames, width: 640, height: 360 + 26, second_missing: 0 });
  expect([made.result!.first[0], made.result!.second[0]]).toEqual(start);
  const film = await fetch(`${server.url}/api/proofs/${made.id}/film?as=mp4`);
  expect([film.status, film.headers.get('content-type')]).toEqual([200, 'video/mp4']);
  await film.arrayBuffer();
  const last = await fetch(`${server.url}/api/proofs/${made.id}/frames/${frames - 1}`);
  expect(Buffer.from(await last.arrayBuffer()).toString('hex', 0, 2)).toBe('ffd8');
  const setup = how === 'opening' ? window : double;
  expect((await bench(setup, `?first=${takes[0]}&second=${takes[1]}`)).proofs.map((p) => p.id)).toContain(made.id);
});

test('a zone drawn once is watched in every take, and decides', async () => {
  expect(await decided(window, 'zone-free')).toMatchObject({
    verdict: 'unjudged',
    byEye: true,
    text: 'no zone is drawn yet',
  });
  expect((await zones()).tricks).toMatchObject([{ zone: null, takes: [{ id: baseId }, { id: visitorId }] }]);
  const drawn = await ask.call<Planned>('PUT', `/planned/${visitor.id}/zone`, { zone: WINDOW });
  expect(zoneOf(drawn.body.trick)).toEqual(WINDOW);
  expect(await decided(window, 'zone-free')).toMatchObject({ verdict: 'holds', byEye: false });
  expect(await decided(window, 'inside-zone')).toMatchObject({ verdict: 'holds', byEye: false });
  expect(await decided(window, 'same-outside')).toMatchObject({ verdict: 'holds' });
  const [{ takes }] = (await zones()).tricks;
  const [base, inside] = takes.map((t) => t.zone!.result!);
  expect(base.entered_runs).toEqual([]);
  // In from three tenths of the take on, and never out of it again.
  expect(inside.entered_runs).toHaveLength(1);
  expect(Math.abs(inside.entered_runs[0].start - 0.31 * FRAMES)).toBeLessThanOrEqual(2);
  expect(inside.outside.filter((o) => o.what === 'body')).toEqual([]);
  expect(inside.path.share).toHaveLength(FRAMES);

  // Drawn elsewhere, what was seen says nothing any more.
  const elsewhere = WINDOW.map(([x, y]) => [x - 0.28, y + 0.1]);
  await ask.call('PUT', `/planned/${visitor.id}/zone`, { zone: elsewhere });
  expect((await decided(window, 'inside-zone')).text).toMatch(/somebody shows outside the opening in frames (1\d|2\d)/);
  await ask.call('PUT', `/planned/${visitor.id}/zone`, { zone: WINDOW });
  expect(await decided(window, 'inside-zone')).toMatchObject({ verdict: 'holds' });
  await ask.call('PUT', `/planned/${visitor.id}/zone`, { zone: null });
  expect(await requirement(window, 'zone-free')).toMatchObject({ text: 'no zone is drawn yet' });
});

test('once the setup has an empty frame, who stands in its passes is told by that', async () => {
  const made = async () => {
    const [row] = await query<{ plate_id: string | null; finished: number }>(
      server.database,
      "SELECT plate_id, finished FROM measures WHERE measure = 'pair' AND $1 IN (take_id, against_id) AND $2 IN (take_id, against_id)",
      [acrossId, otherId],
    );
    return row;
  };
  const before = await made();
  expect(before.plate_id).toBeNull();
  const { parts } = await ask.board(double);
  const plateId = await ask.roll(parts.find((p) => p.name === 'Plate')!.id, { ...small, crossing: 'nobody', seed: 2 });
  const after = await until(made, (m) => m.plate_id === plateId && m.finished > before.finished, 150);
  expect(after.finished).toBe(before.finished + 1);
  expect((await bench(double)).pair).toMatchObject({ state: 'done', verdict: { verdict: 'holds' } });
});

test('what cannot be done is refused with a sentence', async () => {
  const upright = [
    [1, 0],
    [1, 540],
  ];
  const joined = (wish: object, against = otherId) => ({ take: acrossId, against, wish });
  const { id: doubleTrick } = (await ask.board(double)).planned[0];
  for (const [method, path, body, status] of [
    ['GET', `/setups/${NOWHERE}/passes`, undefined, 404],
    ['GET', `/setups/${double}/passes?first=me`, undefined, 422],
    ['GET', `/setups/${NOWHERE}/zones`, undefined, 404],
    ['GET', `/pairs/${NOWHERE}/outlines`, undefined, 404],
    ['POST', '/measures/joined', joined({ how: 'line' }), 422],
    ['POST', '/measures/joined', joined({ how: 'opening' }), 422],
    ['POST', '/measures/joined', joined({ how: 'switch' }), 422],
    ['POST', '/measures/joined', joined({ how: 'sideways' }), 422],
    ['POST', '/measures/joined', joined({ how: 'line', line: { points: [[1, 2]], first_side: 'left' } }), 422],
    ['POST', '/measures/joined', joined({ how: 'through', strength: [{ frame: 1, pct: 130 }] }), 422],
    [
      'POST',
      '/measures/joined',
      joined({ how: 'line', slide: 400, line: { points: upright, first_side: 'left' } }),
      422,
    ],
    ['POST', '/measures/joined', joined({ how: 'through' }, baseId), 422],
    ['PUT', `/planned/${visitor.id}/zone`, { zone: [[0.1, 0.2]] }, 422],
    ['PUT', `/planned/${visitor.id}/zone`, { zone: [[0, 0], [2, 0], [1, 1]] }, 422], // prettier-ignore
    ['PUT', `/planned/${doubleTrick}/zone`, { zone: WINDOW }, 409],
    ['PUT', `/planned/${NOWHERE}/zone`, { zone: WINDOW }, 404],
  ] as const) {
    const answer = await ask.call(method, path, body);
    expect([path, body, answer.status]).toEqual([path, body, status]);
    expect(answer.body.error).toMatch(/^[A-Z].{10,}\.$/s);
  }
});
