import pino from 'pino';
import { ALL_MEASURES } from '../../../core/measures';
import { startedFrom } from '../../../media/built';
import { makeApp } from '../../app';
import { Door } from '../../door/door';
import { ownNames } from '../../door/own-pages';
import { readConfig } from '../../platform/config';
import { migrate, openPool } from '../../platform/database';
import { listenTo } from '../../platform/ears';
import { SharedAnswers } from '../../platform/shared-answers';
import { Storage } from '../../platform/storage';
import { WorkQueue } from '../../work/queue';
import { startWorker } from '../../run-worker';
import { TINY } from './measure';

/** The server and its worker in one process, with one measure that the app does not have. */
async function run(): Promise<void> {
  const config = readConfig();
  // Every kind of requirement has its measure by now: this one stands in for another.
  const measures = [...ALL_MEASURES.filter((m) => m.key !== 'beats'), TINY];
  const log = pino({ level: 'silent' });
  await migrate(config.database);
  const storage = new Storage(config.data);
  await storage.prepare();
  const queue = await WorkQueue.open(config.database, 'server');
  const answers = new SharedAnswers();
  const deafen = await listenTo(config.database, ['umbrastat_change'], () => answers.changed());
  const house = { pool: openPool(config.database), queue, storage, log, measures, answers };
  const threads = {
    thread: startedFrom('server/testing/tiny/thread'),
    rolling: startedFrom('server/testing/kept-rolling'),
  };
  const stopWorker = await startWorker(config, { measures, log, ...threads });
  const front = { door: await Door.open(house.pool, storage), names: ownNames(config.host), web: null };
  makeApp(house, front).listen(config.port, config.host, () => process.stdout.write('ready\n'));
  process.on('SIGTERM', () => void Promise.all([stopWorker(), deafen()]).then(() => process.exit(0)));
}

void run();
