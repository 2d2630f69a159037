import { execFileSync } from 'node:child_process';
import { rmSync, writeFileSync } from 'node:fs';
import { RandomTexture } from '../../core/testing/rendered-scene';

const WIDTH = 1280;
const HEIGHT = 720;
let wall: Buffer | null = null;

/** A wall with detail of many sizes, 1280 x 720, as a PGM file's bytes. */
export function wallPicture(): Buffer {
  if (wall) return wall;
  const texture = new RandomTexture(1, 4, 34);
  const pixels = Buffer.alloc(WIDTH * HEIGHT);
  const line = new Float64Array(WIDTH);
  for (let y = 0, i = 0; y < HEIGHT; y++) {
    texture.along(0, y, 1, line);
    for (let x = 0; x < WIDTH; x++, i++) pixels[i] = Math.max(2, Math.min(253, Math.round(line[x])));
  }
  wall = Buffer.concat([Buffer.from(`P5\n${WIDTH} ${HEIGHT}\n255\n`), pixels]);
  return wall;
}

/**
 * Makes a clip of a wall with detail of many sizes, 25 pictures a second of 1280 x 720, filtered as wished.
 * @param filter of ffmpeg: "crop=640:360:200+5*n:180" pans
 * @throws Error when ffmpeg fails
 */
export function wallClip(path: string, seconds: number, filter = 'null'): void {
  const still = `${path}.pgm`;
  writeFileSync(still, wallPicture());
  const input = ['-loop', '1', '-framerate', '25', '-t', String(seconds), '-i', still];
  const code = ['-preset', 'veryfast', '-crf', '18', '-pix_fmt', 'yuv420p'];
  execFileSync('ffmpeg', ['-v', 'error', '-y', ...input, '-vf', filter, ...code, path]);
  rmSync(still);
}
