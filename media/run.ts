import { spawn, type ChildProcessByStdio } from 'node:child_process';
import type { Readable } from 'node:stream';
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
  const silent = setTimeout(end, limits.silentSeconds * 1000);
  const overall = limits.seconds ? setTimeout(end, limits.seconds * 1000) : undefined;
  function end() {
    child.kill('SIGKILL');
  }
  const heard = () => silent.refresh();
  child.stdout.on('data', heard);
  child.stderr.on('data', heard);
  const clear = () => {
    clearTimeout(silent);
    clearTimeout(overall);
  };
  child.on('close', clear);
  child.on('error', clear);
  return child;
}

/**
 * Runs a tool to its end and gives what it printed. Rejects only when it cannot be started at all.
 * @param remarks characters of its remarks that are kept
 */
export function runTool(
  tool: Tool,
  args: string[],
  limits: ProcessLimits,
  remarks = 20000,
): Promise<{ code: number | null; stdout: Buffer; stderr: string }> {
  return new Promise((resolve, reject) => {
    const child = startTool(tool, args, limits);
    const out: Buffer[] = [];
    let err = '';
    child.stdout.on('data', (d: Buffer) => out.push(d));
    child.stderr.on('data', (d: Buffer) => {
      if (err.length < remarks) err += d.toString('utf8');
    });
    child.on('error', reject);
    child.on('close', (code) => resolve({ code, stdout: Buffer.concat(out), stderr: err }));
  });
}
