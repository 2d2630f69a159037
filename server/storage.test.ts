import { execFileSync } from 'node:child_process';
import { existsSync, mkdtempSync, readdirSync, rmSync, statfsSync, statSync, utimesSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { hashFile, indexProxy, proxyPicture, SPARE_BYTES, Storage } from './storage';

const root = mkdtempSync(join(tmpdir(), 'umbrastat-storage-'));
const storage = new Storage(root);
beforeAll(() => storage.prepare());
afterAll(() => rmSync(root, { recursive: true, force: true }));

test('each picture of a proxy comes out whole and in order', async () => {
  const path = join(root, 'proxies', 'film.jpegs');
  // Frame n is a grey picture of level 20 n, so that a mix-up would show.
  execFileSync('ffmpeg', [
    '-v',
    'error',
    '-y',
    '-f',
    'lavfi',
    '-i',
    'color=black:s=160x90:r=10:d=1',
    '-vf',
    "geq=lum='20*N+20':cb=128:cr=128",
    '-c:v',
    'mjpeg',
    '-q:v',
    '3',
    '-f',
    'image2pipe',
    path,
  ]);
  expect(await indexProxy(path)).toBe(10);
  for (const frame of [0, 1, 5, 9]) {
    const picture = await proxyPicture(path, frame);
    const { data, info } = await sharp(picture!).greyscale().raw().toBuffer({ resolveWithObject: true });
    expect([info.width, info.height]).toEqual([160, 90]);
    expect(Math.abs(data[4000] - (20 * frame + 20))).toBeLessThan(26);
  }
  expect(await proxyPicture(path, 10)).toBeNull();
  expect(await proxyPicture(path, -1)).toBeNull();
  expect(await proxyPicture(join(root, 'proxies', 'none.jpegs'), 0)).toBeNull();
});

test('a recording is kept once, under the hash of its bytes', async () => {
  const put = (name: string, text: string) => {
    writeFileSync(join(root, 'uploads', name), text);
    return storage.keep(join(root, 'uploads', name));
  };
  const [a, b, c] = [await put('a', 'one'), await put('b', 'one'), await put('c', 'two')];
  expect(a).toEqual(b);
  expect(a.hash).not.toBe(c.hash);
  expect(a.hash).toBe('7692c3ad3540bb803c020b3aee66cd8887123234ea0c6e7143c0add73ff431ed');
  expect(await hashFile(storage.file(a.hash))).toBe(a.hash);
  expect(readdirSync(join(root, 'uploads'))).toEqual([]);
  expect(a.bytes).toBe(3);
});

test('what a dead worker left of a proxy is swept, what a live one writes is not', async () => {
  const old = join(root, 'proxies', 'h.jpegs.dead');
  const live = join(root, 'proxies', 'h.jpegs.live');
  const whole = join(root, 'proxies', 'h.jpegs.index');
  for (const path of [old, live, whole]) writeFileSync(path, 'x');
  const hourAgo = Date.now() / 1000 - 3600;
  for (const path of [old, whole]) utimesSync(path, hourAgo, hourAgo);
  await storage.sweepProxy('h');
  expect([old, live, whole].map((path) => existsSync(path))).toEqual([false, true, true]);
});

test('the disk is never counted to its last byte', async () => {
  const room = await storage.room();
  expect(room).toBeGreaterThan(0);
  const { bavail, bsize } = statfsSync(root);
  expect(bavail * bsize - room).toBeGreaterThan(SPARE_BYTES * 0.5);
  expect(statSync(join(root, 'files')).isDirectory()).toBe(true);
});
