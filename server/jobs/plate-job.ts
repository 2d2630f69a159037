import { randomUUID } from 'node:crypto';
import { rm } from 'node:fs/promises';
import type { Pool } from 'pg';
import type { Logger } from 'pino';
import { comparePlate } from '../../media/compare-takes';
import { UnusableMedia } from '../../media/errors';
import { plateFromRun, stitchPlate } from '../../media/plate';
import { writeJpeg, writePng } from '../../media/still-out';
import { findTake } from '../sql/queries/takes';
import { claimPlate, failPlate, finishPlate, notePlate, releasePlate } from '../sql/queries/plates';
import type { Storage } from '../storage';
import { doClaimed } from './claimed';
import { keptTake } from './kept-take';
import { PROXY_WIDTH } from './measure-job';

/** Makes a plate from a take and holds it against the wished one. Does nothing when another worker has it. */
export async function plateJob(
  pool: Pool,
  storage: Storage,
  log: Logger,
  plateId: string,
  ending: AbortSignal,
): Promise<void> {
  const claim = randomUUID();
  const plate = await claimPlate(pool, plateId, claim);
  if (!plate) return;
  let doing = 'looking at the take';
  const path = storage.plate(plateId);
  await doClaimed(
    {
      note: () => notePlate(pool, plateId, claim, doing),
      release: () => releasePlate(pool, plateId, claim),
      fail: (sentence) => failPlate(pool, plateId, claim, sentence),
      sorry: 'Making the plate broke off for a reason inside the app. The takes are kept; make it again.',
    },
    log,
    ending,
    async (signal) => {
      const rows = await Promise.all([findTake(pool, plate.take_id), findTake(pool, plate.against_id)]);
      if (!rows[0] || !rows[1]) throw new UnusableMedia('The take it was to be made from is gone.', 'missing');
      const from = await keptTake(storage, rows[0], signal);
      const against = plate.against_id === plate.take_id ? from : await keptTake(storage, rows[1], signal);
      const options = {
        keepGrain: plate.keep_grain,
        signal,
        onProgress: (what: string) => {
          doing = what;
        },
      };
      const made =
        plate.run_start !== null && plate.run_end !== null
          ? await plateFromRun(from, { start: plate.run_start, end: plate.run_end }, options)
          : await stitchPlate(from, options);
      if (!made)
        throw new UnusableMedia(
          `Nothing is known of who stands where in "${rows[0].name}", so no plate can be stitched from it. Roll a plate.`,
          'no-plate',
        );
      doing = 'writing the picture';
      const fresh = `${path}.${claim}.png`,
        small = `${path}.${claim}.jpg`;
      try {
        await writePng(made.picture, fresh);
        await writeJpeg(made.picture, small, PROXY_WIDTH);
        doing = 'holding it against the take';
        const comparison = await comparePlate(against, { path: fresh, name: 'plate' }, { signal });
        await storage.keepPlate(plateId, fresh, small);
        await finishPlate(pool, plateId, claim, {
          source: made.source,
          comparison,
          width: made.picture.width,
          height: made.picture.height,
          bitDepth: made.picture.most === 255 ? 8 : 16,
        });
      } finally {
        await rm(fresh, { force: true });
        await rm(small, { force: true });
      }
    },
  );
}
