import { readdir, rename, rm, stat, utimes } from 'node:fs/promises';
import { join } from 'node:path';
import type { MeasureKey } from '../../core/measures';
import type { House } from '../platform/house';

const HOUR_MS = 3_600_000;
const DAY_MS = 24 * HOUR_MS;
/** What broke off, or has no owner, waits so long for somebody to go on with it. */
const BROKEN_OFF_MS = DAY_MS;
/** What was thrown away can be had back for so long. */
const WASTE_MS = 7 * DAY_MS;
export const SWEEP_EVERY_MS = HOUR_MS;

/** The end of a name under which a file is written before it is whole. */
const HALF_MADE = /\.[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/;

/** How many files went, by why. */
export interface Swept {
  brokenOff: number;
  ownerless: number;
  toWaste: number;
  fromWaste: number;
}

/**
 * Removes what nobody will ask for any more: uploads and half-made files that broke off a day ago, what was kept of
 * takes and measures that are gone, recordings without a take a week after they lost their last one.
 */
export async function sweep(house: House, now = Date.now()): Promise<Swept> {
  const { storage, pool } = house;
  const old = (ms: number) => async (path: string) => {
    const info = await stat(path).catch(() => null);
    // The later of both: a file may be old and have been laid here just now.
    return info !== null && now - Math.max(info.mtimeMs, info.ctimeMs) > ms;
  };
  const isOld = old(BROKEN_OFF_MS);
  const drop = async (folder: string, isDue: (name: string) => boolean): Promise<number> => {
    let gone = 0;
    for (const name of await readdir(folder).catch(() => [])) {
      const path = join(folder, name);
      if (!isDue(name) || !(await isOld(path))) continue;
      await rm(path, { force: true, recursive: true });
      gone++;
    }
    return gone;
  };

  await dropDeleted(house, now);
  // An upload and what is noted of it go together: the note is as old as the upload's beginning.
  const going = new Set<string>();
  for (const name of await readdir(storage.uploads))
    if (!(await isOld(join(storage.uploads, name)))) going.add(name.replace(/\.json$/, ''));
  let brokenOff = await drop(storage.uploads, (name) => !going.has(name.replace(/\.json$/, '')));
  brokenOff += await drop(join(storage.root, 'rolling'), () => true);
  let ownerless = await drop(storage.pictures, () => true);
  const owners = await readOwners(house);
  for (const { folder, by } of folders(house)) {
    const path = join(storage.root, folder);
    brokenOff += await drop(path, (name) => HALF_MADE.test(name));
    ownerless += await drop(path, (name) => !by.some((kind) => owners[kind].has(name.split('.')[0])));
  }

  const packs = await pool.query<{ id: string }>('SELECT id FROM packs WHERE deleted_at IS NULL');
  const wanted = new Set(packs.rows.map((p) => p.id));
  ownerless += await drop(storage.pack(), (name) => !wanted.has(name));

  let toWaste = 0;
  for (const { hash, path } of await storage.recordings()) {
    if (owners.recording.has(hash) || !(await isOld(path))) continue;
    await pool.query('DELETE FROM files WHERE hash = $1 AND NOT EXISTS (SELECT 1 FROM takes WHERE file_hash = $1)', [
      hash,
    ]);
    await rename(path, join(storage.waste, hash));
    // Its time in the waste begins.
    await utimes(join(storage.waste, hash), now / 1000, now / 1000);
    await rm(storage.truth(hash), { force: true });
    toWaste++;
  }
  const isStale = old(WASTE_MS);
  let fromWaste = 0;
  for (const name of await readdir(storage.waste).catch(() => [])) {
    if (!(await isStale(join(storage.waste, name)))) continue;
    await rm(join(storage.waste, name), { force: true });
    fromWaste++;
  }
  return { brokenOff, ownerless, toWaste, fromWaste };
}

type Owner = 'recording' | 'take' | 'itself';

/** The folders of what measures keep, each with what names the files in it. */
function folders(house: House): { folder: string; by: Owner[] }[] {
  const all = new Map<string, Owner[]>();
  for (const { files } of house.measures) all.set(files.folder, [...(all.get(files.folder) ?? []), files.by]);
  return [...all].map(([folder, by]) => ({ folder, by }));
}

/** What exists that files are named after. */
async function readOwners({ pool }: House): Promise<Record<Owner, Set<string>>> {
  const set = async (text: string) => new Set((await pool.query<{ id: string }>(text)).rows.map((r) => r.id));
  return {
    recording: await set('SELECT DISTINCT file_hash AS id FROM takes'),
    take: await set('SELECT id FROM takes'),
    itself: await set('SELECT id FROM measures'),
  };
}

/** Measures that were removed long ago go for good; their files have no owner then. */
async function dropDeleted({ pool, measures }: House, now: number): Promise<void> {
  const many: MeasureKey[] = measures.flatMap((m) => (m.many ? [m.key as MeasureKey] : []));
  await pool.query('DELETE FROM measures WHERE measure = ANY($1) AND deleted_at < $2', [
    many,
    new Date(now - WASTE_MS).toISOString(),
  ]);
}
