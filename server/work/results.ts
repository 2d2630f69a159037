import { LRUCache } from 'lru-cache';
import type { Db } from '../platform/database';

interface Found {
  finished: number;
  result: object;
}

/**
 * Results that lists have read, by their measure. A result never changes; measuring again counts one up. What lists see
 * of one is some kilobytes.
 */
const kept = new LRUCache<string, Found>({ max: 5000 });

/**
 * What lists see of some measures that are done, by their ids. Only what is not known here yet is read: a board is asked
 * for every few seconds, and unpacking the results again was most of its time. Nobody may change what is given.
 */
export async function readResults(
  db: Db,
  done: readonly { id: string; finished: number }[],
): Promise<ReadonlyMap<string, object>> {
  const known = new Map<string, object>();
  const missing: string[] = [];
  for (const { id, finished } of done) {
    const found = kept.get(id);
    if (found?.finished === finished) known.set(id, found.result);
    else missing.push(id);
  }
  if (missing.length === 0) return known;
  const { rows } = await db.query<Found & { id: string }>(
    'SELECT id, finished, result FROM measures WHERE id = ANY($1::uuid[]) AND result IS NOT NULL',
    [missing],
  );
  for (const { id, finished, result } of rows) {
    kept.set(id, { finished, result });
    known.set(id, result);
  }
  return known;
}
