import PgBoss from 'pg-boss';
import type { WorkState } from '../../core/judge/measure';
import type { Db } from '../platform/database';

/** What a job does: make a measure, roll the stand-in camera, or write a pack. Each kind has a queue of its own, of that name. */
export type JobKind = 'measure' | 'roll' | 'pack';
export const JOB_KINDS: readonly JobKind[] = ['measure', 'roll', 'pack'];
/** The tables of the rows that jobs are about. */
export type JobTable = 'measures' | 'rolls' | 'packs';

/** A job that this worker holds. `tries` counts the times it was taken, from 1. */
export interface Job {
  id: string;
  kind: JobKind;
  /** The row it is about. */
  about: string;
  tries: number;
}

/** How far a job is. */
export interface JobWord {
  done: number;
  total: number;
  doing: string;
}

/** Jobs with a higher number go first. */
export const PRIORITY = {
  /** Somebody waits for it on screen. */
  screen: 30,
  fresh: 20,
  standing: 10,
  planned: 5,
  /** Measured before, by an older version: the take a part stands on, and others. */
  againStanding: 1,
  again: 0,
} as const;

/** A job whose worker was not heard of for so long is given to another, seconds. Tests do not wait that long. */
const SILENT_S = Number((process.env as Record<string, string | undefined>).UMBRASTAT_SILENT_S ?? 15);
/** Work that kills its worker is tried so often. */
export const MOST_TRIES = 3;

// The queue's own statements know no heartbeat: these few speak to its table themselves.
const BEAT = `
  UPDATE pgboss.job SET expire_in = now() - started_on + interval '${SILENT_S} seconds', output = $5
  WHERE name = $1 AND id = $2 AND state = 'active' AND retry_count = $3 AND data->>'worker' = $4`;
const MINE = `
  UPDATE pgboss.job SET data = data || jsonb_build_object('worker', $3::text)
  WHERE name = $1 AND id = $2 AND state = 'active'`;
const HOLD = `
  SELECT 1 FROM pgboss.job
  WHERE name = $1 AND id = $2 AND state = 'active' AND retry_count = $3 AND data->>'worker' = $4 FOR UPDATE`;
const RAISE = `UPDATE pgboss.job SET priority = greatest(priority, $3) WHERE name = $1 AND id = $2 AND state < 'active'`;

const WAITS = `
  SELECT 1 FROM pgboss.job WHERE name = $1 AND state < 'active' AND start_after <= now() AND priority >= $2 LIMIT 1`;

/** The jobs of measures m, of rolls r, or of packs p, joined as j. */
export const JOB_OF = {
  m: "LEFT JOIN pgboss.job j ON j.name = 'measure' AND j.id = m.job_id",
  r: "LEFT JOIN pgboss.job j ON j.name = 'roll' AND j.id = r.job_id",
  p: "LEFT JOIN pgboss.job j ON j.name = 'pack' AND j.id = p.job_id",
};

const GAVE_UP = `It ended ${MOST_TRIES} times before it was done. Run it again; if that does not help, the file may be at fault.`;

/** The state of a row with outcome `done` (SQL) and a failure, from its job j. */
export const stateOf = (table: string, done: string) => `
  CASE WHEN ${done} THEN 'done' WHEN ${table}.failure IS NOT NULL OR j.state = 'failed' THEN 'failed'
       WHEN j.state = 'active' THEN 'working' ELSE 'waiting' END AS state,
  CASE WHEN ${done} THEN NULL ELSE coalesce(${table}.failure, CASE WHEN j.state = 'failed' THEN '${GAVE_UP}' END) END AS failure,
  CASE WHEN j.state = 'active' THEN coalesce((j.output->>'done')::int, 0) ELSE 0 END AS frames_done,
  CASE WHEN j.state = 'active' THEN coalesce((j.output->>'total')::int, 0) ELSE 0 END AS frames_total,
  CASE WHEN j.state = 'active' THEN coalesce(j.output->>'doing', '') ELSE '' END AS doing`;

/** Whether a row's job waits or is being worked on. */
export const JOB_LIVES = `j.state IN ('created', 'retry', 'active')`;

/** Work as screens see it. */
export interface WorkRow {
  state: WorkState;
  failure: string | null;
  frames_done: number;
  frames_total: number;
  doing: string;
}

/**
 * The work to be done, in the same database: more workers on more machines need no new part. It alone knows what waits
 * and who has what.
 */
