import fc from 'fast-check';
import { execFileSync, spawnSync } from 'node:child_process';
import { mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { wallClip } from '../media/testing/wall-clip';
import { parseDelivery, parseShutter, shutterSeconds, UsageError } from './arguments';

const folder = mkdtempSync(join(tmpdir(), 'umbrastat-cli-'));
const still = join(folder, 'still.mp4');
const moving = join(folder, 'moving.mp4');
const umbrastat = (...args: string[]) => {
  const r = spawnSync(process.execPath, [join(__dirname, 'bin.cjs'), ...args], { encoding: 'utf8' });
  return { code: r.status, out: r.stdout, err: r.stderr };
};

beforeAll(() => {
  // Panning across the wall moves the picture by known amounts.
  wallClip(still, 1.2, 'crop=640:360:320:180');
  wallClip(moving, 1.2, 'crop=640:360:200+5*n:180');
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

test('--json prints one object with every block, and nothing else', () => {
  const { code, out, err } = umbrastat('take', still, '--json');
  expect(code).toBe(0);
  expect(err).toBe('');
  const report = JSON.parse(out);
  expect(Object.keys(report)).toEqual(expect.arrayContaining(['media', 'lock', 'light', 'focus', 'presence']));
  expect(report.lock).toMatchObject({ verdict: 'holds', reference_frame: 0 });
  expect(report.light).toMatchObject({ verdict: 'holds', steps: [], flicker: null });
  for (const key of ['verdict', 'reasons', 'drift_stops', 'range_stops', 'steps', 'flicker', 'white', 'path'])
    expect(report.light).toHaveProperty(key);
  for (const key of ['verdict', 'reasons', 'worst_loss_pct', 'hunts', 'path']) expect(report.focus).toHaveProperty(key);
  expect(report.presence).toMatchObject({
    clear_runs: [{ start: 0, end: report.media.frame_count - 1 }],
    present_runs: [],
    edge_runs: { left: [], right: [], top: [], bottom: [] },
  });
  for (const [block, keys] of Object.entries({
    light: ['stops'],
    focus: ['sharpness'],
    presence: ['area_share', 'left_px', 'top_px', 'right_px', 'bottom_px'],
  }))
    for (const key of keys) expect(report[block].path[key]).toHaveLength(report.media.frame_count);
  for (const key of [
    'width',
    'height',
    'rotation_deg',
    'codec',
    'pixel_format',
    'bit_depth',
    'frame_count',
    'duration_s',
    'container_fps',
    'measured_fps',
    'variable_rate',
    'repeated_frames',
    'repeated_share',
    'real_fps',
    'missing_frames',
    'timecode',
  ])
    expect(report.media).toHaveProperty(key);
  for (const key of [
    'verdict',
    'reasons',
    'peak_px',
    'drift_px',
    'jitter_px',
    'peak_rotation_deg',
    'peak_scale_pct',
    'knocks',
    'make_still_crop_pct',
    'uncertainty_px',
    'still_share',
    'path',
  ])
    expect(report.lock).toHaveProperty(key);
  for (const key of ['dx_px', 'dy_px', 'rotation_deg', 'scale'])
    expect(report.lock.path[key]).toHaveLength(report.media.frame_count);
});

test('the gate turns a reshoot into exit code 1, and only then', () => {
  expect(umbrastat('take', still, '--gate').code).toBe(0);
  const moved = umbrastat('take', moving, '--gate', '--json');
  expect(moved.code).toBe(1);
  const { lock } = JSON.parse(moved.out);
  expect(lock.verdict).toBe('reshoot');
  expect(lock.path.dx_px[20]).toBeGreaterThan(-100.3);
  expect(lock.path.dx_px[20]).toBeLessThan(-99.7);
  expect(umbrastat('take', moving).code).toBe(0);
});

test('delivery size changes the verdict, not the measure', () => {
  const small = JSON.parse(umbrastat('take', moving, '--json', '--delivery', '64x36@25').out);
  expect(small.delivery).toEqual({ width: 64, height: 36, fps: 25 });
  expect(small.lock.verdict).toBe('workable');
  expect(small.lock.path.dx_px[20]).toBeLessThan(-99.7);
});

test('without --json it is a short text', () => {
  const { out } = umbrastat('take', still);
  expect(out).toContain('Lock: HOLDS');
  expect(out).toContain('Light: HOLDS');
  expect(out).toContain('Judged as a locked pass: HOLDS');
  expect(out.split('\n').length).toBeLessThan(24);
});

test('a plate is made, saved and held against its take', () => {
  const out = join(folder, 'plate.png');
  const made = umbrastat('plate', still, '--out', out, '--json');
  expect(made.code).toBe(0);
  expect(JSON.parse(made.out)).toMatchObject({
    source: 'clear_run',
    unseen_share: 0,
    unseen: [],
    offset: null,
    verdict: null,
  });
  const held = umbrastat('plate', still, '--against', out, '--json', '--gate');
  expect(held.code).toBe(0);
  const report = JSON.parse(held.out);
  expect(report).toMatchObject({ source: 'file', verdict: 'holds', moved: [], intruders: [], settings: [] });
  expect(Math.hypot(report.offset.dx_px, report.offset.dy_px)).toBeLessThan(0.05);
  expect(Math.abs(report.light.gap_stops)).toBeLessThan(0.02);
  expect(umbrastat('plate', still, '--against', out).out).toContain('The plate fits the take');
});

test('bad input is one line on standard error and exit code 2', () => {
  const text = join(folder, 'words.mp4');
  writeFileSync(text, 'hello');
  for (const args of [
    ['take', text],
    ['take', join(folder, 'none.mp4')],
    ['take'],
    ['take', still, still],
    ['look', still],
    ['take', still, '--delivery', 'big'],
    ['take', still, '--colour'],
    ['plate'],
    ['plate', still, '--out', join(folder, 'plate.gif')],
    ['plate', still, '--against', text],
    ['plate', still, '--seconds', 'long', '--out', join(folder, 'p.mp4')],
  ]) {
    const { code, out, err } = umbrastat(...args);
    expect(code).toBe(2);
    expect(out).toBe('');
    expect(err.trim().split('\n')).toHaveLength(1);
    expect(err).not.toMatch(/\bat .*:\d+/);
  }
});

test('delivery is read with or without a rate', () => {
  expect(parseDelivery('1920x1080@24')).toEqual({ width: 1920, height: 1080, fps: 24 });
  expect(parseDelivery('1920x1080@30000/1001').fps).toBeCloseTo(29.97, 2);
  expect(parseDelivery('1280x720').fps).toBeNull();
  for (const bad of ['1920', '0x0', '1920x1080@0', '1920x1080@x']) expect(() => parseDelivery(bad)).toThrow(UsageError);
});

test('a shutter is read as it is noted, as a time or as an angle of the clip’s own rate', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 2, max: 8000 }),
      fc.integer({ min: 1, max: 360 }),
      fc.double({ min: 8, max: 240, noNaN: true }),
      (under, degrees, fps) => {
        expect(shutterSeconds(parseShutter('--in-shutter', `1/${under}`), fps)).toBeCloseTo(1 / under, 12);
        expect(shutterSeconds(parseShutter('--in-shutter', `${degrees}deg`), fps)! * fps * 360).toBeCloseTo(degrees, 6);
      },
    ),
  );
  expect(shutterSeconds(parseShutter('--in-shutter', '180deg'), null)).toBeNull();
  expect(parseShutter('--in-shutter', undefined)).toBeUndefined();
  for (const bad of ['50', '1/0', '0deg', '361deg', '1/50s', ''])
    expect(() => parseShutter('--in-shutter', bad)).toThrow(UsageError);
});

