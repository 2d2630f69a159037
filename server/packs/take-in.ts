import { randomUUID } from 'node:crypto';
import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import type { PoolClient } from 'pg';
import type { TakenInPack } from '../../api/packs';
import { TAKE } from '../../core/measures/take/description';
import { bytesInWords } from '../../core/base/numeric/bytes';
import { LISTS, type ListName, type ShootFile } from '../../core/packs/shoot-file';
import { planTakeIn, type Differing, type ShootHere, type TakeInPlan } from '../../core/packs/take-in';
import { startedFrom } from '../../media/built';
import { UnusableMedia } from '../../media/errors';
import { frameTimes } from '../../media/ffmpeg/frame-index';
import { probeFile } from '../../media/ffmpeg/probe';
import { inTransaction, type Db } from '../platform/database';
import type { House } from '../platform/house';
import { Refusal } from '../platform/http';
import { askFor } from '../work/measures';
import { PRIORITY } from '../work/queue';
import { Threads } from '../work/threads';
import type { PackFile } from './pack-file';
import type { ReadShoot } from './read-shoot';
import { readShootFile } from './shoot-file';
import { ELSEWHERE, WRITE_MADE_OF, WRITE_SHOOT, WRITES } from './take-in-statements';

/** Shoots of packs are read one at a time, and nobody waits for that: not even when it takes more memory than it may. */
const reading = new Threads({ most: 1, megabytes: 768 });
const READING_THREAD = startedFrom('server/packs/read-shoot');
const READING_MS = 60_000;
const TOO_MUCH = 'This shoot takes more time or memory to read than any shoot should. Choose the pack as it was saved.';

/** Reads the shoot of a pack in a thread. @throws Refusal 422 where that takes too much */
async function readShoot(text: string): Promise<ReadShoot> {
  const signal = AbortSignal.timeout(READING_MS);
  return reading
    .run<ReadShoot>(READING_THREAD, { text }, signal, () => undefined)
    .catch((error: unknown) => {
      if (signal.aborted || (error as { code?: string }).code === 'ERR_WORKER_OUT_OF_MEMORY')
        throw new Refusal(422, TOO_MUCH, 'invalid');
      throw error;
    });
}

/** A shoot as it stands here, to be held against one that comes. */
async function shootHere(db: Db, { shoot, takes }: ShootFile): Promise<ShootHere> {
  const own = await readShootFile(db, shoot.id, { deleted: true });
  const files = await db.query<{ hash: string }>('SELECT hash FROM files WHERE hash = ANY($1)', [
    takes.map((t) => t.sha256),
  ]);
  const demo = await db.query('SELECT 1 FROM shoots WHERE demo AND id <> $1', [shoot.id]);
  return {
    file: own?.file ?? null,
    deleted: own?.deleted ?? new Set(),
    recordings: new Set(files.rows.map((f) => f.hash)),
    demo: demo.rows.length > 0,
  };
}

/** @throws Refusal 422 where rows of the file are another shoot's here */
async function needOwn(db: Db, file: ShootFile): Promise<void> {
  for (const [list, text] of Object.entries(ELSEWHERE)) {
    const ids = file[list as keyof typeof ELSEWHERE].map((r) => r.id);
    const { rows } = await db.query(text, [ids, file.shoot.id]);
    if (rows.length)
      throw new Refusal(
        422,
        `Some ${list} of this file belong to another shoot here. Nothing was taken in.`,
        'invalid',
      );
  }
}

