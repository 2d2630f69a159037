import { spawn, type ChildProcess, type ChildProcessByStdio } from 'node:child_process';
import { once } from 'node:events';
import { mkdtemp, open, rm, type FileHandle } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Readable, Writable } from 'node:stream';
import type { ProcessLimits } from './limits';

export type Tool = 'ffmpeg' | 'ffprobe';
export type ToolProcess = ChildProcessByStdio<null, Readable, Readable>;

/** Only these containers are opened: none of them can point at another file or address. */
const CONTAINERS = 'mov,mp4,m4a,3gp,3g2,mj2,matroska,webm,avi,mpegts,mpeg,mpegvideo,mxf,ogg,asf,flv,dv,yuv4mpegpipe';

/** Formats of one picture that can be opened, where a still is asked for. */
export type StillFormat = 'png_pipe' | 'jpeg_pipe' | 'webp_pipe' | 'tiff_pipe';

/** Input options that keep the tools to one local file opened by its content. */
export function inputArguments(path: string, still: StillFormat | null = null): string[] {
  if (still) return ['-protocol_whitelist', 'file,pipe', '-format_whitelist', still, '-f', still, '-i', `file:${path}`];
  return ['-protocol_whitelist', 'file,pipe', '-format_whitelist', CONTAINERS, '-i', `file:${path}`];
}

/** The command that starts a tool with a memory limit. */
export function toolCommand(tool: Tool, args: string[], limits: ProcessLimits): string[] {
  return ['prlimit', `--as=${limits.memoryBytes}`, '--core=0', tool, ...args];
}

/** Starts ffmpeg or ffprobe with a memory limit; ends it when it overruns its time or stays silent. */
export function startTool(tool: Tool, args: string[], limits: ProcessLimits, signal?: AbortSignal): ToolProcess {
  const [command, ...rest] = toolCommand(tool, args, limits);
  const child = spawn(command, rest, { stdio: ['ignore', 'pipe', 'pipe'], signal, killSignal: 'SIGKILL' });
  const silent = setTimeout(() => child.kill('SIGKILL'), limits.silentSeconds * 1000);
  const heard = () => silent.refresh();
  child.stdout.on('data', heard);
  child.stderr.on('data', heard);
  const clear = () => clearTimeout(silent);
  child.on('close', clear);
  child.on('error', clear);
  endInTime(child, limits);
  return child;
}

function endInTime(child: ChildProcess, { seconds }: ProcessLimits): void {
  if (!seconds) return;
  const overall = setTimeout(() => child.kill('SIGKILL'), seconds * 1000);
  child.on('close', () => clearTimeout(overall));
  child.on('error', () => clearTimeout(overall));
}

/**
 * Runs a tool to its end and gives what it printed. Rejects when it cannot be started at all, or what it prints finds
 * no room on the disk (ENOSPC).
 *
 * What it prints goes to a file that has no name any more: whoever is busy with pictures meanwhile, and does not
 * listen, does not hold it up.
 * @param remarks characters of its remarks that are kept
 * @param signal ends it; then this rejects
 */
export async function runTool(
  tool: Tool,
  args: string[],
  limits: ProcessLimits,
  remarks = 20000,
  signal?: AbortSignal,
): Promise<{ code: number | null; stdout: Buffer; stderr: string }> {
  const [command, ...rest] = toolCommand(tool, args, limits);
  const printed = await openNameless();
  try {
    const child = spawn(command, rest, { stdio: ['ignore', printed.fd, 'pipe'], signal, killSignal: 'SIGKILL' });
    endInTime(child, limits);
    let stderr = '';
    child.stderr!.on('data', (d: Buffer) => {
      if (stderr.length < remarks) stderr += d.toString('utf8');
    });
    const code = await new Promise<number | null>((resolve, reject) => {
      child.on('error', reject);
      child.on('close', resolve);
    });
    const { size } = await printed.stat();
    // Tools do not say that their own output was cut off: where there is no room for more, it was.
    await printed.write(ONE_MORE, 0, ONE_MORE.length, size);
    const stdout = Buffer.alloc(size);
    for (let at = 0; at < size;) {
      const { bytesRead } = await printed.read(stdout, at, size - at, at);
      if (bytesRead === 0) break;
      at += bytesRead;
    }
    return { code, stdout, stderr };
  } finally {
    await printed.close();
  }
}

/** More than what a disk sets aside at a time for a file that grows. */
const ONE_MORE = Buffer.alloc(65536);

/** A file that is gone when it is closed, however this process ends. */
async function openNameless(): Promise<FileHandle> {
  const folder = await mkdtemp(join(tmpdir(), 'umbrastat-printed-'));
  try {
    return await open(join(folder, 'out'), 'w+');
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

/** Gives a tool the next bytes and waits until it takes more. A tool that has ended meanwhile says at its end why. */
export async function feedTool(stdin: Writable, bytes: Buffer, closed: Promise<unknown>): Promise<void> {
  if (stdin.write(bytes)) return;
  // It ends with a broken pipe here before it is known what it ended with.
  await Promise.race([once(stdin, 'drain').catch(() => closed), closed]);
}
