import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { mkdtemp, readdir, rename, rm } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import { writingFailed } from '../errors';
import { WRITE_LIMITS } from '../ffmpeg/limits';
import { feedTool, inputArguments, runTool, toolCommand } from '../ffmpeg/run';

export interface GreyFilmOptions {
  /** Size of the pictures that come, and of those that are written. */
  from: { width: number; height: number };
  size: { width: number; height: number };
  /** Pictures a second, as ffmpeg writes it: "30000/1001". */
  rate: string;
  /** The 10 to 90 % rise of its edges, pixels of what is written. */
  feather: number;
  signal?: AbortSignal;
}

/** The kinds of grey film that can be written, by the end of their name. */
export const GREY_KINDS = /\.(mkv|mp4|png)$/i;

/** A Gaussian's 10 to 90 % rise for one of its sigma. */
const RISE = 2.563;

const AS_H264 = ['-c:v', 'libx264', '-crf', '12', '-movflags', '+faststart', '-f', 'mp4'];
/** Sides that H.264 takes. */
const EVEN = 'pad=ceil(iw/2)*2:ceil(ih/2)*2,format=yuv420p';

/** Writes grey film that was written lossless as H.264 too. @throws Error when it cannot be written */
export async function greyAsH264(from: string, to: string): Promise<void> {
  const args = ['-v', 'error', '-nostdin', '-y', ...inputArguments(from), '-vf', EVEN, ...AS_H264, `file:${to}`];
  const { code, stderr } = await runTool('ffmpeg', args, WRITE_LIMITS);
  if (code === 0) return;
  await rm(to, { force: true });
  throw writingFailed(`The matte could not be written to ${to}`, stderr);
}

/** Grey film being written: lossless in Matroska, H.264, or numbered PNG ("matte.png" becomes "matte-00000.png" and on). */
export class GreyFilm {
  private constructor(
    private readonly child: ReturnType<typeof spawn>,
    private readonly closed: Promise<unknown>,
    private readonly said: () => string,
    private readonly folder: string,
    private readonly path: string,
  ) {}

  static async open(path: string, { from, size, rate, feather, signal }: GreyFilmOptions): Promise<GreyFilm> {
    // Beside its place, so that it is moved there in one step.
    const folder = await mkdtemp(join(dirname(path), '.umbrastat-matte-'));
    const kind = GREY_KINDS.exec(path)![1].toLowerCase();
    const name = basename(path).replace(GREY_KINDS, '');
    const even = kind === 'mp4' ? EVEN : 'format=gray';
    const filter = `scale=${size.width}:${size.height}:flags=bilinear,gblur=sigma=${(feather / RISE).toFixed(2)},${even}`;
    const into =
      kind === 'png'
        ? ['-start_number', '0', `file:${join(folder, `${name.replaceAll('%', '%%')}-%05d.png`)}`]
        : kind === 'mkv'
          ? ['-c:v', 'ffv1', '-f', 'matroska', `file:${join(folder, basename(path))}`]
          : [...AS_H264, `file:${join(folder, basename(path))}`];
    const read = [
      '-f',
      'rawvideo',
      '-pix_fmt',
      'gray',
      '-s',
      `${from.width}x${from.height}`,
      '-r',
      rate,
      '-i',
      'pipe:0',
    ];
    const args = ['-v', 'error', '-nostdin', '-y', ...read, '-vf', filter, ...into];
    const [command, ...rest] = toolCommand('ffmpeg', args, WRITE_LIMITS);
    const child = spawn(command, rest, { stdio: ['pipe', 'ignore', 'pipe'], signal, killSignal: 'SIGKILL' });
    let errors = '';
    child.stderr!.on('data', (d: Buffer) => {
      if (errors.length < 4000) errors += d.toString('utf8');
    });
    child.stdin!.on('error', () => undefined);
    const closed = once(child, 'close');
    closed.catch(() => undefined);
    return new GreyFilm(child, closed, () => errors, folder, path);
  }

  write(picture: Uint8Array): Promise<void> {
    return feedTool(this.child.stdin!, Buffer.from(picture), this.closed);
  }

  /** Ends it and puts it in its place. @throws Error when it could not be written */
  async end(): Promise<void> {
    this.child.stdin!.end();
    try {
      const [code] = (await this.closed) as [number | null];
      if (code !== 0) throw writingFailed(`The matte could not be written to ${this.path}`, this.said());
      for (const name of await readdir(this.folder))
        await rename(join(this.folder, name), join(dirname(this.path), name));
    } finally {
      await rm(this.folder, { recursive: true, force: true });
    }
  }

  /** Gives it up: nothing of it is left. */
  async drop(): Promise<void> {
    this.child.kill('SIGKILL');
    await this.closed.catch(() => undefined);
    await rm(this.folder, { recursive: true, force: true });
  }
}
