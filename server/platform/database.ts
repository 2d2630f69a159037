import { join } from 'node:path';
import { setTimeout } from 'node:timers/promises';
import { Pool, types, type PoolClient } from 'pg';
import { ROOT } from '../../media/built';

/** Where a statement runs: by itself, or inside a transaction. */
export type Db = Pool | PoolClient;

// Moments travel as ISO text from the table to the screen.
const TIMESTAMPTZ = 1184;
types.setTypeParser(TIMESTAMPTZ, (text) => new Date(text).toISOString());

export function openPool(database: string): Pool {
  const pool = new Pool({ connectionString: database, max: 8 });
  // A dropped idle connection is replaced by the pool; without a listener it would end the process.
  pool.on('error', () => undefined);
  return pool;
}

/** Brings the tables up to date: plain SQL files in order, each in a transaction of its own; at most so many of them. */
export async function migrate(database: string, count = Infinity): Promise<void> {
  const { runner } = await import('node-pg-migrate');
  await runner({
    databaseUrl: database,
    dir: join(ROOT, 'server', 'migrations'),
    direction: 'up',
    count,
    migrationsTable: 'migrations',
    singleTransaction: false,
    log: () => undefined,
  });
}

/** What PostgreSQL asks to be tried again: two that waited for each other, or saw each other's rows change. */
const AGAIN = ['40P01', '40001'];
const MOST_TRIES = 6;
const PAUSE_MS = 20;

/**
 * Runs `work` in one transaction: all of it, or nothing; again when the database asks for that, so it must do nothing
 * outside that may not be done twice.
 */
export async function inTransaction<T>(pool: Pool, work: (db: PoolClient) => Promise<T>): Promise<T> {
  for (let tries = 1; ; tries++) {
    try {
      return await once(pool, work);
    } catch (error) {
      if (tries >= MOST_TRIES || !AGAIN.includes((error as { code?: string }).code ?? '')) throw error;
      await setTimeout(PAUSE_MS * tries * (0.5 + Math.random()));
    }
  }
}

async function once<T>(pool: Pool, work: (db: PoolClient) => Promise<T>): Promise<T> {
  const db = await pool.connect();
  try {
    await db.query('BEGIN');
    const result = await work(db);
    await db.query('COMMIT');
    return result;
  } catch (error) {
    await db.query('ROLLBACK').catch(() => undefined);
    throw error;
  } finally {
    db.release();
  }
}
