import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { createXXHash64 } from 'hash-wasm';
import {
  c4Of,
  CHAIN_FILE,
  chainXml,
  hashListXml,
  LIST_FOLDER,
  listName,
  type HashedFile,
} from '../core/formats/media-hash-list';
import { filesBelow, type PackFolder } from './folder';

const CHUNK = 1 << 20;

/** The xxHash of 64 bits of a file, as hexadecimal digits. */
export async function xxh64Of(path: string, signal?: AbortSignal, onBytes?: (n: number) => void): Promise<string> {
  const hash = await createXXHash64();
  for await (const chunk of createReadStream(path, { highWaterMark: CHUNK, signal })) {
    hash.update(chunk as Buffer);
    onBytes?.((chunk as Buffer).length);
  }
  return hash.digest('hex');
}

/** A file that goes into the pack from elsewhere, as it is. */
export interface AddedFile extends HashedFile {
  /** Where it lies. */
  from: string;
}

/** What a sealed pack is known by: the files in it, and the hash of its own list of hashes. */
export interface Sealed {
  files: HashedFile[];
  hash: string;
}

/** Text that says a moment, with the zone, as hash lists have it. */
export const momentOf = (date: Date): string => date.toISOString().replace(/\.\d+Z$/, '+00:00');

/** Writes the hash list of a pack, over all that was written in it and what is added, and its chain file. */
export async function sealPack(
  folder: PackFolder,
  name: string,
  added: readonly AddedFile[],
  { made, host, version, signal }: { made: string; host: string; version: string; signal: AbortSignal },
): Promise<Sealed> {
  const files: HashedFile[] = added.map(({ path, bytes, changed, xxh64 }) => ({ path, bytes, changed, xxh64 }));
  for (const { path, bytes, changed } of await filesBelow(folder.root))
    files.push({ path, bytes, changed: momentOf(changed), xxh64: await xxh64Of(join(folder.root, path), signal) });
  files.sort((a, b) => (a.path < b.path ? -1 : 1));
  const list = listName(1, name, made);
  const xml = hashListXml({ made, tool: { name: 'Umbrastat', version }, host, files });
  await writeFile(await folder.place(`${LIST_FOLDER}/${list}`), xml);
  const c4 = c4Of(createHash('sha512').update(xml).digest());
  await writeFile(await folder.place(`${LIST_FOLDER}/${CHAIN_FILE}`), chainXml([{ path: list, c4 }]));
  return { files, hash: createHash('sha256').update(xml).digest('hex').slice(0, 16) };
}

/** The C4 id of a file. */
export async function c4OfFile(path: string): Promise<string> {
  return c4Of(
    createHash('sha512')
      .update(await readFile(path))
      .digest(),
  );
}
