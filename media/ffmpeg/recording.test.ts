import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { UnusableMedia } from '../errors';
import { pictures } from './frames';
import { frameTimes } from './frame-index';
import { probeFile } from './probe';
import { openRecording } from './recording';
import { fineSize, type Picture } from '../../core/base/image/picture';

const folder = mkdtempSync(join(tmpdir(), 'umbrastat-recording-'));
const file = (name: string) => join(folder, name);
const ffmpeg = (...args: string[]) => execFileSync('ffmpeg', ['-v', 'error', '-y', ...args]);
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const clip = (name: string, size: string, format: string, ...args: string[]) => {
  ffmpeg('-f', 'lavfi', '-i', `testsrc2=s=${size}:r=25:d=0.4`, ...args, '-pix_fmt', format, file(name));
  return file(name);
};

async function all(from: AsyncIterable<Picture>): Promise<{ sizes: number[]; bytes: Buffer }[]> {
  const out = [];
  for await (const { luma, small, fineColour } of from) {
    out.push({
      sizes: [luma.width, luma.height, small.luma.length, small.blue.length, fineColour?.length ?? 0],
      bytes: Buffer.concat([luma.data, small.luma, small.blue, small.red, fineColour ?? new Uint8Array()]),
    });
  }
  return out;
}

const MAKERS: [string, () => string][] = [
  ['small', () => clip('small.mp4', '64x48', 'yuv420p')],
  ['wider than it is measured', () => clip('large.mp4', '1366x768', 'yuv420p')],
  ['upright', () => clip('upright.mp4', '406x722', 'yuv420p')],
  ['very wide', () => clip('wide.mp4', '2000x34', 'yuv420p')],
  ['ten bits', () => clip('deep.mkv', '322x182', 'yuv420p10le', '-c:v', 'ffv1')],
  ['whole range', () => clip('whole.mkv', '320x180', 'yuvj420p', '-c:v', 'mjpeg')],
  [
    'turned',
    () => {
      clip('flat.mp4', '320x180', 'yuv420p');
      ffmpeg('-i', file('flat.mp4'), '-c', 'copy', '-metadata:s:v:0', 'rotate=90', file('turned.mp4'));
      return file('turned.mp4');
    },
  ],
  ['odd', () => clip('odd.mkv', '321x183', 'yuv420p', '-c:v', 'ffv1')],
  ['pixels not square', () => clip('anamorphic.mp4', '320x240', 'yuv420p', '-vf', 'setsar=16/11')],
  [
    'turned, and pixels not square',
    () => {
      ffmpeg(
        '-i',
        clip('flat2.mp4', '320x240', 'yuv420p', '-vf', 'setsar=16/11'),
        '-c',
        'copy',
        '-metadata:s:v:0',
        'rotate=90',
        file('both.mp4'),
      );
      return file('both.mp4');
    },
  ],
  ['colour of half the width', () => clip('half.mkv', '320x180', 'yuv422p10le', '-c:v', 'ffv1')],
  ['red, green and blue', () => clip('rgb.mkv', '320x180', 'bgr0', '-c:v', 'ffv1')],
  ['grey', () => clip('grey.mkv', '320x180', 'gray', '-c:v', 'ffv1')],
];

test.each(MAKERS)(
  '%s: decoding that began before the file was known gives what it gives when all is known',
  async (_, make) => {
    const path = make();
    const proxy = (name: string) => ({ proxy: { path: file(name), width: 200 }, fineColour: true });
    const recording = await openRecording(path, 'clip', proxy('ahead.jpegs'));
    const ahead = await all(recording.pictures());
    await recording.close();
    const known = await all(pictures(path, await probeFile(path), proxy('known.jpegs')));
    expect(ahead).toHaveLength((await frameTimes(path, recording.facts)).length);
    expect(ahead.map((p) => p.sizes)).toEqual(known.map((p) => p.sizes));
    const fine = fineSize(known[0].sizes[0], known[0].sizes[1]);
    expect(known[0].sizes.at(-1)).toBe(2 * fine.width * fine.height);
    expect(ahead.every((p, n) => p.bytes.equals(known[n].bytes))).toBe(true);
    expect(readFileSync(file('ahead.jpegs')).equals(readFileSync(file('known.jpegs')))).toBe(true);
  },
);

