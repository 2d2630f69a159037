import { againstOf } from '../ffmpeg/file-source';
import { measureBarsFiles, measureClothFiles, measureMeetFiles, measureStillsFiles } from './measure-files';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { judgeSpot } from '../../core/measures/spot/judge';
import { findBeats } from '../../core/take/beats';
import { findSpot } from '../../core/take/spot';
import { probeFile } from '../ffmpeg/probe';
import { readStill } from '../write/still-out';
import { outlinedTake } from '../testing/outlined';
import { wallPicture } from '../testing/wall-clip';

const folder = mkdtempSync(join(tmpdir(), 'umbrastat-moments-'));
const [WIDTH, HEIGHT, FPS] = [640, 360, 25];
const still = join(folder, 'wall.pgm');

/** Something of one colour before the wall: its size, and its left and upper side, of the frame `t` (ffmpeg's words, from 0). */
interface Piece {
  colour: string;
  width: number;
  height: number;
  x: string;
  y: string;
}

interface Roll {
  seconds?: number;
  /** A filter for its sound. */
  sound?: string;
  /** One more filter of the picture. */
  then?: string;
}

/** A take of the wall with grain and coding. */
function roll(name: string, pieces: Piece[], { seconds = 4, sound, then }: Roll = {}): string {
  const path = join(folder, `${name}.mp4`);
  const inputs = ['-loop', '1', '-framerate', `${FPS}`, '-t', `${seconds}`, '-i', still];
  for (const { colour, width, height } of pieces)
    inputs.push('-f', 'lavfi', '-i', `color=${colour}:s=${width}x${height}:r=${FPS}:d=${seconds}`);
  if (sound) inputs.push('-f', 'lavfi', '-i', sound);
  const at = (e: string) => e.replace(/\bt\b/g, '(n-1)');
  let chain = `[0]scale=${WIDTH}:${HEIGHT},format=yuv444p[v0]`;
  pieces.forEach(({ x, y }, k) => {
    chain += `;[v${k}][${k + 1}]overlay=x='${at(x)}':y='${at(y)}':shortest=1[v${k + 1}]`;
  });
  chain += `;[v${pieces.length}]${then ? `${then},` : ''}noise=alls=5:allf=t[out]`;
  const maps = ['-map', '[out]', ...(sound ? ['-map', `${pieces.length + 1}:a`, '-c:a', 'aac'] : [])];
  const code = ['-c:v', 'libx264', '-preset', 'veryfast', '-crf', '19', '-pix_fmt', 'yuv420p', '-t', `${seconds}`];
  execFileSync('ffmpeg', ['-v', 'error', '-y', ...inputs, '-filter_complex', chain, ...maps, ...code, path]);
  return path;
}
const somebody = (x: string, y = '120', width = 50, height = 170): Piece => ({
  colour: '0x803020',
  width,
  height,
  x,
  y,
});

