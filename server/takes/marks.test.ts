import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { ImportPreview } from '../../api/plan';
import type { TakePage } from '../../api/takes';
import type { Mark } from '../../core/plan/marks';
import type { BeatsFound, StillsFound } from '../../core/report/moment-types';
import {
  Caller,
  freshDatabase,
  KEPT_MAIN,
  NOWHERE,
  startServer,
  until,
  type RunningServer,
} from '../testing/running-server';

const data = mkdtempSync(join(tmpdir(), 'umbrastat-marks-'));
let server: RunningServer;
let ask: Caller;
let setupId: string, takeId: string;

const marksOf = async () => (await ask.call<TakePage>('GET', `/takes/${takeId}`)).body.marks;
const mark = (body: object) => ask.call<Mark & { error?: string }>('POST', `/takes/${takeId}/marks`, body);
const beats = async () =>
  until(
    async () => (await ask.board(setupId)).gate.tricks[0].requirements.find((r) => r.kind === 'beats-marked')!,
    (r) => r.ready && !r.pending,
    150,
  );

beforeAll(async () => {
  server = await startServer(await freshDatabase(), data, {}, KEPT_MAIN);
  ask = new Caller(server.url);
  ({ setupId } = await ask.newSetup({ name: 'Counter', scene: 'kiosk', parts: [] }));
  const { parts } = await ask.putTrick(setupId, 'dialled-fade');
  takeId = await ask.roll(parts.pass, { width: 640, seconds: 4, act: 'taps', clap: true, seed: 3 });
});
afterAll(async () => {
  await server?.stop();
  rmSync(data, { recursive: true, force: true });
});

test('beats are found on their frames, heard and seen, and wait for somebody to keep them', async () => {
  expect(await beats()).toMatchObject({ verdict: 'unjudged', byEye: true });
  const { result } = await ask.measure('beats', [takeId]);
  const { beats: found, sound_offset_frames: off } = result as BeatsFound;
  // Taps at three, five and seven tenths of four seconds.
  for (const at of [30, 50, 70])
    for (const kind of ['strikes', 'sound'])
      expect([at, kind, found.some((b) => b.kind === kind && Math.abs(b.frame - at) <= 1)]).toEqual([at, kind, true]);
  expect(Math.abs(off!)).toBeLessThanOrEqual(1);
});

test('a mark is kept, moved, named, deleted and brought back; the gate follows', async () => {
  const kept = await mark({ frame: 30, name: 'Strike', kind: 'strikes', found: 30 });
  expect(kept).toMatchObject({ status: 201, body: { frame: 30, name: 'Strike', kind: 'strikes', found: 30 } });
  expect(await beats()).toMatchObject({ verdict: 'holds', byEye: false, text: 'Strike at frame 30' });
  const own = (await mark({ frame: 52, name: 'Fade' })).body;
  expect(own).toMatchObject({ kind: 'own', found: null });
  // By hand two frames beside what was found: one of the two is wrong.
  expect(await beats()).toMatchObject({
    verdict: 'workable',
    text: expect.stringContaining('Fade is marked at frame 52'),
  });
  await ask.call('PATCH', `/marks/${own.id}`, { frame: 50, name: 'Fade starts' });
  expect((await marksOf()).map((m) => [m.frame, m.name])).toEqual([
    [30, 'Strike'],
    [50, 'Fade starts'],
  ]);
  expect((await beats()).verdict).toBe('holds');
  await ask.call('PUT', `/marks/${kept.body.id}/deleted`, { on: true });
  expect((await marksOf()).map((m) => m.name)).toEqual(['Fade starts']);
  await ask.call('PUT', `/marks/${kept.body.id}/deleted`, { on: false });
  expect(await marksOf()).toHaveLength(2);
  // Kept twice, it is one.
  await ask.call('PUT', `/marks/${kept.body.id}/deleted`, { on: true });
  const again = await mark({ frame: 31, name: 'Strike', kind: 'strikes', found: 30 });
  expect(again.body).toMatchObject({ id: kept.body.id, frame: 31 });
});

test.each([
  [{ frame: 4000, name: 'A' }, 'The take has frames 0 to 99; mark one of them.'],
  [{ frame: -1, name: 'A' }, 'A frame is a whole number from 0 on.'],
  [{ frame: 3, name: '' }, 'Give the mark a name of at most 60 characters.'],
  [
    { frame: 3, name: 'A', kind: 'strikes' },
    'A beat is kept with the frame on which it was found; a mark of your own has none.',
  ],
  [{ frame: 3, name: 'A', kind: 'boom' }, 'A mark is one of your own, or of a beat that was found.'],
])('a mark that cannot be is refused with a sentence: %j', async (body, error) => {
  const before = await marksOf();
  expect(await mark(body)).toMatchObject({ status: 422, body: { error } });
  expect(await marksOf()).toEqual(before);
});

test('a mark that is not here, and a frame that is not there, are said to be gone', async () => {
  expect((await ask.call('PATCH', `/marks/${NOWHERE}`, { frame: 3 })).status).toBe(404);
  expect((await ask.call('PUT', `/marks/${NOWHERE}/deleted`, { on: true })).status).toBe(404);
  expect((await ask.call('PATCH', `/marks/${(await marksOf())[0].id}`, { frame: 100 })).status).toBe(422);
  expect((await ask.call('PATCH', `/marks/${(await marksOf())[0].id}`, {})).status).toBe(422);
});

