import { execFileSync } from 'node:child_process';
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Client } from 'pg';
import { freshDatabase, startServer, until, type RunningServer } from './testing';

const data = mkdtempSync(join(tmpdir(), 'umbrastat-server-'));
const clip = join(data, 'clip.mp4');
let server: RunningServer;

interface Answer<T> {
  status: number;
  body: T;
}

async function call<T = { error: string; code: string; id: string }>(
  method: string,
  path: string,
  body?: unknown,
): Promise<Answer<T>> {
  const r = await fetch(`${server.url}/api${path}`, {
    method,
    headers: body === undefined ? {} : { 'Content-Type': 'application/json' },
    body: body === undefined ? undefined : JSON.stringify(body),
  });
  return { status: r.status, body: (await r.json()) as T };
}

/** Sends bytes as a resumable upload, in two pieces; gives the upload's id. */
async function upload(bytes: Buffer): Promise<string> {
  const made = await fetch(`${server.url}/api/uploads`, {
    method: 'POST',
    headers: { 'Tus-Resumable': '1.0.0', 'Upload-Length': String(bytes.length) },
  });
  expect(made.status).toBe(201);
  const where = new URL(made.headers.get('location')!, `${server.url}/api/uploads`).href;
  const half = Math.floor(bytes.length / 2);
  const send = (offset: number, piece: Buffer) =>
    fetch(where, {
      method: 'PATCH',
      headers: {
        'Tus-Resumable': '1.0.0',
        'Upload-Offset': String(offset),
        'Content-Type': 'application/offset+octet-stream',
      },
      body: new Uint8Array(piece),
    });
  expect((await send(0, bytes.subarray(0, half))).status).toBe(204);
  const head = await fetch(where, { method: 'HEAD', headers: { 'Tus-Resumable': '1.0.0' } });
  expect(head.headers.get('upload-offset')).toBe(String(half));
  expect((await send(half, bytes.subarray(half))).status).toBe(204);
  return where.split('/').pop()!;
}

async function newPart(): Promise<{ setupId: string; partId: string }> {
  const shoot = await call('POST', '/shoots', {
    name: 'Test',
    delivery_width: 1280,
    delivery_height: 720,
    delivery_fps: 25,
  });
  const setup = await call('POST', `/shoots/${shoot.body.id}/setups`, {
    name: 'One',
    parts: [{ name: 'Plate' }, { name: 'Pass A' }],
  });
  const board = await call<{ parts: { id: string }[] }>('GET', `/setups/${setup.body.id}`);
  return { setupId: setup.body.id, partId: board.body.parts[0].id };
}

type Take = {
  id: string;
  state: string;
  verdict: string | null;
  failure: string | null;
  number: number;
  circled: boolean;
  frames_done: number;
};
const measured = (id: string) =>
  until(
    () => call<Take>('GET', `/takes/${id}`),
    (t) => t.body.state === 'measured' || t.body.state === 'failed',
    150,
  );

beforeAll(async () => {
  execFileSync('ffmpeg', [
    '-v',
    'error',
    '-y',
    '-f',
    'lavfi',
    '-i',
    'mandelbrot=s=1280x720:r=25:start_scale=0.02:end_scale=0.02:end_pts=1000',
    '-t',
    '2',
    '-vf',
    'crop=640:360',
    '-pix_fmt',
    'yuv420p',
    clip,
  ]);
  server = await startServer(await freshDatabase(), data);
});
afterAll(async () => {
  await server?.stop();
  rmSync(data, { recursive: true, force: true });
});

test('requests are checked, and refusals are sentences', async () => {
  for (const [method, path, body, status] of [
    ['POST', '/shoots', { name: '' }, 422],
    ['POST', '/shoots', { name: 'x', delivery_width: -3 }, 422],
    ['POST', '/shoots', { name: 'x', extra: 1 }, 422],
    ['GET', '/shoots/no-id', undefined, 422],
    ['GET', '/shoots/00000000-0000-4000-8000-000000000000', undefined, 404],
    ['GET', '/takes/00000000-0000-4000-8000-000000000000/report', undefined, 404],
    ['GET', '/nothing', undefined, 404],
  ] as const) {
    const answer = await call(method, path, body);
    expect([path, answer.status]).toEqual([path, status]);
    expect(answer.body.error.length).toBeGreaterThan(10);
    expect(answer.body.error).not.toMatch(/\bat .*\(/);
  }
  const broken = await fetch(`${server.url}/api/shoots`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: '{',
  });
  expect(broken.status).toBe(400);
});

