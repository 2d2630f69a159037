import type { Pool, PoolClient } from 'pg';
import type { Logger } from 'pino';
import { inTransaction } from '../platform/database';
import { setJob } from './measures';
import { MOST_TRIES, PRIORITY, type Job, type JobKind, type JobTable, type JobWord, type WorkQueue } from './queue';

/** What ends a job: it is carried out in the transaction that takes the job off the queue. */
export type Ending = (db: PoolClient) => Promise<void>;

/** Does one kind of job. */
export interface Worker {
  /** The table of the rows it is about. */
  table: JobTable;
  /** Does the work and gives how it ends. Throws what another try may mend. */
  work: (about: string, signal: AbortSignal, say: (word: JobWord) => void) => Promise<Ending>;
  /** How it ends when every try failed. */
  giveUp: (about: string) => Ending;
  /** Called when it has ended, whatever came of it. */
  ended?: () => void;
}

const BEAT_MS = 1000;
/** How often jobs are looked for that nobody announced: those to be tried again, and those of silent workers. */
const LOOK_MS = 2000;

/** Takes jobs of one kind off the queue, so many at a time, and holds each while it is worked on. */
export class Runner {
  private readonly ending = new AbortController();
  private readonly underWay = new Set<Promise<void>>();
  private timer: NodeJS.Timeout | undefined;
  private looking = false;
  private again = false;

  constructor(
    private readonly pool: Pool,
    private readonly queue: WorkQueue,
    private readonly log: Logger,
    private readonly kind: JobKind,
    private readonly worker: Worker,
    private readonly atOnce: number,
    /** So many more at a time of what somebody waits for: long work does not hold it up. */
    private readonly besides = 0,
  ) {}

  start(): void {
    this.timer = setInterval(() => {
      this.queue.expire().catch((err: unknown) => this.log.warn({ err }, 'silent workers could not be looked for'));
      this.look();
    }, LOOK_MS);
    this.look();
  }

  /** Looks for jobs now. */
  look(): void {
    this.again = true;
    if (this.looking) return;
    this.looking = true;
    this.takeAll()
      .catch((err: unknown) => this.log.warn({ err }, 'no work could be taken'))
      .finally(() => {
        this.looking = false;
      });
  }

  private async takeAll(): Promise<void> {
    while (this.again && !this.ending.signal.aborted) {
      this.again = false;
      while ((await this.mayTake()) && !this.ending.signal.aborted) {
        const job = await this.queue.take(this.pool, this.kind);
        if (!job) break;
        const work = this.hold(job).finally(() => {
          this.underWay.delete(work);
          this.look();
        });
        this.underWay.add(work);
      }
    }
  }

  private async mayTake(): Promise<boolean> {
    const { size } = this.underWay;
    if (size < this.atOnce) return true;
    return size < this.atOnce + this.besides && this.queue.waits(this.pool, this.kind, PRIORITY.screen);
  }

  /** Works on a job, saying that it goes on; drops it when it was given to another, gives it back when this process ends. */
  private async hold(job: Job): Promise<void> {
    const { worker } = this;
    const lost = new AbortController();
    let word: JobWord = { done: 0, total: 0, doing: '' };
    const beat = setInterval(() => {
      this.queue.beat(this.pool, job, word).then(
        (mine) => (mine ? undefined : lost.abort(new Error('The job was given to another worker.'))),
        () => undefined,
      );
    }, BEAT_MS);
    try {
      const end = await worker.work(job.about, AbortSignal.any([lost.signal, this.ending.signal]), (said) => {
        word = said;
      });
      await this.finish(job, end);
    } catch (error) {
      if (lost.signal.aborted) return;
      if (this.ending.signal.aborted) await this.giveBack(job);
      else await this.failed(job, error);
    } finally {
      clearInterval(beat);
      worker.ended?.();
    }
  }

  private finish(job: Job, end: Ending): Promise<void> {
    return inTransaction(this.pool, async (db) => {
      // What is finished late, after another took it over, is dropped.
      if (await this.queue.finish(db, job)) await end(db);
    });
  }

  private async failed(job: Job, error: unknown): Promise<void> {
    this.log.error({ err: error, job }, 'a try at a job failed');
    if (job.tries >= MOST_TRIES) await this.finish(job, this.worker.giveUp(job.about));
    else await inTransaction(this.pool, (db) => this.queue.fail(db, job, String(error)));
  }

  private giveBack(job: Job): Promise<void> {
    return inTransaction(this.pool, async (db) => {
      const id = await this.queue.giveBack(db, job, PRIORITY.fresh);
      if (id) await setJob(db, this.worker.table, job.about, id);
    });
  }

  /** Gives back what is under way; ends when all of it has stopped, or after so many milliseconds. */
  async stop(patienceMs: number): Promise<void> {
    clearInterval(this.timer);
    this.ending.abort(new Error('The app is stopping.'));
    const patience = new Promise((resolve) => {
      setTimeout(resolve, patienceMs).unref();
    });
    await Promise.race([Promise.allSettled(this.underWay), patience]);
  }
}