test('cover and cut: one object on standard output, wrong use said in a sentence', () => {
  const cover = umbrastat('cover', still, '--json');
  expect(cover.code).toBe(0);
  const report = JSON.parse(cover.out);
  for (const key of [
    'kind',
    'direction_deg',
    'enter_frame',
    'first_full_frame',
    'last_full_frame',
    'leave_frame',
    'peak_cover_share',
    'peak_frame',
    'reaches',
    'punch_in',
    'edge',
    'mask_frames',
    'key_frames',
    'cut',
    'path',
    'verdict',
    'reasons',
  ])
    expect(report).toHaveProperty(key);
  expect(report).toMatchObject({
    verdict: 'reshoot',
    enter_frame: null,
    first_full_frame: null,
    reasons: [{ code: 'no-cover' }],
  });
  expect(report.path.cover_share).toHaveLength(report.media.frame_count);
  expect(umbrastat('cover', still, '--gate').code).toBe(1);
  const cut = umbrastat('cut', moving, still, '--json', '--delivery', '1920x1080@25');
  const sides = JSON.parse(cut.out);
  for (const key of [
    'out',
    'in',
    'angle_gap_deg',
    'speed_ratio',
    'relation',
    'retime_pct',
    'mirror_helps',
    'rate',
    'verdict',
    'reasons',
  ])
    expect(sides).toHaveProperty(key);
  // The window moves 5 px a frame to the right over 640 px: the picture goes to the left at 5 * 25 / 640 widths a second.
  expect(sides.out.speed_widths_per_s).toBeCloseTo(125 / 640, 2);
  expect(Math.abs(sides.out.angle_deg - 180)).toBeLessThan(2);
  expect(sides.in.angle_deg).toBeNull();
  expect(sides).toMatchObject({ verdict: 'reshoot', speed_ratio: null });
  expect(umbrastat('cut', moving, still).out).toContain('to the left');
  const noted = umbrastat('cut', moving, still, '--json', '--out-shutter', '180deg', '--in-shutter', '1/400');
  // Half a frame of 25 a second is a fiftieth.
  expect(JSON.parse(noted.out)).toMatchObject({ shutter: { out_s: 0.02, in_s: 0.0025 } });
  expect(JSON.parse(noted.out).reasons.map((r: { code: string }) => r.code)).toContain('shutter');
  expect(sides.reasons.map((r: { code: string }) => r.code)).not.toContain('shutter');
  for (const args of [
    ['cover'],
    ['cut', still, moving, '--in-shutter', 'fast'],
    ['cut', still],
    ['cut', still, moving, '--at', 'two'],
  ]) {
    const wrong = umbrastat(...args);
    expect(wrong.code).toBe(2);
    expect(wrong.err).toMatch(/^umbrastat: .{20,}/);
    expect(wrong.out).toBe('');
  }
});

