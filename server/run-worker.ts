import { randomUUID } from 'node:crypto';
import { constants, setPriority } from 'node:os';
import pino from 'pino';
import { ALL_MEASURES, type AnyMeasure } from '../core/measures';
import { LOG_LEVEL, readConfig, type Config } from './platform/config';
import { openPool } from './platform/database';
import { sweep, SWEEP_EVERY_MS } from './disk/sweep';
import { packWork } from './packs/pack-work';
import { listenTo } from './platform/ears';
import type { House } from './platform/house';
import { SharedAnswers } from './platform/shared-answers';
import { Storage } from './platform/storage';
import { rollWork } from './rolls/roll-work';
import { askAgainForOld, askMissing } from './work/asking';
import { measureWork } from './work/measure-work';
import { WorkQueue } from './work/queue';
import { Runner } from './work/runner';
import { AT_ONCE, Threads } from './work/threads';

/** What is missing is looked for at least so often, whether or not somebody told of a change. */
const SWEEP_MS = 60_000;
/** Changes that come close together are looked at once. */
const CALM_MS = 300;
const STOP_MS = 3000;
/** However it goes, this process is gone by then. */
const END_MS = 10_000;

export interface WorkerOptions {
  measures?: readonly AnyMeasure[];
  /** File of the measuring threads, which has a feed for every measure. */
  thread?: string;
  /** File of the threads that record with the stand-in camera. */
  rolling?: string;
  log?: pino.Logger;
}

/** Starts what measures and records; gives a function that stops it in order. */
export async function startWorker(config: Config, options: WorkerOptions = {}): Promise<() => Promise<void>> {
  const log = options.log ?? pino({ name: 'worker', level: LOG_LEVEL });
  const pool = openPool(config.database);
  const storage = new Storage(config.data);
  await storage.prepare();
  const queue = await WorkQueue.open(config.database, randomUUID());
  const house: House = {
    pool,
    queue,
    storage,
    log,
    measures: options.measures ?? ALL_MEASURES,
    answers: new SharedAnswers(),
  };
  const threads = new Threads();

  let stopped = false;
  let calm: NodeJS.Timeout | undefined;
  let asking: Promise<void> = Promise.resolve();
  const ask = async () => {
    if (stopped) return;
    try {
      await askAgainForOld(house, await askMissing(house));
    } catch (err) {
      log.warn({ err }, 'what is missing could not be asked for');
    }
  };
  const askSoon = () => {
    calm ??= setTimeout(() => {
      calm = undefined;
      asking = asking.then(ask);
    }, CALM_MS);
  };
  const measuring = measureWork(house, threads, askSoon, options.thread);
  const runners = [
    new Runner(pool, queue, log, 'measure', measuring, AT_ONCE, 1),
    // One camera: it rolls one take after the other.
    new Runner(pool, queue, log, 'roll', rollWork(house, threads, askSoon, options.rolling), 1),
    new Runner(pool, queue, log, 'pack', packWork(house, threads), 1),
  ];

  const deafen = await listenTo(config.database, ['umbrastat_work', 'umbrastat_plan'], (channel) => {
    if (channel !== 'umbrastat_plan') for (const runner of runners) runner.look();
    if (channel !== 'umbrastat_work') askSoon();
  });
  await ask();
  for (const runner of runners) runner.start();
  const sweeping = setInterval(askSoon, SWEEP_MS);
  const tidy = () => {
    sweep(house).then(
      (swept) => log.info({ swept }, 'what nobody asks for any more was removed'),
      (err: unknown) => log.warn({ err }, 'the disk could not be swept'),
    );
  };
  tidy();
  const tidying = setInterval(tidy, SWEEP_EVERY_MS);

  return async () => {
    if (stopped) return;
    stopped = true;
    clearInterval(sweeping);
    clearInterval(tidying);
    clearTimeout(calm);
    await Promise.all(runners.map((r) => r.stop(STOP_MS)));
    await asking;
    await deafen();
    await queue.close();
    await threads.close();
    await pool.end().catch(() => undefined);
  };
}

/** The process that measures and records, apart from the one that answers requests. */
export async function runWorker(options: WorkerOptions = {}): Promise<void> {
  // Whoever reads goes before what is measured; what this process starts is as patient as itself.
  setPriority(constants.priority.PRIORITY_BELOW_NORMAL);
  // It may be told to stop, or lose its server, while it still starts.
  const starting = startWorker(readConfig(), options);
  const end = () => {
    setTimeout(() => process.exit(1), END_MS).unref();
    void starting.then((stop) => stop()).finally(() => process.exit(0));
  };
  process.on('SIGTERM', end);
  process.on('SIGINT', end);
  // Without the server there is nobody to work for.
  process.on('disconnect', end);
  if (process.send && !process.connected) end();
  await starting;
  // Nobody listens any more when the server was stopped at once.
  if (process.connected) process.send?.('ready', () => undefined);
}
