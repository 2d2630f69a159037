import { execFileSync, spawn } from 'node:child_process';
import { existsSync, mkdirSync, readdirSync, readFileSync, renameSync } from 'node:fs';
import { join } from 'node:path';

/**
 * Speed of `umbrastat take` as a ratio to ffmpeg's own decode and scale (960 wide, grey) of the same file in the same
 * run, and the most memory the measuring process and ffmpeg held together. Goals: 1.45 times at most at 1080p and 1.25 at
 * 2160p, 700 MB at most there; for `umbrastat cover` 2 times; for `umbrastat pair` 1.3 times both takes. `long`, `pair`
 * or `restless` runs that part alone.
 */
const FOLDER = join(__dirname, '..', '.cache', 'bench');
/** Each is run so often; the fastest counts. */
const ROUNDS = 6;
const CLIPS: [string, string, number][] = [
  ['1080p', '1920x1080', 12],
  ['2160p', '3840x2160', 6],
];

function clip(name: string, size: string, seconds: number): string {
  const path = join(FOLDER, `${name}.mp4`);
  if (existsSync(path)) return path;
  mkdirSync(FOLDER, { recursive: true });
  // A locked picture with detail and sensor grain, coded as a camera would.
  execFileSync('ffmpeg', [
    '-v',
    'error',
    '-y',
    '-f',
    'lavfi',
    '-i',
    `mandelbrot=s=${size}:r=1:start_scale=0.02:end_scale=0.02:end_pts=1000`,
    '-frames:v',
    '1',
    `${path}.png`,
  ]);
  execFileSync('ffmpeg', [
    '-v',
    'error',
    '-y',
    '-loop',
    '1',
    '-framerate',
    '25',
    '-t',
    String(seconds),
    '-i',
    `${path}.png`,
    '-vf',
    'noise=alls=5:allf=t',
    '-c:v',
    'libx264',
    '-preset',
    'veryfast',
    '-crf',
    '20',
    '-pix_fmt',
    'yuv420p',
    `${path}.part.mp4`,
  ]);
  renameSync(`${path}.part.mp4`, path);
  return path;
}

/** A pan past something near, which is gone through from both ends. */
function panClip(): string {
  const path = join(FOLDER, 'pan.mp4');
  if (existsSync(path)) return path;
  clip('2160p', '3840x2160', 6);
  execFileSync('ffmpeg', [
    '-v',
    'error',
    '-y',
    '-loop',
    '1',
    '-framerate',
    '25',
    '-t',
    '8',
    '-i',
    join(FOLDER, '2160p.mp4.png'),
    '-f',
    'lavfi',
    '-i',
    'color=0x3a3028:s=2500x1080:r=25:d=8',
    '-filter_complex',
    '[0]noise=alls=90:all_seed=3,gblur=5,eq=contrast=2.5,loop=-1:1,crop=1920:1080:9*n:540[a];' +
      '[1]noise=alls=90:all_seed=7,gblur=7,eq=contrast=2,loop=-1:1[b];' +
      "[a][b]overlay=x='2300-26*n':y=0:shortest=1,noise=alls=5:allf=t",
    '-t',
    '8',
    '-c:v',
    'libx264',
    '-preset',
    'veryfast',
    '-crf',
    '20',
    '-pix_fmt',
    'yuv420p',
    `${path}.part.mp4`,
  ]);
  renameSync(`${path}.part.mp4`, path);
  return path;
}

/** Runs a command; gives its seconds and the most memory that it and its children held at a time, in MB. */
function timed(command: string, args: string[]): Promise<Run> {
  return new Promise((resolve, reject) => {
    const start = process.hrtime.bigint();
    const child = spawn(command, args, { stdio: ['ignore', 'ignore', 'inherit'] });
    let most = 0;
    // Read from /proc by this process itself: starting programs to look would take the measured one's time.
    const watch = setInterval(() => {
      most = Math.max(most, residentKilobytes(child.pid!));
    }, 100);
    child.on('error', reject);
    child.on('close', (code) => {
      clearInterval(watch);
      if (code !== 0) reject(new Error(`${command} ended with code ${code}.`));
      else resolve({ seconds: Number(process.hrtime.bigint() - start) / 1e9, megabytes: most / 1024 });
    });
  });
}

