import { measureCover, measureCut } from '../media/feeds/measure-files';
import type { CameraSettings } from './settings';
import { fixtureClip } from './testing/fixtures';
import { few } from '../core/testing/few';

async function roll(_name: string, more: Partial<CameraSettings>) {
  const { path, truth } = await fixtureClip({
    scene: 'kiosk',
    tripod: 'still',
    crossing: 'nobody',
    seconds: 2.4,
    fps: 25,
    width: 640,
    grain: 2,
    seed: 1,
    ...more,
  });
  return { path, truth: truth.wipe! };
}

const within = (got: number | null, truth: number | null, frames: number) =>
  truth === null ? expect(got).toBeNull() : expect(Math.abs(got! - truth)).toBeLessThanOrEqual(frames);

// Through an ordinary H.264 file: share within 3 % of the frame, edges within 1 % of the width on nine frames of ten.
test.each<[string, Partial<CameraSettings>, string, number, number]>(
  few(3, [
    ['missed corner', { wipe: 'cart', scene: 'pillar', wipe_fault: 'misses-corner', seed: 6 }, 'reshoot', 1, 0.03],
    ['pan', { wipe: 'pan', scene: 'pillar', seed: 3 }, 'holds', 2, 0.06],
    ['lid', { wipe: 'lid', seed: 5 }, 'holds', 1, 0.03],
    ['cart', { wipe: 'cart', seed: 1 }, 'holds', 1, 0.03],
    ['coat to the left', { wipe: 'coat', scene: 'bench', wipe_way: 'right-to-left', seed: 2 }, 'holds', 2, 0.03],
    ['soft coat', { wipe: 'coat', wipe_fault: 'soft', seed: 8 }, 'holds', 2, 0.03],
    ['does not leave', { wipe: 'cart', wipe_fault: 'stays-in', seed: 7 }, 'reshoot', 1, 0.03],
    [
      'coat before a tree in the wind',
      { wipe: 'coat', wipe_way: 'right-to-left', tree: true, seed: 22 },
      'holds',
      2,
      0.03,
    ],
  ]),
)('%s: frames, share and edges', async (name, settings, verdict, frames, worst) => {
  const { path, truth } = await roll(name.replace(/ /g, '-'), settings);
  const report = await measureCover(path);
  expect(report.verdict).toBe(verdict);
  expect(report.kind).toBe(truth.kind);
  expect(Math.abs(((report.direction_deg! - truth.direction_deg! + 540) % 360) - 180)).toBeLessThan(12);
  within(report.enter_frame, truth.enter_frame, frames);
  within(report.first_full_frame, truth.first_full_frame, frames);
  within(
    report.last_full_frame,
    truth.kind === 'closing' ? report.path.cover_share.length - 1 : truth.last_full_frame,
    frames,
  );
  within(report.leave_frame, truth.leave_frame, frames);
  const off = report.path.cover_share.map((s, f) => Math.abs(s! - truth.cover_share[f])).sort((a, b) => a - b);
  expect(off[Math.floor(0.95 * off.length)]).toBeLessThan(worst);
  for (const key of ['lead_px', 'trail_px'] as const) {
    const errors = report.path[key]
      .flatMap((v, f) => (v !== null && truth[key][f] !== null ? [Math.abs(v - truth[key][f]!)] : []))
      .sort((a, b) => a - b);
    if (errors.length) expect(errors[Math.floor(0.9 * (errors.length - 1))]).toBeLessThan(0.01 * report.media.width);
  }
  if (name === 'missed corner') expect(report.punch_in).toMatchObject({ allowed: false });
  if (name === 'does not leave') expect(report.reasons.map((r) => r.code)).toContain('stays');
  if (verdict === 'holds' && truth.kind === 'passing') {
    expect(report.cut).toEqual({ out_last_frame: report.leave_frame, in_first_frame: report.last_full_frame! + 1 });
    expect(report.mask_frames).toBe(report.leave_frame! - report.last_full_frame!);
  }
});

test('a walk up to a door: its share, from the first frame on', async () => {
  const { path, truth } = await roll('door', { wipe: 'walk-in', scene: 'bench', seed: 4 });
  const report = await measureCover(path);
  expect(report).toMatchObject({ kind: 'approaching', verdict: 'holds', direction_deg: null });
  within(report.first_full_frame, truth.first_full_frame, 2);
  const off = report.path.cover_share.map((s, f) => Math.abs(s! - truth.cover_share[f])).sort((a, b) => a - b);
  expect(off[Math.floor(0.9 * off.length)]).toBeLessThan(0.04);
  expect(report.approach!.sway_px).toBeLessThan(0.02 * report.media.width);
});

test('the two sides of a cut: way and speed to two hundredths, against each other, and a side that stands', async () => {
  const out = await roll('out', { wipe: 'pan', scene: 'pillar', seed: 3 });
  const same = await roll('in', { wipe: 'pan', wipe_side: 'in', seed: 10 });
  const back = await roll('back', { wipe: 'pan', wipe_side: 'in', wipe_way: 'right-to-left', seed: 9 });
  const speed = (t: typeof out.truth) => (Math.abs(t.dx_px[30] - t.dx_px[10]) / 20 / 640) * 25;
  const report = await measureCut(out.path, same.path);
  expect(report.relation).toBe('same');
  expect(Math.abs(report.out.speed_widths_per_s! / speed(out.truth) - 1)).toBeLessThan(0.02);
  expect(Math.abs(report.in.speed_widths_per_s! / speed(same.truth) - 1)).toBeLessThan(0.02);
  expect(report.speed_ratio).toBeCloseTo(speed(same.truth) / speed(out.truth), 1);
  expect(await measureCut(out.path, back.path)).toMatchObject({
    relation: 'against',
    mirror_helps: true,
    verdict: 'workable',
  });
  await expect(measureCut(out.path, back.path, { at: 500 })).rejects.toThrow(/frames 0 to 59/);
});
