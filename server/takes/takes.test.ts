import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { TakeReport } from '../../core/report/types';
import { wallClip } from '../../media/testing/wall-clip';
import { Caller, freshDatabase, query, startServer, type RunningServer } from '../testing/running-server';

const data = mkdtempSync(join(tmpdir(), 'umbrastat-takes-'));
const clip = join(data, 'clip.mp4');
let server: RunningServer;
let ask: Caller;

beforeAll(async () => {
  wallClip(clip, 2, 'crop=640:360');
  server = await startServer(await freshDatabase(), data);
  ask = new Caller(server.url);
});
afterAll(async () => {
  await server?.stop();
  rmSync(data, { recursive: true, force: true });
});

test('an uploaded file becomes a take, is measured, and its frames can be stepped', async () => {
  const { setupId, partId } = await ask.newPart();
  const id = await ask.upload(readFileSync(clip));
  const wish = { upload_id: id, name: 'A001 kiosk.mp4' };
  const made = await ask.call('POST', `/parts/${partId}/takes`, wish);
  expect(made.status).toBe(201);
  // Asked twice, there is one take.
  expect((await ask.call('POST', `/parts/${partId}/takes`, wish)).body.id).toBe(made.body.id);
  const take = await ask.measured(made.body.id);
  expect(take).toMatchObject({ state: 'done', verdict: 'holds', number: 1, frame_count: 50 });
  const report = await ask.call('GET', `/takes/${take.id}/report`);
  const delivery = { width: 640, height: 360, fps: 25 };
  expect(report.body).toMatchObject({ file: 'A001 kiosk.mp4', media: { frame_count: 50 }, delivery });

  for (const n of [0, 1, 49]) {
    const frame = await fetch(`${server.url}/api/takes/${take.id}/frames/${n}`);
    expect(frame.headers.get('content-type')).toBe('image/jpeg');
    const bytes = Buffer.from(await frame.arrayBuffer());
    expect([bytes[0], bytes[1], bytes.at(-2), bytes.at(-1)]).toEqual([0xff, 0xd8, 0xff, 0xd9]);
  }
  expect((await ask.call('GET', `/takes/${take.id}/frames/50`)).status).toBe(404);

  await ask.call('PUT', `/takes/${take.id}/circled`, { circled: true });
  const { gate } = await ask.board(setupId);
  expect(gate.headline).toBe('Not yet. Roll pass A.');
  expect(gate.rows[0]).toMatchObject({ takeNumber: 1, verdict: 'holds' });
  expect(readdirSync(join(data, 'uploads'))).toHaveLength(0);
});

test('the same bytes are stored once', async () => {
  const { partId } = await ask.newPart();
  const first = await ask.addTake(partId, readFileSync(clip), 'same.mp4');
  const files = join(data, 'files');
  const count = () => readdirSync(files).reduce((n, f) => n + readdirSync(join(files, f)).length, 0);
  const before = count();
  const second = await ask.addTake(partId, readFileSync(clip), 'same.mp4');
  expect([first.body.number, second.body.number]).toEqual([1, 2]);
  expect(count()).toBe(before);
  await Promise.all([first, second].map((t) => ask.measured(t.body.id)));
});

test('a file that is no recording is refused by its content, and nothing is kept', async () => {
  const { setupId, partId } = await ask.newPart();
  for (const [bytes, code] of [
    [Buffer.from('#EXTM3U\n/etc/passwd\n'), 'playlist'],
    [Buffer.from('dear diary'), 'text'],
    [readFileSync(clip).subarray(0, 9000), 'truncated'],
  ] as const) {
    const r = await ask.addTake(partId, bytes, 'clip.mp4');
    expect([r.status, r.body.code]).toEqual([422, code]);
    expect(r.body.error).toContain('clip.mp4');
  }
  expect((await ask.board(setupId)).parts[0].takes).toHaveLength(0);
  expect(readdirSync(join(data, 'uploads'))).toHaveLength(0);
});

test('an upload that cannot fit on the disk is refused before a byte is sent', async () => {
  // Larger than any disk, whatever machine this runs on.
  const r = await fetch(`${server.url}/api/uploads`, {
    method: 'POST',
    headers: { 'Tus-Resumable': '1.0.0', 'Upload-Length': String(2 ** 52) },
  });
  expect(r.status).toBe(413);
  expect(await r.text()).toMatch(/Maximum size|does not fit on the disk/i);
});

