import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { WipeBenchPage } from '../../api/wipes';
import type { ProofResult } from '../../core/measures/proof/description';
import type { CoverResult } from '../../core/report/wipe-types';
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

const data = mkdtempSync(join(tmpdir(), 'umbrastat-wipes-'));
let server: RunningServer;
let ask: Caller;
let setupId: string, outPart: string, inPart: string;
/** An out side that misses a corner, a sound one, and an in side. */
let badId: string, outId: string, inId: string;

const bench = async (query = '') => (await ask.call<WipeBenchPage>('GET', `/setups/${setupId}/wipes${query}`)).body;
const requirement = async (kind: string) =>
  (await ask.board(setupId)).gate.tricks[0].requirements.find((r) => r.kind === kind)!;
/** A requirement once it is judged for the take that is circled. */
const judged = (kind: string, saying: RegExp) =>
  until(
    () => requirement(kind),
    (r) => saying.test(r.text),
    150,
  );
const circle = (id: string) => ask.call('PUT', `/takes/${id}/circled`, { circled: true });

beforeAll(async () => {
  server = await startServer(await freshDatabase(), data, {}, KEPT_MAIN);
  ask = new Caller(server.url);
  ({ setupId } = await ask.newSetup({ name: 'Trolley', scene: 'pillar', parts: [] }));
  await ask.putTrick(setupId, 'passing-wipe');
  const { parts } = await ask.board(setupId);
  [outPart, inPart] = ['Out side', 'In side'].map((name) => parts.find((p) => p.name === name)!.id);
  const wipe = { wipe: 'cart', seconds: 2.4, width: 640 };
  badId = await ask.roll(outPart, { ...wipe, wipe_fault: 'misses-corner', seed: 6 });
  outId = await ask.roll(outPart, { ...wipe, seed: 3 });
  inId = await ask.roll(inPart, { ...wipe, scene: 'kiosk', wipe_side: 'in', seed: 4 });
  await until(
    () => bench(`?out=${outId}&in=${inId}`),
    (b) => b.cut?.state === 'done',
    150,
  );
});
beforeEach(() => circle(outId));
afterAll(async () => {
  await server?.stop();
  rmSync(data, { recursive: true, force: true });
});

test('a wipe’s sides are measured without being asked, and the gate says what they lack', async () => {
  await circle(badId);
  expect(await judged('covers-frame', /take 1: The object covers 9\d %/)).toMatchObject({ verdict: 'reshoot' });
  expect(await requirement('headroom-at-least')).toMatchObject({
    verdict: 'reshoot',
    text: expect.stringContaining('punch-in') as string,
  });
  await circle(outId);
  expect(await judged('covers-frame', /all covered/)).toMatchObject({ verdict: 'holds' });
  expect(await judged('leaves-frame', /gone after frame \d+/)).toMatchObject({ verdict: 'holds' });
  expect(await judged('same-direction', /stands on both sides/)).toMatchObject({ verdict: 'holds' });
});

test('the bench shows the chosen sides; asking again for what is known makes no new work', async () => {
  const page = await bench();
  expect(page).toMatchObject({ outId, inId, cut: { state: 'done', result: { relation: 'still' } } });
  expect(page.cover).toMatchObject({ state: 'done', verdict: { verdict: 'holds' } });
  expect(page.sides.map((s) => s.id)).toEqual([badId, outId, inId]);
  expect(page.cover!.result!.edges.trail).toHaveLength(3);
  expect(await bench(`?out=${badId}`)).toMatchObject({ outId: badId, cover: { verdict: { verdict: 'reshoot' } } });
  expect((await ask.call('POST', '/measures/cover', { take: outId })).status).toBe(200);
  expect((await ask.call('POST', '/measures/cut', { take: outId, against: inId })).status).toBe(200);
});

