import { randomUUID } from 'node:crypto';
import type { Pool } from 'pg';
import pino from 'pino';
import { openPool } from '../platform/database';
import { freshDatabase, until } from '../testing/running-server';
import { MOST_TRIES, PRIORITY, WorkQueue } from './queue';
import { Runner, type Worker } from './runner';

const silent = pino({ level: 'silent' });
let database: string;
let pool: Pool;
let queue: WorkQueue;
/** What came of each job, by the row it was about. */
const ends: Record<string, string[]> = {};
let runners: Runner[] = [];

beforeAll(async () => {
  database = await freshDatabase(true);
  pool = openPool(database);
  queue = await WorkQueue.open(database, 'test');
  await pool.query('CREATE TABLE measures (id uuid PRIMARY KEY, job_id uuid)');
});
afterEach(async () => {
  await Promise.all(runners.map((r) => r.stop(2000)));
  runners = [];
  await pool.query('DELETE FROM pgboss.job');
});
afterAll(async () => {
  await queue?.close();
  await pool?.end();
});

async function send(priority: number = PRIORITY.planned): Promise<string> {
  const about = randomUUID();
  await pool.query('INSERT INTO measures VALUES ($1, $2)', [about, await queue.send(pool, 'measure', about, priority)]);
  return about;
}

const note = (about: string, what: string) => {
  (ends[about] ??= []).push(what);
};

function run(work: Worker['work'], atOnce = 2, besides = 0): Runner {
  const worker: Worker = { table: 'measures', work, giveUp: (about) => () => Promise.resolve(note(about, 'gave up')) };
  const runner = new Runner(pool, queue, silent, 'measure', worker, atOnce, besides);
  runners.push(runner);
  runner.start();
  return runner;
}

const ended = (about: string) =>
  until(
    () => Promise.resolve(ends[about] ?? []),
    (e) => e.length > 0,
    20,
  );
const pause = (ms: number, signal?: AbortSignal) =>
  new Promise<void>((resolve, reject) => {
    const timer = setTimeout(resolve, ms);
    signal?.addEventListener('abort', () => {
      clearTimeout(timer);
      reject(signal.reason as Error);
    });
  });

test('jobs are done, so many at a time and no more, the most important first', async () => {
  let now = 0;
  let most = 0;
  const order: string[] = [];
  const asked: string[] = [];
  for (const priority of [PRIORITY.planned, PRIORITY.planned, PRIORITY.screen, PRIORITY.again])
    asked.push(await send(priority));
  run(async (about) => {
    order.push(about);
    most = Math.max(most, ++now);
    await pause(150);
    now--;
    return () => Promise.resolve(note(about, 'done'));
  });
  for (const about of asked) expect(await ended(about)).toEqual(['done']);
  expect(most).toBe(2);
  expect(order).toEqual([asked[2], asked[0], asked[1], asked[3]]);
});

test('what somebody waits for is not held up by long work, however much of it is under way', async () => {
  const long = [await send(), await send(), await send()];
  let free = () => undefined as void;
  const held = new Promise<void>((resolve) => {
    free = resolve;
  });
  const began: string[] = [];
  const runner = run(
    async (about) => {
      began.push(about);
      if (long.includes(about)) await held;
      return () => Promise.resolve(note(about, 'done'));
    },
    2,
    1,
  );
  await until(
    () => Promise.resolve(began.length),
    (n) => n === 2,
    20,
  );
  const wished = await send(PRIORITY.screen);
  runner.look();
  expect(await ended(wished)).toEqual(['done']);
  // The third long one has waited all the while.
  expect(began).toEqual([long[0], long[1], wished]);
  free();
  for (const about of long) expect(await ended(about)).toEqual(['done']);
});

test('how far it is stands in the queue while it is worked on', async () => {
  const about = await send();
  run(async (_, signal, say) => {
    say({ done: 5, total: 7, doing: 'counting' });
    await pause(2500, signal);
    return () => Promise.resolve(note(about, 'done'));
  });
  const read = () => pool.query<{ output: object | null }>("SELECT output FROM pgboss.job WHERE state = 'active'");
  const found = await until(read, ({ rows }) => Boolean(rows[0]?.output), 10);
  expect(found.rows[0].output).toEqual({ done: 5, total: 7, doing: 'counting' });
  expect(await ended(about)).toEqual(['done']);
});

test('a job that was given to another is stopped, and what it would have kept is dropped', async () => {
  const about = await send();
  let stopped = '';
  run(async (_, signal) => {
    // Somebody else takes the job over.
    await pool.query('UPDATE pgboss.job SET data = data || \'{"worker": "another"}\' WHERE state = \'active\'');
    await pause(20_000, signal).catch((error: Error) => {
      stopped = error.message;
    });
    return () => Promise.resolve(note(about, 'kept'));
  });
  await until(
    () => Promise.resolve(stopped),
    (s) => s !== '',
    15,
  );
  await pause(500);
  expect(stopped).toMatch(/given to another/);
  expect(ends[about]).toBeUndefined();
});

test('stopped in order, it gives back what it holds, for the next to do from the start', async () => {
  const about = await send();
  let begun = 0;
  const first = run(async (_, signal) => {
    begun++;
    await pause(20_000, signal);
    return () => Promise.resolve(note(about, 'first'));
  });
  await until(
    () => Promise.resolve(begun),
    (n) => n === 1,
    10,
  );
  await first.stop(3000);
  const { rows } = await pool.query<{ state: string; same: boolean }>(
    'SELECT j.state, j.id = m.job_id AS same FROM measures m JOIN pgboss.job j ON j.id = m.job_id WHERE m.id = $1',
    [about],
  );
  expect(rows).toEqual([{ state: 'created', same: true }]);
  run(() => Promise.resolve(() => Promise.resolve(note(about, 'second'))));
  expect(await ended(about)).toEqual(['second']);
});

test('what fails is tried again, and given up after the last try', async () => {
  const [lucky, never] = [await send(), await send()];
  const tries: Record<string, number> = {};
  run((about) => {
    tries[about] = (tries[about] ?? 0) + 1;
    if (about === lucky && tries[about] === 2) return Promise.resolve(() => Promise.resolve(note(about, 'done')));
    return Promise.reject(new Error('no luck'));
  });
  expect(await ended(lucky)).toEqual(['done']);
  expect(await ended(never)).toEqual(['gave up']);
  expect([tries[lucky], tries[never]]).toEqual([2, MOST_TRIES]);
});
