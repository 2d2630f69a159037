import { randomUUID } from 'node:crypto';
import { rename, rm } from 'node:fs/promises';
import type { Pool } from 'pg';
import type { Logger } from 'pino';
import { measureTake, type Outlines, type TakeAnalysis } from '../../media/measure-take';
import {
  claimMeasurement,
  failMeasurement,
  finishMeasurement,
  noteMeasurement,
  releaseMeasurement,
} from '../sql/queries/jobs';
import { indexProxy, type Storage } from '../storage';
import { doClaimed } from './claimed';

/** Width of the pictures for stepping through a take. */
export const PROXY_WIDTH = 960;

/**
 * Measures one take and makes its stepping pictures in the same decode. Does nothing when another worker has it.
 * When `ending` is aborted the work is given back for the next worker.
 */
export async function measureJob(
  pool: Pool,
  storage: Storage,
  log: Logger,
  takeId: string,
  ending: AbortSignal,
): Promise<void> {
  const claim = randomUUID();
  const work = await claimMeasurement(pool, takeId, claim);
  if (!work) return;
  await storage.sweepProxy(work.file_hash);
  const proxy = storage.proxy(work.file_hash);
  const fresh = `${proxy}.${claim}`;
  let done = 0;
  let total = 0;
  let outlines: Outlines | null = null;
  let analysis: TakeAnalysis | null = null;
  await doClaimed(
    {
      note: () => noteMeasurement(pool, takeId, claim, done, total),
      release: () => releaseMeasurement(pool, takeId, claim),
      fail: (sentence) => failMeasurement(pool, takeId, claim, sentence),
      sorry: 'Measuring broke off for a reason inside the app. The recording is kept; run it again.',
    },
    log,
    ending,
    async (signal) => {
      try {
        const report = await measureTake(storage.file(work.file_hash), {
          name: work.name,
          delivery: { width: work.delivery_width, height: work.delivery_height, fps: work.delivery_fps },
          proxy: { path: fresh, width: PROXY_WIDTH },
          signal,
          onAnalysis: (a) => {
            analysis = a;
          },
          onOutlines: (o) => {
            outlines = o;
          },
          onProgress: (d, t) => {
            done = d;
            total = t;
          },
        });
        await indexProxy(fresh);
        await rename(`${fresh}.index`, `${proxy}.index`);
        await rename(fresh, proxy);
        if (outlines) await storage.keepOutlines(work.file_hash, outlines);
        if (analysis) await storage.keepAnalysis(work.file_hash, analysis);
        await finishMeasurement(pool, takeId, claim, report);
      } finally {
        await rm(fresh, { force: true });
        await rm(`${fresh}.index`, { force: true });
      }
    },
  );
}