/** Resident memory of a process and all below it; of one that has just ended, none. */
function residentKilobytes(pid: number): number {
  try {
    const own = Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0);
    const children = readdirSync(`/proc/${pid}/task`).flatMap((task) =>
      readFileSync(`/proc/${pid}/task/${task}/children`, 'utf8').split(' ').filter(Boolean).map(Number),
    );
    return own + children.reduce((sum, child) => sum + residentKilobytes(child), 0);
  } catch {
    return 0;
  }
}

interface Run {
  seconds: number;
  megabytes: number;
}

const best = (runs: Run[]): Run => runs.reduce((a, b) => (b.seconds < a.seconds ? b : a));

const decode = (path: string) =>
  timed('ffmpeg', [
    '-v',
    'error',
    '-nostdin',
    '-i',
    path,
    '-vf',
    'scale=960:-2,format=gray',
    '-f',
    'rawvideo',
    'pipe:1',
  ]);
const run = (command: string, ...paths: string[]) =>
  timed(process.execPath, [join(__dirname, '..', 'cli', 'bin.cjs'), command, ...paths, '--json']);

const worst = (runs: Run[]) => Math.max(...runs.map((r) => r.megabytes)).toFixed(0);

/** The runs of one clip take turns, so that a spell in which the machine is slow meets them all. */
async function compare(name: string, path: string, commands: string[]): Promise<void> {
  const base: Run[] = [];
  const runs = commands.map((): Run[] => []);
  for (let i = 0; i < ROUNDS; i++) {
    base.push(await decode(path));
    for (let k = 0; k < commands.length; k++) runs[k].push(await run(commands[k], path));
  }
  const least = best(base).seconds;
  commands.forEach((command, k) => {
    const { seconds } = best(runs[k]);
    console.log(
      `${name}: ${command} ${seconds.toFixed(2)} s, decode and scale ${least.toFixed(2)} s, ratio ` +
        `${(seconds / least).toFixed(2)}, memory ${worst(runs[k])} MB`,
    );
  });
}

/** Two passes of one picture, with somebody walking on either side of it. */
function passClips(): [string, string] {
  const paths = ['pass-a', 'pass-b'].map((name) => join(FOLDER, `${name}.mp4`)) as [string, string];
  if (paths.every((path) => existsSync(path))) return paths;
  clip('1080p', '1920x1080', 12);
  const code = ['-c:v', 'libx264', '-preset', 'veryfast', '-crf', '20', '-pix_fmt', 'yuv420p'];
  [`'60+2*n'`, `'1700-2*n'`].forEach((x, k) => {
    const still = ['-loop', '1', '-framerate', '25', '-t', '10', '-i', join(FOLDER, '1080p.mp4.png')];
    const body = ['-f', 'lavfi', '-i', `color=0x803020:s=150x420:r=25:d=10`];
    const filter = `[0][1]overlay=x=${x}:y=520:shortest=1,noise=alls=5:allf=t`;
    const part = `${paths[k]}.part.mp4`;
    execFileSync('ffmpeg', ['-v', 'error', '-y', ...still, ...body, '-filter_complex', filter, ...code, part]);
    renameSync(part, paths[k]);
  });
  return paths;
}

/** What two passes cost beside both takes by themselves: at most 1.3 times as much. */
async function benchPair(): Promise<void> {
  const [a, b] = passClips();
  const rounds: { takes: number; pair: Run }[] = [];
  for (let i = 0; i < ROUNDS - 1; i++) {
    const takes = (await run('take', a)).seconds + (await run('take', b)).seconds;
    rounds.push({ takes, pair: await run('pair', a, b) });
  }
  const takes = Math.min(...rounds.map((r) => r.takes)),
    pair = best(rounds.map((r) => r.pair)).seconds;
  console.log(
    `1080p pair: ${pair.toFixed(2)} s, both takes ${takes.toFixed(2)} s, ratio ${(pair / takes).toFixed(2)}, ` +
      `memory ${worst(rounds.map((r) => r.pair))} MB`,
  );
}

