import { randomUUID } from 'node:crypto';
import { mkdir, readdir, rename, rm, stat, writeFile } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';

/** What names the files of a measure: the recording's hash, its first take's id, or its own. */
export interface Subject {
  recording: string;
  take: string;
  itself: string;
}

/** A half-made file untouched for this long has no writer any more. */
const ABANDONED_MS = 20_000;

/** Where a measure's file of some name lies below the data folder. */
export function keptPath(
  root: string,
  { folder, by }: { folder: string; by: keyof Subject },
  subject: Subject,
  name: string,
): string {
  return join(root, folder, `${subject[by]}.${name}`);
}

/** Writes a file whole or not at all. */
export async function keepWhole(path: string, bytes: Buffer | string): Promise<void> {
  const fresh = `${path}.${randomUUID()}`;
  await mkdir(dirname(path), { recursive: true });
  await writeFile(fresh, bytes);
  await rename(fresh, path);
}

/** Removes what a worker that is gone left half made beside a file: parts nobody has written to for a while. */
export async function sweepBeside(path: string): Promise<void> {
  const folder = dirname(path);
  const unfinished = new RegExp(`^${basename(path).replace(/\W/g, '\\$&')}.*\\.[0-9a-f]{8}-[0-9a-f-]{27}$`);
  for (const name of await readdir(folder).catch(() => [])) {
    if (!unfinished.test(name)) continue;
    const info = await stat(join(folder, name)).catch(() => null);
    if (info && Date.now() - info.mtimeMs > ABANDONED_MS) await rm(join(folder, name), { force: true });
  }
}
