import { rm } from 'node:fs/promises';
import { isFull } from '../../media/errors';
import type { RollingAnswer } from '../../standin/rolling-thread';
import type { House } from '../platform/house';
import { insertMark } from '../takes/marks';
import { insertTake } from '../takes/takes';
import type { Worker } from '../work/runner';
import { ROLLING_THREAD, type Threads } from '../work/threads';
import { endRoll, failRoll, findRoll } from './rolls';

const FULL = 'The disk is full, so nothing was recorded. Make room (Plan, Room on disk), then roll again.';

/** Records with the stand-in camera in a thread, and takes the recording in. */
export function rollWork(
  { pool, storage, queue }: House,
  threads: Threads,
  ended: () => void,
  thread = ROLLING_THREAD,
): Worker {
  return {
    table: 'rolls',
    ended,
    giveUp: (about) => (db) =>
      failRoll(db, about, 'The stand-in camera stopped before the end. Nothing was kept; roll again.'),
    async work(about, signal, say) {
      const roll = await findRoll(pool, about);
      if (!roll || roll.take_id) return async () => undefined;
      const { settings } = roll;
      const path = storage.rolling(about);
      const preview = storage.preview(about);
      try {
        const rolled = await threads.run<RollingAnswer>(thread, { settings, path, preview }, signal, say);
        if (rolled === 'full') return (db) => failRoll(db, about, FULL);
        const { truth } = rolled;
        const { hash, bytes } = await storage.keep(path);
        await storage.keepTruth(hash, truth);
        return async (db) => {
          const name = `${settings.scene}-${settings.seed}.mp4`;
          const { meter } = truth.faults;
          const take = { partId: roll.part_id, hash, bytes, name, source: 'stand-in' as const, meter };
          const takeId = await insertTake(db, queue, { ...take, uploadId: null, circled: roll.circle });
          for (const mark of settings.marks ?? []) await insertMark(db, takeId, { ...mark, kind: 'own', found: null });
          await endRoll(db, about, takeId);
        };
      } catch (error) {
        if (isFull(error)) return (db) => failRoll(db, about, FULL);
        throw error;
      } finally {
        await rm(path, { force: true });
        await rm(preview, { force: true });
      }
    },
  };
}