const LONG_FPS = 50;
const SHORT_SECONDS = 10;
const LONG_SECONDS = 1800;

/** Ten seconds with somebody in them at times, and half an hour of the same. */
function longClips(): { short: string; long: string } {
  const [short, long] = ['short', 'long'].map((name) => join(FOLDER, `${name}.mp4`));
  if (existsSync(short) && existsSync(long)) return { short, long };
  clip('1080p', '1920x1080', 12);
  const quiet = ['-v', 'error', '-y'];
  const input = [
    '-loop',
    '1',
    '-framerate',
    `${LONG_FPS}`,
    '-t',
    `${SHORT_SECONDS}`,
    '-i',
    join(FOLDER, '1080p.mp4.png'),
  ];
  const body = ['-f', 'lavfi', '-i', `color=0x803020:s=80x150:r=${LONG_FPS}:d=${SHORT_SECONDS}`];
  const filter = "[0]gblur=3,scale=480:270[a];[a][1]overlay=x='3*n-500':y=80:shortest=1,noise=alls=5:allf=t";
  const code = ['-c:v', 'libx264', '-preset', 'veryfast', '-crf', '20', '-pix_fmt', 'yuv420p'];
  execFileSync('ffmpeg', [...quiet, ...input, ...body, '-filter_complex', filter, ...code, short]);
  const loops = LONG_SECONDS / SHORT_SECONDS - 1;
  execFileSync('ffmpeg', [...quiet, '-stream_loop', `${loops}`, '-i', short, '-c', 'copy', `${long}.part.mp4`]);
  renameSync(`${long}.part.mp4`, long);
  return { short, long };
}

/** What a frame of half an hour costs beside one of ten seconds: as much, within 15 %; and the most memory. */
async function benchLong(): Promise<void> {
  const { short, long } = longClips();
  const quick: Run[] = [];
  for (let i = 0; i < ROUNDS; i++) quick.push(await run('take', short));
  const slow = await run('take', long);
  const [a, b] = [best(quick).seconds / SHORT_SECONDS, slow.seconds / LONG_SECONDS].map((s) => (1000 * s) / LONG_FPS);
  console.log(
    `10 s: ${a.toFixed(2)} ms a frame; 30 min: ${b.toFixed(2)} ms a frame, ratio ${(b / a).toFixed(2)}, ` +
      `memory ${worst([slow])} MB`,
  );
}

const RESTLESS_FRAMES = [500, 1000, 2000, 4000];

/** What a frame costs where most of the picture moves, in takes of several lengths: it must not grow with them. */
async function benchRestless(): Promise<void> {
  mkdirSync(FOLDER, { recursive: true });
  for (const frames of RESTLESS_FRAMES) {
    const path = join(FOLDER, `restless-${frames}.mp4`);
    const pattern = ['-f', 'lavfi', '-i', 'testsrc2=s=320x180:r=25', '-frames:v', `${frames}`];
    const code = ['-c:v', 'libx264', '-preset', 'veryfast', '-crf', '20', '-pix_fmt', 'yuv420p'];
    if (!existsSync(path)) execFileSync('ffmpeg', ['-v', 'error', '-y', ...pattern, ...code, path]);
    const { seconds, megabytes } = await run('take', path);
    console.log(
      `${frames} frames in which most moves: ${seconds.toFixed(1)} s, ${((1000 * seconds) / frames).toFixed(1)} ms a ` +
        `frame, memory ${megabytes.toFixed(0)} MB`,
    );
  }
}

async function main(): Promise<void> {
  if (process.argv.includes('restless')) {
    await benchRestless();
    return;
  }
  if (process.argv.includes('long')) {
    await benchLong();
    return;
  }
  if (process.argv.includes('pair')) {
    await benchPair();
    return;
  }
  for (const [name, size, seconds] of CLIPS) await compare(name, clip(name, size, seconds), ['take', 'cover']);
  await compare('1080p pan', panClip(), ['cover']);
  await benchPair();
}

main().catch((error) => {
  console.error(error);
  process.exitCode = 1;
});
