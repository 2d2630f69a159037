import { measureTake } from '../feeds/measure-take';
import { measureCover } from '../feeds/measure-files';
import { execFileSync } from 'node:child_process';
import { appendFileSync, mkdtempSync, readFileSync, rmSync, utimesSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { assureAtRest } from './whole';
import { wallClip } from '../testing/wall-clip';
import { few } from '../../core/testing/few';

const folder = mkdtempSync(join(tmpdir(), 'umbrastat-whole-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const path = (name: string) => join(folder, name);
const ffmpeg = (...args: string[]) => execFileSync('ffmpeg', ['-v', 'error', '-y', ...args]);
/** The first part of a file, as a copy that broke off leaves it. */
function cutOff(name: string, share: number): string {
  const bytes = readFileSync(path(name));
  const out = path(`cut-${name}`);
  writeFileSync(out, bytes.subarray(0, Math.floor(share * bytes.length)));
  return out;
}

beforeAll(() => {
  wallClip(path('source.mp4'), 2.4, 'crop=256:144,noise=alls=6:allf=t');
  const key = ['-g', '25', '-bf', '2', '-c:v', 'libx264', '-pix_fmt', 'yuv420p'];
  ffmpeg('-i', path('source.mp4'), ...key, '-movflags', '+faststart', path('index-first.mp4'));
  ffmpeg('-i', path('index-first.mp4'), '-c', 'copy', path('same.mkv'));
  ffmpeg('-i', path('index-first.mp4'), '-c:v', 'mpeg4', '-q:v', '4', path('same.avi'));
});

test.each(
  few(2, [
    ['index-first.mp4', 60],
    ['same.mkv', null],
    ['same.avi', 60],
  ]),
)('%s is whole, and declares what it holds', async (name, declared) => {
  const { media, lock } = await measureTake(path(name));
  expect(media).toMatchObject({ frame_count: 60, complete: true, broken_frames: [], cuts: [] });
  if (declared) expect(media.declared_frames).toBe(declared);
  expect(media.shot).toEqual({ start: 0, end: 59 });
  expect(lock.verdict).toBe('holds');
});

test.each(few(2, ['index-first.mp4', 'same.mkv', 'same.avi']))(
  '%s cut off at 42 %% of its bytes is measured as far as it goes, and judged for nothing',
  async (name) => {
    const report = await measureTake(cutOff(name, 0.42));
    expect(report.media.complete).toBe(false);
    expect(report.media.frame_count).toBeLessThan(42);
    expect(report.media.frame_count).toBeGreaterThan(12);
    expect(Math.abs(report.media.declared_frames! - 60)).toBeLessThanOrEqual(1);
    for (const block of [report.lock, report.light, report.focus]) {
      expect(block.verdict).toBe('unjudged');
      expect(block.reasons[0]).toMatchObject({ code: 'breaks-off', fix: 'Copy it from the card again.' });
    }
    expect(report.take.text).toMatch(/^The file breaks off at frame \d+ of (59|60|61)\.$/);
    expect(report.lock.path.dx_px).toHaveLength(report.media.frame_count);
    if (name !== 'same.mkv') return;
    const cover = await measureCover(cutOff(name, 0.42));
    expect(cover).toMatchObject({ verdict: 'unjudged', reasons: [{ code: 'breaks-off' }] });
  },
);

test('pictures with broken blocks are named by frame, until the next one that stands by itself', async () => {
  const bytes = readFileSync(path('index-first.mp4'));
  const wish = ['-select_streams', 'v', '-show_entries', 'packet=pts,pos,size', '-of', 'json'];
  const told = execFileSync('ffprobe', ['-v', 'error', ...wish, path('index-first.mp4')], { encoding: 'utf8' });
  const { packets } = JSON.parse(told) as { packets: { pts: number; pos: string; size: string }[] };
  const [from, size] = packets.sort((p, q) => p.pts - q.pts).map((p) => [Number(p.pos), Number(p.size)])[35];
  bytes.fill(0x41, from + Math.floor(size / 4), from + size + 1000);
  writeFileSync(path('broken.mp4'), bytes);
  const { media, take } = await measureTake(path('broken.mp4'));
  expect(media.complete).toBe(true);
  expect(media.broken_frames.length).toBeGreaterThan(0);
  const frames = media.broken_frames.flatMap((r) => [r.start, r.end]);
  expect(Math.min(...frames)).toBeGreaterThan(27);
  expect(Math.max(...frames)).toBeLessThan(52);
  expect(take.file).toMatchObject({ verdict: 'reshoot' });
  expect(take.file!.reasons[0].text).toMatch(/^Pictures are broken in frames \d+/);
});

test('a file that grows is refused, one that came to rest just now is waited for, an old one is not looked at twice', async () => {
  const growing = path('growing.mkv');
  writeFileSync(growing, 'begun');
  const grows = assureAtRest(growing, 'growing.mkv');
  // However late it is looked at for the first time.
  const copying = setInterval(() => appendFileSync(growing, 'more'), 20);
  await expect(grows).rejects.toMatchObject({ code: 'growing' });
  clearInterval(copying);
  await expect(grows).rejects.toThrow(/^"growing\.mkv" is still being written\. Wait until it is copied whole/);
  writeFileSync(path('rests.mkv'), 'done');
  await assureAtRest(path('rests.mkv'), 'rests.mkv');
  writeFileSync(path('old.mkv'), 'done');
  utimesSync(path('old.mkv'), 1, 1);
  const old = assureAtRest(path('old.mkv'), 'old.mkv').then(() => 'let in');
  setTimeout(() => appendFileSync(path('old.mkv'), 'more'), 50);
  expect(await old).toBe('let in');
});

test('of a file with several shots the longest is measured, in the file’s own frames; another when asked for', async () => {
  ffmpeg('-f', 'lavfi', '-i', 'testsrc2=s=256x144:r=25:d=1.4', '-pix_fmt', 'yuv420p', path('other.mp4'));
  const join2 = '[0:v][1:v]concat=n=2:v=1[v]';
  const inputs = ['-i', path('other.mp4'), '-i', path('source.mp4')];
  ffmpeg(...inputs, '-filter_complex', join2, '-map', '[v]', '-pix_fmt', 'yuv420p', path('two.mp4'));
  const { media, lock, take } = await measureTake(path('two.mp4'));
  expect(media).toMatchObject({ cuts: [35], frame_count: 95, shot: { start: 35, end: 94 } });
  expect(lock).toMatchObject({ verdict: 'holds', usable_run: { start: 35, end: 94 } });
  expect(lock.path.dx_px).toHaveLength(95);
  expect(lock.path.dx_px.findIndex((v) => v !== null)).toBe(35);
  expect(take.file!.reasons[0].text).toBe('The file holds 2 shots: a cut at frame 35.');
  const first = await measureTake(path('two.mp4'), { shot: 1 });
  expect(first.media.shot).toEqual({ start: 0, end: 34 });
  expect(first.lock.path.dx_px[94]).toBeNull();
  await expect(measureTake(path('two.mp4'), { shot: 3 })).rejects.toThrow('holds 2 shots; there is no shot 3');
});

test('windows that come and go on a screen that was recorded are no stops', async () => {
  const screen = [
    '-f',
    'lavfi',
    '-i',
    'testsrc=s=256x144:r=25:d=2.4',
    '-f',
    'lavfi',
    '-i',
    'color=0x305080:s=90x60:r=25:d=2.4',
  ];
  ffmpeg(
    ...screen,
    '-filter_complex',
    `[0:v]trim=end_frame=1,loop=59:1:0,setpts=N/25/TB[s];[s][1:v]overlay=x=60:y=40:enable='gte(n,25)'[v]`,
    '-map',
    '[v]',
    '-pix_fmt',
    'yuv420p',
    path('screen.mp4'),
  );
  expect((await measureTake(path('screen.mp4'))).media).toMatchObject({ cuts: [], stops: [] });
});

// The overlay counts frames from 1.
test('a camera that was stopped, and went on with the same view: whoever walks is elsewhere at once', async () => {
  const walker = (gone: number) => [
    '-i',
    path('source.mp4'),
    '-f',
    'lavfi',
    '-i',
    'color=0x602010:s=26x60:r=25',
    '-filter_complex',
    `[0:v][1:v]overlay=x='20+n+gte(n\\,31)*${gone}':y=50:shortest=1[v]`,
    '-map',
    '[v]',
    '-pix_fmt',
    'yuv420p',
  ];
  ffmpeg(...walker(90), path('stopped.mp4'));
  ffmpeg(...walker(0), path('all-through.mp4'));
  const { media, take } = await measureTake(path('stopped.mp4'));
  expect(media).toMatchObject({ cuts: [30], stops: [30], shot: { start: 0, end: 29 } });
  expect(take.file!.reasons[0].text).toBe('The file holds 2 shots: the camera was stopped before frame 30.');
  expect((await measureTake(path('all-through.mp4'))).media).toMatchObject({ cuts: [], stops: [] });
});
