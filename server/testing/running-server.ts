import { execFileSync, fork, type ChildProcess } from 'node:child_process';
import { createServer } from 'node:net';
import { join } from 'node:path';
import { Client } from 'pg';
import { ensureBundle, fileOf } from '../../scripts/bundle.cjs';
import type { SetupPage } from '../../api/boards';
import type { MeasureSent } from '../../api/measures';
import type { Planned, Setup, Shoot } from '../../api/plan';
import type { Roll } from '../../api/rolls';
import type { Take, TakePage } from '../../api/takes';

/** A server under test: the real one, with its own database and data folder. */
export interface RunningServer {
  url: string;
  database: string;
  process: ChildProcess;
  stop: (signal?: NodeJS.Signals) => Promise<void>;
}

/**
 * Makes a database in the cluster that ./test started, with all tables where it made one to copy, and gives its address.
 * @param bare without any table
 */
export async function freshDatabase(bare = false): Promise<string> {
  const env = process.env as Record<string, string | undefined>;
  const { UMBRASTAT_TEST_CLUSTER: cluster, UMBRASTAT_TEST_TEMPLATE: template } = env;
  if (!cluster) throw new Error('UMBRASTAT_TEST_CLUSTER is not set. Run the tests with ./test.');
  const name = `test_${process.pid}_${Math.floor(Math.random() * 1e9)}`;
  const client = new Client({ connectionString: `${cluster}/postgres` });
  await client.connect();
  await client.query(`CREATE DATABASE ${name}${template && !bare ? ` TEMPLATE ${template}` : ''}`);
  await client.end();
  return `${cluster}/${name}`;
}

