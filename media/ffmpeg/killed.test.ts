import { execFileSync } from 'node:child_process';
import { chmodSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pictures } from './frames';
import { DECODE_LIMITS } from './limits';
import { PicturePump } from './picture-pump';
import { probeFile } from './probe';

const folder = mkdtempSync(join(tmpdir(), 'umbrastat-killed-'));
const clip = join(folder, 'clip.mp4');
const FRAMES = 200;
beforeAll(() => {
  execFileSync('ffmpeg', [
    ...['-v', 'error', '-f', 'lavfi', '-i', `testsrc2=s=640x360:r=25:d=${FRAMES / 25}`],
    ...['-c:v', 'libx264', '-preset', 'ultrafast', '-pix_fmt', 'yuv420p', clip],
  ]);
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** Processes of a name below this one. */
function below(name: string, pid = process.pid): number[] {
  const children = readdirSync(`/proc/${pid}/task`).flatMap((task) =>
    readFileSync(`/proc/${pid}/task/${task}/children`, 'utf8').split(' ').filter(Boolean).map(Number),
  );
  return children.flatMap((child) => {
    try {
      const own = readFileSync(`/proc/${child}/comm`, 'utf8').trim() === name ? [child] : [];
      return [...own, ...below(name, child)];
    } catch {
      return [];
    }
  });
}

/** What reading the clip ends with in a process that finds a script in the place of a tool. */
function withInPlaceOf(tool: string, script: string): { count: number; error: string | null; unusable: boolean } {
  const bin = mkdtempSync(join(folder, 'bin-'));
  writeFileSync(join(bin, tool), `#!/bin/sh\n${script}\n`);
  chmodSync(join(bin, tool), 0o755);
  const read = `
    const { pictures } = require('./frames'), { probeFile } = require('./probe');
    (async () => {
      const end = { count: 0, error: null, unusable: false };
      try {
        for await (const p of pictures(process.argv[1], await probeFile(process.argv[1]))) end.count++;
      } catch (e) {
        Object.assign(end, { error: String(e.message), unusable: e.constructor.name === 'UnusableMedia' });
      }
      console.log(JSON.stringify(end));
    })();`;
  const out = execFileSync(process.execPath, ['--require', 'tsx/cjs', '-e', read, clip], {
    cwd: __dirname,
    env: { ...process.env, PATH: `${bin}:${process.env.PATH}` },
  });
  return JSON.parse(out.toString()) as ReturnType<typeof withInPlaceOf>;
}

/** What reading all pictures of the clip ends with, and how many came. */
async function readAll(each: (count: number) => void): Promise<{ count: number; error: unknown }> {
  let count = 0;
  try {
    for await (const picture of pictures(clip, await probeFile(clip))) if (picture) each(++count);
    return { count, error: null };
  } catch (error) {
    return { count, error };
  }
}

test('a clip read undisturbed gives every picture', async () => {
  expect(await readAll(() => undefined)).toEqual({ count: FRAMES, error: null });
});

test('ffmpeg killed on the way is an error, and no shorter take', async () => {
  const { count, error } = await readAll((n) => {
    if (n === 3) below('ffmpeg').forEach((pid) => process.kill(pid, 'SIGKILL'));
  });
  expect(error).toBeInstanceOf(Error);
  expect(count).toBeLessThan(FRAMES);
});

test('ffmpeg that says it wrote more than came is an error', async () => {
  const pump = new PicturePump(
    ['-v', 'error', '-nostdin', '-i', clip, '-pix_fmt', 'gray', '-f', 'rawvideo', 'pipe:1'],
    1,
    DECODE_LIMITS,
  );
  const reading = (async () => {
    // Pictures of half the size: what is left over at the end is no whole one.
    for await (const [picture] of pump.pictures([640 * 360 * 2])) expect(picture).toHaveLength(640 * 360 * 2);
  })();
  await expect(reading).rejects.toThrow(/picture/);
});

test('ffprobe killed is an error of this machine, not a fault of the file', () => {
  const { count, error, unusable } = withInPlaceOf('ffprobe', 'kill -9 $$');
  expect(error).toMatch(/ffprobe was ended/);
  expect({ count, unusable }).toEqual({ count: 0, unusable: false });
});

test.each([
  ['with an error', 'exit 1', false],
  ['without one', 'exit 0', null],
  ['killed', 'kill -9 $$', false],
  ['asked to end', 'exit 255', false],
  ['without memory', 'echo "Cannot allocate memory" >&2; exit 1', false],
  ['with a fault of the file', 'echo "Invalid data found when processing input" >&2; exit 1', true],
])('ffmpeg that breaks off after some pictures, %s, is an error and no shorter take', (_, end, ofFile) => {
  const { error, unusable } = withInPlaceOf('ffmpeg', `head -c 1000000 /dev/zero; ${end}`);
  expect(error).toBeTruthy();
  // Only what the file is to blame for says so: everything else is tried again.
  if (ofFile !== null) expect([error, unusable]).toEqual([error, ofFile]);
});
