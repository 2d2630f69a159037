import { existsSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { greatestDisplacement } from '../core/geometry/similarity';
import { measureTake } from '../media/measure-take';
import { recordTake } from './record';
import type { CameraSettings } from './settings';

const folder = mkdtempSync(join(tmpdir(), 'umbrastat-standin-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const settings = (more: Partial<CameraSettings>): CameraSettings => ({
  scene: 'kiosk', tripod: 'still', crossing: 'nobody', seconds: 2, fps: 25, width: 1280, grain: 2, seed: 3, ...more,
});

async function rollAndMeasure(wish: CameraSettings) {
  const path = join(folder, `${wish.scene}-${wish.tripod}-${wish.seed}.mp4`);
  const truth = await recordTake(wish, path, { preview: `${path}.jpg` });
  expect(existsSync(`${path}.jpg`)).toBe(true);
  const report = await measureTake(path);
  const { path: got } = report.lock;
  let sum = 0, count = 0;
  truth.path.dx_px.forEach((dx, f) => {
    if (got.dx_px[f] === null) return;
    const pose = (p: { dx_px: (number | null)[]; dy_px: (number | null)[]; rotation_deg: (number | null)[]; scale: (number | null)[] }) =>
      ({ dx: p.dx_px[f]!, dy: p.dy_px[f]!, rotation: (p.rotation_deg[f]! * Math.PI) / 180, scale: p.scale[f]! });
    sum += greatestDisplacement(pose(got), pose({ ...truth.path, dx_px: truth.path.dx_px }), report.media.width, report.media.height) ** 2;
    count++;
    expect(dx).not.toBeNull();
  });
  return { truth, report, rms: Math.sqrt(sum / count), share: count / truth.path.dx_px.length };
}

// Through an ordinary H.264 file, with glitter on the water and grain of 2 levels.
test.each<[Partial<CameraSettings>, string, number]>([
  [{ tripod: 'still', crossing: 'left-to-right', scene: 'pillar', seed: 21 }, 'holds', 0.05],
  [{ tripod: 'drift', seed: 4 }, 'workable', 0.06],
  [{ tripod: 'breathing', scene: 'bench', crossing: 'stands', seed: 5 }, 'workable', 0.08],
  [{ tripod: 'handheld', scene: 'bench', seed: 6 }, 'reshoot', 0.1],
])('%j is judged %s, within %d px of the truth', async (more, verdict, bound) => {
  const { report, rms, share } = await rollAndMeasure(settings(more));
  expect(share).toBe(1);
  expect(rms).toBeLessThan(bound);
  expect(report.lock.verdict).toBe(verdict);
  expect(report.media).toMatchObject({ frame_count: 50, measured_fps: 25, repeated_frames: [] });
});

test('a knocked tripod is found at its frame', async () => {
  const { report, rms } = await rollAndMeasure(settings({ tripod: 'knock', seed: 11, seconds: 3 }));
  expect(rms).toBeLessThan(0.15);
  expect(report.lock.verdict).toBe('reshoot');
  expect(Math.abs(report.lock.knocks[0].start - Math.round(75 * 0.45))).toBeLessThanOrEqual(1);
});

test('stopping it leaves no half take', async () => {
  const stop = new AbortController();
  const path = join(folder, 'stopped.mp4');
  const rolling = recordTake(settings({ seconds: 10 }), path, { signal: stop.signal, onProgress: (n) => { if (n === 3) stop.abort(); } });
  await expect(rolling).rejects.toThrow();
});
