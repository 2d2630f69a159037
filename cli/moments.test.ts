import { execFileSync, spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { wallClip } from '../media/testing/wall-clip';
import { few } from '../core/testing/few';

const folder = mkdtempSync(join(tmpdir(), 'umbrastat-moments-cli-'));
const still = join(folder, 'still.mp4');
const moving = join(folder, 'moving.mp4');
const single = join(folder, 'single.mp4');
const dark = join(folder, 'dark.mp4');
const umbrastat = (...args: string[]) => {
  const r = spawnSync(process.execPath, [join(__dirname, 'bin.cjs'), ...args], { encoding: 'utf8' });
  return { code: r.status, out: r.stdout, err: r.stderr };
};

beforeAll(() => {
  wallClip(still, 1.2, 'crop=640:360:320:180');
  wallClip(moving, 0.8, 'crop=640:360:200+5*n:180');
  wallClip(single, 0.04, 'crop=640:360:320:180');
  const black = ['-f', 'lavfi', '-i', 'color=black:s=320x180:r=25:d=1'];
  execFileSync('ffmpeg', ['-v', 'error', '-y', ...black, '-pix_fmt', 'yuv420p', dark]);
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** The names that the contract fixes, for each command. */
const COMMANDS: Record<string, { files: number; more?: string[]; keys: string }> = {
  stills: { files: 1, keys: 'stills' },
  spot: { files: 2, keys: 'at_a at_b dx_px dy_px size_ratio angle_deg a b best uncertainty_px' },
  beats: { files: 1, keys: 'beats sound_offset_frames' },
  meet: {
    files: 2,
    keys: 'a_frame b_frame slide_frames b_direction_deg a_direction_deg opposed b_speed_widths_per_s rate_pct strobes layer overlap_runs',
  },
  cloth: {
    files: 1,
    more: ['--plate', 'still'],
    keys:
      'kind hides_runs switch_frame performer_clear_frame lands_frame edge_runs fall on_feet leftovers fade_in_frames ' +
      'path.lower_edge_px path.upper_edge_px path.cloth_share path.performer_share',
  },
  figure: {
    files: 1,
    keys:
      'run run_share size_px drift lifted_runs clear_runs outline known_share ' +
      'path.x_px path.y_px path.turn_deg path.height_px',
  },
  bars: { files: 1, more: ['--ratio', '2.39'], keys: 'bars crosses shadow_below_runs still_crop_pct clear_runs' },
};

/** Usually one of them for a command, each of them for some. */
const odd = (command: string) => {
  const all = [moving, single, dark];
  const k = Object.keys(COMMANDS).indexOf(command) % all.length;
  return few(1, [...all.slice(k), ...all.slice(0, k)]);
};

describe.each(Object.entries(COMMANDS))('%s', (command, { files, more = [], keys }) => {
  const run = (clip: string) =>
    umbrastat(command, ...Array<string>(files).fill(clip), ...more.map((m) => (m === 'still' ? still : m)), '--json');

  test('an empty picture gives a report with every name, and nothing is claimed of it', () => {
    const { code, out, err } = run(still);
    expect([code, err]).toEqual([0, '']);
    const report = JSON.parse(out);
    for (const key of [...keys.split(' '), 'verdict', 'reasons'])
      expect(key.split('.').reduce((at: Record<string, never>, k) => at?.[k], report)).not.toBeUndefined();
    expect(report.verdict).not.toBe('holds');
    expect(report.reasons[0].text).toMatch(/^[A-Z].*\.$/s);
  });

  test('a picture that pans, a single one and black ones end in a sentence too', () => {
    for (const clip of odd(command)) {
      const { code, out, err } = run(clip);
      if (code === 0) expect(JSON.parse(out).reasons[0].text).toMatch(/^[A-Z].*\.$/s);
      else {
        expect(code).toBe(2);
        expect(err.trim().split('\n')).toHaveLength(1);
      }
      expect(err).not.toMatch(/something went wrong|\bat .*:\d+:\d+/);
    }
  });

  test('the wrong number of files is said in one line', () => {
    const { code, out, err } = umbrastat(command, still, still, still);
    expect([code, out]).toEqual([2, '']);
    expect(err).toMatch(new RegExp(`^umbrastat: ${command} wants .*\\.\\n$`));
  });
});

test.each([
  [['bars', 'still', '--ratio', 'wide'], 'is not a picture’s ratio'],
  [['stills', 'still', '--count', '0'], 'is not a number from 1 to 99'],
  [['meet', 'still', 'still', '--at', 'here'], 'is not a place'],
  [['meet', 'still', 'still', '--rate-pct', '-3'], '--rate-pct'],
  [['cloth', 'still', '--plate', 'still', '--look', '1,2'], 'is not a place in a frame'],
  [['spot', 'still', 'still', '--at-a', 'x'], 'is not a frame'],
])('%p is refused with a sentence', (args, says) => {
  const { code, err } = umbrastat(...args.map((a) => (a === 'still' ? still : a)));
  expect(code).toBe(2);
  expect(err.replace(/'/g, '’')).toContain(says);
});
