import { againstOf } from '../ffmpeg/file-source';
import { makeMatte } from './measure-files';
import type { MeasuredTake, Against } from '../../core/take/measured-take';
import { execFileSync } from 'node:child_process';
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { quantile } from '../../core/base/numeric/quantile';
import { boxOutline } from '../../core/base/geometry/outline';
import { judgeHide } from '../../core/measures/hide/judge';
import { judgeZone } from '../../core/measures/zone/judge';
import { findHide } from '../../core/take/hide';
import { findZone } from '../../core/take/zone';
import { outlinedTake } from '../testing/outlined';
import { wallPicture } from '../testing/wall-clip';

const folder = mkdtempSync(join(tmpdir(), 'umbrastat-hide-'));
const [WIDTH, HEIGHT, FRAMES] = [640, 360, 75];
const [BODY_WIDTH, BODY_HEIGHT, TOP] = [50, 170, 150];
const PILLAR = { x: 300, width: 90 };
const still = join(folder, 'wall.pgm');

/** A take of the wall with grain: somebody as a box whose left side is at `x` (ffmpeg's words, in which the first frame is
 * n 1), behind a pillar or before it. */
function roll(name: string, x: string, before = false, hand = false): string {
  const path = join(folder, `${name}.mp4`);
  const seconds = String(FRAMES / 25);
  const input = ['-loop', '1', '-framerate', '25', '-t', seconds, '-i', still];
  const body = ['-f', 'lavfi', '-i', `color=0x803020:s=${BODY_WIDTH}x${BODY_HEIGHT}:r=25:d=${seconds}`];
  const whole = `overlay=x='${x}':y=${TOP}:shortest=1`;
  // A hand that stays a little behind.
  const walks = hand ? `${whole}[o];[2]scale=16:9[h];[o][h]overlay=x='${x}-31':y=${TOP + 40}:shortest=1` : whole;
  const stands = `overlay=x=${PILLAR.x}:y=40:shortest=1`;
  // The pillar is another piece of the wall, darker.
  const filter =
    `[0]split[w][p];[w]scale=${WIDTH}:${HEIGHT}[wall];` +
    `[p]scale=900:600,crop=${PILLAR.width}:300:200:100,lutyuv=y=val*0.6[pillar];` +
    (before ? `[wall][pillar]${stands}[s];[s][1]${walks}` : `[wall][1]${walks}[s];[s][pillar]${stands}`) +
    ',noise=alls=5:allf=t';
  const code = ['-c:v', 'libx264', '-preset', 'veryfast', '-crf', '19', '-pix_fmt', 'yuv420p'];
  execFileSync('ffmpeg', [
    '-v',
    'error',
    '-y',
    ...input,
    ...body,
    ...(hand ? body : []),
    '-filter_complex',
    filter,
    ...code,
    path,
  ]);
  return path;
}

