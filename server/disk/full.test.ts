import { execFileSync, spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, statfsSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Roll } from '../../api/rolls';
import { wallClip } from '../../media/testing/wall-clip';
import { testUnless } from '../testing/skipped';
import { Caller, freshDatabase, startServer, until, workerOf, type RunningServer } from '../testing/running-server';

/** A disk of its own for the data, in memory; only root may make one. */
const disk = mkdtempSync(join(tmpdir(), 'umbrastat-full-'));
const mounted = spawnSync('mount', ['-t', 'tmpfs', '-o', 'size=640m', 'tmpfs', disk]).status === 0;
const onFullDisk = testUnless(mounted ? null : 'no file system can be mounted (not root)');
const filler = join(disk, 'filler');
const clip = join(mkdtempSync(join(tmpdir(), 'umbrastat-clip-')), 'clip.mp4');

let server: RunningServer;
let ask: Caller;

/** Fills the disk but for so many bytes. */
function fill(left: number): void {
  const { bavail, bsize } = statfsSync(disk);
  writeFileSync(filler, Buffer.alloc(bavail * bsize - left));
}
const makeRoom = () => rmSync(filler, { force: true });

beforeAll(async () => {
  if (!mounted) return;
  wallClip(clip, 1, 'crop=640:360,noise=alls=20:allf=t');
  // What measuring keeps for itself lies on the same disk.
  server = await startServer(await freshDatabase(), disk, { TMPDIR: disk });
  ask = new Caller(server.url);
});

afterEach(makeRoom);

afterAll(async () => {
  await server?.stop();
  if (mounted) execFileSync('umount', ['--lazy', disk]);
  rmSync(disk, { recursive: true, force: true });
  rmSync(join(clip, '..'), { recursive: true, force: true });
});

onFullDisk('an upload that finds no room says so, keeps what came, and goes on when there is room', async () => {
  const { partId } = await ask.newPart();
  const bytes = readFileSync(clip);
  const tus = { 'Tus-Resumable': '1.0.0' };
  const headers = { ...tus, 'Upload-Length': String(bytes.length) };
  const made = await fetch(`${server.url}/api/uploads`, { method: 'POST', headers });
  const where = new URL(made.headers.get('location') ?? '', `${server.url}/api/uploads`).href;
  const send = (from: number) =>
    fetch(where, {
      method: 'PATCH',
      headers: { ...tus, 'Upload-Offset': String(from), 'Content-Type': 'application/offset+octet-stream' },
      body: new Uint8Array(bytes.subarray(from)),
    });
  fill(Math.floor(bytes.length / 2));
  const refused = await send(0);
  expect([refused.status, await refused.text()]).toEqual([507, expect.stringContaining('disk')]);
  makeRoom();
  const offset = Number((await fetch(where, { method: 'HEAD', headers: tus })).headers.get('upload-offset'));
  expect((await send(offset)).status).toBe(204);
  const take = await ask.call('POST', `/parts/${partId}/takes`, {
    upload_id: where.split('/').pop(),
    name: 'clip.mp4',
  });
  expect(take.status).toBe(201);
  expect((await ask.measured(take.body.id)).state).toBe('done');
});

onFullDisk('measuring and rolling that find no room say so and are done once there is', async () => {
  const { partId } = await ask.newPart();
  const worker = workerOf(server);
  process.kill(worker, 'SIGSTOP');
  const take = await ask.addTake(partId, readFileSync(clip), 'clip.mp4');
  fill(4096);
  process.kill(worker, 'SIGCONT');
  expect((await ask.measured(take.body.id)).failure).toMatch(/The disk is full/);
  // However much of a recording there is room for.
  for (const left of [4096, 200_000, 900_000]) {
    makeRoom();
    fill(left);
    const rolled = await ask.call<Roll>('POST', `/parts/${partId}/rolls`, { seconds: 1, width: 1280, grain: 6 });
    const ended = await until(
      () => ask.call<Roll>('GET', `/rolls/${rolled.body.id}`),
      ({ body }) => body.state === 'failed' || body.state === 'done',
      60,
    );
    if (ended.body.state === 'failed') expect(ended.body.failure).toMatch(/The disk is full/);
    // Below a recording's size it cannot go well.
    if (left < 250_000) expect(ended.body.state).toBe('failed');
  }
  makeRoom();
  await ask.call('POST', '/measures/take', { take: take.body.id });
  expect((await ask.measured(take.body.id)).state).toBe('done');
});
