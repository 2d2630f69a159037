import { mkdir, readdir, stat, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import type { PackFile, PackFileKind } from '../core/packs/types';

/** A pack's folder while it is written. */
export class PackFolder {
  constructor(
    readonly root: string,
    private readonly signal: AbortSignal,
  ) {}

  /** The place of a file of the pack, its folder made. @throws when the work was ended */
  async place(path: string): Promise<string> {
    this.signal.throwIfAborted();
    const place = join(this.root, path);
    await mkdir(dirname(place), { recursive: true });
    return place;
  }

  /** Writes a file of text, and says that it is there. */
  async text(path: string, kind: PackFileKind, says: string, content: string): Promise<PackFile> {
    await writeFile(await this.place(path), content);
    return { path, kind, says };
  }
}

/** The files below a folder by their paths from it, with "/" between folders, in the order of their names. */
export async function filesBelow(root: string): Promise<{ path: string; bytes: number; changed: Date }[]> {
  const entries = await readdir(root, { recursive: true, withFileTypes: true });
  const files = await Promise.all(
    entries
      .filter((e) => e.isFile())
      .map(async (e) => {
        const whole = join(e.parentPath, e.name);
        const { size, mtime } = await stat(whole);
        return {
          path: whole
            .slice(root.length + 1)
            .split('\\')
            .join('/'),
          bytes: size,
          changed: mtime,
        };
      }),
  );
  return files.sort((a, b) => (a.path < b.path ? -1 : 1));
}