let behind: MeasuredTake;
const behindPath = join(folder, 'behind.mp4');
let plate: Against;
const size = { width: WIDTH, height: HEIGHT };
const found = async (take: MeasuredTake) => {
  const hide = await findHide(take, plate);
  return { ...hide, ...judgeHide(hide, { size, delivery: size, plate: true }) };
};
beforeAll(async () => {
  writeFileSync(still, wallPicture());
  plate = await againstOf(roll('plate', '-100'));
  behind = await outlinedTake(roll('behind', 'min(320,6*(n-1)-60)'));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

test('somebody goes behind a pillar: the frames to one, the pillar, and a split on it', async () => {
  const report = await found(behind);
  expect([report.verdict, report.reasons[0].code]).toEqual(['holds', 'hidden']);
  // Their left side is behind it from frame 60 on.
  expect(report.hidden_runs).toHaveLength(1);
  expect(Math.abs(report.hidden_runs[0].start - 60)).toBeLessThanOrEqual(1);
  expect(report.switch_frame).toBe(report.hidden_runs[0].start);
  expect(Math.abs(report.behind!.x - PILLAR.x)).toBeLessThan(6);
  expect(report.split).toMatchObject({ fixed: true, keeps: 'left' });
  for (const [x] of report.split!.points) {
    expect(x).toBeGreaterThan(PILLAR.x);
    expect(x).toBeLessThan(PILLAR.x + PILLAR.width);
  }
  expect(Math.abs(report.offset!.dx_px)).toBeLessThan(0.2);
  expect(Math.abs(report.light!.gap_stops)).toBeLessThan(0.03);
});

test('a hand that stays in sight is seen, however small', async () => {
  const report = await found(await outlinedTake(roll('hand', 'min(320,6*(n-1)-60)', false, true)));
  expect(report.verdict).toBe('reshoot');
  expect(report.hidden_runs).toEqual([]);
  expect(report.least_shown!.share).toBeLessThan(0.003);
});

test('who passes before the pillar is caught, and a frame beyond the end refused', async () => {
  const front = await found(await outlinedTake(roll('front', '10*(n-1)-60', true)));
  expect([front.verdict, front.reasons[0].code]).toEqual(['reshoot', 'leaves']);
  await expect(findHide(behind, plate, { at: 75 })).rejects.toThrow(/frames 0 to 74; frame 75 is not among them/);
});

test('a zone is entered when they are in it, and one beside the way is free', async () => {
  const entered = await findZone(behind, boxOutline(120, 140, 60, 150), plate);
  expect(judgeZone(entered, WIDTH).verdict).toBe('reshoot');
  // Their right side is past 120 from frame 22 on, their left side past 180 from 40 on.
  expect(entered.entered_runs).toHaveLength(1);
  expect(Math.abs(entered.entered_runs[0].start - 22)).toBeLessThanOrEqual(1);
  expect(Math.abs(entered.entered_runs[0].end - 39)).toBeLessThanOrEqual(1);
  const free = await findZone(behind, boxOutline(450, 100, 100, 200), null);
  expect([judgeZone(free, WIDTH).verdict, free.changes]).toEqual(['holds', []]);
  expect(Math.abs(free.closest_px! - (450 - PILLAR.x))).toBeLessThan(12);
  await expect(findZone(behind, boxOutline(900, 900, 50, 50), null)).rejects.toThrow(/outside the picture/);
});

/** The left and right sides of what is white in a row of a frame of a grey film. */
function sidesIn(path: string, frame: number, y: number): [number, number] | null {
  const select = `select=eq(n\\,${frame}),format=gray`;
  const raw = execFileSync('ffmpeg', [
    '-v',
    'error',
    '-i',
    path,
    '-vf',
    select,
    '-frames:v',
    '1',
    '-f',
    'rawvideo',
    '-',
  ]);
  const row = raw.subarray(y * WIDTH, (y + 1) * WIDTH);
  const first = row.findIndex((v) => v > 127);
  return first < 0 ? null : [first, row.findLastIndex((v) => v > 127) + 1];
}

test('a matte lies on who is in, as film and as pictures, and leaves nothing behind when it fails', async () => {
  const film = join(folder, 'matte.mkv');
  const report = await makeMatte(behindPath, { out: film, shadow: false, analysis: behind.analysis });
  expect(report).toMatchObject({ take: 'behind.mp4', frames: FRAMES, width: WIDTH, height: HEIGHT, file: film });
  const errors: number[] = [];
  for (const f of [15, 20, 25, 30, 35, 40, 45])
    for (let y = TOP + 20; y < TOP + BODY_HEIGHT - 20; y += 13) {
      const sides = sidesIn(film, f, y)!;
      errors.push(Math.abs(sides[0] - (6 * f - 60)), Math.abs(sides[1] - (6 * f - 60 + BODY_WIDTH)));
    }
  expect(quantile(errors, 0.5)).toBeLessThan(2);
  expect(quantile(errors, 0.9)).toBeLessThan(5);
  // Its own estimate is of that size.
  expect(report.edge_error_px).toBeGreaterThan(0.4 * quantile(errors, 0.5));
  expect(report.edge_error_px).toBeLessThan(4);
  expect([sidesIn(film, 0, 200), sidesIn(film, 70, 200)]).toEqual([null, null]);

  const pictures = join(folder, 'row.png');
  await makeMatte(behindPath, { out: pictures, feather: 12, analysis: behind.analysis });
  const names = readdirSync(folder).filter((n) => /^row-\d{5}\.png$/.test(n));
  expect([names.length, existsSync(pictures)]).toEqual([FRAMES, false]);
  expect(readFileSync(join(folder, names[30])).subarray(1, 4).toString()).toBe('PNG');

  await expect(makeMatte(behindPath, { out: join(folder, 'none', 'matte.mkv') })).rejects.toThrow();
  expect(readdirSync(folder).filter((n) => n.startsWith('.'))).toEqual([]);
});