test('a proof is rendered, plays as film and frame by frame, is saved, removed and brought back', async () => {
  const { cut } = (await bench()).cover!.result!;
  const proof = await ask.measure('proof', [outId, inId], { in_start: 5 });
  const result = proof.result as ProofResult;
  expect(proof.state).toBe('done');
  expect(result).toMatchObject({ mode: 'behind', from: cut.in_first_frame, width: 640 });
  const at = result.out.indexOf(cut.in_first_frame!);
  expect([result.in[at - 1], result.in[at], result.in[at + 4]]).toEqual([null, 5, 9]);
  const film = async (as: string) => {
    const answer = await fetch(`${server.url}/api/proofs/${proof.id}/film?as=${as}&save=true`);
    expect(answer.headers.get('content-disposition')).toContain(`.${as}`);
    const path = join(data, `film.${as}`);
    writeFileSync(path, Buffer.from(await answer.arrayBuffer()));
    return probeFile(path, `film.${as}`);
  };
  expect(await film('mp4')).toMatchObject({ width: 640, height: result.height, codec: 'h264', containerFps: '25/1' });
  expect(await film('webm')).toMatchObject({ width: 640, codec: 'vp9' });
  const frame = await fetch(`${server.url}/api/proofs/${proof.id}/frames/${result.frames - 1}`);
  expect(Buffer.from(await frame.arrayBuffer()).toString('hex', 0, 2)).toBe('ffd8');
  expect((await ask.call('GET', `/proofs/${proof.id}/frames/${result.frames}`)).status).toBe(404);
  // Part of a film is sent when a browser asks for it.
  const part = await fetch(`${server.url}/api/proofs/${proof.id}/film`, { headers: { Range: 'bytes=0-99' } });
  expect(part.status).toBe(206);
  await part.arrayBuffer();
  await ask.call('PUT', `/measures/${proof.id}/deleted`, { on: true });
  expect((await bench()).proofs).toEqual([]);
  await ask.call('PUT', `/measures/${proof.id}/deleted`, { on: false });
  expect((await bench()).proofs).toHaveLength(1);
});

test('edges set by hand give the numbers, and go again', async () => {
  const cover = async () => (await bench()).cover!.result!;
  const before = await cover();
  const keys = (['lead', 'trail'] as const).flatMap((edge) => {
    const path = before.path[`${edge}_px`];
    const frames = path.flatMap((v, f) => (v === null ? [] : [f]));
    return [frames[0], frames[frames.length >> 1], frames.at(-1)!].map((frame) => {
      const place = path[frame]! / 640;
      return { frame, edge, from: place, to: place };
    });
  });
  const byHand = await ask.measure('cover', [outId], { hand: { kind: 'passing', way: 0, keys } });
  const set = byHand.result as CoverResult;
  expect(set).toMatchObject({ kind: 'passing', by_hand: { keys: 6 } });
  for (const name of ['enter_frame', 'first_full_frame', 'last_full_frame', 'leave_frame'] as const)
    expect(Math.abs(set[name]! - before[name]!)).toBeLessThanOrEqual(1);
  expect((await bench()).cover!.wish.hand!.keys).toHaveLength(6);
  // Asked for again without a wish, it stays as it was set.
  expect((await ask.call('POST', '/measures/cover', { take: outId })).status).toBe(200);
  const back = await ask.measure('cover', [outId], { hand: null });
  expect((back.result as CoverResult).by_hand).toBeNull();
  expect((await cover()).path.trail_px).toEqual(before.path.trail_px);
});

test('what cannot be asked for is refused with a sentence', async () => {
  const key = { frame: 3, edge: 'lead', from: 0.2, to: 0.2 };
  const hand = (more: object) => ({ take: outId, wish: { hand: { kind: 'passing', way: 0, keys: [key], ...more } } });
  const proof = (wish: object) => ({ take: outId, against: inId, wish });
  for (const [method, path, body, status] of [
    ['GET', `/setups/${NOWHERE}/wipes`, undefined, 404],
    ['GET', `/setups/${setupId}/wipes?out=me`, undefined, 422],
    ['POST', '/measures/cover', { take: NOWHERE }, 404],
    ['POST', '/measures/cut', { take: outId, against: outId }, 422],
    ['POST', '/measures/cut', { take: outId, against: NOWHERE }, 404],
    ['POST', '/measures/proof', proof({ at: 9000 }), 422],
    ['POST', '/measures/proof', proof({ in_start: 9000 }), 422],
    ['POST', '/measures/proof', proof({ speed_pct: 0 }), 422],
    ['POST', '/measures/proof', { take: inId, against: outId }, 409],
    ['GET', `/measures/${NOWHERE}`, undefined, 404],
    ['GET', `/proofs/${NOWHERE}/film`, undefined, 404],
    ['POST', '/measures/cover', hand({ way: 45 }), 422],
    ['POST', '/measures/cover', hand({ keys: [] }), 422],
    ['POST', '/measures/cover', hand({ keys: [{ ...key, frame: 9000 }] }), 422],
    ['POST', '/measures/cover', hand({ kind: 'closing', way: 90, keys: [{ ...key, edge: 'trail' }] }), 422],
  ] as const) {
    const answer = await ask.call(method, path, body);
    expect([path, body, answer.status]).toEqual([path, body, status]);
    expect(answer.body.error).toMatch(/^[A-Z].{10,}\.$/s);
  }
});
