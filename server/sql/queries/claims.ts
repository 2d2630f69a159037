import type { Pool, PoolClient } from 'pg';
import { SILENT } from './jobs';

type Db = Pool | PoolClient;

/** State of work that is asked for in a table, done by a worker and kept there. */
export interface WorkRow {
  state: 'waiting' | 'working' | 'done' | 'failed';
  frames_done: number;
  frames_total: number;
  failure: string | null;
}

export const WORK = 'state, frames_done, frames_total, failure';

/** Tables whose rows are work: with state, claim, heard_at, frames_done, frames_total, failure and result. */
type WorkTable = 'covers' | 'cuts' | 'proofs';
const KEYS: Record<WorkTable, string[]> = { covers: ['take_id'], cuts: ['out_id', 'in_id'], proofs: ['id'] };

/** One row of work, held by a claim. */
export class Claim {
  private readonly where: string;
  private readonly values: string[];

  constructor(
    private readonly db: Db,
    private readonly table: WorkTable,
    key: string[],
    claim: string,
  ) {
    this.where = [
      ...KEYS[table].map((name, i) => `${name} = $${i + 1}`),
      `claim = $${key.length + 1}`,
      "state = 'working'",
    ].join(' AND ');
    this.values = [...key, claim];
  }

  private async set(what: string, more: unknown[] = []): Promise<boolean> {
    const { rowCount } = await this.db.query(
      `UPDATE ${this.table} SET ${what.replace(/\?(\d)/g, (_, n: string) => `$${this.values.length + Number(n)}`)} WHERE ${this.where}`,
      [...this.values, ...more],
    );
    return rowCount === 1;
  }

  /** False when the claim was lost. */
  note(done: number, total: number): Promise<boolean> {
    return this.set('heard_at = now(), frames_done = ?1, frames_total = ?2', [done, total]);
  }

  finish(result: unknown): Promise<boolean> {
    return this.set("state = 'done', result = ?1", [JSON.stringify(result)]);
  }

  async fail(failure: string): Promise<void> {
    await this.set("state = 'failed', failure = ?1", [failure]);
  }

  /** Gives it back unfinished, for the next worker. */
  async release(): Promise<void> {
    await this.set("state = 'waiting', claim = NULL");
  }
}

/** Takes work over; null when somebody else has it or it is done. */
export async function claimWork<T>(
  db: Db,
  table: WorkTable,
  key: string[],
  claim: string,
  columns: string,
): Promise<{ row: T; claim: Claim } | null> {
  const { rows } = await db.query(
    `
    UPDATE ${table} SET state = 'working', claim = $${key.length + 1}, heard_at = now(), frames_done = 0, frames_total = 0
    WHERE ${KEYS[table].map((name, i) => `${name} = $${i + 1}`).join(' AND ')} AND (state = 'waiting'
      OR (state = 'working' AND heard_at < now() - ${SILENT}))
    RETURNING ${columns}`,
    [...key, claim],
  );
  return rows[0] ? { row: rows[0], claim: new Claim(db, table, key, claim) } : null;
}

/** Keys of work that waits, or whose worker fell silent, the oldest first. */
export async function listOrphanWork(db: Db, table: WorkTable): Promise<string[][]> {
  const names = KEYS[table];
  const { rows } = await db.query(
    `SELECT ${names.join(', ')} FROM ${table} WHERE state = 'waiting' OR (state = 'working' AND heard_at < ` +
      `now() - ${SILENT}) ORDER BY asked_at LIMIT 40`,
  );
  return rows.map((r: Record<string, string>) => names.map((n) => r[n]));
}