test('marks go out as WebVTT and as CSV, named by their take', async () => {
  const { frame } = (await mark({ frame: 50, name: 'Hand <up>' })).body;
  const get = (query: string) => fetch(`${server.url}/api/takes/${takeId}/marks/file${query}`);
  const vtt = await get('?as=vtt');
  expect([vtt.status, vtt.headers.get('content-type')]).toEqual([200, expect.stringMatching(/^text\/vtt/)]);
  expect(vtt.headers.get('content-disposition')).toMatch(/setup-1-pass-take-1-marks\.vtt$/);
  expect(await vtt.text()).toContain(`frame ${frame}\n00:00:02.000 --> 00:00:02.040\nHand &lt;up&gt;\n`);
  const csv = await (await get('?as=csv')).text();
  expect(csv).toMatch(/^take,file,frame,seconds,timecode,name,kind,length_frames\r\n/);
  expect(csv).toContain(',50,2.000000,00:00:02:00,Hand <up>,own,1\r\n');
  expect((await get('?as=pdf')).status).toBe(422);
  expect((await fetch(`${server.url}/api/takes/${NOWHERE}/marks/file`)).status).toBe(404);
});

test('marks are taken in from a file: first what changes, then all of it or nothing; twice changes nothing', async () => {
  const send = (text: string, apply: boolean) =>
    ask.call<ImportPreview & { error?: string }>('POST', `/takes/${takeId}/marks/file`, { text, apply });
  const before = await marksOf();
  const csv = `name,frame\n${before[0].name},${before[0].frame + 2}\nFrom a file,77`;
  const seen = (await send(csv, false)).body;
  expect(seen).toMatchObject({ errors: [], applied: false });
  expect(seen.changes.map((c) => c.kind)).toEqual(['move-mark', 'add-mark']);
  expect(await marksOf()).toEqual(before);
  expect((await send(csv, true)).body.applied).toBe(true);
  const after = await marksOf();
  expect(after.map((m) => m.frame)).toEqual(expect.arrayContaining([before[0].frame + 2, 77]));
  expect(after).toHaveLength(before.length + 1);
  expect((await send(csv, false)).body.changes).toEqual([]);
  const wrong = await send('name,frame\nA,1\nB,soon', true);
  expect([wrong.status, wrong.body.error]).toEqual([422, expect.stringContaining('line 3')]);
  expect(await marksOf()).toEqual(after);
  const vtt = await fetch(`${server.url}/api/takes/${takeId}/marks/file?as=vtt`).then((r) => r.text());
  expect((await send(vtt, false)).body).toMatchObject({ errors: [], changes: [] });
  for (const { id } of after.filter((m) => m.name === 'From a file'))
    await ask.call('PUT', `/marks/${id}/deleted`, { on: true });
  await ask.call('PATCH', `/marks/${before[0].id}`, { frame: before[0].frame });
});

test('a frame worth holding is sent as a picture, and cut out of it', async () => {
  const { parts } = await ask.putTrick(setupId, 'streak-run');
  // The plate first: what is found without it is measured anew once there is one.
  await ask.roll(parts.plate, { width: 640, seconds: 4, seed: 2 });
  const runs = await ask.roll(parts.start, { width: 640, seconds: 3, act: 'runs-out', seed: 4 });
  const { result } = await ask.measure('stills', [runs]);
  const [{ frame }] = (result as StillsFound).stills;
  const { shoot } = (await ask.call<TakePage>('GET', `/takes/${runs}`)).body;
  const delivery = { width: shoot.delivery_width, height: shoot.delivery_height };
  const get = async (of: string, more = '') => {
    const answer = await fetch(`${server.url}/api/takes/${runs}/stills/${of}${more}`);
    return { answer, bytes: Buffer.from(await answer.arrayBuffer()) };
  };
  for (const of of ['picture', 'cutout']) {
    const { answer, bytes } = await get(`${frame}/${of}`);
    expect([answer.status, answer.headers.get('content-type')]).toEqual([200, 'image/png']);
    // Width, and the kind of colour: with alpha where it is cut out.
    expect([bytes.readUInt32BE(16), bytes[25]]).toEqual([640, of === 'cutout' ? 6 : 2]);
    const saved = await get(`${frame}/${of}`, '?save=true');
    expect(saved.answer.headers.get('content-disposition')).toContain(`${frame}.png`);
    // The shoot is delivered larger than it was recorded here.
    const delivered = await get(`${frame}/${of}`, '?save=true&size=delivery');
    const size = [16, 20].map((at) => delivered.bytes.readUInt32BE(at));
    expect([size, delivered.bytes[25]]).toEqual([[delivery.width, delivery.height], of === 'cutout' ? 6 : 2]);
    expect(delivered.answer.headers.get('content-disposition')).toContain(`-${size[0]}x${size[1]}.png`);
  }
  expect((await get('7000/picture')).answer.status).toBe(404);
  expect((await get('7000/cutout')).answer.status).toBe(404);
  expect((await get('7000/cutout', '?size=delivery')).answer.status).toBe(404);
  expect((await get(`${frame}/cutout`, '?size=huge')).answer.status).toBe(422);
});