export class WorkQueue {
  private constructor(
    private readonly boss: PgBoss,
    /** Names this process in the jobs it holds. */
    private readonly worker: string,
  ) {}

  static async open(database: string, worker: string): Promise<WorkQueue> {
    const boss = new PgBoss({ connectionString: database, max: 3, supervise: true, schedule: false });
    boss.on('error', () => undefined);
    await boss.start();
    const tries = { retryLimit: MOST_TRIES - 1, retryDelay: 1, expireInSeconds: SILENT_S };
    for (const name of JOB_KINDS) {
      // One camera: it rolls one take after the other.
      const policy = name === 'roll' ? 'singleton' : 'standard';
      await boss.createQueue(name, { name, policy, ...tries });
      await boss.updateQueue(name, { name, policy, ...tries });
    }
    return new WorkQueue(boss, worker);
  }

  /** Puts a job in line, as part of the caller's transaction; gives its id. */
  async send(db: Db, kind: JobKind, about: string, priority: number): Promise<string> {
    const id = await this.boss.send(kind, { about }, { priority, db: asSql(db) });
    if (!id) throw new Error(`The job "${kind}" was not taken by the queue.`);
    await db.query("SELECT pg_notify('umbrastat_work', '')");
    return id;
  }

  /** Has a waiting job go sooner. */
  async raise(db: Db, kind: JobKind, jobId: string, priority: number): Promise<void> {
    await db.query(RAISE, [kind, jobId, priority]);
  }

  /** Whether a job of at least this importance waits. */
  async waits(db: Db, kind: JobKind, priority: number): Promise<boolean> {
    const { rowCount } = await db.query(WAITS, [kind, priority]);
    return rowCount === 1;
  }

  /** Takes a job off the queue as part of the caller's transaction, waiting or worked on: whoever has it stops. */
  async callOff(db: Db, kind: JobKind, jobId: string): Promise<void> {
    await this.boss.cancel(kind, jobId, { db: asSql(db) });
  }

  /** Takes a job of a kind that waits, or an old one whose worker fell silent. Null when there is none. */
  async take(db: Db, kind: JobKind): Promise<Job | null> {
    const [job] = await this.boss.fetch<{ about: string }>(kind, { includeMetadata: true });
    if (!job) return null;
    await db.query(MINE, [kind, job.id, this.worker]);
    return { id: job.id, kind, about: job.data.about, tries: (job.retryCount ?? 0) + 1 };
  }

  /** What tells that this process holds a job, and in which try. */
  private claim(job: Job): unknown[] {
    return [job.kind, job.id, job.tries - 1, this.worker];
  }

  /** Says that a job goes on, and how far it is; false when it was given to another. */
  async beat(db: Db, job: Job, word: JobWord): Promise<boolean> {
    const { rowCount } = await db.query(BEAT, [...this.claim(job), JSON.stringify(word)]);
    return rowCount === 1;
  }

  /** Ends a job as part of the caller's transaction; false, and nothing done, when it was given to another. */
  async finish(db: Db, job: Job): Promise<boolean> {
    const { rowCount } = await db.query(HOLD, this.claim(job));
    if (rowCount !== 1) return false;
    await this.boss.complete(job.kind, job.id, {}, { db: asSql(db) });
    return true;
  }

  /** Ends a try without a result: the queue has it tried again, or fails it. */
  async fail(db: Db, job: Job, why: string): Promise<void> {
    const { rowCount } = await db.query(HOLD, this.claim(job));
    if (rowCount === 1) await this.boss.fail(job.kind, job.id, { why }, { db: asSql(db) });
  }

  /** Gives a job back unfinished, for the next worker, without counting the try. The row it is about must be given the new job's id. */
  async giveBack(db: Db, job: Job, priority: number): Promise<string | null> {
    const { rowCount } = await db.query(HOLD, this.claim(job));
    if (rowCount !== 1) return null;
    await this.boss.deleteJob(job.kind, job.id, { db: asSql(db) });
    return this.send(db, job.kind, job.about, priority);
  }

  /** Takes jobs back from workers that fell silent. */
  async expire(): Promise<void> {
    await this.boss.expire();
  }

  async close(): Promise<void> {
    await this.boss.stop({ graceful: false, wait: false }).catch(() => undefined);
  }
}

function asSql(db: Db): PgBoss.Db {
  return { executeSql: (text, values) => db.query(text, values) };
}
