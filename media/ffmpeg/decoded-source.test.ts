import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Picture } from '../../core/base/image/picture';
import { analyseTake as analyse } from '../../core/take/analyse';
import { decodedSource, type DecodedFrames } from '../../core/take/decoded-source';
import { few } from '../../core/testing/few';
import { frameTimes } from './frame-index';
import { pictures } from './frames';
import { analyseTake } from '../feeds/measure-take';
import { probeFile } from './probe';
import { wallPicture } from '../testing/wall-clip';

const folder = mkdtempSync(join(tmpdir(), 'umbrastat-decoded-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const ffmpeg = (...args: string[]) => execFileSync('ffmpeg', ['-v', 'error', '-y', ...args], { maxBuffer: 1e9 });

/** A detailed wall, grain, and somebody in red who walks through. */
function clip(name: string, size: string, ...more: string[]): string {
  const [path, wall] = [join(folder, name), join(folder, 'wall.pgm')];
  writeFileSync(wall, wallPicture());
  const [width, height] = size.split('x').map(Number);
  const filter =
    `[0]scale=${width}:${height},eq=saturation=1.5,colorbalance=rs=0.2,noise=alls=4:allf=t[wall];` +
    `color=0x902030:s=${width >> 3}x${height >> 1}:r=25[body];` +
    `[wall][body]overlay=x='-w+n*W/40':y=H/3:shortest=1,format=yuv420p`;
  ffmpeg('-loop', '1', '-framerate', '25', '-t', '2', '-i', wall, '-filter_complex', filter, ...more, path);
  return path;
}

/** The same file as something else decodes it: planes as they were coded. */
async function decoded(path: string, raw = path): Promise<DecodedFrames> {
  const facts = await probeFile(path);
  const own = await probeFile(raw);
  const [width, height] = [own.width, own.height];
  const [w, h] = [Math.ceil(width / 2), Math.ceil(height / 2)];
  const format = own.fullRange ? 'yuvj420p' : 'yuv420p';
  const all = ffmpeg('-noautorotate', '-i', raw, '-pix_fmt', format, '-f', 'rawvideo', 'pipe:1');
  const [bytes, pixels] = [width * height + 2 * w * h, width * height];
  return {
    facts,
    luma: { width, height },
    colour: { width: w, height: h },
    times: await frameTimes(path, facts),
    async *frames() {
      for (let at = 0; at + bytes <= all.length; at += bytes)
        yield {
          luma: all.subarray(at, at + pixels),
          blue: all.subarray(at + pixels, at + pixels + w * h),
          red: all.subarray(at + pixels + w * h, at + bytes),
        };
    },
  };
}

/** Copies of some pictures' planes. */
async function planesOf(from: AsyncIterable<Picture>): Promise<Uint8Array[][]> {
  const out: Uint8Array[][] = [];
  for await (const { luma, small, fineColour } of from)
    out.push([luma.data, small.luma, small.blue, small.red, fineColour!].map((p) => p.slice()));
  return out;
}

test.each<[string, string, string[]]>(
  few(2, [
    ['halved', '1920x1080', ['-frames:v', '3']],
    ['of an odd share, full range', '1280x720', ['-frames:v', '3', '-pix_fmt', 'yuvj420p']],
    ['as large as it is measured', '640x360', ['-frames:v', '3']],
    ['small', '96x54', ['-frames:v', '3']],
  ]),
)('pictures %s are those that ffmpeg scales, to a rounding', async (_, size, more) => {
  const path = clip('scaled.mp4', size, '-c:v', 'libx264', ...more);
  const ours = await planesOf(decodedSource(await decoded(path)).pictures({ fineColour: true }));
  const theirs = await planesOf(pictures(path, await probeFile(path), { fineColour: true }));
  expect(ours).toHaveLength(3);
  ours.forEach((planes, f) =>
    planes.forEach((plane, k) => {
      expect(plane).toHaveLength(theirs[f][k].length);
      let most = 0,
        sum = 0;
      plane.forEach((v, i) => {
        most = Math.max(most, Math.abs(v - theirs[f][k][i]));
        sum += v - theirs[f][k][i];
      });
      // Two roundings of ffmpeg's, and one where broadcast range is widened.
      expect([k, most]).toEqual([k, Math.min(most, 2)]);
      expect(Math.abs(sum / plane.length)).toBeLessThan(0.1);
    }),
  );
});

test('a picture that is turned lies as it is shown', async () => {
  const raw = clip('raw.mp4', '640x360', '-frames:v', '2', '-c:v', 'libx264');
  const path = join(folder, 'turned.mp4');
  ffmpeg('-i', raw, '-c', 'copy', '-metadata:s:v:0', 'rotate=90', path);
  const ours = await planesOf(decodedSource(await decoded(path, raw)).pictures({ fineColour: true }));
  const theirs = await planesOf(pictures(path, await probeFile(path), { fineColour: true }));
  const off = ours[1][0].reduce((n, v, i) => n + Math.abs(v - theirs[1][0][i]), 0);
  expect(off / ours[1][0].length).toBeLessThan(0.2);
});

test('a take that something else decodes measures as its file does', async () => {
  const path = clip('take.mp4', '1280x720', '-c:v', 'libx264');
  const file = await analyseTake(path, { name: 'take', fine: true });
  const own = await analyse({ name: 'take', source: decodedSource(await decoded(path)) }, { fine: true });
  const apart = (a: (number | null)[], b: (number | null)[]) =>
    Math.max(...a.map((v, f) => (v === null || b[f] === null ? Number(v !== b[f]) * 1e9 : Math.abs(v - b[f]))));
  for (const axis of ['dx_px', 'dy_px'] as const)
    expect(apart(own.lock.path[axis], file.lock.path[axis])).toBeLessThan(0.05);
  expect(apart(own.light.path.stops, file.light.path.stops)).toBeLessThan(0.02);
  const present = (a: typeof own) => a.figures.map((f) => f && f.length > 0);
  expect(present(own)).toEqual(present(file));
  expect(own.media).toEqual(file.media);
});