test('an uploaded file becomes a take, is measured, and its frames can be stepped', async () => {
  const { setupId, partId } = await newPart();
  const id = await upload(readFileSync(clip));
  const made = await call<Take>('POST', `/parts/${partId}/takes`, { upload_id: id, name: 'A001 kiosk.mp4' });
  expect(made.status).toBe(201);
  const again = await call<Take>('POST', `/parts/${partId}/takes`, { upload_id: id, name: 'A001 kiosk.mp4' });
  expect(again.body.id).toBe(made.body.id);
  const take = await measured(made.body.id);
  expect(take.body).toMatchObject({ state: 'measured', verdict: 'holds', number: 1 });
  const report = await call<{ file: string; media: { frame_count: number }; delivery: unknown }>(
    'GET',
    `/takes/${made.body.id}/report`,
  );
  expect(report.body).toMatchObject({
    file: 'A001 kiosk.mp4',
    media: { frame_count: 50 },
    delivery: { width: 1280, height: 720, fps: 25 },
  });

  const frames = await Promise.all([0, 1, 49].map((n) => fetch(`${server.url}/api/takes/${made.body.id}/frames/${n}`)));
  for (const f of frames) {
    expect(f.headers.get('content-type')).toBe('image/jpeg');
    const bytes = Buffer.from(await f.arrayBuffer());
    expect([bytes[0], bytes[1], bytes.at(-2), bytes.at(-1)]).toEqual([0xff, 0xd8, 0xff, 0xd9]);
  }
  expect((await fetch(`${server.url}/api/takes/${made.body.id}/frames/50`)).status).toBe(404);

  await call('PUT', `/takes/${made.body.id}/circled`, { circled: true });
  const board = await call<{ gate: { headline: string; rows: { takeNumber: number; verdict: string }[] } }>(
    'GET',
    `/setups/${setupId}`,
  );
  expect(board.body.gate.headline).toBe('Not yet. Roll pass A.');
  expect(board.body.gate.rows[0]).toMatchObject({ takeNumber: 1, verdict: 'holds' });
  expect(readdirSync(join(data, 'uploads'))).toHaveLength(0);
});

test('the same bytes are stored once', async () => {
  const { partId } = await newPart();
  const count = () =>
    readdirSync(join(data, 'files')).reduce((n, f) => n + readdirSync(join(data, 'files', f)).length, 0);
  const before = count();
  const takes = await Promise.all(
    [1, 2].map(async () =>
      call<Take>('POST', `/parts/${partId}/takes`, { upload_id: await upload(readFileSync(clip)), name: 'same.mp4' }),
    ),
  );
  expect(takes.map((t) => t.body.number).sort()).toEqual([1, 2]);
  expect(count()).toBe(before);
  await Promise.all(takes.map((t) => measured(t.body.id)));
});

test('a file that is no recording is refused by its content, and nothing is kept', async () => {
  const { setupId, partId } = await newPart();
  for (const [bytes, code] of [
    [Buffer.from('#EXTM3U\n/etc/passwd\n'), 'playlist'],
    [Buffer.from('dear diary'), 'text'],
    [readFileSync(clip).subarray(0, 9000), 'truncated'],
  ] as const) {
    const r = await call('POST', `/parts/${partId}/takes`, { upload_id: await upload(bytes), name: 'clip.mp4' });
    expect([r.status, r.body.code]).toEqual([422, code]);
    expect(r.body.error).toContain('clip.mp4');
  }
  const board = await call<{ parts: { takes: unknown[] }[] }>('GET', `/setups/${setupId}`);
  expect(board.body.parts[0].takes).toHaveLength(0);
  expect(readdirSync(join(data, 'uploads'))).toHaveLength(0);
});

test('an upload that cannot fit on the disk is refused before a byte is sent', async () => {
  const r = await fetch(`${server.url}/api/uploads`, {
    method: 'POST',
    headers: { 'Tus-Resumable': '1.0.0', 'Upload-Length': String(190 * 1024 ** 3) },
  });
  expect(r.status).toBe(413);
  expect(await r.text()).toMatch(/does not fit on the disk|Maximum size/i);
});

