import { fork, type ChildProcess } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import pino from 'pino';
import { ALL_MEASURES } from '../core/measures';
import { startedFrom, STARTED_WITH } from '../media/built';
import { makeApp } from './app';
import { LOG_LEVEL, readConfig } from './platform/config';
import { migrate, openPool } from './platform/database';
import { makeDemoShoot } from './demo/demo';
import { Door } from './door/door';
import { isLoopback, ownNames } from './door/own-pages';
import { addressOf, welcome } from './door/welcome';
import { listenTo } from './platform/ears';
import { SharedAnswers } from './platform/shared-answers';
import { WorkQueue } from './work/queue';
import { Storage } from './platform/storage';

/** Starts the server and its worker; stops both in order. @param workerFile what the worker is started from */
export async function serve(workerFile = startedFrom('server/worker')): Promise<void> {
  const config = readConfig();
  const log = pino({ name: 'server', level: LOG_LEVEL });
  const storage = new Storage(config.data);
  await storage.prepare();
  await migrate(config.database);
  const pool = openPool(config.database);
  const queue = await WorkQueue.open(config.database, 'server');
  if (process.env.UMBRASTAT_DEMO !== 'no') await makeDemoShoot(pool);

  let worker: ChildProcess | null = null;
  let stopping = false;
  const startWorker = () => {
    worker = fork(workerFile, { execArgv: STARTED_WITH, env: process.env });
    worker.on('exit', (code) => {
      worker = null;
      if (stopping) return;
      log.warn({ code }, 'the worker ended; starting it again');
      setTimeout(startWorker, 1000);
    });
  };

  // A name besides this machine's own means that something passes requests on, and not all of that says so.
  const always = config.doorAlways || config.names.length > 0;
  const door = await Door.open(pool, storage, always);
  const isOpened = always || !isLoopback(config.host);
  const code = isOpened ? ((await door.makeCode(config.newCode)) ?? 'old') : null;
  const said = await welcome(config, code);
  const answers = new SharedAnswers();
  const deafen = await listenTo(config.database, ['umbrastat_change'], () => answers.changed());
  const house = { pool, queue, storage, log, measures: ALL_MEASURES, answers };
  const app = makeApp(house, { door, names: ownNames(config.host, config.names), web: config.web });
  const server = app.listen(config.port, config.host, (error?: Error) => {
    if (error) {
      process.stderr.write(`Port ${config.port} cannot be used (${error.message}). Give another: PORT=4190 ./start\n`);
      process.exit(1);
    }
    // Only who has the port has a worker.
    startWorker();
    writeFileSync(storage.address, `${addressOf(config)}\n`);
    process.stdout.write(said);
  });

  const stop = async () => {
    if (stopping) return;
    stopping = true;
    server.close();
    server.closeAllConnections();
    const child = worker;
    if (child) {
      await new Promise<void>((resolve) => {
        const hard = setTimeout(() => child.kill('SIGKILL'), 5000);
        child.once('exit', () => {
          clearTimeout(hard);
          resolve();
        });
        child.kill('SIGTERM');
      });
    }
    await deafen();
    await queue.close();
    await pool.end().catch(() => undefined);
    process.exit(0);
  };
  process.on('SIGINT', stop);
  process.on('SIGTERM', stop);
}
