import { randomUUID } from 'node:crypto';
import type { Pool } from 'pg';
import type { Logger } from 'pino';
import { comparePlate } from '../../media/compare-takes';
import {
  claimComparison,
  failComparison,
  finishComparison,
  noteComparison,
  releaseComparison,
  type PairKey,
} from '../sql/queries/comparisons';
import type { Storage } from '../storage';
import { doClaimed } from './claimed';
import { keptTake } from './kept-take';

/** Holds one take against another. Does nothing when another worker has it. */
export async function compareJob(
  pool: Pool,
  storage: Storage,
  log: Logger,
  pair: PairKey,
  ending: AbortSignal,
): Promise<void> {
  const claim = randomUUID();
  const both = await claimComparison(pool, pair, claim);
  if (!both) return;
  await doClaimed(
    {
      note: () => noteComparison(pool, pair, claim),
      release: () => releaseComparison(pool, pair, claim),
      fail: (sentence) => failComparison(pool, pair, claim, sentence),
      sorry: 'comparing broke off for a reason inside the app.',
    },
    log,
    ending,
    async (signal) => {
      const take = await keptTake(storage, both.take, signal),
        against = await keptTake(storage, both.against, signal);
      await finishComparison(pool, pair, claim, await comparePlate(take, against, { signal }));
    },
  );
}
