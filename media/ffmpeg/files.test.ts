import { measureTake } from '../feeds/measure-take';
import { measureSize } from '../../core/take/source';
import { execFileSync } from 'node:child_process';
import { copyFileSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { UnusableMedia } from '../errors';
import { pictures } from './frames';
import { frameIndex, frameTimes } from './frame-index';
import { probeFile, probeWithIndex } from './probe';

const folder = mkdtempSync(join(tmpdir(), 'umbrastat-media-'));
const file = (name: string) => join(folder, name);
const ffmpeg = (...args: string[]) => execFileSync('ffmpeg', ['-v', 'error', '-y', ...args]);
const clip = (name: string, size: string, rate: string, ...args: string[]) => {
  ffmpeg('-f', 'lavfi', '-i', `testsrc2=s=${size}:r=${rate}:d=1`, ...args, file(name));
  return file(name);
};

beforeAll(() => {
  clip('plain.mp4', '320x180', '25', '-pix_fmt', 'yuv420p');
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

async function refusal(path: string): Promise<UnusableMedia> {
  const error = await probeFile(path).then(
    () => null,
    (e: unknown) => e,
  );
  expect(error).toBeInstanceOf(UnusableMedia);
  return error as UnusableMedia;
}

test.each([
  ['a.mp4', ['-pix_fmt', 'yuv420p'], 'h264'],
  ['a.mov', ['-c:v', 'mjpeg', '-pix_fmt', 'yuvj420p'], 'mjpeg'],
  ['a.webm', ['-c:v', 'libvpx-vp9', '-b:v', '300k'], 'vp9'],
  ['a.mkv', ['-pix_fmt', 'yuv420p'], 'h264'],
])('%s is opened', async (name, args, codec) => {
  const probe = await probeFile(clip(name, '320x180', '30000/1001', ...args));
  expect(probe).toMatchObject({ width: 320, height: 180, codec, containerFps: '30000/1001', bitDepth: 8 });
  expect(await frameTimes(file(name), probe)).toHaveLength(30);
});

test.each([
  ['s.mp4', [], ['-timecode', '10:11:12:13']],
  // A cut without coding anew: its first pictures are decoded, and not shown.
  ['cut.mp4', ['-ss', '0.3'], ['-c:v', 'copy']],
  ['s.avi', [], ['-c:v', 'mjpeg', '-c:a', 'pcm_s16le']],
  ['s.ts', [], ['-bf', '2']],
  ['s.webm', [], ['-c:v', 'libvpx-vp9', '-b:v', '300k', '-c:a', 'libopus']],
])('of %s one look tells what two tell', async (name, from, args) => {
  const sound = ['-f', 'lavfi', '-i', 'sine=d=1', '-map', '1:a', '-map', '0:v'];
  ffmpeg(...from, '-i', file('plain.mp4'), ...sound, ...args, file(name));
  const probe = await probeFile(file(name));
  const index = await frameIndex(file(name), probe);
  expect(index.times.length).toBeGreaterThan(15);
  expect(await probeWithIndex(file(name), name)).toEqual({ probe, index });
});

test('a recording that ends early is not taken for read in one look', async () => {
  const whole = readFileSync(clip('whole.mp4', '640x360', '25', '-movflags', '+faststart', '-pix_fmt', 'yuv420p'));
  writeFileSync(file('half.mp4'), whole.subarray(0, whole.length / 2));
  expect((await probeWithIndex(file('half.mp4'), 'half.mp4')).index).toBeNull();
});

test('the content decides, not the name', async () => {
  copyFileSync(file('plain.mp4'), file('holiday.txt'));
  expect((await probeFile(file('holiday.txt'))).codec).toBe('h264');
});

test('a turned picture is reported and decoded upright', async () => {
  ffmpeg('-i', file('plain.mp4'), '-c', 'copy', '-metadata:s:v:0', 'rotate=90', file('turned.mp4'));
  const probe = await probeFile(file('turned.mp4'));
  expect([probe.width, probe.height]).toEqual([180, 320]);
  // What this writes asks for a quarter turn against the clock, which is three quarters with it.
  expect(probe.rotationDeg).toBe(270);
  ffmpeg(
    '-i',
    file('plain.mp4'),
    '-vf',
    'transpose=cclock',
    '-frames:v',
    '1',
    '-f',
    'rawvideo',
    '-pix_fmt',
    'gray',
    file('upright.raw'),
  );
  const upright = readFileSync(file('upright.raw'));
  for await (const { luma: plane } of pictures(file('turned.mp4'), probe)) {
    expect([plane.width, plane.height]).toEqual([180, 320]);
    let apart = 0;
    for (let i = 0; i < upright.length; i++) apart += Math.abs(plane.data[i] - upright[i]);
    expect(apart / upright.length).toBeLessThan(8);
    break;
  }
});

test('pixels that are not square are made square', async () => {
  const probe = await probeFile(clip('wide.mp4', '320x240', '25', '-vf', 'setsar=4/3', '-pix_fmt', 'yuv420p'));
  expect([probe.width, probe.height]).toEqual([427, 240]);
});

test.each([
  ['slits', '64x720', '1/64', '1 x 720'],
  ['bands', '320x240', '64', '20480 x 240'],
  ['more pixels than any camera has', '9000x8000', '1', '9000 x 8000'],
])('%s are refused by what the picture costs, with square pixels', async (_what, size, sar, shown) => {
  const path = clip('costly.mkv', size, '1', '-vf', `setsar=${sar},format=gray`, '-frames:v', '1', '-c:v', 'ffv1');
  await expect(probeFile(path)).rejects.toMatchObject({ code: 'size', message: expect.stringContaining(shown) });
});

test('a picture and a format that is not opened are called what they are', async () => {
  const tiff = clip('still.tiff', '320x180', '1', '-frames:v', '1');
  await expect(probeFile(tiff)).rejects.toMatchObject({ code: 'picture' });
  const nut = clip('clip.nut', '320x180', '5', '-c:v', 'ffv1');
  await expect(probeFile(nut)).rejects.toMatchObject({
    code: 'format',
    message: expect.not.stringContaining('playlist'),
  });
});

test('ten bits, odd sizes and timecode are seen', async () => {
  const deep = await probeFile(
    clip('deep.mkv', '322x182', '24', '-c:v', 'libx264', '-pix_fmt', 'yuv420p10le', '-profile:v', 'high10'),
  );
  expect(deep.bitDepth).toBe(10);
  const odd = clip('odd.mkv', '322x184', '25', '-vf', 'format=yuv444p,crop=321:183:0:0', '-c:v', 'ffv1');
  expect((await measureTake(odd)).media).toMatchObject({ width: 321, height: 183, frame_count: 25 });
  expect(
    (await probeFile(clip('tc.mov', '320x180', '25', '-timecode', '10:11:12:13', '-pix_fmt', 'yuv420p'))).timecode,
  ).toBe('10:11:12:13');
});

test('a variable rate and missing frames come from the time stamps', async () => {
  const path = clip(
    'vfr.mp4',
    '320x180',
    '25',
    '-vf',
    "select='not(between(n,10,12))'",
    '-fps_mode',
    'vfr',
    '-pix_fmt',
    'yuv420p',
  );
  expect((await measureTake(path)).media).toMatchObject({
    variable_rate: true,
    missing_frames: [{ after: 9, count: 3 }],
    frame_count: 22,
  });
});

test('times that fall into one tick lose no frame, however slowly they are read', async () => {
  const path = clip(
    'jitter.mp4',
    '640x360',
    '30',
    '-vf',
    "setpts='(N+0.49*sin(N*2.1))/30/TB'",
    '-fps_mode',
    'vfr',
    '-video_track_timescale',
    '90000',
    '-pix_fmt',
    'yuv420p',
  );
  const probe = await probeFile(path);
  const times = await frameTimes(path, probe);
  for (const wait of [0, 8, 25]) {
    let count = 0;
    for await (const p of pictures(path, probe, { proxy: { path: file('jitter.jpegs'), width: 320 } })) {
      if (p.luma.data.length === 640 * 360 && p.small.luma.length > 0) count++;
      if (wait)
        await new Promise((r) => {
          setTimeout(r, wait);
        });
    }
    expect(count).toBe(times.length);
  }
});

test('reading may stop early, and what was asked for is what comes', async () => {
  // More pictures than are decoded ahead, so that ffmpeg waits when nobody asks for more.
  const long = clip('long.mp4', '1280x720', '60', '-pix_fmt', 'yuv420p');
  for await (const p of pictures(long, await probeFile(long))) {
    expect(p.luma.width).toBe(960);
    await new Promise((r) => {
      setTimeout(r, 400);
    });
    break;
  }
  const probe = await probeFile(file('plain.mp4'));
  let count = 0;
  for await (const p of pictures(file('plain.mp4'), probe, { only: [3, 4, 20], size: { width: 160, height: 90 } })) {
    expect(p.luma.data).toHaveLength(160 * 90);
    count++;
  }
  expect(count).toBe(3);
  const stop = new AbortController();
  await expect(
    (async () => {
      for await (const p of pictures(file('plain.mp4'), probe, { signal: stop.signal })) if (p) stop.abort();
    })(),
  ).rejects.toThrow(/abort/i);
});

test('repeated frames are found after compression', async () => {
  const path = clip('repeats.mp4', '320x180', '12.5', '-vf', 'noise=alls=12:allf=t,fps=25', '-pix_fmt', 'yuv420p');
  const { media } = await measureTake(path);
  expect(media.measured_fps).toBeCloseTo(25);
  expect(media.real_fps).toBeGreaterThan(12);
  expect(media.real_fps).toBeLessThan(15);
});

test('every fifth picture of 24 in 30 is found', async () => {
  ffmpeg(
    '-f',
    'lavfi',
    '-i',
    'mandelbrot=s=320x180:r=24',
    '-t',
    '2',
    '-vf',
    'noise=alls=6:allf=t,fps=30',
    '-pix_fmt',
    'yuv420p',
    file('pulldown.mp4'),
  );
  const { media } = await measureTake(file('pulldown.mp4'));
  expect(media.measured_fps).toBeCloseTo(30);
  expect(Math.abs(media.real_fps! - 24)).toBeLessThan(0.6);
});

test('a still scene that the coder only refreshes now and then is not called repeated', async () => {
  ffmpeg(
    '-f',
    'lavfi',
    '-i',
    'mandelbrot=s=480x270:r=25:start_scale=0.02:end_scale=0.02:end_pts=1000',
    '-t',
    '2',
    '-vf',
    'noise=alls=4:allf=t',
    '-c:v',
    'libvpx-vp9',
    '-b:v',
    '250k',
    '-deadline',
    'realtime',
    '-cpu-used',
    '6',
    file('calm.webm'),
  );
  const { media } = await measureTake(file('calm.webm'));
  expect(media.repeated_frames).toEqual([]);
});

test('one frame is measured without failing', async () => {
  const path = clip('one.mp4', '320x180', '25', '-frames:v', '1', '-pix_fmt', 'yuv420p');
  const report = await measureTake(path);
  expect(report.media.frame_count).toBe(1);
  expect(report.lock.verdict).toBe('unjudged');
});

test('a file cut short gives what can be decoded, or a sentence', async () => {
  ffmpeg('-i', file('plain.mp4'), '-c', 'copy', '-movflags', '+faststart', file('fast.mp4'));
  const bytes = readFileSync(file('fast.mp4'));
  writeFileSync(file('half.mp4'), bytes.subarray(0, Math.floor(bytes.length * 0.6)));
  const report = await measureTake(file('half.mp4'));
  expect(report.media.frame_count).toBeGreaterThan(3);
  expect(report.media.frame_count).toBeLessThan(25);
  const slow = readFileSync(file('plain.mp4'));
  writeFileSync(file('headless.mp4'), slow.subarray(0, Math.floor(slow.length * 0.5)));
  expect((await refusal(file('headless.mp4'))).message).toContain('breaks off');
});

describe('what cannot be used is refused with a sentence that says what to do', () => {
  test.each<[string, string | Buffer, string, RegExp]>([
    ['empty.mp4', '', 'empty', /empty \(0 bytes\)/],
    ['notes.mp4', 'just some words', 'text', /text file/],
    ['list.m3u8', '#EXTM3U\n#EXT-X-TARGETDURATION:5\n#EXTINF:5,\nfile:///etc/passwd\n', 'playlist', /playlist/],
    ['list.mp4', 'ffconcat version 1.0\nfile plain.mp4\n', 'playlist', /playlist/],
    [
      'junk.mp4',
      Buffer.from(Array.from({ length: 5000 }, (_, i) => (i * 7919) % 251)),
      'unreadable',
      /not a video file/,
    ],
    ['photo.mp4', Buffer.from('\x89PNG\r\n\x1a\n', 'latin1'), 'picture', /still picture/],
  ])('%s', async (name, content, code, sentence) => {
    writeFileSync(file(name), content);
    const error = await refusal(file(name));
    expect(error.code).toBe(code);
    expect(error.message).toMatch(sentence);
    expect(error.message).toContain(name);
    expect(error.message).not.toMatch(/\n|at Object/);
  });

  test('sound only, a folder, nothing there', async () => {
    ffmpeg('-f', 'lavfi', '-i', 'sine=d=1', file('sound.m4a'));
    expect((await refusal(file('sound.m4a'))).code).toBe('audio-only');
    expect((await refusal(folder)).code).toBe('folder');
    expect((await refusal(file('nowhere.mp4'))).code).toBe('missing');
  });
});

test('the measuring size keeps the shape and is never larger than the picture', () => {
  expect(measureSize(3840, 2160)).toMatchObject({ width: 960, height: 540, factorX: 4, factorY: 4 });
  expect(measureSize(320, 240)).toMatchObject({ width: 320, height: 240, factorX: 1 });
});

test('measuring says what is being done, and how far it is, to the end', async () => {
  const said: { doing: string; done: number; total: number }[] = [];
  const onProgress = (done: number, total: number, doing = '') => said.push({ doing, done, total });
  await measureTake(clip('said.mp4', '320x180', '60', '-pix_fmt', 'yuv420p'), { onProgress });
  expect([...new Set(said.map((s) => s.doing))]).toEqual(['', 'finding how the camera moved', 'telling who is in']);
  const decoded = said.filter((s) => s.doing === '');
  const told = said.filter((s) => s.doing === 'telling who is in');
  expect(decoded.at(-1)).toMatchObject({ done: 60, total: 60 });
  // It goes on as long as it takes: from the first frames to the last ones.
  expect([told[0].done, told.at(-1)!.total]).toEqual([0, 60]);
  expect(told.at(-1)!.done).toBeGreaterThanOrEqual(50);
});
