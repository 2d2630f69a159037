import { execFileSync, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync } from 'node:fs';
import { join } from 'node:path';

/**
 * Speed of `umbrastat take` as a ratio to ffmpeg's own decode and scale (960 wide, grey) of the same file in the same run,
 * and the most memory the measuring process and ffmpeg held together. Goals: 1.5 times at most, 700 MB at most at 2160p; for `umbrastat cover` 2 times.
 */
const FOLDER = join(__dirname, '..', '.cache', 'bench');
const CLIPS: [string, string, number][] = [['1080p', '1920x1080', 12], ['2160p', '3840x2160', 6]];

function clip(name: string, size: string, seconds: number): string {
  const path = join(FOLDER, `${name}.mp4`);
  if (existsSync(path)) return path;
  mkdirSync(FOLDER, { recursive: true });
  // A locked picture with detail and sensor grain, coded as a camera would.
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', `mandelbrot=s=${size}:r=1:start_scale=0.02:end_scale=0.02:end_pts=1000`, '-frames:v', '1', `${path}.png`]);
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-loop', '1', '-framerate', '25', '-t', String(seconds), '-i', `${path}.png`,
    '-vf', 'noise=alls=5:allf=t', '-c:v', 'libx264', '-preset', 'veryfast', '-crf', '20', '-pix_fmt', 'yuv420p', path]);
  return path;
}

/** A pan past something near, which is gone through from both ends. */
function panClip(): string {
  const path = join(FOLDER, 'pan.mp4');
  if (existsSync(path)) return path;
  clip('2160p', '3840x2160', 6);
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-loop', '1', '-framerate', '25', '-t', '8', '-i', join(FOLDER, '2160p.mp4.png'), '-f', 'lavfi', '-i', 'color=0x3a3028:s=2500x1080:r=25:d=8',
    '-filter_complex', "[0]noise=alls=90:all_seed=3,gblur=5,eq=contrast=2.5,loop=-1:1,crop=1920:1080:9*n:540[a];[1]noise=alls=90:all_seed=7,gblur=7,eq=contrast=2,loop=-1:1[b];[a][b]overlay=x='2300-26*n':y=0:shortest=1,noise=alls=5:allf=t", '-c:v', 'libx264', '-preset', 'veryfast', '-crf', '20', '-pix_fmt', 'yuv420p', path]);
  return path;
}

/** Runs a command under `time`; gives seconds and the largest resident set in MB. */
function timed(command: string, args: string[]): { seconds: number; megabytes: number } {
  const start = process.hrtime.bigint();
  const r = spawnSync('bash', ['-c', '"$@" >/dev/null & pid=$!; most=0; while kill -0 $pid 2>/dev/null; do sum=0; for p in $pid $(pgrep -P $pid) ; do v=$(awk \'/VmRSS/{print $2}\' /proc/$p/status 2>/dev/null || echo 0); sum=$((sum + ${v:-0})); done; [ $sum -gt $most ] && most=$sum; sleep 0.1; done; wait $pid || exit 1; echo $most >&2', 'x', command, ...args], { encoding: 'utf8' });
  if (r.status !== 0) throw new Error(r.stderr);
  return { seconds: Number(process.hrtime.bigint() - start) / 1e9, megabytes: Number(r.stderr.trim().split('\n').pop()) / 1024 };
}

const best = <T extends { seconds: number }>(runs: T[]): T => runs.reduce((a, b) => (b.seconds < a.seconds ? b : a));

const decode = (path: string) => timed('ffmpeg', ['-v', 'error', '-nostdin', '-i', path, '-vf', 'scale=960:-2,format=gray', '-f', 'rawvideo', 'pipe:1']);
const run = (command: string, path: string) => timed(process.execPath, [join(__dirname, '..', 'cli', 'bin.cjs'), command, path, '--json']);

for (const [name, size, seconds] of CLIPS) {
  const path = clip(name, size, seconds);
  const base: ReturnType<typeof timed>[] = [];
  const take: ReturnType<typeof timed>[] = [], cover: ReturnType<typeof timed>[] = [];
  for (let i = 0; i < 3; i++) {
    base.push(decode(path));
    take.push(run('take', path));
    cover.push(run('cover', path));
  }
  const a = best(base), b = best(take), c = best(cover);
  console.log(`${name}: take ${b.seconds.toFixed(2)} s, decode and scale ${a.seconds.toFixed(2)} s, ratio ${(b.seconds / a.seconds).toFixed(2)}, memory ${Math.max(...take.map((t) => t.megabytes)).toFixed(0)} MB`);
  console.log(`${name}: cover ${c.seconds.toFixed(2)} s, ratio ${(c.seconds / a.seconds).toFixed(2)}, memory ${Math.max(...cover.map((t) => t.megabytes)).toFixed(0)} MB`);
}

const pan = panClip();
const alone = best([decode(pan), decode(pan), decode(pan)]), panned = best([run('cover', pan), run('cover', pan), run('cover', pan)]);
console.log(`1080p pan: cover ${panned.seconds.toFixed(2)} s, decode and scale ${alone.seconds.toFixed(2)} s, ratio ${(panned.seconds / alone.seconds).toFixed(2)}, memory ${panned.megabytes.toFixed(0)} MB`);