test('a recording whose size changes on the way gives pictures of one size, every one of them', async () => {
  const parts = [
    ['640x360', '0'],
    ['320x240', '1'],
  ].map(([size, offset]) => {
    clip(`part${offset}.ts`, size, 'yuv420p', '-c:v', 'libx264', '-bf', '0', '-output_ts_offset', offset);
    return readFileSync(file(`part${offset}.ts`));
  });
  writeFileSync(file('changes.ts'), Buffer.concat(parts));
  const recording = await openRecording(file('changes.ts'), 'changes.ts', {});
  const found = await all(recording.pictures());
  await recording.close();
  expect(found).toHaveLength(20);
  expect(new Set(found.map((p) => String(p.sizes))).size).toBe(1);
  expect(found[0].sizes.slice(0, 2)).toEqual([640, 360]);
});

test.each([
  ['broadcast', 'yuv420p', 'tv'],
  ['whole', 'yuv420p', 'pc'],
  ['ten bits of broadcast', 'yuv420p10le', 'tv'],
  ['red, green and blue', 'bgr0', 'pc'],
])('%s range: black is 0, white 255, and a colour is the same colour', async (_, format, range) => {
  // Thirds of black, white and one red: luma 54 of 255 by the weights of BT.709, red difference 255 - 54 over twice the rest.
  const input =
    'color=black:s=384x240,drawbox=x=128:w=128:h=240:color=white:t=fill,drawbox=x=256:w=128:h=240:color=red:t=fill,format=gbrp';
  ffmpeg(
    '-f',
    'lavfi',
    '-i',
    input,
    '-frames:v',
    '3',
    '-vf',
    `scale=out_color_matrix=bt601:out_range=${range},format=${format}`,
    '-c:v',
    'ffv1',
    '-color_range',
    range,
    file('bars.mkv'),
  );
  const probe = await probeFile(file('bars.mkv'));
  for await (const { luma, small } of pictures(file('bars.mkv'), probe)) {
    const at = (x: number) => luma.data[100 * luma.width + x];
    expect(Math.abs(at(60))).toBeLessThanOrEqual(1);
    expect(Math.abs(at(190) - 255)).toBeLessThanOrEqual(1);
    expect(Math.abs(at(320) - 76)).toBeLessThanOrEqual(2);
    const row = Math.floor(small.red.length / 2);
    expect(Math.abs(small.red[row - 5] - 255)).toBeLessThanOrEqual(2);
    expect(Math.abs(small.blue[row - 5] - 85)).toBeLessThanOrEqual(2);
    expect(Math.abs(small.blue[5] - 128)).toBeLessThanOrEqual(1);
  }
});

test('what is none is refused, before anything is decoded or after, and nothing is left behind', async () => {
  mkdirSync(file('folder'));
  writeFileSync(file('list.m3u8'), '#EXTM3U\nhttp://127.0.0.1/a.ts\n');
  writeFileSync(file('junk.mp4'), Buffer.alloc(5000, 7));
  ffmpeg('-f', 'lavfi', '-i', 'sine=d=1', file('sound.m4a'));
  for (const [name, code] of [
    ['folder', 'folder'],
    ['none.mp4', 'missing'],
    ['list.m3u8', 'playlist'],
    ['junk.mp4', 'unreadable'],
    ['sound.m4a', 'audio-only'],
  ]) {
    await expect(openRecording(file(name), name, {})).rejects.toMatchObject({ code });
    await expect(openRecording(file(name), name, {})).rejects.toBeInstanceOf(UnusableMedia);
  }
  const gone = new AbortController();
  gone.abort(new Error('given up'));
  await expect(openRecording(clip('ok.mp4', '64x48', 'yuv420p'), 'ok.mp4', { signal: gone.signal })).rejects.toThrow(
    'given up',
  );
  // Closed without having been read, its ffmpeg ends.
  const unread = await openRecording(clip('long.mp4', '640x360', 'yuv420p', '-t', '60'), 'long.mp4', {});
  await unread.close();
  await unread.close();
});
