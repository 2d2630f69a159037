import { execFileSync } from 'node:child_process';
import { join } from 'node:path';
import { buildSync } from 'esbuild';
import { frameTimes } from '../media/ffmpeg/frame-index';
import { analyseTake } from '../media/feeds/measure-take';
import { probeFile } from '../media/ffmpeg/probe';
import { fixtureClip } from '../standin/testing/fixtures';
import type { CameraSettings } from '../standin/settings';
import { AppUnderTest } from './browser';
import type { MeasuredInWorker } from './testing/take-worker';

const app = new AppUnderTest();
beforeAll(() => app.start());
afterAll(() => app.stop());

/** A program for a page's worker, in one piece. */
function bundled(path: string): string {
  const { outputFiles } = buildSync({ entryPoints: [path], bundle: true, format: 'iife', write: false });
  return outputFiles[0].text;
}

const apart = (a: (number | null)[], b: (number | null)[]) =>
  Math.max(...a.map((v, f) => (v === null || b[f] === null ? Number(v !== b[f]) * 1e9 : Math.abs(v - b[f]))));

test('a take measured in a page, from frames that the page has, has the numbers that the command line gives', async () => {
  const { path } = await fixtureClip({
    ...{
      scene: 'kiosk',
      tripod: 'knock',
      crossing: 'left-to-right',
      seconds: 3,
      fps: 25,
      width: 640,
      grain: 2,
      seed: 4,
    },
  } as CameraSettings);
  const facts = await probeFile(path);
  const { width, height } = facts;
  const raw = execFileSync('ffmpeg', ['-v', 'error', '-i', path, '-pix_fmt', 'yuv420p', '-f', 'rawvideo', 'pipe:1'], {
    maxBuffer: 1e9,
  });
  const times = await frameTimes(path, facts);
  const page = await app.open(1280, 800);
  await page.route('**/frames.raw', (route) => route.fulfill({ body: raw }));
  const half = { width: width / 2, height: height / 2 };
  const answer = await page.evaluate(
    async ({ code, take }) => {
      // The page's own rule on scripts holds in it.
      const worker = new Worker(URL.createObjectURL(new Blob([code])));
      const bytes = await (await fetch('/frames.raw')).arrayBuffer();
      return new Promise((resolve, reject) => {
        worker.onmessage = ({ data }) => resolve(data);
        worker.onerror = (e) => reject(new Error(e.message));
        worker.postMessage({ ...take, bytes }, [bytes]);
      });
    },
    {
      code: bundled(join(__dirname, 'testing', 'take-worker.ts')),
      take: { facts, luma: { width, height }, colour: half, times },
    },
  );
  const own = answer as MeasuredInWorker;
  const file = await analyseTake(path, { name: 'take' });
  expect(own).not.toHaveProperty('failed');
  expect(apart(own.dx, file.lock.path.dx_px)).toBeLessThan(0.05);
  expect(apart(own.dy, file.lock.path.dy_px)).toBeLessThan(0.05);
  expect(apart(own.stops, file.light.path.stops)).toBeLessThan(0.02);
  expect(own.present).toEqual(file.figures.map((f) => f && f.length > 0));
  // There was something to measure.
  expect(Math.max(...file.lock.path.dx_px.map((v) => Math.abs(v ?? 0)))).toBeGreaterThan(0.5);
  expect(own.present).toContain(true);
});
