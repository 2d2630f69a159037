import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createCanvas } from '@napi-rs/canvas';
import { probeFile } from '../media/ffmpeg/probe';
import { packTruth, renderClip, type ClipRecipe } from './compose';

const folder = mkdtempSync(join(tmpdir(), 'umbrastat-score-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

test('a clip of the corpus comes with who is in each frame: the body where it is painted, its shadow beside it', async () => {
  const photo = join(folder, 'wall.png');
  const wall = createCanvas(64, 36);
  const ctx = wall.getContext('2d');
  ctx.fillStyle = '#778';
  ctx.fillRect(0, 0, 64, 36);
  writeFileSync(photo, wall.toBuffer('image/png'));
  const recipe: ClipRecipe = {
    ...{ width: 160, height: 90, fps: 25, frames: 10, photo, seed: 1, grain: 1, crf: 20, shadow: 0.4 },
    paint: (c, at) => {
      if (at < 4.5) return;
      c.fillStyle = '#a33';
      c.fillRect(60, 30, 20, 50);
    },
  };
  const path = join(folder, 'clip.mp4');
  const truth = await renderClip(recipe, path);
  expect(await probeFile(path, 'clip')).toMatchObject({ width: 160, height: 90 });
  expect([truth.width, truth.height, truth.frames.length]).toEqual([80, 45, 10]);
  expect(truth.frames[3].every((v) => v === 0)).toBe(true);
  const bodies = truth.frames[7].filter((v) => v === 255).length;
  expect(Math.abs(bodies - 10 * 25)).toBeLessThan(15);
  expect(truth.frames[7][30 * 80 + 35]).toBe(255);
  expect(truth.frames[7].filter((v) => v === 128).length).toBeGreaterThan(20);
  expect(packTruth(truth).length).toBeGreaterThan(20);
});
