import { access, mkdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { STILLS } from '../../core/measures/stills/description';
import { SHOOT_FILE } from '../../core/packs/shoot-file';
import type { PackReport } from '../../core/packs/types';
import type { StillsFound } from '../../core/report/moment-types';
import { isFull } from '../../media/errors';
import type { PackingAnswer } from '../../packs/packing-thread';
import type { TakeSources } from '../../packs/takes';
import { filesBelow } from '../../packs/folder';
import type { PackWriting, WrittenPack } from '../../packs/write-pack';
import { version } from '../../package.json';
import { findPlanned } from '../plan/plans';
import { findShoot } from '../plan/shoots';
import type { House } from '../platform/house';
import type { Storage } from '../platform/storage';
import type { Worker } from '../work/runner';
import { PACKING_THREAD, type Threads } from '../work/threads';
import { gatherPack, packName, type Gathered } from './gather';
import { endPack, failPack, findPack, keepXxh64, type PackEntry } from './packs';
import { readShootFile, shootFileText } from './shoot-file';
import { openZip, type ZipEntry } from './zip';

const FULL = 'The disk is full, so no pack was made. Make room (Plan, Room on disk), then make it again.';
const GONE = 'What this pack is of was deleted meanwhile. Bring it back, then make the pack again.';
const EMPTY = 'There is no take to hand off. Circle the takes to use, or let the best of each part go along.';

/** Writes packs: gathers what they say, has a thread write it, and notes which files are in them. */
export function packWork(house: House, threads: Threads): Worker {
  const { pool, storage } = house;
  return {
    table: 'packs',
    giveUp: (about) => (db) =>
      failPack(db, about, 'Making the pack broke off for a reason inside the app. Nothing is lost; make it again.'),
    async work(about, signal, say) {
      const row = await findPack(pool, about);
      if (!row || row.made) return async () => undefined;
      const shoot = await findShoot(pool, row.shoot_id);
      const trick = row.planned_id ? await findPlanned(pool, row.planned_id) : null;
      if (!shoot || shoot.deleted || (row.planned_id && (!trick || trick.deleted)))
        return (db) => failPack(db, about, GONE);
      say({ done: 0, total: 0, doing: 'reading what was found' });
      const gathered = await gatherPack(house, shoot, row, row.wish);
      const { report, hashes } = gathered;
      if (report.takes.length + report.unmeasured.length === 0) return (db) => failPack(db, about, EMPTY);
      const root = storage.pack(about);
      // What an earlier try left behind is not part of this one.
      await rm(root, { recursive: true, force: true });
      await mkdir(root, { recursive: true });
      const name = packName(shoot, report.setups, trick?.trick.name ?? null);
      try {
        const sources = await sourcesOf(house, gathered);
        const texts = await textsOf(house, shoot.id, row.setup_id, report);
        const work: PackWriting = { report, sources, texts, name, root, version };
        const answer = await threads.run<PackingAnswer>(PACKING_THREAD, { work }, signal, say);
        if (answer === 'full') {
          await rm(root, { recursive: true, force: true });
          return (db) => failPack(db, about, FULL);
        }
        const { written } = answer;
        const entries = await entriesOf(root, written);
        const from = (e: PackEntry) => zipEntry(storage, about, e);
        const zip = await openZip(name, entries.map(from), new Date(report.made_at));
        zip.stream.destroy();
        return async (db) => {
          for (const t of [...written.report.takes, ...written.report.unmeasured])
            if (t.recording.xxh64) await keepXxh64(db, hashes.get(t.id)!, t.recording.xxh64);
          const { unmeasured, left_behind } = written.report;
          const bare = unmeasured.map((t) => `${t.label}: ${t.why}`);
          const made = { name, bytes: zip.bytes, hash: written.hash, at: report.made_at, entries };
          await endPack(db, about, { ...made, left_behind, unmeasured: bare });
        };
      } catch (error) {
        await rm(root, { recursive: true, force: true });
        if (isFull(error)) return (db) => failPack(db, about, FULL);
        throw error;
      }
    },
  };
}

/** The shoot as it is taken in on another machine: all that is planned in what was packed, and the takes that go along. */
async function textsOf(
  { pool }: House,
  shootId: string,
  setupId: string | null,
  { takes, unmeasured, wish }: PackReport,
): Promise<Record<string, string>> {
  const paths = new Map([...takes, ...unmeasured].map((t) => [t.id, wish.recordings ? t.recording.path : null]));
  const filed = await readShootFile(pool, shootId, { setupIds: setupId ? [setupId] : undefined, takes: paths });
  return filed ? { [SHOOT_FILE]: shootFileText(filed.file) } : {};
}

/** Where what belongs to each take lies on this machine. */
async function sourcesOf({ storage }: House, { report, hashes, kept }: Gathered): Promise<Record<string, TakeSources>> {
  const sources: Record<string, TakeSources> = {};
  for (const { id } of report.unmeasured)
    sources[id] = { path: storage.file(hashes.get(id)!), analysis: null, cutouts: [] };
  for (const take of report.takes) {
    const hash = hashes.get(take.id)!;
    const stills = report.tricks.flatMap((t) => t.found).find((f) => f.measure === STILLS.key && f.takes[0] === take.id)
      ?.result as StillsFound | undefined;
    const id = kept.get(`${STILLS.key} ${take.id}`);
    const cutouts = [];
    for (const { frame } of id ? (stills?.stills ?? []) : []) {
      const path = storage.kept('stills', { itself: id }, `cutout-${frame}.png`);
      const there = await access(path).then(
        () => true,
        () => false,
      );
      if (there) cutouts.push({ frame, path });
    }
    sources[take.id] = {
      path: storage.file(hash),
      analysis: storage.kept('take', { recording: hash }, 'analysis'),
      cutouts,
    };
  }
  return sources;
}

/** All files of a pack: those that were written, and the recordings that are laid into it. */
async function entriesOf(root: string, { added, report }: WrittenPack): Promise<PackEntry[]> {
  const hashOf = new Map([...report.takes, ...report.unmeasured].map((t) => [t.recording.path, t.recording.sha256]));
  const all: PackEntry[] = [
    ...(await filesBelow(root)).map(({ path, bytes }) => ({ path, bytes, recording: null })),
    ...added.map(({ path, bytes }) => ({ path, bytes, recording: hashOf.get(path)! })),
  ];
  return all.sort((a, b) => (a.path < b.path ? -1 : 1));
}

/** A pack's file as it lies on this machine. */
export const zipEntry = (storage: Storage, id: string, { path, bytes, recording }: PackEntry): ZipEntry => ({
  path,
  bytes,
  from: recording === null ? join(storage.pack(id), path) : storage.file(recording),
});
