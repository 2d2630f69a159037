import type { Pool } from 'pg';
import type { Logger } from 'pino';
import type { AnyMeasure } from '../../core/measures';
import type { WorkQueue } from '../work/queue';
import type { SharedAnswers } from './shared-answers';
import type { Storage } from './storage';

/** What every part of the server rests on. */
export interface House {
  pool: Pool;
  queue: WorkQueue;
  storage: Storage;
  log: Logger;
  /** Every measure that can be asked for. */
  measures: readonly AnyMeasure[];
  /** Answers that many readers share until something changes. */
  answers: SharedAnswers;
}

/** A measure by its key; undefined when there is none of that name. */
export function measureOf(house: Pick<House, 'measures'>, key: string): AnyMeasure | undefined {
  return house.measures.find((m) => m.key === key);
}
