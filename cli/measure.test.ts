import { spawnSync } from 'node:child_process';
import { mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { wallClip } from '../media/testing/wall-clip';
import type { PlateGap, Verdict } from '../core/report/types';

const folder = mkdtempSync(join(tmpdir(), 'umbrastat-measure-test-'));
const umbrastat = (...args: string[]) => {
  // What a measure keeps while it is made goes into a folder of its own below this one.
  const env = { ...process.env, TMPDIR: folder };
  const r = spawnSync(process.execPath, [join(__dirname, 'bin.cjs'), ...args], { encoding: 'utf8', env });
  return { code: r.status, out: r.stdout, err: r.stderr };
};
const path = (name: string) => join(folder, `${name}.mp4`);

beforeAll(() => {
  const make = (name: string, filter: string) => wallClip(path(name), 1, filter);
  make('one', 'crop=640:360:320:180');
  make('again', 'crop=640:360:320:180,noise=alls=3:allf=t');
  make('shifted', 'crop=640:360:324:180');
  make('with-a-crate', 'crop=640:360:320:180,drawbox=x=300:y=140:w=120:h=110:color=0x705030:t=fill');
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

type Compared = PlateGap & Verdict & { files: string[] };
const compare = (a: string, b: string, ...more: string[]) => {
  const { code, out } = umbrastat('compare', path(a), path(b), '--json', ...more);
  return { code, report: JSON.parse(out) as Compared };
};

test('two takes from one place are held against each other', () => {
  const { code, report } = compare('one', 'again');
  expect(code).toBe(0);
  expect(report.files).toEqual(['one.mp4', 'again.mp4']);
  expect(report.moved).toEqual([]);
  expect(report.intruders).toEqual([]);
  expect(Math.hypot(report.offset!.dx_px, report.offset!.dy_px)).toBeLessThan(0.1);
  expect(Math.abs(report.light!.gap_stops)).toBeLessThan(0.03);
});

test('a shift between them is measured, and turns round with them', () => {
  const there = compare('one', 'shifted').report.offset!,
    back = compare('shifted', 'one').report.offset!;
  expect(Math.abs(Math.abs(there.dx_px) - 4)).toBeLessThan(0.1);
  expect(Math.abs(there.dx_px + back.dx_px)).toBeLessThan(0.1);
  expect(Math.abs(there.dy_px)).toBeLessThan(0.1);
});

test('what stands in one of them only is found at its place, whichever is named first', () => {
  for (const [a, b] of [
    ['one', 'with-a-crate'],
    ['with-a-crate', 'one'],
  ]) {
    const { report } = compare(a, b);
    const found = [...report.intruders, ...report.moved];
    const near = found.filter((f) => f.x < 420 && f.x + f.width > 300 && f.y < 250 && f.y + f.height > 140);
    expect(near.length).toBeGreaterThan(0);
    expect(found.length).toBe(near.length);
  }
});

test('without --json it says which files, and is short', () => {
  const { out } = umbrastat('compare', path('one'), path('shifted'));
  expect(out).toMatch(/^one\.mp4 against shifted\.mp4/);
  expect(out.split('\n').length).toBeLessThan(20);
});

test('nothing it made on the way is left behind', () => {
  expect(readdirSync(folder).filter((name) => name.startsWith('umbrastat-'))).toEqual([]);
});

test.each<[string, string[], RegExp]>([
  ['one file', ['compare', path('one')], /compare wants two files, 1 were given/],
  ['three files', ['compare', path('one'), path('one'), path('one')], /two files, 3 were given/],
  ['a file that is not there', ['compare', path('one'), path('none')], /none\.mp4.*was not found/],
  ['a measure that there is not', ['weigh', path('one')], /"weigh" is not a check/],
  ['a wish that is no JSON', ['compare', path('one'), path('one'), '--wish', '{'], /is not JSON/],
  ['a wish it does not know', ['compare', path('one'), path('one'), '--wish', '{"colour":1}'], /--wish: "colour"/],
])('%s is one sentence and exit code 2', (_, args, sentence) => {
  const { code, out, err } = umbrastat(...args);
  expect([code, out]).toEqual([2, '']);
  expect(err).toMatch(sentence);
  expect(err.trim().split('\n')).toHaveLength(1);
});