/** What taking a pack in would do, and, where it is asked for, does: all of it or nothing. */
export async function takePackIn(
  house: House,
  pack: PackFile,
  { apply, differing }: { apply: boolean; differing: Differing },
): Promise<TakenInPack> {
  const { pool } = house;
  const read = await readShoot(pack.text);
  const nothing = { shoot: null, changes: [], recordings: { count: 0, bytes: 0 }, applied: false };
  if ('errors' in read) return { ...nothing, errors: read.errors };
  const file: ShootFile = {
    ...read.file,
    takes: read.file.takes.map((t) => ({ ...t, path: t.path !== null && pack.has(t.path, t.bytes) ? t.path : null })),
  };
  await needOwn(pool, file);
  const plan = planTakeIn(file, await shootHere(pool, file), differing);
  const bytes = plan.recordings.reduce((sum, r) => sum + r.bytes, 0);
  const said: TakenInPack = {
    shoot: { id: file.shoot.id, name: file.shoot.name },
    errors: [],
    changes: plan.changes,
    recordings: { count: plan.recordings.length, bytes },
    applied: false,
  };
  if (!apply) return said;
  await needRoom(house, bytes);
  await layIn(house, pack, plan);
  const changes = await inTransaction(pool, async (db) => {
    await db.query('SELECT 1 FROM shoots WHERE id = $1 FOR UPDATE', [file.shoot.id]);
    // What was planned meanwhile counts; the recordings are here by now, and none is left out for want of one.
    const now = await shootHere(db, file);
    const recordings = new Set([...now.recordings, ...plan.recordings.map((r) => r.sha256)]);
    const last = planTakeIn(file, { ...now, recordings }, differing);
    await writeDown(db, house, last);
    return last.changes;
  });
  return { ...said, changes, applied: true };
}

async function needRoom({ storage }: House, bytes: number): Promise<void> {
  const room = await storage.room();
  if (bytes > room)
    throw new Refusal(
      413,
      `The recordings of this pack (${bytesInWords(bytes)}) do not fit on the disk: ${bytesInWords(room)} are free. ` +
        `Make room (Plan, Room on disk), then try again.`,
      'full',
    );
}

/** Lays the recordings of a pack into their place, each opened and held against its hash. Nothing refers to them yet. */
async function layIn({ storage }: House, pack: PackFile, plan: TakeInPlan): Promise<void> {
  for (const { path, sha256 } of plan.recordings) {
    const fresh = join(storage.uploads, `pack-${randomUUID()}`);
    try {
      await pack.extract(path, fresh);
      await frameTimes(fresh, await probeFile(fresh, path), path);
      const { hash } = await storage.keepCopy(fresh);
      if (hash !== sha256)
        throw new Refusal(
          422,
          `The recording "${path}" is not the one that was packed: its hash differs. Copy the pack again. Nothing was taken in.`,
          'invalid',
        );
    } catch (error) {
      if (error instanceof UnusableMedia) throw new Refusal(422, `${error.message} Nothing was taken in.`, 'invalid');
      throw error;
    } finally {
      await rm(fresh, { force: true });
    }
  }
}

/** Writes what a plan says, in an order in which each row comes after what it refers to. */
async function writeDown(db: PoolClient, { queue }: House, { shoot, write }: TakeInPlan): Promise<void> {
  if (shoot) await db.query(WRITE_SHOOT, [JSON.stringify([shoot])]);
  const circled = write.takes.filter((t) => t.circled);
  await db.query('UPDATE takes SET circled = false WHERE circled AND part_id = ANY($1::uuid[])', [
    circled.map((t) => t.part_id),
  ]);
  const rowsOf = (list: ListName) =>
    list === 'setups' ? write.setups.map((s) => ({ ...s, shoot_id: write.shoot.id })) : write[list];
  for (const list of LISTS)
    if (write[list].length) for (const text of WRITES[list]) await db.query(text, [JSON.stringify(rowsOf(list))]);
  await db.query(WRITE_MADE_OF, [JSON.stringify(write.takes)]);
  // What is circled is wanted first.
  const ids = [...circled, ...write.takes.filter((t) => !t.circled)].map((t) => t.id);
  // Whatever else was asked of them is asked for again once they are measured.
  for (const id of ids) await askFor(db, queue, { measure: TAKE, takes: [id], priority: PRIORITY.fresh });
}
