import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { feedTool, inputArguments, runTool, startTool } from './run';

const folder = mkdtempSync(join(tmpdir(), 'umbrastat-run-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const GENEROUS = { memoryBytes: 4 * 1024 ** 3, seconds: 60, silentSeconds: 30 };
const endless = ['-v', 'error', '-re', '-f', 'lavfi', '-i', 'testsrc2=s=64x64:r=5', '-f', 'null', '-'];

test('a tool that runs too long is ended', async () => {
  const started = Date.now();
  const { code } = await runTool('ffmpeg', endless, { ...GENEROUS, seconds: 1 });
  expect(code).not.toBe(0);
  expect(Date.now() - started).toBeLessThan(10_000);
});

test('a tool that stays silent is ended', async () => {
  const started = Date.now();
  const child = startTool('ffmpeg', endless, { ...GENEROUS, seconds: 0, silentSeconds: 1 });
  await new Promise((resolve) => {
    child.on('close', resolve);
  });
  expect(child.signalCode).toBe('SIGKILL');
  expect(Date.now() - started).toBeLessThan(10_000);
});

test('whoever does not listen for long does not hold a tool up, and gets all that it printed', async () => {
  const frames = ['-f', 'lavfi', '-i', 'testsrc2=s=64x64:r=25:d=8', '-f', 'rawvideo', '-pix_fmt', 'gray', 'pipe:1'];
  const running = runTool('ffmpeg', ['-v', 'error', ...frames], { ...GENEROUS, seconds: 3 });
  // Until it has started; then this process is busy for longer than the tool may take.
  await new Promise((resolve) => {
    setTimeout(resolve, 300);
  });
  const until = Date.now() + 3500;
  while (Date.now() < until);
  const { code, stdout } = await running;
  expect([code, stdout.length]).toEqual([0, 200 * 64 * 64]);
});

test('a tool that wants too much memory fails, and nothing else does', async () => {
  const { code } = await runTool(
    'ffmpeg',
    ['-v', 'error', '-f', 'lavfi', '-i', 'testsrc2=s=8192x8192:r=1', '-frames:v', '3', '-f', 'null', '-'],
    { ...GENEROUS, memoryBytes: 220 * 1024 ** 2 },
  );
  expect(code).not.toBe(0);
});

test('stopping it from outside ends it at once', async () => {
  const stop = new AbortController();
  const child = startTool('ffmpeg', endless, GENEROUS, stop.signal);
  const ended = new Promise((resolve) => {
    child.on('close', resolve);
  });
  child.on('error', () => undefined);
  setTimeout(() => stop.abort(), 200);
  await ended;
  expect(child.signalCode).toBe('SIGKILL');
});

test('a list that points at an address is not followed, whatever its name', async () => {
  const asked: string[] = [];
  const server = createServer((req, res) => {
    asked.push(req.url ?? '');
    res.end();
  });
  await new Promise<void>((resolve) => {
    server.listen(0, '127.0.0.1', resolve);
  });
  const { port } = server.address() as AddressInfo;
  const lists = [
    ['clip.mp4', `#EXTM3U\n#EXTINF:1,\nhttp://127.0.0.1:${port}/a.ts\n`],
    ['clip.mov', `ffconcat version 1.0\nfile http://127.0.0.1:${port}/b.mp4\n`],
    ['clip.mkv', `<?xml version="1.0"?><MPD><BaseURL>http://127.0.0.1:${port}/c</BaseURL></MPD>`],
    ['clip.sdp', `v=0\nc=IN IP4 127.0.0.1\nm=video ${port} RTP/AVP 96\n`],
  ];
  for (const [name, text] of lists) {
    const path = join(folder, name);
    writeFileSync(path, text);
    const { code } = await runTool('ffprobe', ['-v', 'error', '-show_streams', ...inputArguments(path)], GENEROUS);
    expect(code).not.toBe(0);
  }
  server.close();
  expect(asked).toEqual([]);
});

test('feeding a tool that has ended waits for how it ended, and does not fail by itself', async () => {
  const child = spawn('sh', ['-c', 'head -c 10 > /dev/null; exit 7'], { stdio: ['pipe', 'ignore', 'ignore'] });
  child.stdin.on('error', () => undefined);
  const closed = once(child, 'close');
  for (let n = 0; n < 4; n++) await feedTool(child.stdin, Buffer.alloc(4e6), closed);
  expect(await closed).toEqual([7, null]);
});
