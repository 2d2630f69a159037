import pino from 'pino';
import type { Job } from 'pg-boss';
import { readConfig } from './config';
import { openPool } from './database';
import { measureJob } from './jobs/measure-job';
import { compareJob } from './jobs/compare-job';
import { plateJob } from './jobs/plate-job';
import {
  COMPARE,
  COVER,
  CUT,
  MEASURE,
  openQueue,
  PLATE,
  PROOF,
  QUEUES,
  ROLL,
  sendCompare,
  sendCover,
  sendCut,
  sendMeasure,
  sendPlate,
  sendProof,
  sendRoll,
  type CompareJob,
  type CoverJob,
  type CutJob,
  type MeasureJob,
  type PlateJob,
  type ProofJob,
  type RollJob,
} from './jobs/queue';
import { rollJob } from './jobs/roll-job';
import { askComparison, listMissingPairs, listOrphanPairs } from './sql/queries/comparisons';
import { coverJob, cutJob, proofJob } from './jobs/wipe-jobs';
import { listOrphanWork } from './sql/queries/claims';
import { listOrphans } from './sql/queries/jobs';
import { listOrphanPlates } from './sql/queries/plates';
import { askCover, askCut, listMissingCovers, listMissingCuts } from './sql/queries/wipes';
import { Storage } from './storage';

/** How often work left behind by a dead worker is looked for, in milliseconds. */
const SWEEP_MS = 5000;
const PAIRS_AT_ONCE = 40;

/** The process that measures and records, apart from the one that answers requests. */
async function run(): Promise<void> {
  const config = readConfig();
  const log = pino({ name: 'worker', level: process.env.LOG_LEVEL ?? 'warn' });
  const pool = openPool(config.database);
  const storage = new Storage(config.data);
  await storage.prepare();
  const boss = await openQueue(config.database, true);
  const ending = new AbortController();
  const underWay = new Set<Promise<unknown>>();
  const track = <T>(work: Promise<T>): Promise<T> => {
    underWay.add(work);
    return work.finally(() => underWay.delete(work));
  };
  const options = { pollingIntervalSeconds: 0.5, batchSize: 1 };
  const askPending = async () => {
    for (const pair of await listMissingPairs(pool, PAIRS_AT_ONCE))
      if (await askComparison(pool, pair)) await sendCompare(boss, pair);
    for (const id of await listMissingCovers(pool, PAIRS_AT_ONCE))
      if (await askCover(pool, id)) await sendCover(boss, id);
    for (const [out, into] of await listMissingCuts(pool, PAIRS_AT_ONCE))
      if (await askCut(pool, out, into)) await sendCut(boss, [out, into]);
  };
  const wipes = { pool, storage, log, ending: ending.signal };
  await boss.work<MeasureJob>(MEASURE, options, async ([job]: Job<MeasureJob>[]) => {
    await track(measureJob(pool, storage, log, job.data.takeId, ending.signal));
    await askPending();
  });
  await boss.work<CompareJob>(COMPARE, options, async ([job]: Job<CompareJob>[]) =>
    track(compareJob(pool, storage, log, job.data, ending.signal)),
  );
  await boss.work<PlateJob>(PLATE, options, async ([job]: Job<PlateJob>[]) =>
    track(plateJob(pool, storage, log, job.data.plateId, ending.signal)),
  );
  await boss.work<CoverJob>(COVER, options, async ([job]: Job<CoverJob>[]) => {
    await track(coverJob(wipes, job.data.takeId));
    await askPending();
  });
  await boss.work<CutJob>(CUT, options, async ([job]: Job<CutJob>[]) =>
    track(cutJob(wipes, [job.data.outId, job.data.inId])),
  );
  await boss.work<ProofJob>(PROOF, options, async ([job]: Job<ProofJob>[]) => track(proofJob(wipes, job.data.proofId)));
  await boss.work<RollJob>(ROLL, options, async ([job]: Job<RollJob>[]) => {
    const takeId = await track(rollJob(pool, storage, log, job.data.rollId, ending.signal));
    if (takeId) await sendMeasure(boss, takeId);
  });

  const sweep = async () => {
    await askPending();
    const waiting = await Promise.all(QUEUES.map((name) => boss.getQueueSize(name)));
    if (waiting.some((n) => n > 0)) return;
    const { takes, rolls } = await listOrphans(pool);
    for (const pair of await listOrphanPairs(pool)) await sendCompare(boss, pair);
    for (const id of await listOrphanPlates(pool)) await sendPlate(boss, id);
    for (const [id] of await listOrphanWork(pool, 'covers')) await sendCover(boss, id);
    for (const [out, into] of await listOrphanWork(pool, 'cuts')) await sendCut(boss, [out, into]);
    for (const [id] of await listOrphanWork(pool, 'proofs')) await sendProof(boss, id);
    for (const id of takes) await sendMeasure(boss, id);
    for (const id of rolls) await sendRoll(boss, id);
  };
  const timer = setInterval(() => {
    sweep().catch((err) => log.warn({ err }, 'sweep failed'));
  }, SWEEP_MS);
  await sweep();
  // Nobody listens any more when the server was stopped at once.
  if (process.connected) process.send?.('ready', () => undefined);

  let stopping = false;
  const stop = async () => {
    if (stopping) return;
    stopping = true;
    clearInterval(timer);
    ending.abort();
    await Promise.race([
      Promise.allSettled([...underWay]),
      new Promise((r) => {
        setTimeout(r, 3000);
      }),
    ]);
    await boss.stop({ graceful: false, wait: false }).catch(() => undefined);
    process.exit(0);
  };
  process.on('SIGTERM', stop);
  process.on('SIGINT', stop);
  // Without the server there is nobody to work for.
  process.on('disconnect', stop);
}

run().catch((error) => {
  process.stderr.write(`The worker stopped: ${(error as Error).message}\n`);
  process.exit(1);
});
