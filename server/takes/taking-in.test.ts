import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Client } from 'pg';
import { wallClip } from '../../media/testing/wall-clip';
import { Caller, freshDatabase, query, startServer, until, type RunningServer } from '../testing/running-server';

const data = mkdtempSync(join(tmpdir(), 'umbrastat-taking-in-'));
const bin = join(data, 'bin');
const fails = join(data, 'ffprobe-fails');
let clip: Buffer;
let server: RunningServer;
let ask: Caller;
let partId: string;

/** A server whose ffprobe is ended while a file of that name is there. */
const start = (database: string) =>
  startServer(database, data, { PATH: `${bin}:${(process.env as Record<string, string>).PATH}` });

beforeAll(async () => {
  mkdirSync(bin);
  const script = ['#!/bin/sh', `[ -e "${fails}" ] && kill -9 $$`, 'exec /usr/bin/ffprobe "$@"'];
  writeFileSync(join(bin, 'ffprobe'), `${script.join('\n')}\n`, { mode: 0o755 });
  wallClip(join(data, 'clip.mp4'), 1, 'crop=320:180');
  clip = readFileSync(join(data, 'clip.mp4'));
  server = await start(await freshDatabase());
  ask = new Caller(server.url);
  ({ partId } = await ask.newPart());
});
afterEach(() => rmSync(fails, { force: true }));
afterAll(async () => {
  await server?.stop();
  rmSync(data, { recursive: true, force: true });
});

const tus = { 'Tus-Resumable': '1.0.0' };
/** Sends the first bytes of an upload of the whole clip; gives its id and its address. */
async function sendOnly(bytes: number) {
  const made = await fetch(`${server.url}/api/uploads`, {
    method: 'POST',
    headers: { ...tus, 'Upload-Length': String(clip.length) },
  });
  const where = new URL(made.headers.get('location') ?? '', `${server.url}/api/uploads`).href;
  await sendOn(where, 0, bytes);
  return { id: where.split('/').pop()!, where };
}
function sendOn(where: string, from: number, to: number) {
  return fetch(where, {
    method: 'PATCH',
    headers: { ...tus, 'Upload-Offset': String(from), 'Content-Type': 'application/offset+octet-stream' },
    body: new Uint8Array(clip.subarray(from, to)),
  });
}
const make = (id: string, name = 'A001.mp4') => ask.call('POST', `/parts/${partId}/takes`, { upload_id: id, name });
const takes = () =>
  query<{ name: string; file_hash: string }>(server.database, 'SELECT name, file_hash FROM takes ORDER BY rolled_at');
const uploads = () => readdirSync(join(data, 'uploads'));

test('an upload that is not whole becomes no take: it is kept, and goes on where it stopped', async () => {
  const half = Math.floor(clip.length / 2);
  const { id, where } = await sendOnly(half);
  const refused = await make(id);
  expect([refused.status, refused.body.code]).toEqual([409, 'not-whole']);
  expect(refused.body.error).toMatch(/Only [\d.]+ of [\d.]+ MB of "A001.mp4" have arrived/);
  expect(uploads()).toContain(id);
  expect((await sendOn(where, half, clip.length)).status).toBe(204);
  expect((await make(id)).status).toBe(201);
  expect(uploads()).toEqual([]);
});

test('looking into a file that fails says nothing of the file: it is kept, and another try takes it in', async () => {
  const { id } = await sendOnly(clip.length);
  writeFileSync(fails, '');
  const failed = await make(id);
  expect([failed.status, failed.body.code]).toEqual([503, 'look-failed']);
  expect(failed.body.error).toMatch(/A001\.mp4.*kept.*try again/i);
  expect(uploads()).toContain(id);
  rmSync(fails);
  expect((await make(id)).status).toBe(201);
});

test('names with characters that nothing can hold are refused before anything is done; breaks become spaces', async () => {
  const { id } = await sendOnly(clip.length);
  for (const name of ['A\0B.mp4', 'A\ud800B.mp4']) {
    const refused = await make(id, name);
    expect([refused.status, refused.body.code]).toEqual([422, 'invalid']);
  }
  expect(uploads()).toContain(id);
  const made = await make(id, 'A001\r\nContent-Type: x\u2028.mp4');
  expect([made.status, made.body.name]).toEqual([201, 'A001 Content-Type: x .mp4']);
});

test('one upload asked for twice at once is one take, and both get it', async () => {
  const { id } = await sendOnly(clip.length);
  const before = (await takes()).length;
  const made = await Promise.all([make(id), make(id), make(id)]);
  expect(made.map((r) => r.status).sort()).toEqual([200, 200, 201]);
  expect(new Set(made.map((r) => r.body.id)).size).toBe(1);
  expect(await takes()).toHaveLength(before + 1);
});

test('a server killed between laying a recording in its place and noting it: asked again, it is taken in once', async () => {
  // Bytes that no other test stored.
  clip = Buffer.concat([clip, Buffer.from([0, 0, 0, 8]), Buffer.from('free')]);
  const { id } = await sendOnly(clip.length);
  const before = (await takes()).length;
  const hash = createHash('sha256').update(clip).digest('hex');
  const place = join(data, 'files', hash.slice(0, 2), hash);
  const lock = new Client({ connectionString: server.database });
  await lock.connect();
  await lock.query('BEGIN; LOCK TABLE takes IN EXCLUSIVE MODE');
  const cut = make(id).then(
    () => 'answered',
    () => 'cut off',
  );
  await until(async () => existsSync(place), Boolean, 20);
  await server.stop('SIGKILL');
  expect(await cut).toBe('cut off');
  await lock.end();
  server = await start(server.database);
  ask = new Caller(server.url);
  expect(await takes()).toHaveLength(before);
  expect(uploads()).toContain(id);
  expect((await make(id)).status).toBe(201);
  expect((await takes()).slice(before)).toMatchObject([{ file_hash: hash }]);
  expect(uploads()).toEqual([]);
});

test('nothing is rolled into, or laid into, what was deleted', async () => {
  const { setupId, partId: gone } = await ask.newPart();
  await ask.call('PUT', `/parts/${gone}/deleted`, { on: true });
  const { id } = await sendOnly(clip.length);
  const refused = await ask.call('POST', `/parts/${gone}/takes`, { upload_id: id, name: 'A001.mp4' });
  expect([refused.status, refused.body.code]).toEqual([409, 'deleted']);
  expect(uploads()).toContain(id);
  expect((await ask.call('POST', `/parts/${gone}/rolls`, {})).status).toBe(409);
  await ask.call('PUT', `/parts/${gone}/deleted`, { on: false });
  await ask.call('PUT', `/setups/${setupId}/deleted`, { on: true });
  expect((await ask.call('POST', `/parts/${gone}/rolls`, {})).body.error).toMatch(/setup was deleted/);
  await ask.call('PUT', `/setups/${setupId}/deleted`, { on: false });
  const made = await ask.call('POST', `/parts/${gone}/takes`, { upload_id: id, name: 'A001.mp4' });
  expect(made.status).toBe(201);
});
