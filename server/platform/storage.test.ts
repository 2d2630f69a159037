import { mkdtempSync, readdirSync, rmSync, statfsSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { hashFile } from '../../media/store/hash-file';
import { SPARE_BYTES, Storage } from './storage';

const root = mkdtempSync(join(tmpdir(), 'umbrastat-storage-'));
const storage = new Storage(root);
beforeAll(() => storage.prepare());
afterAll(() => rmSync(root, { recursive: true, force: true }));

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

test('the disk is never counted to its last byte', async () => {
  const room = await storage.room();
  expect(room).toBeGreaterThan(0);
  const { bavail, bsize } = statfsSync(root);
  expect(bavail * bsize - room).toBeGreaterThan(SPARE_BYTES * 0.5);
  expect(statSync(join(root, 'files')).isDirectory()).toBe(true);
});
