import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Papa from 'papaparse';
import { RandomTexture, renderFrame, type SceneOptions } from '../core/testing/rendered-scene';
import { checkCsv, checkFolder, type CheckedFolder } from './check-folder';
import { checkPage } from './pages/check-page';

const folder = mkdtempSync(join(tmpdir(), 'umbrastat-check-'));
const SIZE = { width: 480, height: 270 };
let checked: CheckedFolder;

/** Renders a grey recording as a camera would write it. */
function roll(
  name: string,
  background: RandomTexture,
  seed: number,
  more: { mover?: SceneOptions['mover']; pan?: number } = {},
) {
  const { mover, pan = 0 } = more;
  const options: SceneOptions = { ...SIZE, background, grain: 1.5, seed, mover };
  const frames = Array.from({ length: 50 }, (_, f) =>
    Buffer.from(renderFrame(options, { dx: pan * f, dy: 0, rotation: 0, scale: 1 }, f).data),
  );
  const read = ['-f', 'rawvideo', '-pix_fmt', 'gray', '-s', `${SIZE.width}x${SIZE.height}`, '-r', '25', '-i', 'pipe:0'];
  const write = ['-pix_fmt', 'yuv420p', '-c:v', 'libx264', '-crf', '14', join(folder, name)];
  const made = spawnSync('ffmpeg', ['-v', 'error', '-y', ...read, ...write], { input: Buffer.concat(frames) });
  expect(made.stderr.toString()).toBe('');
}

beforeAll(async () => {
  mkdirSync(join(folder, 'card'));
  const [quay, hall] = [new RandomTexture(12, 4, 34), new RandomTexture(77, 5, 30)];
  const coat = new RandomTexture(90, 5, 40);
  const walks: SceneOptions['mover'] = {
    texture: coat,
    at: (f) => ({ x: f < 10 || f > 40 ? -200 : 14 * (f - 10), y: 90, width: 50, height: 150 }),
  };
  roll('card/a-pass.mp4', quay, 1, { mover: walks });
  roll('card/b-empty.mp4', quay, 2);
  roll('c-other.mp4', hall, 3);
  roll('d-pan.mp4', quay, 4, { pan: 6 });
  writeFileSync(join(folder, 'notes.txt'), 'beside');
  writeFileSync(join(folder, 'half.mp4'), 'not a film');
  checked = await checkFolder(folder, { say: () => undefined });
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const of = (path: string) => checked.files.find((f) => f.path === path)!;

test('each recording is judged for what it seems to be', () => {
  expect(checked.files.map((f) => [f.path, f.taken_for]).sort()).toEqual([
    ['c-other.mp4', 'plate'],
    ['card/a-pass.mp4', 'locked'],
    ['card/b-empty.mp4', 'plate'],
    ['d-pan.mp4', 'moving'],
  ]);
  expect(of('card/a-pass.mp4').report.take.verdict).toBe('holds');
});

test('what was shot from one place stands together, and its plate is held against it', () => {
  expect(of('card/a-pass.mp4').place).toBe(of('card/b-empty.mp4').place);
  expect(new Set(checked.files.map((f) => f.place)).size).toBe(3);
  expect(of('card/a-pass.mp4').plate).toMatchObject({ path: 'card/b-empty.mp4', verdict: 'holds' });
  expect(of('c-other.mp4').plate).toBeNull();
});

test('what is no recording is told with its reason; what lies beside recordings is passed over', () => {
  expect(checked.passed_over).toEqual([{ path: 'half.mp4', why: expect.stringMatching(/half\.mp4.*\.$/) }]);
});

test('all of it stands in the CSV and on the page', () => {
  const { data } = Papa.parse<Record<string, string>>(checkCsv(checked).trim(), { header: true });
  expect(data).toHaveLength(5);
  expect(data.find((r) => r.file === 'card/a-pass.mp4')).toMatchObject({
    ...{ verdict: 'holds', plate: 'card/b-empty.mp4', plate_verdict: 'holds', frames: '50', size: '480x270' },
  });
  const page = checkPage('day <1>', checked, []);
  expect(page).toContain('day &lt;1&gt;');
  for (const { path } of checked.files) expect(page).toContain(path);
});
