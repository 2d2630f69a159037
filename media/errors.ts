/** The input cannot be used. The message is one sentence a shooter can act on: which file, what is wrong, what to do. */
export class UnusableMedia extends Error {
  constructor(
    message: string,
    readonly code: string,
  ) {
    super(message);
    this.name = 'UnusableMedia';
  }
}

/** Looking into a file failed, whatever is in it: the tool was ended or found no memory. Another try may go well. */
export class LookFailed extends Error {
  constructor(message: string) {
    super(message);
    this.name = 'LookFailed';
  }
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

/** @throws LookFailed when a tool was ended, or lacked something, before it could tell */
export function assureLooked({ code, stderr }: { code: number | null; stderr: string }, name: string): void {
  if (code === null) throw new LookFailed(`ffprobe was ended while it looked into ${name}`);
  const lack = code === 0 ? null : MACHINE.exec(stderr);
  if (lack) throw new LookFailed(`ffprobe could not look into ${name}: ${lack[0].toLowerCase()}`);
}
