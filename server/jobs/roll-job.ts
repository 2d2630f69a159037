import { randomUUID } from 'node:crypto';
import { rm } from 'node:fs/promises';
import type { Pool } from 'pg';
import type { Logger } from 'pino';
import { recordTake } from '../../standin/record';
import type { CameraSettings } from '../../standin/settings';
import { claimRoll, failRoll, finishRoll, noteRoll, releaseRoll } from '../sql/queries/jobs';
import { insertTake } from '../sql/queries/takes';
import { inTransaction } from '../sql/transaction';
import type { Storage } from '../storage';
import { doClaimed } from './claimed';

/**
 * Records with the stand-in camera and takes the recording in; gives the new take's id, or null when another worker
 * has it. When `ending` is aborted the roll is given back for the next worker.
 */
export async function rollJob(
  pool: Pool,
  storage: Storage,
  log: Logger,
  rollId: string,
  ending: AbortSignal,
): Promise<string | null> {
  const claim = randomUUID();
  const roll = await claimRoll(pool, rollId, claim);
  if (!roll) return null;
  const settings = roll.settings as CameraSettings;
  const path = storage.rolling(rollId);
  let done = 0;
  const total = Math.round(settings.seconds * settings.fps);
  let takeId: string | null = null;
  await doClaimed(
    {
      note: () => noteRoll(pool, rollId, claim, done, total),
      release: () => releaseRoll(pool, rollId, claim),
      fail: (sentence) => failRoll(pool, rollId, claim, sentence),
      sorry: 'The stand-in camera stopped before the end. Nothing was kept; roll again.',
    },
    log,
    ending,
    async (signal) => {
      try {
        await noteRoll(pool, rollId, claim, 0, total);
        const truth = await recordTake(settings, path, {
          preview: storage.preview(rollId),
          signal,
          onProgress: (d) => {
            done = d;
          },
        });
        const { hash, bytes } = await storage.keep(path);
        await storage.keepTruth(hash, truth);
        takeId = await inTransaction(pool, async (db) => {
          const id = await insertTake(db, {
            partId: roll.part_id,
            hash,
            bytes,
            name: `${settings.scene}-${settings.seed}.mp4`,
            source: 'stand-in',
            meter: truth.faults.meter,
            uploadId: null,
            circled: roll.circle,
          });
          if (!(await finishRoll(db, rollId, claim, id))) throw new Error('The claim on this roll was lost.');
          return id;
        });
      } finally {
        await rm(path, { force: true });
        await rm(storage.preview(rollId), { force: true });
      }
    },
  );
  return takeId;
}