/** Brings a database's tables up to date, or only so many steps; in a process of its own, which loads what tests cannot. */
export function migrateDatabase(database: string, count?: number): void {
  const script = "require('./server/platform/database.ts').migrate(process.argv[1], Number(process.argv[2]))";
  const args = ['--require', 'tsx/cjs', '-e', script, database, String(count ?? Infinity)];
  execFileSync(process.execPath, args, { cwd: join(__dirname, '..', '..'), stdio: 'inherit' });
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

/** A server that uses again what was rolled and measured before: for tests that are not about that. */
export const KEPT_MAIN = 'server/testing/kept-main.ts';

/** Starts the server as ./start does and waits until it answers. @param main what it is started from */
export async function startServer(
  database: string,
  data: string,
  more: Record<string, string> = {},
  main = 'server/main.ts',
): Promise<RunningServer> {
  const port = await freePort();
  const child = fork(join(ensureBundle('test-server'), fileOf(main)), {
    execArgv: ['--max-semi-space-size=32'],
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

/** An answer of the server: its status and what it says. */
export interface Answer<T> {
  status: number;
  body: T;
}

/** A server under test, asked as the app asks it. */
export class Caller {
  constructor(readonly url: string) {}

  /** Sends a request. What comes is taken for a `T` unchecked: tests look into it anyway. */
  // eslint-disable-next-line @typescript-eslint/no-explicit-any
  async call<T = any>(method: string, path: string, body?: unknown): Promise<Answer<T>> {
    const r = await fetch(`${this.url}/api${path}`, {
      method,
      headers: body === undefined ? {} : { 'Content-Type': 'application/json' },
      body: body === undefined ? undefined : JSON.stringify(body),
    });
    const text = await r.text();
    const isJson = /json/.test(r.headers.get('content-type') ?? '');
    return { status: r.status, body: (isJson ? JSON.parse(text) : text) as T };
  }

  /** A new shoot with one setup. */
  async newSetup(setup: object = { name: 'Kiosk' }): Promise<{ shootId: string; setupId: string }> {
    const size = { delivery_width: 640, delivery_height: 360, delivery_fps: 25 };
    const shoot = await this.call<Shoot>('POST', '/shoots', { name: 'Night Ferry', ...size });
    const made = await this.call<Setup>('POST', `/shoots/${shoot.body.id}/setups`, setup);
    return { shootId: shoot.body.id, setupId: made.body.id };
  }

  /** Puts a trick of the library on a setup. */
  async putTrick(setupId: string, key: string): Promise<Planned> {
    return (await this.call<Planned>('POST', `/setups/${setupId}/tricks`, { key })).body;
  }

  board(setupId: string): Promise<SetupPage> {
    return this.call<SetupPage>('GET', `/setups/${setupId}`).then((r) => r.body);
  }

  /** A new setup with two parts, and its first part. */
  async newPart(): Promise<{ setupId: string; partId: string }> {
    const { setupId } = await this.newSetup({ name: 'One', parts: [{ name: 'Plate' }, { name: 'Pass A' }] });
    return { setupId, partId: (await this.board(setupId)).parts[0].id };
  }

  /** Sends bytes as a resumable upload, in two pieces; gives the upload's id. */
  async upload(bytes: Buffer): Promise<string> {
    const tus = { 'Tus-Resumable': '1.0.0' };
    const made = await fetch(`${this.url}/api/uploads`, {
      method: 'POST',
      headers: { ...tus, 'Upload-Length': String(bytes.length) },
    });
    const where = new URL(made.headers.get('location') ?? '', `${this.url}/api/uploads`).href;
    const half = Math.floor(bytes.length / 2);
    const send = async (offset: number, piece: Buffer) => {
      const { status } = await fetch(where, {
        method: 'PATCH',
        headers: { ...tus, 'Upload-Offset': String(offset), 'Content-Type': 'application/offset+octet-stream' },
        body: new Uint8Array(piece),
      });
      if (status !== 204) throw new Error(`The upload answered with ${status}.`);
    };
    await send(0, bytes.subarray(0, half));
    const head = await fetch(where, { method: 'HEAD', headers: tus });
    if (head.headers.get('upload-offset') !== String(half)) throw new Error('The upload forgot where it stopped.');
    await send(half, bytes.subarray(half));
    return where.split('/').pop() ?? '';
  }

  /** Makes a take of a recording's bytes. */
  async addTake(partId: string, bytes: Buffer, name: string): Promise<Answer<Take & { error: string; code: string }>> {
    return this.call('POST', `/parts/${partId}/takes`, { upload_id: await this.upload(bytes), name });
  }

  /** Waits until a take is measured, or failed. */
  async measured(takeId: string): Promise<TakePage> {
    const ended = ({ body }: Answer<TakePage>) => body.state === 'done' || body.state === 'failed';
    return (await until(() => this.call<TakePage>('GET', `/takes/${takeId}`), ended, 150)).body;
  }

  /** Has the stand-in camera roll a take, and waits until it is measured. */
  async roll(partId: string, settings: object): Promise<string> {
    const made = await this.call<Roll>('POST', `/parts/${partId}/rolls`, { seconds: 3, width: 640, ...settings });
    const ended = ({ body }: Answer<Roll>) => body.take_id !== null || body.state === 'failed';
    const rolled = await until(() => this.call<Roll>('GET', `/rolls/${made.body.id}`), ended, 150);
    if (!rolled.body.take_id) throw new Error(`The roll failed: ${rolled.body.failure}`);
    await this.measured(rolled.body.take_id);
    return rolled.body.take_id;
  }

  /** Asks for a measure, and waits until it is made, or failed. */
  async measure(key: string, takes: string[], wish?: object): Promise<MeasureSent> {
    const asked = await this.call<MeasureSent>('POST', `/measures/${key}`, {
      take: takes[0],
      against: takes[1] ?? null,
      wish,
    });
    const ended = ({ body }: Answer<MeasureSent>) => body.state === 'done' || body.state === 'failed';
    return (await until(() => this.call<MeasureSent>('GET', `/measures/${asked.body.id}`), ended, 150)).body;
  }
}

/** No row has this id. */
export const NOWHERE = '00000000-0000-4000-8000-000000000000';

/** Runs one statement in a server's database. */
export async function query<T extends object>(database: string, text: string, values: unknown[] = []): Promise<T[]> {
  const db = new Client({ connectionString: database });
  await db.connect();
  try {
    return (await db.query<T>(text, values)).rows;
  } finally {
    await db.end();
  }
}

/** The process that does a server's work. */
export function workerOf({ process: { pid } }: RunningServer): number {
  return Number(execFileSync('pgrep', ['-P', String(pid), '-f', 'worker.cjs'], { encoding: 'utf8' }));
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