let plate = '';
beforeAll(() => {
  writeFileSync(still, wallPicture());
  plate = roll('plate', [], { seconds: 1 });
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

test('stills: sharp frames can be held; the cut-out is theirs, opaque, at full size', async () => {
  const out = join(folder, 'stills');
  const take = roll('stills', [somebody('min(6*t-60,240)')]);
  const report = await measureStillsFiles(take, undefined, { out, count: 3 });
  expect(report.verdict).toBe('holds');
  expect(report.stills).toHaveLength(3);
  const [best] = report.stills;
  // No shutter smears what ffmpeg lays over a picture: it may walk or rest.
  expect(report.stills.every((x) => x.motion_blur_px! < 1)).toBe(true);
  expect(best).toMatchObject({ whole: true, touches: [], hold: 'holds' });
  expect(Math.abs(best.x - Math.min(6 * best.frame - 60, 240))).toBeLessThan(6);
  expect(Math.abs(best.width - 50)).toBeLessThan(8);
  expect(Math.abs(best.area_share - (50 * 170) / (WIDTH * HEIGHT))).toBeLessThan(0.004);
  const cut = join(out, best.files!.cutout);
  expect(await probeFile(cut, 'cut', true)).toMatchObject({ width: WIDTH, height: HEIGHT });
  const alpha = execFileSync('ffmpeg', [
    '-v',
    'error',
    '-i',
    cut,
    '-vf',
    'alphaextract',
    '-f',
    'rawvideo',
    '-pix_fmt',
    'gray',
    '-',
  ]);
  expect([alpha[200 * WIDTH + Math.round(best.x) + 25], alpha[40 * WIDTH + 40]]).toEqual([255, 0]);
  expect((await readStill(join(out, best.files!.picture))).width).toBe(WIDTH);
});

test('spot: how far the second lies from the first, at the frames given and at the usual ones', async () => {
  const a = await outlinedTake(roll('spot-a', [somebody('min(8*t,300)', '60+t')], { seconds: 2 }));
  const b = await outlinedTake(roll('spot-b', [somebody('270+4*t', '100')], { seconds: 2 }));
  const empty = await againstOf(plate);
  const report = await findSpot(a, b, empty, { at_a: 45, at_b: 10 });
  expect(Math.abs(report.dx_px! - 10)).toBeLessThan(0.01 * WIDTH);
  expect(Math.abs(report.dy_px! - -5)).toBeLessThan(0.01 * WIDTH);
  expect(Math.abs(report.size_ratio! - 1)).toBeLessThan(0.05);
  expect(judgeSpot(report, 1).verdict).toBe('holds');
  const far = judgeSpot(await findSpot(a, b, empty, { at_a: 20, at_b: 40 }), 1);
  expect(far.verdict).toBe('reshoot');
  expect(far.reasons[0].fix).toMatch(/^Frames \d+ and \d+ lie nearest/);
  await expect(findSpot(a, b, empty, { at_a: 400, at_b: 0 })).rejects.toThrow('has frames 0 to 49');
});

test('beats: starts, strikes, a step of light and a clap, each on its frame', async () => {
  const bright = `lutyuv=y='val*1.2':enable='gte(n,60)'`;
  const lit = `split[p][q];[q]crop=120:80:480:30,${bright}[r];[p][r]overlay=480:30`;
  const path = roll('beats', [somebody('100+9*min(max(t-30,0),30)')], {
    sound: `aevalsrc='0.002*random(0)+if(between(t,2.4,2.45),0.6*(random(1)-0.5),0)':s=48000:d=4`,
    then: lit,
  });
  const take = await outlinedTake(path);
  const report = await findBeats(take);
  const at = (kind: string) => report.beats.filter((b) => b.kind === kind).map((b) => b.frame);
  for (const [kind, frame] of Object.entries({ starts: 30, light: 60, sound: 60 })) {
    expect([kind, at(kind).length]).toEqual([kind, 1]);
    expect(Math.abs(at(kind)[0] - frame)).toBeLessThanOrEqual(1);
  }
  // While somebody leaves the place where they stood from the start, one more may be read.
  expect(at('strikes').length).toBeLessThanOrEqual(2);
  expect(Math.abs(at('strikes').at(-1)! - 60)).toBeLessThanOrEqual(1);
  expect(Math.abs(report.sound_offset_frames!)).toBeLessThanOrEqual(1);
  expect(
    (await findBeats(take, { box: { x: 460, y: 0, width: 180, height: 120 } })).beats.map((b) => b.kind),
  ).not.toContain('starts');
});

test('bars: over the lower bar, by so much, in these frames', async () => {
  const take = roll('bars', [somebody('8*t-60', '130+if(between(t,30,59),40,0)', 50, 160)]);
  const report = await measureBarsFiles(take, undefined, { ratio: 2.39 });
  expect(report.bars.bottom_px).toBeCloseTo((HEIGHT - WIDTH / 2.39) / 2, 6);
  expect(report.crosses.filter((c) => c.edge === 'top')).toEqual([]);
  const [cross] = report.crosses;
  expect(Math.abs(cross.run.start - 30)).toBeLessThanOrEqual(1);
  expect(Math.abs(cross.run.end - 59)).toBeLessThanOrEqual(1);
  expect(Math.abs(cross.depth_px - (330 - (HEIGHT - report.bars.bottom_px)))).toBeLessThan(5);
  await expect(measureBarsFiles(take, undefined, { ratio: 1.5 })).rejects.toThrow('Ask for a wider ratio');
});

test('meet: who reacts when, when the vehicle is there, and how far to slide it', async () => {
  const a = roll('meet-a', [somebody('220+5*max(t-40,0)')], { seconds: 3 });
  const vehicle: Piece = { colour: '0x205030', width: 150, height: 90, x: '640-9*t', y: '230' };
  const report = await measureMeetFiles(a, roll('meet-b', [vehicle]), plate, { ratePct: 150 });
  expect(Math.abs(report.a_frame! - 40)).toBeLessThanOrEqual(1);
  // 640 - 9 n is 270 at 41.1.
  expect(Math.abs(report.b_frame! - 42)).toBeLessThanOrEqual(1);
  expect(report.slide_frames).toBe(Math.round(report.a_frame! - report.b_frame! / 1.5));
  expect(report).toMatchObject({ opposed: true, layer: 'b_over_a', rate_pct: 150 });
  expect(Math.abs(report.b_speed_widths_per_s! - (9 * FPS) / WIDTH)).toBeLessThan(0.01);
  // No shutter smears what ffmpeg lays over a picture.
  expect(report.strobes).toBe(true);
});

test('cloth: hidden from when to when, the fall, and whoever stays when it has fallen', async () => {
  const cloth = (stays: boolean): Piece[] => [
    somebody(stays ? '300' : 'if(lt(t,60),300,-200)', '140', 50, 150),
    {
      colour: '0x6080a0',
      width: 180,
      height: 240,
      x: '235',
      y: 'if(lt(t,20),355,if(lt(t,70),80,min(340,80+14*(t-70))))',
    },
  ];
  const report = await measureClothFiles(roll('cloth', cloth(false)), plate);
  expect(report.verdict).toBe('holds');
  expect(Math.abs(report.hides_runs[0].start - 20)).toBeLessThanOrEqual(1);
  expect(Math.abs(report.hides_runs[0].end - 74)).toBeLessThanOrEqual(2);
  expect(Math.abs(report.lands_frame! - 89)).toBeLessThanOrEqual(2);
  expect(Math.abs(report.fall!.speed_px_per_frame - 14)).toBeLessThan(1.5);
  expect(report.leftovers).toEqual([]);
  const betrayed = await measureClothFiles(roll('stays', cloth(true)), plate, { look: { x: 320, y: 200, frame: 40 } });
  expect(betrayed.leftovers.length).toBeGreaterThan(8);
  expect(betrayed.verdict).not.toBe('holds');
});
