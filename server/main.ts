import { fork, type ChildProcess } from 'node:child_process';
import { join } from 'node:path';
import pino from 'pino';
import { makeApp } from './app';
import { readConfig } from './config';
import { migrate, openPool } from './database';
import { makeDemoShoot } from './demo';
import { openQueue } from './jobs/queue';
import { Storage } from './storage';

/** Starts the server and its worker; stops both in order. */
async function run(): Promise<void> {
  const config = readConfig();
  const log = pino({ name: 'server', level: process.env.LOG_LEVEL ?? 'warn' });
  const storage = new Storage(config.data);
  await storage.prepare();
  await migrate(config.database);
  const pool = openPool(config.database);
  const boss = await openQueue(config.database, false);
  if (process.env.UMBRASTAT_DEMO !== 'no') await makeDemoShoot(pool);

  let worker: ChildProcess | null = null;
  let stopping = false;
  const startWorker = () => {
    worker = fork(join(__dirname, 'worker.ts'), { execArgv: ['--require', 'tsx/cjs'], env: process.env });
    worker.on('exit', (code) => {
      worker = null;
      if (stopping) return;
      log.warn({ code }, 'the worker ended; starting it again');
      setTimeout(startWorker, 1000);
    });
  };
  startWorker();

  const app = makeApp(pool, storage, boss, log, config.web);
  const server = app.listen(config.port, config.host, (error?: Error) => {
    if (error) {
      process.stderr.write(`Port ${config.port} cannot be used (${error.message}). Give another: PORT=4190 ./start\n`);
      process.exit(1);
    }
    process.stdout.write(`Umbrastat is ready: http://${config.host}:${config.port}\n`);
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
    await boss.stop({ graceful: false, wait: false }).catch(() => undefined);
    await pool.end().catch(() => undefined);
    process.exit(0);
  };
  process.on('SIGINT', stop);
  process.on('SIGTERM', stop);
}

run().catch((error) => {
  process.stderr.write(`Umbrastat could not start: ${(error as Error).message}\n`);
  process.exit(1);
});
