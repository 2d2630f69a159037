import { planJoined } from '../../core/measures/joined/plan-joined';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { JoinedWish } from '../../core/measures/joined/joined';
import { renderJoined } from './joined-proof';

const folder = mkdtempSync(join(tmpdir(), 'umbrastat-joined-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const path = (name: string) => join(folder, name);
const FRAMES = 30;
const [WIDTH, HEIGHT] = [320, 180];

const upright = (x: number): [number, number][] => [
  [x, 0],
  [x, HEIGHT],
];

test('a line that moves from place to place parts the two where it is in each frame', async () => {
  const clip = (name: string, colour: string) =>
    execFileSync('ffmpeg', [
      ...['-v', 'error', '-y', '-f', 'lavfi', '-i', `color=${colour}:s=${WIDTH}x${HEIGHT}:r=25`],
      ...['-frames:v', String(FRAMES), '-pix_fmt', 'yuv420p', path(name)],
    ]);
  clip('first.mp4', 'black');
  clip('second.mp4', 'white');
  const moved = { points: upright(240), first_side: 'left' as const };
  const wish: JoinedWish = {
    how: 'line',
    slide: 0,
    from: 0,
    line: { points: upright(80), first_side: 'left' },
    moves: [{ start: 10, end: 29, ...moved }],
    glides: [{ start: 6, end: 14, from: upright(80), to: upright(240), first_side: 'left', feather_px: 8 }],
    feather_px: 0,
    at: null,
    strength: [],
    outline: null,
    lift_stops: 0,
    rate_pct: 100,
    front: 'first',
  };
  const plan = planJoined(wish, { first: FRAMES, second: FRAMES })!;
  const films = { mp4: path('out.mp4'), webm: path('out.webm'), jpegs: path('out.jpegs') };
  const files = ['first.mp4', 'second.mp4'].map((name) => ({ path: path(name), name }));
  const made = await renderJoined(files[0], files[1], wish, plan, films, { fps: 25 });
  expect(made).toMatchObject({ width: WIDTH, frames: FRAMES });
  const row = ['-vf', `format=gray,crop=${WIDTH}:1:0:60`, '-f', 'rawvideo', 'pipe:1'];
  const bytes = execFileSync('ffmpeg', ['-v', 'error', '-i', films.mp4, ...row]);
  // How far the first reaches from the left, in each frame of the proof.
  const reaches = Array.from({ length: FRAMES }, (_, f) =>
    bytes.subarray(f * WIDTH, (f + 1) * WIDTH).reduce((n, v) => n + (v < 128 ? 1 : 0), 0),
  );
  reaches.forEach((x, f) => {
    const wanted = f <= 6 ? 80 : f >= 14 ? 240 : 80 + 20 * (f - 6);
    expect([f, Math.abs(x - wanted) <= 3]).toEqual([f, true]);
  });
});
