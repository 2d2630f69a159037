import { fork, type ChildProcess } from 'node:child_process';
import { createServer } from 'node:net';
import { join } from 'node:path';
import { Client } from 'pg';

/** A server under test: the real one, with its own database and data folder. */
export interface RunningServer {
  url: string;
  database: string;
  process: ChildProcess;
  stop: (signal?: NodeJS.Signals) => Promise<void>;
}

/** Makes an empty database in the cluster that ./test started; gives its address. */
export async function freshDatabase(): Promise<string> {
  const cluster = process.env.UMBRASTAT_TEST_CLUSTER;
  if (!cluster) throw new Error('UMBRASTAT_TEST_CLUSTER is not set. Run the tests with ./test.');
  const name = `test_${process.pid}_${Math.floor(Math.random() * 1e9)}`;
  const client = new Client({ connectionString: `${cluster}/postgres` });
  await client.connect();
  await client.query(`CREATE DATABASE ${name}`);
  await client.end();
  return `${cluster}/${name}`;
}

/** A port nobody listens on. */
export function freePort(): Promise<number> {
  return new Promise((resolve, reject) => {
    const probe = createServer();
    probe.on('error', reject);
    probe.listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as { port: number };
      probe.close(() => resolve(port));
    });
  });
}

/** Starts the server as ./start does and waits until it answers. */
export async function startServer(
  database: string,
  data: string,
  more: Record<string, string> = {},
): Promise<RunningServer> {
  const port = await freePort();
  const child = fork(join(__dirname, 'main.ts'), {
    execArgv: ['--require', 'tsx/cjs'],
    stdio: ['ignore', 'pipe', 'inherit', 'ipc'],
    env: {
      ...process.env,
      UMBRASTAT_DATABASE: database,
      UMBRASTAT_DATA: data,
      PORT: String(port),
      UMBRASTAT_DEMO: 'no',
      ...more,
    },
  });
  await new Promise<void>((resolve, reject) => {
    child.stdout!.on('data', (d: Buffer) => {
      if (d.toString().includes('ready')) resolve();
    });
    child.on('exit', (code) => reject(new Error(`The server ended with ${code}.`)));
  });
  const stop = (signal: NodeJS.Signals = 'SIGTERM') =>
    new Promise<void>((resolve) => {
      if (child.exitCode !== null || child.signalCode !== null) {
        resolve();
        return;
      }
      child.on('exit', () => resolve());
      child.kill(signal);
    });
  return { url: `http://127.0.0.1:${port}`, database, process: child, stop };
}

/** Asks a server as the app does: its status and its answer. */
// eslint-disable-next-line @typescript-eslint/no-explicit-any
export async function callServer<T = any>(
  url: string,
  method: string,
  path: string,
  body?: unknown,
): Promise<{ status: number; body: T }> {
  const r = await fetch(`${url}/api${path}`, {
    method,
    headers: body === undefined ? {} : { 'Content-Type': 'application/json' },
    body: body === undefined ? undefined : JSON.stringify(body),
  });
  return { status: r.status, body: (await r.json()) as T };
}

/** Asks until the answer pleases, or fails after `seconds`. */
export async function until<T>(ask: () => Promise<T>, pleases: (answer: T) => boolean, seconds: number): Promise<T> {
  const end = Date.now() + seconds * 1000;
  for (;;) {
    const answer = await ask();
    if (pleases(answer)) return answer;
    if (Date.now() > end) throw new Error(`Still not so after ${seconds} s: ${JSON.stringify(answer).slice(0, 300)}`);
    await new Promise((resolve) => {
      setTimeout(resolve, 200);
    });
  }
}
