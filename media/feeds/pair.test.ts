import { analyseTake, openTake } from './measure-take';
import { measurePairFiles } from './measure-files';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { quantile } from '../../core/base/numeric/quantile';
import { laidOnFirst, lifted } from '../../core/measures/pair/even';
import { colourPictures } from '../ffmpeg/frames';
import { evenTogether } from '../../core/take/pair';
import { probeFile } from '../ffmpeg/probe';
import { decodeFinely } from '../../core/take/fine-outlines';
import { wallPicture } from '../testing/wall-clip';
import { MEASURES } from '../../core/measures';
import type { PairFound } from '../../core/report/pair-types';
import { PlainMeasures } from './plain-measures';

const folder = mkdtempSync(join(tmpdir(), 'umbrastat-pair-'));
const [WIDTH, FRAMES, BODY] = [640, 60, 60];
const still = join(folder, 'wall.pgm');

/** A pass of the wall with grain: somebody as a box whose left side is at `x` (ffmpeg's words, in which the first frame is n 1). */
function roll(name: string, x: string, more = ''): string {
  const path = join(folder, `${name}.mp4`);
  const input = ['-loop', '1', '-framerate', '25', '-t', String(FRAMES / 25), '-i', still];
  const body = ['-f', 'lavfi', '-i', `color=0x803020:s=${BODY}x170:r=25:d=${FRAMES / 25}`];
  const filter = `[0]scale=${WIDTH}:360[w];[w][1]overlay=x='${x}':y=150:shortest=1${more},noise=alls=5:allf=t`;
  const code = ['-c:v', 'libx264', '-preset', 'veryfast', '-crf', '19', '-pix_fmt', 'yuv420p'];
  execFileSync('ffmpeg', ['-v', 'error', '-y', ...input, ...body, '-filter_complex', filter, ...code, path]);
  return path;
}

/** The first picture of a film, red, green and blue. */
async function oneOf(path: string, size: { width: number; height: number }): Promise<Uint8Array> {
  const probe = await probeFile(path, 'film');
  for await (const rgb of colourPictures(path, probe, { ...size, from: 0, to: 0 })) return rgb.slice();
  throw new Error('no picture');
}

beforeAll(() => writeFileSync(still, wallPicture()));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

test('two who keep to their sides: the gap in every frame, the widest line, and nothing to be done', async () => {
  const a = roll('left', '2.5*(n-1)-60'),
    b = roll('right', '640-2.5*(n-1)');
  const report = await measurePairFiles(a, b);
  expect(report).toMatchObject({
    file: 'left.mp4',
    against: 'right.mp4',
    verdict: 'holds',
    overlap_runs: [],
    slide: null,
  });
  const errors = report.path.gap_px.flatMap((g, f) => (g === null || f < 30 ? [] : [Math.abs(g - (640 - 5 * f))]));
  expect(errors.length).toBeGreaterThan(25);
  // A fine pixel is two of these; each side is known to one or two of them where it stands out the most.
  expect(quantile(errors, 0.5)).toBeLessThan(6);
  expect(quantile(errors, 0.95)).toBeLessThan(7);
  const least = 640 - 5 * (FRAMES - 1);
  expect(Math.abs(report.seam!.narrowest_px - least)).toBeLessThan(0.1 * least);
  expect(report.seam!.fixed).toBe(true);
  for (const [x] of report.seam!.points) expect(x).toBeGreaterThan(2.5 * (FRAMES - 1));
  for (const [x] of report.seam!.points) expect(x).toBeLessThan(640 - 2.5 * (FRAMES - 1));
  expect(Math.abs(report.offset!.dx_px)).toBeLessThan(0.1);
  expect(Math.abs(report.light!.gap_stops)).toBeLessThan(0.02);
});

test('two who meet: the frames to two at each end, and the slide that frees them', async () => {
  // They meet in frames 44 to 53 or so: the one goes through, the other comes and goes again.
  const a = roll('through', '9*(n-1)-60'),
    b = roll('in-and-out', 'if(between(n-1,30,50),350,700)');
  const report = await measurePairFiles(a, b);
  const truth = Array.from({ length: FRAMES }, (_, f) => f).filter(
    (f) => f >= 30 && f <= 50 && 9 * f > 350 && 9 * f - 60 < 410,
  );
  expect(report.overlap_runs).toHaveLength(1);
  expect(Math.abs(report.overlap_runs[0].start - truth[0])).toBeLessThanOrEqual(2);
  expect(report.verdict).toBe('workable');
  expect(report.slide!.closest_px).toBeGreaterThan(0);
  const slid = await measurePairFiles(a, b, { slide: report.slide!.frames });
  expect(slid.overlap_runs).toEqual([]);
  expect(Math.abs(slid.closest_px! - report.slide!.closest_px)).toBeLessThan(3);
});

