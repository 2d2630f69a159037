import { execFileSync } from 'node:child_process';
import { mkdtempSync, renameSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { endingOf, endingOfFile } from './container';

const folder = mkdtempSync(join(tmpdir(), 'umbrastat-container-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

test.each(['.mp4', '.mov', '.mkv', '.webm', '.avi', '.ts', '.mpg', '.mxf', '.ogv', '.flv', '.y4m'])(
  'a recording of %s is known by its content, whatever it is called',
  async (ending) => {
    const made = join(folder, `made${ending}`);
    const coder = { '.webm': 'libvpx', '.ogv': 'libtheora', '.flv': 'flv' }[ending] ?? 'mpeg2video';
    const how = ending === '.y4m' ? ['-pix_fmt', 'yuv420p'] : ['-c:v', coder];
    execFileSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', 'testsrc=s=64x64:r=25:d=0.2', ...how, made]);
    const called = join(folder, 'page.html');
    renameSync(made, called);
    expect(await endingOfFile(called)).toBe(ending);
  },
);

test('what is not known, however short, gets an ending that runs nowhere', () => {
  for (const bytes of ['', '<html>', '<svg', 'import x', '\0\0\0', 'G'.repeat(3)])
    expect(endingOf(Buffer.from(bytes, 'latin1'))).toBe('.mov');
});
