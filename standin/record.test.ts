import { measureTake } from '../media/feeds/measure-take';
import { existsSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { greatestDisplacement } from '../core/base/geometry/similarity';
import { fixtureClip } from './testing/fixtures';
import { recordTake } from './record';
import type { CameraSettings } from './settings';
import { few } from '../core/testing/few';

const folder = mkdtempSync(join(tmpdir(), 'umbrastat-standin-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const settings = (more: Partial<CameraSettings>): CameraSettings => ({
  scene: 'kiosk',
  tripod: 'still',
  crossing: 'nobody',
  seconds: 2,
  fps: 25,
  width: 640,
  grain: 2,
  seed: 3,
  ...more,
});

async function rollAndMeasure(wish: CameraSettings) {
  const path = join(folder, `${wish.scene}-${wish.tripod}-${wish.seed}.mp4`);
  const truth = await recordTake(wish, path, { preview: `${path}.jpg` });
  expect(existsSync(`${path}.jpg`)).toBe(true);
  const report = await measureTake(path);
  const { path: got } = report.lock;
  let sum = 0,
    count = 0;
  truth.path.dx_px.forEach((dx, f) => {
    if (got.dx_px[f] === null) return;
    const pose = (p: {
      dx_px: (number | null)[];
      dy_px: (number | null)[];
      rotation_deg: (number | null)[];
      scale: (number | null)[];
    }) => ({ dx: p.dx_px[f]!, dy: p.dy_px[f]!, rotation: (p.rotation_deg[f]! * Math.PI) / 180, scale: p.scale[f]! });
    sum +=
      greatestDisplacement(
        pose(got),
        pose({ ...truth.path, dx_px: truth.path.dx_px }),
        report.media.width,
        report.media.height,
      ) ** 2;
    count++;
    expect(dx).not.toBeNull();
  });
  return { truth, report, rms: Math.sqrt(sum / count), share: count / truth.path.dx_px.length };
}

// Through an ordinary H.264 file, with glitter on the water and grain of 2 levels.
test.each<[Partial<CameraSettings>, string, number]>(
  few(1, [
    [{ tripod: 'still', crossing: 'left-to-right', scene: 'pillar', seed: 21 }, 'holds', 0.05],
    [{ tripod: 'drift', seed: 4 }, 'workable', 0.065],
    [{ tripod: 'breathing', scene: 'bench', crossing: 'stands', seed: 5 }, 'workable', 0.08],
    [{ tripod: 'handheld', scene: 'bench', seed: 6 }, 'reshoot', 0.2],
  ]),
)('%j is judged %s, within %d px of the truth', async (more, verdict, bound) => {
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
  const rolling = recordTake(settings({ seconds: 10 }), path, {
    signal: stop.signal,
    onProgress: (n) => {
      if (n === 3) stop.abort();
    },
  });
  await expect(rolling).rejects.toThrow();
});

// Each fault of light, white, focus and presence, through an ordinary H.264 file, against the camera's own truth.
const measured = async (more: Partial<CameraSettings>) => {
  const { path, truth } = await fixtureClip(settings({ seconds: 4, seed: 7, width: 640, ...more }));
  return { truth, report: await measureTake(path) };
};

test.each(few(1, ['step', 'flicker', 'drift', 'cloud'] as const))(
  'light: a %s is measured and called by its name',
  async (light) => {
    const { truth, report } = await measured({ light, scene: 'pillar' });
    const first = truth.faults.light_stops[0];
    const off = report.light.path.stops
      .map((s, f) => Math.abs(s! - (truth.faults.light_stops[f] - first)))
      .sort((a, b) => a - b);
    // A coder smooths a flicker of a few levels, and lags behind light that changes slowly.
    expect(off[Math.floor(0.9 * off.length)]).toBeLessThan(light === 'step' ? 0.025 : 0.06);
    expect(report.light.verdict).toBe('workable');
    expect(report.light.reasons.map((r) => r.code)).toContain(light);
    expect(report.lock.verdict).toBe('holds');
    expect(report.focus.verdict).toBe('holds');
    expect(report.presence.present_runs).toEqual([]);
    if (light === 'step') {
      expect(report.light.steps).toHaveLength(1);
      expect(Math.abs(report.light.steps[0].frame - truth.faults.steps[0].frame)).toBeLessThanOrEqual(1);
      expect(Math.abs(report.light.steps[0].stops - truth.faults.steps[0].stops)).toBeLessThan(0.02);
    }
    if (light === 'flicker')
      expect(Math.abs(report.light.flicker!.seen_hz - truth.faults.flicker!.seen_hz)).toBeLessThan(0.2);
  },
);

test('white: a shift is found, and is nothing else', async () => {
  const { truth, report } = await measured({ white: 'shift' });
  const last = truth.faults.red_stops.length - 1;
  expect(report.light.reasons.map((r) => r.code)).toEqual(['white']);
  expect(Math.abs(report.light.white!.red_stops - 0.75 * truth.faults.red_stops[last])).toBeLessThan(0.03);
  expect(Math.abs(report.light.white!.blue_stops - 0.75 * truth.faults.blue_stops[last])).toBeLessThan(0.04);
});

test('focus: a hunt is found, and is nothing else', async () => {
  const hunt = await measured({ focus: 'hunt' });
  const soft = hunt.truth.faults.blur_px.flatMap((b, f) => (b > 1 ? [f] : []));
  expect(hunt.report.focus.verdict).toBe('reshoot');
  expect(
    hunt.report.focus.hunts.some(
      (h) => h.start >= soft[0] - 6 && h.start <= soft[0] + 4 && h.end >= soft[soft.length - 1] - 4,
    ),
  ).toBe(true);
  expect(hunt.report.light.verdict).toBe('holds');
  expect(hunt.report.presence.present_runs).toEqual([]);
});

test('presence: who comes and stays', async () => {
  const { truth, report } = await measured({ crossing: 'comes-and-stays', seconds: 5 });
  expect(report.presence.clear_runs).toHaveLength(1);
  // Their first step is still outside the frame.
  expect(Math.abs(report.presence.clear_runs[0].end - truth.present.indexOf(true))).toBeLessThanOrEqual(4);
});

test('presence: whose shadow falls in', async () => {
  const { truth, report } = await measured({ crossing: 'shadow-only' });
  const from = truth.shadow.indexOf(true),
    to = truth.shadow.lastIndexOf(true);
  expect(report.presence.present_runs).toHaveLength(1);
  expect(report.presence.present_runs[0].start).toBeGreaterThanOrEqual(from);
  expect(report.presence.present_runs[0].start).toBeLessThanOrEqual(from + 8);
  expect(Math.abs(report.presence.present_runs[0].end - to)).toBeLessThanOrEqual(8);
});

test('leaves in the wind are nobody, and a wandering rate is seen', async () => {
  const { report } = await measured({ tree: true, rate: 'wandering' });
  expect(report.presence.restless_share).toBeGreaterThan(0.03);
  expect(report.presence.present_runs).toEqual([]);
  expect(report.media.variable_rate).toBe(true);
});