test('edges set by hand are taken for the object’s, and a proof is made of them; both say what is wrong', () => {
  const edges = join(folder, 'edges.json');
  const at = (frame: number, edge: string, place: number) => ({ frame, edge, from: place, to: place });
  writeFileSync(
    edges,
    JSON.stringify({
      kind: 'passing',
      way: 0,
      keys: [at(2, 'lead', 0), at(9, 'lead', 1), at(11, 'trail', 0), at(18, 'trail', 1)],
    }),
  );
  const cover = JSON.parse(umbrastat('cover', moving, '--edges', edges, '--json').out);
  expect(cover).toMatchObject({
    kind: 'passing',
    direction_deg: 0,
    by_hand: { keys: 4 },
    first_full_frame: 9,
    last_full_frame: 11,
    leave_frame: 17,
    cut: { out_last_frame: 17, in_first_frame: 12 },
  });
  const film = join(folder, 'proof.webm');
  const made = umbrastat('proof', moving, still, '--edges', edges, '--in-at', '3', '--out', film, '--json');
  expect(made.code).toBe(0);
  expect(JSON.parse(made.out)).toMatchObject({ file: film, mode: 'behind', from: 12, done: 18, width: 640 });
  expect(readdirSync(folder).filter((name) => name.startsWith('.proof'))).toEqual([]);
  expect(
    execFileSync('ffprobe', ['-v', 'error', '-show_entries', 'stream=codec_name', '-of', 'csv=p=0', film], {
      encoding: 'utf8',
    }).trim(),
  ).toBe('vp9');
  writeFileSync(
    join(folder, 'bad.json'),
    '{"kind":"closing","way":90,"keys":[{"frame":1,"edge":"trail","from":0,"to":0}]}',
  );
  for (const args of [
    ['proof', moving, still],
    ['proof', moving, '--out', film],
    ['proof', still, moving, '--out', film],
    ['proof', moving, still, '--in-at', '9999', '--out', film],
    ['proof', moving, still, '--speed', '0', '--out', film],
    ['cover', moving, '--edges', join(folder, 'none.json')],
    ['cover', moving, '--edges', join(folder, 'bad.json')],
  ]) {
    const wrong = umbrastat(...args);
    expect([args.join(' '), wrong.code]).toEqual([args.join(' '), 2]);
    expect(wrong.err).toMatch(/^umbrastat: .{20,}/);
    expect(wrong.out).toBe('');
  }
});
