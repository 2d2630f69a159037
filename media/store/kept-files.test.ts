import { execFileSync } from 'node:child_process';
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, utimesSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { keepWhole, keptPath, sweepBeside } from './kept-files';
import { indexRow, pictureOf } from '../write/picture-row';

const root = mkdtempSync(join(tmpdir(), 'umbrastat-kept-'));
afterAll(() => rmSync(root, { recursive: true, force: true }));
const LOOK = "geq=lum='20*N+20':cb=128:cr=128";
const GREYS = ['-f', 'lavfi', '-i', 'color=black:s=160x90:r=10:d=1', '-vf', LOOK];

test('each picture of a row comes out whole and in order', async () => {
  const path = join(root, 'film.jpegs');
  // Frame n is a grey picture of level 20 n, so that a mix-up would show.
  execFileSync('ffmpeg', ['-v', 'error', '-y', ...GREYS, '-c:v', 'mjpeg', '-q:v', '3', '-f', 'image2pipe', path]);
  expect(await indexRow(path)).toBe(10);
  for (const frame of [0, 1, 5, 9]) {
    const picture = await pictureOf(path, frame);
    const { data, info } = await sharp(picture!).greyscale().raw().toBuffer({ resolveWithObject: true });
    expect([info.width, info.height]).toEqual([160, 90]);
    expect(Math.abs(data[4000] - (20 * frame + 20))).toBeLessThan(26);
  }
  expect(await pictureOf(path, 10)).toBeNull();
  expect(await pictureOf(path, -1)).toBeNull();
  expect(await pictureOf(join(root, 'none.jpegs'), 0)).toBeNull();
});

test('a file is named after what it is of', () => {
  const subject = { recording: 'hash', take: 'take', itself: 'self' };
  const paths = (['recording', 'take', 'itself'] as const).map((by) =>
    keptPath(root, { folder: 'wipes', by }, subject, 'shape'),
  );
  expect(paths).toEqual(['hash', 'take', 'self'].map((name) => join(root, 'wipes', `${name}.shape`)));
});

test('a file is written whole, in place of the one before, and leaves nothing beside it', async () => {
  const path = join(root, 'new-folder', 'x.analysis');
  await keepWhole(path, 'one');
  await keepWhole(path, Buffer.from('two'));
  expect(readFileSync(path, 'utf8')).toBe('two');
  expect(readdirSync(join(root, 'new-folder'))).toEqual(['x.analysis']);
});

test('what a dead worker left is swept; what a live one writes, what is whole and what is another’s is not', async () => {
  const token = '2f1d0c5e-8a37-4b1e-9f4d-0123456789ab';
  const names = [
    'h.jpegs',
    'h.jpegs.index',
    `h.jpegs.${token}`,
    `h.jpegs.${token.replace('2f', '3f')}`,
    `other.jpegs.${token}`,
  ];
  const paths = names.map((n) => join(root, n));
  for (const path of paths) writeFileSync(path, 'x');
  const hourAgo = Date.now() / 1000 - 3600;
  for (const path of paths.filter((_, i) => i !== 3)) utimesSync(path, hourAgo, hourAgo);
  await sweepBeside(join(root, 'h'));
  expect(paths.map((path) => existsSync(path))).toEqual([true, true, false, true, true]);
});
