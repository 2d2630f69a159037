import { join } from 'node:path';
import { Pool } from 'pg';

/** Rows come with big integers as numbers: sizes stay far below 2^53. */
export function openPool(database: string): Pool {
  const pool = new Pool({ connectionString: database, max: 8 });
  // A dropped idle connection is replaced by the pool; without a listener it would end the process.
  pool.on('error', () => undefined);
  return pool;
}

/** Brings the tables up to date: plain SQL files in order, each in a transaction of its own. */
export async function migrate(database: string): Promise<void> {
  const { runner } = await import('node-pg-migrate');
  await runner({
    databaseUrl: database,
    dir: join(__dirname, 'sql', 'migrations'),
    direction: 'up',
    migrationsTable: 'migrations',
    singleTransaction: false,
    log: () => undefined,
  });
}
