import { join } from 'node:path';
import { Pool, types, type PoolClient } from 'pg';

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
    dir: join(__dirname, '..', 'migrations'),
    direction: 'up',
    count,
    migrationsTable: 'migrations',
    singleTransaction: false,
    log: () => undefined,
  });
}

/** Runs `work` in one transaction: all of it, or nothing. */
export async function inTransaction<T>(pool: Pool, work: (db: PoolClient) => Promise<T>): Promise<T> {
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
