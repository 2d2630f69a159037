import { execFileSync } from 'node:child_process';
import { existsSync, mkdirSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { ROOT } from '../media/built';

/** Where the corpus is made; nothing of it is kept in the repository. */
export const CORPUS = join(ROOT, '.cache', 'score');

/** Photographs that clips to work with are made of. */
export const OPEN_PHOTOS = [
  'building.jpg',
  'leuvenA.jpg',
  'graf1.png',
  'board.jpg',
  'aloeL.jpg',
  'basketball1.png',
  'left.jpg',
  'fruits.jpg',
] as const;
/** Photographs that only sealed clips are made of. */
export const SEALED_PHOTOS = [
  'home.jpg',
  'rubberwhale1.png',
  'stuff.jpg',
  'aero1.jpg',
  'baboon.jpg',
  'pic4.png',
] as const;

/** The folder of Debian's photographs, fetched and unpacked unless they are there. @throws Error when apt cannot fetch */
export function photographs(): string {
  const folder = join(CORPUS, 'sources');
  const pictures = join(folder, 'usr', 'share', 'doc', 'opencv-doc', 'examples', 'data');
  if (existsSync(pictures)) return pictures;
  mkdirSync(folder, { recursive: true });
  execFileSync('apt-get', ['download', 'opencv-doc'], { cwd: folder, stdio: ['ignore', 'ignore', 'ignore'] });
  const [deb] = readdirSync(folder).filter((name) => name.endsWith('.deb'));
  execFileSync('dpkg-deb', ['-x', deb, '.'], { cwd: folder });
  return pictures;
}
