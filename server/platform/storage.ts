import { link, mkdir, readdir, rm, stat, statfs, utimes, writeFile } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import { MEASURES, type MeasureKey } from '../../core/measures';
import { hashFile } from '../../media/store/hash-file';
import { keptPath, type Subject } from '../../media/store/kept-files';

/** Never fill the disk to the last byte: the database and the proxies need room. */
export const SPARE_BYTES = 512 * 1024 * 1024;

/** Recordings and pictures on disk, each recording once under the hash of its bytes. */
export class Storage {
  constructor(readonly root: string) {}

  get uploads(): string {
    return join(this.root, 'uploads');
  }

  /** Holds the address at which the server that works here is reached. */
  get address(): string {
    return join(this.root, 'address');
  }

  /** Holds what cookies are signed with. */
  get secret(): string {
    return join(this.root, 'secret');
  }

  async prepare(): Promise<void> {
    const kept = Object.values(MEASURES).map((m) => m.files.folder);
    for (const folder of new Set(['uploads', 'files', 'rolling', 'pictures', 'waste', 'packs', ...kept]))
      await mkdir(join(this.root, folder), { recursive: true });
  }

  /** The folder of pictures that were made because somebody asked for them; they can be made again. */
  get pictures(): string {
    return join(this.root, 'pictures');
  }

  /** Recordings that no take refers to any more, until they go for good. */
  get waste(): string {
    return join(this.root, 'waste');
  }

  /** The folder in which a pack is written; all packs' without an id. */
  pack(id = ''): string {
    return join(this.root, 'packs', id);
  }

  /** Every recording that is stored. */
  async recordings(): Promise<{ hash: string; path: string }[]> {
    const names = await readdir(join(this.root, 'files'), { recursive: true });
    return names.flatMap((name) => {
      const hash = basename(name);
      return /^[0-9a-f]{64}$/.test(hash) ? [{ hash, path: this.file(hash) }] : [];
    });
  }

  file(hash: string): string {
    return join(this.root, 'files', hash.slice(0, 2), hash);
  }

  truth(hash: string): string {
    return `${this.file(hash)}.truth.json`;
  }

  /** A file that a measure kept. */
  kept(measure: MeasureKey, subject: Partial<Subject>, name: string): string {
    return keptPath(this.root, MEASURES[measure].files, { recording: '', take: '', itself: '', ...subject }, name);
  }

  rolling(id: string): string {
    return join(this.root, 'rolling', `${id}.mp4`);
  }

  preview(id: string): string {
    return join(this.root, 'rolling', `${id}.jpg`);
  }

  /** Free bytes that may be used. */
  async room(): Promise<number> {
    const s = await statfs(this.root);
    return Math.max(0, s.bavail * s.bsize - SPARE_BYTES);
  }

  /** Lays a finished recording into its place and leaves it where it was too; gives its hash and size. */
  async keepCopy(path: string): Promise<{ hash: string; bytes: number }> {
    const hash = await hashFile(path);
    const { size } = await stat(path);
    const target = this.file(hash);
    await mkdir(dirname(target), { recursive: true });
    // One file under two names: nothing is copied.
    await link(path, target).catch(async (error: NodeJS.ErrnoException) => {
      if (error.code !== 'EEXIST') throw error;
      // It may lie there without a take, and is not to be swept up now.
      await utimes(target, new Date(), new Date());
    });
    return { hash, bytes: size };
  }

  /** Moves a finished recording into its place; gives its hash and size. A recording already there is kept. */
  async keep(path: string): Promise<{ hash: string; bytes: number }> {
    const kept = await this.keepCopy(path);
    await rm(path);
    return kept;
  }

  async keepTruth(hash: string, truth: unknown): Promise<void> {
    await writeFile(this.truth(hash), JSON.stringify(truth));
  }
}
