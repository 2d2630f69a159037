import { readdir, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import type { DiskUse } from '../../api/disk';
import type { House } from '../platform/house';

interface Tally {
  bytes: number;
  count: number;
}

/** Bytes of the files below a folder, and how many there are; what lies beside a recording is no file of its own. */
async function tally(folder: string): Promise<Tally> {
  const names = await readdir(folder, { recursive: true, withFileTypes: true }).catch(() => []);
  const all: Tally = { bytes: 0, count: 0 };
  for (const entry of names) {
    if (!entry.isFile()) continue;
    const info = await stat(join(entry.parentPath, entry.name)).catch(() => null);
    if (!info) continue;
    all.bytes += info.size;
    if (!entry.name.endsWith('.truth.json')) all.count++;
  }
  return all;
}

/** What takes how much room, and what of it may go. */
export async function diskUse({ storage, measures }: House): Promise<DiskUse> {
  const kept: Tally = { bytes: 0, count: 0 };
  const folders = measures.map((m) => join(storage.root, m.files.folder));
  for (const folder of new Set([...folders, storage.pictures])) {
    const own = await tally(folder);
    kept.bytes += own.bytes;
    kept.count += own.count;
  }
  return {
    free: await storage.room(),
    rows: [
      { what: 'recordings', ...(await tally(join(storage.root, 'files'))) },
      { what: 'measured', ...kept },
      { what: 'packs', ...(await tally(storage.pack())) },
      { what: 'uploads', ...(await tally(storage.uploads)) },
      { what: 'waste', ...(await tally(storage.waste)) },
    ],
  };
}

/** Empties the waste at once. */
export async function emptyWaste({ storage }: House): Promise<void> {
  for (const name of await readdir(storage.waste)) await rm(join(storage.waste, name), { force: true });
}
