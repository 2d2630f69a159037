import PgBoss from 'pg-boss';
import type { PairKey } from '../sql/queries/comparisons';

export const MEASURE = 'measure';
export const ROLL = 'roll';
export const COMPARE = 'compare';
export const PLATE = 'plate';
export const COVER = 'cover';
export const CUT = 'cut';
export const PROOF = 'proof';

export interface MeasureJob {
  takeId: string;
}
export interface RollJob {
  rollId: string;
}
export type CompareJob = PairKey;
export interface PlateJob {
  plateId: string;
}
export interface CoverJob {
  takeId: string;
}
export interface CutJob {
  outId: string;
  inId: string;
}
export interface ProofJob {
  proofId: string;
}

export const QUEUES = [MEASURE, ROLL, COMPARE, PLATE, COVER, CUT, PROOF];

/** The queue lives in the same PostgreSQL, so a worker on another machine needs nothing else. */
export async function openQueue(database: string, workers: boolean): Promise<PgBoss> {
  const boss = new PgBoss({ connectionString: database, max: 4, supervise: workers, schedule: false });
  boss.on('error', () => undefined);
  await boss.start();
  // Work is claimed in the tables themselves; the queue only wakes a worker, so that a job sent twice is done once.
  for (const name of QUEUES)
    await boss.createQueue(name, { name, retryLimit: 2, retryDelay: 2, expireInSeconds: 3600 });
  return boss;
}

export const sendMeasure = (boss: PgBoss, takeId: string) => boss.send(MEASURE, { takeId } satisfies MeasureJob);
export const sendRoll = (boss: PgBoss, rollId: string) => boss.send(ROLL, { rollId } satisfies RollJob);
export const sendCompare = (boss: PgBoss, pair: PairKey) =>
  boss.send(COMPARE, { takeId: pair.takeId, againstId: pair.againstId } satisfies CompareJob);
export const sendPlate = (boss: PgBoss, plateId: string) => boss.send(PLATE, { plateId } satisfies PlateJob);
export const sendCover = (boss: PgBoss, takeId: string) => boss.send(COVER, { takeId } satisfies CoverJob);
export const sendCut = (boss: PgBoss, [outId, inId]: [string, string]) =>
  boss.send(CUT, { outId, inId } satisfies CutJob);
export const sendProof = (boss: PgBoss, proofId: string) => boss.send(PROOF, { proofId } satisfies ProofJob);
