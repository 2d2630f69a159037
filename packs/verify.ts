import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { CHAIN_FILE, LIST_FOLDER, readChain, readHashList, type HashedFile } from '../core/formats/media-hash-list';
import { filesBelow } from './folder';
import { c4OfFile, xxh64Of } from './seal';

/** A folder held against its newest hash list. Paths are from the folder. */
export interface Verified {
  list: string;
  /** Files whose bytes are as they were. */
  same: number;
  missing: string[];
  changed: string[];
  /** Files that the list does not name. */
  fresh: string[];
  /** Whether the list itself is the one that the chain names; null where there is no chain file. */
  chain_holds: boolean | null;
}

/** A folder that cannot be verified, and why, as a sentence. */
export class NotVerifiable extends Error {}

/** What systems put into folders by themselves. */
const IGNORED = /(^|\/)(\.DS_Store|Thumbs\.db|desktop\.ini)$/;

/**
 * Checks every file of a folder against its hash list (ASC MHL 2).
 * @throws NotVerifiable when there is no list that can be read
 */
export async function verifyFolder(root: string, say: (text: string) => void = () => undefined): Promise<Verified> {
  const files = await filesBelow(root).catch(() => {
    throw new NotVerifiable(
      `"${root}" is no folder that can be read. Give the folder into which the pack was unzipped.`,
    );
  });
  const { list, holds } = await newestList(
    root,
    files.map((f) => f.path),
  );
  const xml = await readFile(join(root, list), 'utf8');
  let named: HashedFile[] | null = null;
  try {
    named = readHashList(xml);
  } catch {
    named = null;
  }
  if (!named)
    throw new NotVerifiable(
      `"${list}" is no hash list that can be read: it was changed, or broke off. Copy the pack again.`,
    );
  const there = new Map(files.map((f) => [f.path, f]));
  const found: Verified = { list, same: 0, missing: [], changed: [], fresh: [], chain_holds: holds };
  for (const { path, bytes, xxh64 } of named) {
    const file = there.get(path);
    there.delete(path);
    say(path);
    if (!file) found.missing.push(path);
    else if (bytes >= 0 && file.bytes !== bytes) found.changed.push(path);
    else if ((await xxh64Of(join(root, path))) !== xxh64) found.changed.push(path);
    else found.same++;
  }
  found.fresh = [...there.keys()].filter((path) => !path.startsWith(`${LIST_FOLDER}/`) && !IGNORED.test(path));
  return found;
}

async function newestList(root: string, paths: readonly string[]): Promise<{ list: string; holds: boolean | null }> {
  const lists = paths.filter((p) => p.startsWith(`${LIST_FOLDER}/`) && p.endsWith('.mhl')).sort();
  const newest = lists.at(-1);
  if (!newest)
    throw new NotVerifiable(
      `"${root}" has no hash list: no ${LIST_FOLDER}/…mhl in it. Give the folder into which the pack was unzipped.`,
    );
  const text = await readFile(join(root, LIST_FOLDER, CHAIN_FILE), 'utf8').catch(() => null);
  if (text === null) return { list: newest, holds: null };
  try {
    const last = readChain(text)?.at(-1);
    if (!last) return { list: newest, holds: false };
    const list = `${LIST_FOLDER}/${last.path}`;
    if (!paths.includes(list)) return { list: newest, holds: false };
    return { list, holds: (await c4OfFile(join(root, list))) === last.c4 };
  } catch {
    return { list: newest, holds: false };
  }
}