test('the stand-in camera rolls a take, and the truth lies beside the file', async () => {
  const { partId } = await newPart();
  const roll = await call<{ id: string }>('POST', `/parts/${partId}/rolls`, { tripod: 'still', seconds: 1, seed: 8 });
  expect(roll.status).toBe(201);
  const done = await until(
    () => call<{ state: string; take_id: string }>('GET', `/rolls/${roll.body.id}`),
    (r) => r.body.state === 'rolled',
    150,
  );
  const take = await measured(done.body.take_id);
  expect(take.body).toMatchObject({ state: 'measured', verdict: 'holds' });
  const db = new Client({ connectionString: server.database });
  await db.connect();
  const { rows } = await db.query('SELECT file_hash FROM takes WHERE id = $1', [done.body.take_id]);
  await db.end();
  const hash: string = rows[0].file_hash;
  const truth = JSON.parse(readFileSync(join(data, 'files', hash.slice(0, 2), `${hash}.truth.json`), 'utf8'));
  expect(truth.path.dx_px).toHaveLength(25);
  expect((await call('POST', `/parts/${partId}/rolls`, { tripod: 'floating' })).status).toBe(422);
});

test('a failed measurement says why and can be run again', async () => {
  const { partId } = await newPart();
  const made = await call<Take>('POST', `/parts/${partId}/takes`, {
    upload_id: await upload(readFileSync(clip)),
    name: 'again.mp4',
  });
  const first = await measured(made.body.id);
  expect(first.body.state).toBe('measured');
  const db = new Client({ connectionString: server.database });
  await db.connect();
  await db.query(
    "UPDATE measurements SET state = 'failed', failure = 'The disk was full.', report = NULL WHERE take_id = $1",
    [made.body.id],
  );
  await db.end();
  expect((await call<Take>('GET', `/takes/${made.body.id}`)).body.failure).toBe('The disk was full.');
  expect((await call('POST', `/takes/${made.body.id}/measure`)).status).toBe(200);
  expect((await measured(made.body.id)).body.state).toBe('measured');
  expect((await call('POST', `/takes/${made.body.id}/measure`)).status).toBe(409);
});

test('killed in the middle of a measurement and started again, the job finishes once', async () => {
  const { partId } = await newPart();
  const long = join(data, 'long.mp4');
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-stream_loop', '14', '-i', clip, '-c', 'copy', long]);
  const made = await call<Take>('POST', `/parts/${partId}/takes`, {
    upload_id: await upload(readFileSync(long)),
    name: 'long.mp4',
  });
  await until(
    () => call<Take>('GET', `/takes/${made.body.id}`),
    (t) => t.body.state === 'measuring' && t.body.frames_done > 0,
    150,
  );
  // While it measures, other requests are answered at once.
  const asked = Date.now();
  await call('GET', '/shoots');
  expect(Date.now() - asked).toBeLessThan(1500);
  const before = server;
  await before.stop('SIGKILL');
  server = await startServer(before.database, data);
  const take = await until(
    () => call<Take>('GET', `/takes/${made.body.id}`),
    (t) => t.body.state === 'measured',
    100,
  );
  expect(take.body.verdict).toBe('holds');
  const db = new Client({ connectionString: server.database });
  await db.connect();
  const { rows } = await db.query('SELECT finished, attempts FROM measurements WHERE take_id = $1', [made.body.id]);
  await db.end();
  expect(rows[0].finished).toBe(1);
  expect(rows[0].attempts).toBeGreaterThanOrEqual(2);
  expect(existsSync(join(data, 'proxies'))).toBe(true);
  expect(
    readdirSync(join(data, 'proxies')).filter(
      (f) => !/^[0-9a-f]{64}(\.jpegs(\.index)?|\.outlines\.json|\.analysis)$/.test(f),
    ),
  ).toHaveLength(0);
});

test('stopped in order in the middle of a measurement, the work is given back and is taken up at once', async () => {
  const { partId } = await newPart();
  const long = join(data, 'longer.mp4');
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-stream_loop', '16', '-i', clip, '-c', 'copy', long]);
  const made = await call<Take>('POST', `/parts/${partId}/takes`, {
    upload_id: await upload(readFileSync(long)),
    name: 'longer.mp4',
  });
  await until(
    () => call<Take>('GET', `/takes/${made.body.id}`),
    (t) => t.body.state === 'measuring' && t.body.frames_done > 0,
    150,
  );
  const before = server;
  await before.stop('SIGTERM');
  const db = new Client({ connectionString: before.database });
  await db.connect();
  const { rows } = await db.query('SELECT state, claim FROM measurements WHERE take_id = $1', [made.body.id]);
  await db.end();
  expect(rows[0]).toEqual({ state: 'waiting', claim: null });
  server = await startServer(before.database, data);
  await until(
    () => call<Take>('GET', `/takes/${made.body.id}`),
    (t) => t.body.state === 'measured',
    150,
  );
});