test('a darker pass and a nudged camera are said, and the outlines of a kept take are those of a fresh one', async () => {
  const a = roll('as-it-was', '2.5*(n-1)-60'),
    b = roll('other', '640-2.5*(n-1)', ",lutyuv=y='16+(val-16)*0.88',crop=620:348:14:6,scale=640:360");
  const report = await measurePairFiles(a, b);
  expect(report.reasons.map((r) => r.code)).toEqual(expect.arrayContaining(['light', 'offset']));
  expect(report.light!.gap_stops).toBeLessThan(-0.15);
  // For a proof the other is laid on the first, in its light.
  const takes = [a, b].map((path) => openTake(path));
  const even = await evenTogether(await takes[0], await takes[1]);
  expect(even.stops).toBeGreaterThan(0.15);
  const size = { width: 640, height: 360 };
  const [first, second] = await Promise.all([oneOf(a, size), oneOf(b, size)]);
  const apart = (rgb: Uint8Array) => {
    const off: number[] = [];
    // The middle of the picture, where nobody is in these frames.
    for (let y = 40; y < 130; y++)
      for (let x = 100; x < 540; x++) off.push(Math.abs(rgb[3 * (y * 640 + x) + 1] - first[3 * (y * 640 + x) + 1]));
    return quantile(off, 0.5);
  };
  const table = lifted(even.stops);
  const laid = laidOnFirst(second, size, even.place!, 1, new Uint8Array(second.length)).map((v) => table[v]);
  expect(apart(laid)).toBeLessThan(0.5 * apart(second));
  // What is left is grain.
  expect(apart(laid)).toBeLessThan(6);
  const fresh = await analyseTake(a, { fine: true });
  const { source, analysis } = await openTake(a);
  const again = await decodeFinely(source, analysis);
  expect(again!.frames[40]).toEqual(fresh.fine!.frames[40]);
  expect(again!.frames[40]![0].rows.length).toBeGreaterThan(100);
});

test('passes of two sizes are refused with a sentence', async () => {
  const small = join(folder, 'small.mp4');
  const a = roll('large', '2.5*(n-1)-60');
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-i', a, '-vf', 'scale=320:180', small]);
  await expect(measurePairFiles(a, small)).rejects.toThrow(/"large.mp4" is 640 x 360 and "small.mp4" 320 x 180/);
});

/** Two passes as the app measures them: each take, its outlines, and then the two by what was kept of them. */
async function asTheAppDoes(paths: readonly [string, string], between: () => void) {
  const root = mkdtempSync(join(folder, 'kept-'));
  const plain = new PlainMeasures(root, undefined, () => undefined);
  const takes = [await plain.fed(paths[0], 'a', [MEASURES.pair]), await plain.fed(paths[1], 'b', [MEASURES.pair])];
  for (const take of takes) await plain.make(MEASURES.outlines, [take], {});
  between();
  return (await plain.make(MEASURES.pair, takes, {})) as PairFound;
}

test('the app finds what the command line does, light that somebody throws too, and decodes nothing for it', async () => {
  // While they stand there the wall far on the other side is brighter.
  const lit = `[c];[c]split[p][q];[q]crop=150:120:440:40,lutyuv=y='val*1.2'[r];[p][r]overlay=440:40:enable='gte(n,20)'`;
  const a = roll('lights', `if(gte(n,20),40,-100)`, lit),
    b = roll('is-lit', '640-2.5*(n-1)');
  const { seam, thrown, overlap_runs, mirrored } = await measurePairFiles(a, b);
  expect(thrown!.a!.stops).toBeGreaterThan(0.15);
  const found = await asTheAppDoes([a, b], () => [a, b].forEach((path) => rmSync(path)));
  expect(found).toMatchObject({ thrown, overlap_runs, mirrored });
  expect(found.seam!.points).toEqual(seam!.points);
});
