import { createHash, randomUUID } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { mkdir, open, readdir, rename, rm, stat, statfs, writeFile, readFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import type { CoverShape } from '../core/cover/measure';
import { packAnalysis } from '../media/kept-analysis';
import { packShape } from '../media/kept-shape';
import type { TakeAnalysis } from '../media/measure-take';

/** Never fill the disk to the last byte: the database and the proxies need room. */
export const SPARE_BYTES = 512 * 1024 * 1024;

/** A half-made file untouched for this long has no writer any more. */
const ABANDONED_MS = 20_000;

/** Recordings and pictures on disk, each recording once under the hash of its bytes. */
export class Storage {
  constructor(readonly root: string) {}

  get uploads(): string {
    return join(this.root, 'uploads');
  }

  async prepare(): Promise<void> {
    for (const folder of ['uploads', 'files', 'proxies', 'rolling', 'plates', 'wipes'])
      await mkdir(join(this.root, folder), { recursive: true });
  }

  file(hash: string): string {
    return join(this.root, 'files', hash.slice(0, 2), hash);
  }

  truth(hash: string): string {
    return `${this.file(hash)}.truth.json`;
  }

  proxy(hash: string): string {
    return join(this.root, 'proxies', `${hash}.jpegs`);
  }

  outlines(hash: string): string {
    return join(this.root, 'proxies', `${hash}.outlines.json`);
  }

  /** What was found in a recording, for plates and comparisons. */
  analysis(hash: string): string {
    return join(this.root, 'proxies', `${hash}.analysis`);
  }

  /** A plate's picture at full size, a PNG; `.jpg` after it is the one to look at. */
  plate(id: string): string {
    return join(this.root, 'plates', `${id}.png`);
  }

  /** What covers the picture in a take, frame by frame. */
  shape(takeId: string): string {
    return join(this.root, 'wipes', `${takeId}.shape`);
  }

  /** A proof's films and single frames. */
  proof(id: string): { mp4: string; webm: string; jpegs: string } {
    const path = join(this.root, 'wipes', id);
    return { mp4: `${path}.mp4`, webm: `${path}.webm`, jpegs: `${path}.jpegs` };
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

  /** Moves a finished recording into its place; gives its hash and size. A recording already there is kept. */
  async keep(path: string): Promise<{ hash: string; bytes: number }> {
    const hash = await hashFile(path);
    const { size } = await stat(path);
    const target = this.file(hash);
    await mkdir(dirname(target), { recursive: true });
    if (await stat(target).catch(() => null)) await rm(path);
    else await rename(path, target);
    return { hash, bytes: size };
  }

  /** Removes what a worker that is gone left of a recording's proxy: parts nobody has written to for a while. */
  async sweepProxy(hash: string): Promise<void> {
    const folder = join(this.root, 'proxies');
    for (const name of await readdir(folder)) {
      if (!name.startsWith(`${hash}.jpegs.`) || name === `${hash}.jpegs.index`) continue;
      const info = await stat(join(folder, name)).catch(() => null);
      if (info && Date.now() - info.mtimeMs > ABANDONED_MS) await rm(join(folder, name), { force: true });
    }
  }

  /** Kept beside the proxy, whole or not at all. */
  async keepOutlines(hash: string, outlines: unknown): Promise<void> {
    const path = this.outlines(hash);
    const fresh = `${path}.${randomUUID()}`;
    await writeFile(fresh, JSON.stringify(outlines));
    await rename(fresh, path);
  }

  async keepAnalysis(hash: string, analysis: TakeAnalysis): Promise<void> {
    const path = this.analysis(hash);
    const fresh = `${path}.${randomUUID()}`;
    await writeFile(fresh, packAnalysis(analysis));
    await rename(fresh, path);
  }

  async keepShape(takeId: string, shape: CoverShape): Promise<void> {
    const path = this.shape(takeId);
    const fresh = `${path}.${randomUUID()}`;
    await writeFile(fresh, packShape(shape));
    await rename(fresh, path);
  }

  async keepPlate(id: string, png: string, jpeg: string): Promise<void> {
    await rename(jpeg, `${this.plate(id)}.jpg`);
    await rename(png, this.plate(id));
  }

  async keepTruth(hash: string, truth: unknown): Promise<void> {
    await writeFile(this.truth(hash), JSON.stringify(truth));
  }
}

export async function hashFile(path: string): Promise<string> {
  const hash = createHash('sha256');
  for await (const chunk of createReadStream(path, { highWaterMark: 1 << 20 })) hash.update(chunk as Buffer);
  return hash.digest('hex');
}

/** Where each picture of a proxy starts, written beside it once the proxy is whole. */
export async function indexProxy(path: string): Promise<number> {
  const offsets: number[] = [];
  let at = 0;
  let previous = 0;
  let inside = false;
  for await (const chunk of createReadStream(path, { highWaterMark: 1 << 20 })) {
    const bytes = chunk as Buffer;
    for (let i = 0; i < bytes.length; i++) {
      const b = bytes[i];
      // JPEG pictures start with FF D8 and end with FF D9; neither occurs inside coded data.
      if (previous === 0xff && b === 0xd8 && !inside) {
        offsets.push(at + i - 1);
        inside = true;
      } else if (previous === 0xff && b === 0xd9) {
        inside = false;
      }
      previous = b;
    }
    at += bytes.length;
  }
  offsets.push(at);
  await writeFile(`${path}.index`, Buffer.from(Float64Array.from(offsets).buffer));
  return offsets.length - 1;
}

/** One picture of a proxy; null when there is no such frame (yet). */
export async function proxyPicture(path: string, frame: number): Promise<Buffer | null> {
  const raw = await readFile(`${path}.index`).catch(() => null);
  if (!raw) return null;
  const offsets = new Float64Array(raw.buffer, raw.byteOffset, raw.length / 8);
  if (frame < 0 || frame + 1 >= offsets.length) return null;
  const length = offsets[frame + 1] - offsets[frame];
  const file = await open(path, 'r');
  try {
    const out = Buffer.alloc(length);
    await file.read(out, 0, length, offsets[frame]);
    return out;
  } finally {
    await file.close();
  }
}
