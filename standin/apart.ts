import { execFile } from 'node:child_process';
import { join } from 'node:path';
import { promisify } from 'node:util';
import type { TakeReport } from '../core/report/types';
import type { CoverReport, CutReport } from '../core/report/wipe-types';
import type { TakeTruth } from './record';
import type { CameraSettings } from './settings';

const run = promisify(execFile);
const ROOT = join(__dirname, '..');
const LARGE = { cwd: ROOT, encoding: 'utf8', maxBuffer: 64 * 1024 * 1024 } as const;

/** Records a take in a process of its own: within a test runner painting and measuring take several times as long. @throws Error when it fails */
export async function recordApart(settings: CameraSettings, path: string, preview = ''): Promise<TakeTruth> {
  const { stdout } = await run(process.execPath, ['--require', 'tsx/cjs', join(__dirname, 'record-main.ts'), JSON.stringify(settings), path, preview], LARGE);
  return JSON.parse(stdout) as TakeTruth;
}

/** What the command line says of files. @throws Error when it fails */
export async function measureApart(command: 'take', ...args: string[]): Promise<TakeReport>;
export async function measureApart(command: 'cover', ...args: string[]): Promise<CoverReport>;
export async function measureApart(command: 'cut', ...args: string[]): Promise<CutReport>;
export async function measureApart(command: string, ...args: string[]): Promise<unknown> {
  return JSON.parse((await run(process.execPath, [join(ROOT, 'cli', 'bin.cjs'), command, ...args, '--json'], LARGE)).stdout);
}
