import { againstOf } from '../ffmpeg/file-source';
import { openTake } from './measure-take';
import { execFileSync, spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { IDENTITY, type Similarity } from '../../core/base/geometry/similarity';
import { toCode, toLight } from '../../core/base/image/transfer';
import { judgePlate } from '../../core/measures/plate/judge';
import { RandomTexture, renderFrame, type SceneOptions } from '../../core/testing/rendered-scene';
import { comparePlate } from '../../core/take/compare';
import { makePlate } from '../../core/take/plate';
import { probeFile } from '../ffmpeg/probe';
import { writePng, writeStillClip } from '../write/still-out';
import { few } from '../../core/testing/few';

const folder = mkdtempSync(join(tmpdir(), 'umbrastat-plate-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const file = (name: string) => join(folder, name);
const opened = (path: string) => openTake(path);
const SIZE = { width: 640, height: 360 };
const wall = new RandomTexture(12, 4, 34);

interface Wish {
  frames?: number;
  pose?: Similarity;
  stops?: number;
  mover?: SceneOptions['mover'];
  seed?: number;
  args?: string[];
  contrast?: RandomTexture;
}

/** Renders a grey take to an H.264 file as a camera would write it. */
function roll(
  name: string,
  {
    frames = 40,
    pose = IDENTITY,
    stops = 0,
    mover,
    seed = 1,
    args = ['-pix_fmt', 'yuv420p', '-c:v', 'libx264', '-preset', 'medium', '-crf', '14'],
  }: Wish = {},
): string {
  const options: SceneOptions = { ...SIZE, background: wall, grain: 1.5, seed, mover };
  const relit = Uint8Array.from({ length: 256 }, (_, v) =>
    Math.round(255 * toCode('srgb', Math.min(1, toLight('srgb', v / 255) * 2 ** stops))),
  );
  const bytes = Buffer.concat(
    Array.from({ length: frames }, (_, f) => Buffer.from(renderFrame(options, pose, f).data.map((v) => relit[v]))),
  );
  const made = spawnSync(
    'ffmpeg',
    [
      '-v',
      'error',
      '-y',
      '-f',
      'rawvideo',
      '-pix_fmt',
      'gray',
      '-s',
      `${SIZE.width}x${SIZE.height}`,
      '-r',
      '25',
      '-i',
      'pipe:0',
      ...args,
      file(name),
    ],
    { input: bytes },
  );
  expect(made.stderr.toString()).toBe('');
  return file(name);
}

const coat = new RandomTexture(90, 5, 40);
/** Somebody who paces between two places and is never out of the picture. */
const pacing: SceneOptions['mover'] = {
  texture: coat,
  at: (f) => ({ x: 120 + 300 * (0.5 - 0.5 * Math.cos((2 * Math.PI * f) / 60)), y: 120, width: 70, height: 200 }),
};

test('a clear run becomes a plate nearer the truth than any frame', async () => {
  const path = roll('crossing.mp4', {
    frames: 60,
    mover: { texture: coat, at: (f) => ({ x: -200 + 22 * (f - 12), y: 130, width: 70, height: 180 }) },
  });
  const made = await makePlate([await opened(path)]);
  expect(made.source).toMatchObject({ source: 'clear_run', take: 'crossing.mp4', unseen_share: 0 });
  expect(made.source.run).toEqual({ start: 0, end: expect.any(Number) });
  expect(Math.abs(made.source.run!.end - 17)).toBeLessThanOrEqual(2);
  const truth = renderFrame({ ...SIZE, background: wall, grain: 0, seed: 1 }, IDENTITY, 0).data;
  const error = (data: ArrayLike<number>, step: number) =>
    Math.sqrt(Array.from(truth).reduce((s, v, i) => s + (v - data[step * i]) ** 2, 0) / truth.length);
  expect(error(made.picture.data, 3)).toBeLessThan(1.4);
  await writePng(made.picture, file('plate.png'));
  expect(await probeFile(file('plate.png'), 'plate.png', true)).toMatchObject({ ...SIZE, still: 'png_pipe' });
  await writeStillClip(made.picture, file('plate.mp4'), 2, 24, { width: 320, height: 180 });
  const clip = await probeFile(file('plate.mp4'));
  expect(clip).toMatchObject({ width: 320, height: 180, containerFps: '24/1' });
  expect(clip.declaredDuration).toBeCloseTo(2, 1);
  expect(existsSync(file('plate.mp4.part'))).toBe(false);
});

test('a take that nobody ever leaves is stitched, without the one who paces in it, and what was never seen is said', async () => {
  const path = roll('pacing.mp4', { frames: 90, mover: pacing });
  const made = await makePlate([await opened(path)]);
  expect(made.source.source).toBe('stitched');
  expect(made.source.unseen_share).toBeLessThan(0.01);
  const truth = renderFrame({ ...SIZE, background: wall, grain: 0, seed: 1 }, IDENTITY, 0).data;
  let off = 0;
  for (let i = 0; i < truth.length; i++) if (Math.abs(truth[i] - made.picture.data[3 * i]) > 14) off++;
  expect(off / truth.length).toBeLessThan(0.004);
  const stays = roll('stays.mp4', {
    frames: 60,
    mover: {
      texture: coat,
      at: (f) =>
        f < 20
          ? { x: 10 * f - 70, y: 120, width: 70, height: 200 }
          : { x: 130 + 2 * Math.sin(f), y: 120, width: 70, height: 200 },
    },
  });
  const other = await makePlate([await opened(stays)]);
  expect(other.source.unseen.every((b) => b.x > 60 && b.x + b.width < 280)).toBe(true);
});

test.each(
  few(1, [
    [2.3, -1.4, 0.15, 1.003, 0.25],
    [-6.2, 3.1, -0.2, 0.998, -0.3],
    [0, 0, 0, 1, 0],
  ]),
)(
  'shift %d, %d px, turn %d, size %d and %d stop between plate and take are measured',
  async (dx, dy, turn, scale, stops) => {
    const plate = roll('p.mp4', { frames: 12, seed: 5 });
    const path = roll('t.mp4', {
      frames: 40,
      pose: { dx, dy, rotation: (turn * Math.PI) / 180, scale },
      stops,
      seed: 6,
      mover: { texture: coat, at: (f) => ({ x: -90 + 20 * f, y: 130, width: 70, height: 180 }) },
    });
    const take = await opened(path);
    const gap = await comparePlate(take, await againstOf(plate));
    const c = { ...gap, ...judgePlate(gap, take.analysis.probe) };
    expect(Math.abs(c.offset!.dx_px - dx)).toBeLessThan(0.06);
    expect(Math.abs(c.offset!.dy_px - dy)).toBeLessThan(0.06);
    expect(Math.abs(c.offset!.rotation_deg - turn)).toBeLessThan(0.02);
    expect(Math.abs(c.offset!.scale - scale)).toBeLessThan(0.0004);
    expect(Math.abs(c.light!.gap_stops - stops)).toBeLessThan(0.02);
    expect(c.intruders).toEqual([]);
    expect(c.moved).toEqual([]);
    if (stops === 0) expect(c.verdict).toBe('holds');
    else {
      expect(c.verdict).toBe('workable');
      expect(c.reasons.map((r) => r.code)).toEqual(expect.arrayContaining(['offset', 'light']));
      expect(c.reasons.find((r) => r.code === 'offset')!.fix).toContain(dx > 0 ? 'left' : 'right');
      expect(c.light!.fade_in_frames).toBeGreaterThan(9);
    }
  },
);

test('somebody in the plate is found, in a recording and in a still; a plate file must be a picture', async () => {
  const path = roll('take.mp4', { seed: 6 });
  const plate = roll('man.mp4', {
    frames: 12,
    seed: 5,
    mover: { texture: new RandomTexture(77, 8, 12), at: () => ({ x: 300, y: 110, width: 80, height: 210 }) },
  });
  const take = await opened(path);
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-i', plate, '-frames:v', '1', file('man.png')]);
  for (const against of [plate, file('man.png')]) {
    const c = await comparePlate(take, await againstOf(against));
    expect(judgePlate(c, take.analysis.probe).verdict).toBe('reshoot');
    const box = [...c.intruders, ...c.moved][0];
    expect(Math.abs(box.x - 300)).toBeLessThan(12);
    expect(Math.abs(box.x + box.width - 380)).toBeLessThan(12);
  }
  writeFileSync(file('text.png'), 'no picture at all');
  await expect(againstOf(file('text.png'))).rejects.toThrow('"text.png" is a text file');
});

test('what is carried in during the take, and stays, is no fault of the plate; what stood elsewhere is', async () => {
  const crate = (at: number): SceneOptions['mover'] => ({
    texture: coat,
    // Nothing is there at once but where the camera was stopped.
    at: (f) => ({ x: f < at ? -150 + (450 * f) / at : 300, y: 160, width: 110, height: 90 }),
  });
  const plate = roll('carried-plate.mp4', { seed: 41 });
  const brought = await opened(roll('carried.mp4', { frames: 60, mover: crate(18), seed: 42 }));
  const held = await comparePlate(brought, await opened(plate));
  expect(held.moved.filter((m) => m.only === null)).toEqual([]);
  const gap = await comparePlate(await opened(plate), brought);
  expect(gap.moved.filter((m) => m.only === null)).toEqual([]);
  const other: SceneOptions['mover'] = { texture: coat, at: () => ({ x: 360, y: 160, width: 110, height: 90 }) };
  const stood = await opened(roll('stood.mp4', { frames: 60, mover: crate(0), seed: 43 }));
  const elsewhere = await comparePlate(stood, await opened(roll('moved.mp4', { mover: other, seed: 44 })));
  expect(elsewhere.moved.filter((m) => m.only === null).length).toBeGreaterThan(0);
});

test('ten bits stay ten bits', async () => {
  const path = roll('deep.mkv', { frames: 8, args: ['-pix_fmt', 'yuv420p10le', '-c:v', 'ffv1'] });
  const made = await makePlate([await opened(path)]);
  expect(made.picture.most).toBe(65535);
  await writePng(made.picture, file('deep.png'));
  expect((await probeFile(file('deep.png'), 'deep.png', true)).pixelFormat).toBe('rgb48be');
});