test('the stand-in camera rolls a take, and the truth lies beside the file', async () => {
  const { partId } = await ask.newPart();
  const takeId = await ask.roll(partId, { tripod: 'still', seconds: 1, seed: 8 });
  expect(await ask.measured(takeId)).toMatchObject({ state: 'done', verdict: 'holds', source: 'stand-in' });
  const [{ file_hash: hash }] = await query<{ file_hash: string }>(
    server.database,
    'SELECT file_hash FROM takes WHERE id = $1',
    [takeId],
  );
  const truth = JSON.parse(readFileSync(join(data, 'files', hash.slice(0, 2), `${hash}.truth.json`), 'utf8'));
  expect(truth.path.dx_px).toHaveLength(25);
  expect((await ask.call('POST', `/parts/${partId}/rolls`, { tripod: 'floating' })).status).toBe(422);
});

test('rolls are recorded one after the other, in the order in which they were asked for', async () => {
  const { setupId, partId } = await ask.newPart();
  const seeds = [31, 32, 33];
  for (const seed of seeds) await ask.call('POST', `/parts/${partId}/rolls`, { seconds: 1, seed });
  for (;;) {
    const board = await ask.board(setupId);
    const under = board.rolls.filter((r) => r.state === 'working').length;
    expect(under).toBeLessThanOrEqual(1);
    if (board.rolls.length === 0) break;
    await new Promise((r) => setTimeout(r, 100));
  }
  const { takes } = (await ask.board(setupId)).parts[0];
  expect(takes.map((t) => t.name)).toEqual(seeds.map((s) => `kiosk-${s}.mp4`));
});

test('verdicts follow what the edit is finished at, without measuring again', async () => {
  const { setupId, partId } = await ask.newPart();
  const takeId = await ask.roll(partId, { tripod: 'drift', seconds: 2, seed: 4 });
  const { shoot } = await ask.board(setupId);
  const report = async () => (await ask.call<TakeReport>('GET', `/takes/${takeId}/report`)).body;
  const before = await report();
  expect(before.delivery.width).toBe(640);
  const peak = (r: TakeReport) => r.lock.deciding.find((d) => d.unit === 'px')!.value;
  await ask.call('PATCH', `/shoots/${shoot.id}`, { delivery_width: 320, delivery_height: 180 });
  const after = await report();
  expect(after.delivery.width).toBe(320);
  expect(peak(after)).toBeCloseTo(peak(before) / 2, 2);
  expect(after.lock.path).toEqual(before.lock.path);
  const [{ finished }] = await query<{ finished: number }>(
    server.database,
    "SELECT finished FROM measures WHERE take_id = $1 AND measure = 'take'",
    [takeId],
  );
  expect(finished).toBe(1);
});

/** Processes of ffmpeg that the server itself has running. */
const coders = () =>
  readdirSync('/proc').filter((pid) => {
    try {
      const [, state = ''] = /\) (.*)$/s.exec(readFileSync(`/proc/${pid}/stat`, 'utf8')) ?? [];
      return (
        Number(state.split(' ')[1]) === server.process.pid &&
        readFileSync(`/proc/${pid}/comm`, 'utf8').trim() === 'ffmpeg'
      );
    } catch {
      return false;
    }
  }).length;

test('many that ask for full pictures at once: two are made at a time, each once, and whoever leaves is not worked for', async () => {
  const { partId } = await ask.newPart();
  const made = await ask.addTake(partId, readFileSync(clip), 'Night Ferry.mp4');
  const { id } = await ask.measured(made.body.id);
  const picture = (frame: number, signal?: AbortSignal) =>
    fetch(`${server.url}/api/takes/${id}/stills/${frame}/picture`, { signal });
  let [most, longest, ended] = [0, 0, false];
  const watching = (async () => {
    while (!ended) {
      most = Math.max(most, coders());
      const began = performance.now();
      expect((await fetch(`${server.url}/api/health`)).status).toBe(200);
      longest = Math.max(longest, performance.now() - began);
    }
  })();
  const answers = await Promise.all(Array.from({ length: 120 }, (_, k) => picture(k % 8)));
  expect([...new Set(answers.map((a) => a.status))]).toEqual([200]);
  const bytes = await Promise.all(answers.map(async (a) => Buffer.from(await a.arrayBuffer())));
  expect(bytes.every((b, k) => b.equals(bytes[k % 8]))).toBe(true);
  expect(readdirSync(join(data, 'pictures'))).toHaveLength(8);
  // Those that are gone before their turn are not made.
  const gone = new AbortController();
  const left = Array.from({ length: 30 }, (_, k) => picture(10 + k, gone.signal).catch(() => null));
  await new Promise((resolve) => setTimeout(resolve, 400));
  gone.abort();
  await Promise.all(left);
  await new Promise((resolve) => setTimeout(resolve, 1500));
  expect(coders()).toBe(0);
  expect(readdirSync(join(data, 'pictures')).length).toBeLessThan(30);
  ended = true;
  await watching;
  expect(most).toBeGreaterThan(0);
  // Each picture is read by one ffmpeg and written by another.
  expect(most).toBeLessThanOrEqual(4);
  expect(longest).toBeLessThan(3000);
});
