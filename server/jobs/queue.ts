import PgBoss from 'pg-boss';
import type { PairKey } from '../sql/queries/comparisons';

export const MEASURE = 'measure';
export const ROLL = 'roll';
export const COMPARE = 'compare';
export const PLATE = 'plate';

export interface MeasureJob { takeId: string }
export interface RollJob { rollId: string }
export type CompareJob = PairKey;
export interface PlateJob { plateId: string }

/** The queue lives in the same PostgreSQL, so a worker on another machine needs nothing else. */
export async function openQueue(database: string, workers: boolean): Promise<PgBoss> {
  const boss = new PgBoss({ connectionString: database, max: 4, supervise: workers, schedule: false });
  boss.on('error', () => undefined);
  await boss.start();
  // Work is claimed in the tables themselves; the queue only wakes a worker, so that a job sent twice is done once.
  for (const name of [MEASURE, ROLL, COMPARE, PLATE]) await boss.createQueue(name, { name, retryLimit: 2, retryDelay: 2, expireInSeconds: 3600 });
  return boss;
}

export const sendMeasure = (boss: PgBoss, takeId: string) => boss.send(MEASURE, { takeId } satisfies MeasureJob);
export const sendRoll = (boss: PgBoss, rollId: string) => boss.send(ROLL, { rollId } satisfies RollJob);
export const sendCompare = (boss: PgBoss, pair: PairKey) => boss.send(COMPARE, { takeId: pair.takeId, againstId: pair.againstId } satisfies CompareJob);
export const sendPlate = (boss: PgBoss, plateId: string) => boss.send(PLATE, { plateId } satisfies PlateJob);
