import { randomUUID } from 'node:crypto';
import type { Pool } from 'pg';
import { inTransaction, openPool } from '../platform/database';
import { freshDatabase } from '../testing/running-server';
import { MOST_TRIES, PRIORITY, WorkQueue, type Job } from './queue';

let pool: Pool;
let one: WorkQueue;
let two: WorkQueue;

beforeAll(async () => {
  const database = await freshDatabase(true);
  pool = openPool(database);
  one = await WorkQueue.open(database, 'one');
  two = await WorkQueue.open(database, 'two');
});
beforeEach(() => pool.query('DELETE FROM pgboss.job'));
afterAll(async () => {
  await one?.close();
  await two?.close();
  await pool?.end();
});

const send = (priority: number = PRIORITY.planned, kind: 'measure' | 'roll' = 'measure') => {
  const about = randomUUID();
  return one.send(pool, kind, about, priority).then((id) => ({ id, about }));
};
/** The worker of whoever holds a job falls silent for longer than it may. */
const silence = async (job: Job) => {
  await pool.query("UPDATE pgboss.job SET expire_in = interval '-1 second' WHERE id = $1", [job.id]);
  await two.expire();
  // What is tried again waits a moment first.
  await pool.query("UPDATE pgboss.job SET start_after = now() - interval '1 second'");
};
const stateOf = async (id: string) => {
  const { rows } = await pool.query<{ state: string }>('SELECT state FROM pgboss.job WHERE id = $1', [id]);
  return rows[0]?.state;
};
const word = { done: 3, total: 9, doing: 'looking' };

test('of two workers one gets a job, and the other nothing', async () => {
  const { about } = await send();
  const both = await Promise.all([one.take(pool, 'measure'), two.take(pool, 'measure')]);
  expect(both.map((job) => job?.about).sort()).toEqual([about, undefined]);
  expect(both.find((job) => job)).toMatchObject({ kind: 'measure', tries: 1 });
});

test('what is more important goes first, of equals the older; what somebody waits for is raised', async () => {
  const asked = [];
  for (const priority of [PRIORITY.again, PRIORITY.planned, PRIORITY.screen, PRIORITY.planned])
    asked.push(await send(priority));
  await one.raise(pool, 'measure', asked[0].id, PRIORITY.standing);
  // A raise never lowers.
  await one.raise(pool, 'measure', asked[2].id, PRIORITY.again);
  const order: (string | undefined)[] = [];
  for (let n = 0; n < 5; n++) order.push((await two.take(pool, 'measure'))?.about);
  expect(order).toEqual([asked[2], asked[0], asked[1], asked[3], undefined].map((a) => a?.about));
});

test('a job that was asked for in a transaction that came to nothing was never asked for', async () => {
  await expect(
    inTransaction(pool, async (db) => {
      await one.send(db, 'measure', randomUUID(), PRIORITY.screen);
      throw new Error('enough');
    }),
  ).rejects.toThrow('enough');
  expect(await one.take(pool, 'measure')).toBeNull();
});

test('whoever says that it goes on keeps a job; how far it is can be read', async () => {
  await send();
  const job = (await one.take(pool, 'measure'))!;
  expect(await one.beat(pool, job, word)).toBe(true);
  await two.expire();
  expect(await two.take(pool, 'measure')).toBeNull();
  const { rows } = await pool.query<{ output: object }>('SELECT output FROM pgboss.job WHERE id = $1', [job.id]);
  expect(rows[0].output).toEqual(word);
  expect(await one.finish(pool, job)).toBe(true);
  expect(await stateOf(job.id)).toBe('completed');
});

test('a worker that fell silent loses its job, and what it does late is dropped', async () => {
  await send();
  const job = (await one.take(pool, 'measure'))!;
  await silence(job);
  const taken = (await two.take(pool, 'measure'))!;
  expect(taken).toMatchObject({ id: job.id, tries: 2 });
  expect(await one.beat(pool, job, word)).toBe(false);
  expect(await one.finish(pool, job)).toBe(false);
  expect(await one.giveBack(pool, job, PRIORITY.fresh)).toBeNull();
  await one.fail(pool, job, 'too late');
  expect(await stateOf(job.id)).toBe('active');
  expect(await two.finish(pool, taken)).toBe(true);
});

test('even the same worker, when it takes its own job up again, holds it only in the new try', async () => {
  await send();
  const job = (await one.take(pool, 'measure'))!;
  await silence(job);
  const again = (await one.take(pool, 'measure'))!;
  expect([await one.beat(pool, job, word), await one.beat(pool, again, word)]).toEqual([false, true]);
});

test('a job given back is the next worker’s, as if it had never been taken', async () => {
  const { about } = await send();
  const job = (await one.take(pool, 'measure'))!;
  const id = await one.giveBack(pool, job, PRIORITY.fresh);
  expect(id).not.toBe(job.id);
  expect(await one.beat(pool, job, word)).toBe(false);
  expect(await two.take(pool, 'measure')).toMatchObject({ id, about, tries: 1 });
});

test.each([
  ['fails', (job: Job) => one.fail(pool, job, 'no luck')],
  ['kills its worker', silence],
])('work that %s is tried three times, then it has failed', async (_, end) => {
  const { id } = await send();
  for (let tries = 1; tries <= MOST_TRIES; tries++) {
    const job = (await one.take(pool, 'measure'))!;
    expect(job.tries).toBe(tries);
    await end(job);
    await pool.query("UPDATE pgboss.job SET start_after = now() - interval '1 second'");
  }
  expect(await one.take(pool, 'measure')).toBeNull();
  expect(await stateOf(id)).toBe('failed');
});

test('the camera rolls one take at a time, while measures are made beside it', async () => {
  const [first, second] = [await send(PRIORITY.fresh, 'roll'), await send(PRIORITY.fresh, 'roll')];
  await send();
  const rolling = (await one.take(pool, 'roll'))!;
  expect(rolling.about).toBe(first.about);
  expect(await two.take(pool, 'roll')).toBeNull();
  expect(await two.take(pool, 'measure')).not.toBeNull();
  await one.finish(pool, rolling);
  expect((await two.take(pool, 'roll'))?.about).toBe(second.about);
});
