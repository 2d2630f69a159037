import { mkdir, rename, rm } from 'node:fs/promises';
import { dirname } from 'node:path';
import type { TakeFacts } from '../../core/report/summaries';
import type { AnyMeasure } from '../../core/measures';
import type { FedTake } from '../../media/feeds/feed';
import { keptPath, sweepBeside, type Subject } from '../../media/store/kept-files';
import type { ThreadAnswer } from '../../media/feeds/measuring-thread';
import type { Db } from '../platform/database';
import { measureOf, type House } from '../platform/house';
import { findMeasure, findMeasureOf, keepFailure, keepResult, takesOf, wholeResult } from './measures';
import type { Worker } from './runner';
import { MEASURING_THREAD, type Threads } from './threads';

interface TakeRow {
  id: string;
  file_hash: string;
  name: string;
  delivery_width: number;
  delivery_height: number;
  delivery_fps: number;
}

const TAKES = `
  SELECT t.id, t.file_hash, t.name, s.delivery_width, s.delivery_height, s.delivery_fps
  FROM takes t JOIN parts p ON p.id = t.part_id JOIN setups u ON u.id = p.setup_id JOIN shoots s ON s.id = u.shoot_id
  WHERE t.id = ANY($1::uuid[])`;

/** Whole results of what a measure rests on, of one take. */
async function knownOf(db: Db, house: House, measure: AnyMeasure, takeId: string): Promise<Record<string, object>> {
  const known: Record<string, object> = {};
  for (const key of [...measure.needs, ...measure.uses]) {
    const other = measureOf(house, key);
    const row = other?.takes === 1 ? await findMeasureOf(db, other, [takeId]) : null;
    const result = row && (await wholeResult(db, row.id));
    if (result) known[key] = result;
  }
  return known;
}

/** Makes measures in threads and keeps what they find. @param thread the threads' file, which knows a feed for every measure */
export function measureWork(house: House, threads: Threads, ended: () => void, thread = MEASURING_THREAD): Worker {
  const { pool, storage } = house;
  return {
    table: 'measures',
    ended,
    giveUp: (about) => async (db) => {
      const row = await findMeasure(db, about);
      if (row) await keepFailure(db, about, measureOf(house, row.measure)?.sorry ?? 'This is not measured any more.');
    },
    async work(about, signal, say) {
      const row = await findMeasure(pool, about);
      const measure = row && measureOf(house, row.measure);
      // It may be gone with its take, or be of a kind that this version does not know.
      if (!row || !measure) return async () => undefined;
      const ids = takesOf(row);
      const { rows } = await pool.query<TakeRow>(TAKES, [row.plate_id === null ? ids : [...ids, row.plate_id]]);
      const fed = async (id: string): Promise<FedTake> => {
        const take = rows.find((r) => r.id === id)!;
        const known = await knownOf(pool, house, measure, id);
        const path = storage.file(take.file_hash);
        const facts = (known.take as TakeFacts | undefined) ?? null;
        return { id, path, hash: take.file_hash, name: take.name, facts, known };
      };
      const takes: FedTake[] = [];
      for (const id of ids) takes.push(await fed(id));
      // A plate by itself is nobody's background.
      const plateId = row.plate_id !== null && !ids.includes(row.plate_id) ? row.plate_id : null;
      const plate = plateId && rows.some((r) => r.id === plateId) ? await fed(plateId) : null;
      const first = rows.find((r) => r.id === ids[0])!;
      const delivery = { width: first.delivery_width, height: first.delivery_height, fps: first.delivery_fps };
      const subject: Subject = { recording: takes[0].hash, take: takes[0].id, itself: row.id };
      const path = (name: string) => keptPath(storage.root, measure.files, subject, name);
      const files = path('').slice(0, -1);
      await mkdir(dirname(files), { recursive: true });
      await sweepBeside(files);
      const task = { takes, plate, wish: row.wish, delivery, root: storage.root, id: row.id };
      const answer = await threads.run<ThreadAnswer>(thread, { key: measure.key, task, files }, signal, say);
      if ('refused' in answer) return (db) => keepFailure(db, about, answer.refused.message);
      if (signal.aborted) {
        await Promise.all(answer.files.map((f) => rm(f.fresh, { force: true })));
        signal.throwIfAborted();
      }
      const moved = new Set<string>();
      return async (db) => {
        for (const { name, fresh } of answer.files) {
          await rename(fresh, path(name)).catch((error: NodeJS.ErrnoException) => {
            // The transaction is tried again, and it lies in its place already.
            if (error.code !== 'ENOENT' || !moved.has(fresh)) throw error;
          });
          moved.add(fresh);
        }
        await keepResult(db, about, measure, answer.result);
      };
    },
  };
}
