import { basename } from 'node:path';
import { UnusableMedia } from '../core/take/unusable';

export { UnusableMedia };

/** Looking into a file failed, whatever is in it: the tool was ended or found no memory. Another try may go well. */
export class LookFailed extends Error {
  constructor(message: string) {
    super(message);
    this.name = 'LookFailed';
  }
}

/** The same error, of files by the names to show where it names them by what they are stored under. */
export function withNames(error: unknown, files: readonly { path: string; name: string }[]): unknown {
  if (!(error instanceof UnusableMedia || error instanceof LookFailed)) return error;
  const said = files.reduce((text, { path, name }) => text.replaceAll(basename(path), name), error.message);
  return error instanceof UnusableMedia ? new UnusableMedia(said, error.code) : new LookFailed(said);
}

/** What a tool that writes came to: a full disk is called one, with the code that the system itself has for it. */
export function writingFailed(what: string, said: string): Error {
  const error = new Error(`${what}: ${said.split('\n')[0] || 'ffmpeg failed'}`);
  return foundNoRoom(said) ? Object.assign(error, { code: 'ENOSPC' }) : error;
}

/** Whether a tool ended because the disk is full, by its own words. */
export function foundNoRoom(said: string): boolean {
  return /No space left on device/.test(said);
}

/** Whether something failed because the disk is full. */
export function isFull(error: unknown): boolean {
  return (error as NodeJS.ErrnoException | null)?.code === 'ENOSPC';
}

/** What a tool says when this machine, not the file, is at fault. */
const MACHINE = /Cannot allocate memory|Resource temporarily unavailable|No space left on device|Too many open files/i;

/** The code with which ffmpeg ends when a signal asks it to. */
const ASKED_TO_END = 255;

/**
 * @param tool which of them it was, and what it did with the file: "looked into"
 * @throws LookFailed when a tool was ended, lacked something, or broke off without a word, before it could tell
 */
export function assureLooked(
  { code, stderr }: { code: number | null; stderr: string },
  name: string,
  tool = 'ffprobe',
  did = 'looked into',
): void {
  if (code === 0) return;
  if (code === null || code === ASKED_TO_END) throw new LookFailed(`${tool} was ended while it ${did} ${name}`);
  const lack = MACHINE.exec(stderr)?.[0].toLowerCase() ?? (stderr.trim() ? null : `it ended with ${code}`);
  if (lack) throw new LookFailed(`${tool} broke off while it ${did} ${name}: ${lack}`);
}
