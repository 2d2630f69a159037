import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import type { TakePage } from '../../api/takes';
import { wallClip } from '../../media/testing/wall-clip';
import {
  Caller,
  freshDatabase,
  query,
  startServer,
  until,
  workerOf,
  type RunningServer,
} from '../testing/running-server';

const data = mkdtempSync(join(tmpdir(), 'umbrastat-recovery-'));
const bin = join(data, 'bin');
const long = join(data, 'long.mp4');
const longer = join(data, 'longer.mp4');
/** Longer than it takes until a worker that is silent counts as lost. */
const LATE_MS = 4000;
/** A worker counts as lost after three seconds of silence; pictures come as slowly as they were shot. */
const SLOWLY = { UMBRASTAT_SILENT_S: '3', PATH: `${bin}:${(process.env as Record<string, string>).PATH}` };
let database: string;
let server: RunningServer;
let ask: Caller;

const start = async () => {
  server = await startServer(database, data, SLOWLY);
  ask = new Caller(server.url);
};

beforeAll(async () => {
  mkdirSync(bin);
  writeFileSync(join(bin, 'ffmpeg'), '#!/bin/sh\nexec /usr/bin/ffmpeg -re "$@"\n', { mode: 0o755 });
  wallClip(join(data, 'clip.mp4'), 0.4, 'crop=640:360');
  wallClip(long, 2, 'crop=640:360');
  wallClip(longer, 1.1 * (LATE_MS / 1000), 'crop=640:360');
  database = await freshDatabase();
  await start();
});
afterAll(async () => {
  await server?.stop();
  rmSync(data, { recursive: true, force: true });
});

/** A take whose measuring has begun and goes on for some seconds; another where a busy machine saw it only when it was done. */
async function underWay(): Promise<string> {
  for (let tries = 1; ; tries++) {
    const { partId } = await ask.newPart();
    const made = await ask.addTake(partId, readFileSync(long), 'long.mp4');
    const { body } = await until(
      () => ask.call<TakePage>('GET', `/takes/${made.body.id}`),
      (t) => t.body.state === 'done' || (t.body.state === 'working' && t.body.frames_done > 0),
      60,
    );
    if (body.state === 'working' || tries === 5) return made.body.id;
  }
}

interface Work {
  finished: number;
  state: string;
  tries: number;
}
const workOn = async (takeId: string): Promise<Work> => {
  const [row] = await query<Work>(
    database,
    `SELECT m.finished, j.state, j.retry_count + 1 AS tries FROM measures m LEFT JOIN pgboss.job j ON j.id = m.job_id
     WHERE m.take_id = $1 AND m.measure = 'take'`,
    [takeId],
  );
  return row;
};
/** Nothing half made may lie among the kept files. */
const leftOver = () =>
  readdirSync(join(data, 'proxies')).filter(
    (f) => !/^[0-9a-f]{64}\.(jpegs(\.index)?|outlines\.json|analysis|pictures|fine)$/.test(f),
  );

test('while a take is measured, other requests are answered', async () => {
  const takeId = await underWay();
  // Not how fast, but that it is: the answer comes before the measure is done.
  expect((await ask.call('GET', '/shoots')).status).toBe(200);
  expect((await workOn(takeId)).finished).toBe(0);
  expect(await ask.measured(takeId)).toMatchObject({ state: 'done', verdict: 'holds' });
});

test('a server killed in the middle of a measurement and started again: the job finishes once', async () => {
  const takeId = await underWay();
  await server.stop('SIGKILL');
  await start();
  expect(await ask.measured(takeId)).toMatchObject({ state: 'done', verdict: 'holds' });
  expect(await workOn(takeId)).toMatchObject({ finished: 1, state: 'completed' });
  expect(leftOver()).toEqual([]);
});

test('a worker killed in the middle of a measurement: the next one takes it up, and sweeps what lay about', async () => {
  const takeId = await underWay();
  process.kill(workerOf(server), 'SIGKILL');
  expect(await ask.measured(takeId)).toMatchObject({ state: 'done', verdict: 'holds' });
  expect(await workOn(takeId)).toEqual({ finished: 1, state: 'completed', tries: 2 });
});

test('ffmpeg killed in the middle of a measurement: it is tried again, and the file is not called broken', async () => {
  let takeId = await underWay();
  // On a busy machine it may have ended before it is killed: then of another take.
  const kill = () => spawnSync('pkill', ['-9', '-r', 'R,S,D', '-P', String(workerOf(server)), 'ffmpeg']).status === 0;
  for (let tries = 0; !kill(); takeId = await underWay()) expect(tries++).toBeLessThan(5);
  const page = await ask.measured(takeId);
  expect([page.state, page.failure, page.verdict]).toEqual(['done', null, 'holds']);
  expect((await workOn(takeId)).tries).toBe(2);
});

test('stopped in order in the middle of a measurement, the work is given back and taken up at once', async () => {
  const takeId = await underWay();
  await server.stop('SIGTERM');
  expect(await workOn(takeId)).toEqual({ finished: 0, state: 'created', tries: 1 });
  await start();
  expect(await ask.measured(takeId)).toMatchObject({ state: 'done', verdict: 'holds' });
  expect((await workOn(takeId)).tries).toBe(1);
});

test('a worker stopped in its tracks loses its take to another, and what it finishes late is dropped', async () => {
  const takeId = await underWay();
  const worker = workerOf(server);
  process.kill(worker, 'SIGSTOP');
  // A second server on the same data brings a second worker.
  const second = await startServer(database, data, SLOWLY);
  try {
    const other = new Caller(second.url);
    expect(await other.measured(takeId)).toMatchObject({ state: 'done', verdict: 'holds' });
    expect(await workOn(takeId)).toMatchObject({ finished: 1, tries: 2 });
    process.kill(worker, 'SIGCONT');
    await sleep(LATE_MS);
    expect(await workOn(takeId)).toMatchObject({ finished: 1, tries: 2 });
  } finally {
    await second.stop();
  }
  // It works on: the next take is measured.
  expect((await ask.measured(await underWay())).state).toBe('done');
});

test('of two workers one has a take, however long it takes: it is claimed once and done once', async () => {
  const second = await startServer(database, data, SLOWLY);
  try {
    const { partId } = await ask.newPart();
    const made = await ask.addTake(partId, readFileSync(longer), 'longer.mp4');
    expect((await ask.measured(made.body.id)).state).toBe('done');
    expect(await workOn(made.body.id)).toMatchObject({ finished: 1, tries: 1 });
  } finally {
    await second.stop();
  }
});

test('work is called off while it is under way: it ends, says so, and can be asked for again', async () => {
  const id = await underWay();
  const [{ id: row }] = await query<{ id: string }>(
    database,
    "SELECT id FROM measures WHERE take_id = $1 AND measure = 'take'",
    [id],
  );
  const off = await ask.call('POST', `/measures/${row}/call-off`);
  expect([off.status, off.body.state, off.body.failure]).toEqual([
    200,
    'failed',
    'It was called off by hand. Run it again when there is time for it.',
  ]);
  expect((await ask.call('POST', `/measures/${row}/call-off`)).status).toBe(409);
  // Nobody works on it any more, and what its thread may still find is dropped.
  await sleep(LATE_MS);
  expect((await ask.call('GET', `/takes/${id}`)).body.state).toBe('failed');
  expect((await ask.call('POST', '/measures/take', { take: id })).status).toBe(201);
  expect((await ask.measured(id)).state).toBe('done');
});

test('a failed measurement says why and can be run again; one that is done cannot', async () => {
  const { partId } = await ask.newPart();
  const made = await ask.addTake(partId, readFileSync(join(data, 'clip.mp4')), 'again.mp4');
  await ask.measured(made.body.id);
  await query(
    database,
    "UPDATE measures SET failure = 'The disk was full.', result = NULL, version = NULL WHERE take_id = $1 AND measure = 'take'",
    [made.body.id],
  );
  // The server hears of what was written past it a moment later.
  const page = () => ask.call<TakePage>('GET', `/takes/${made.body.id}`);
  const failed = await until(page, ({ body }) => body.state === 'failed', 10);
  expect(failed.body.failure).toBe('The disk was full.');
  expect((await ask.call('POST', '/measures/take', { take: made.body.id })).status).toBe(201);
  const again = await ask.measured(made.body.id);
  expect(again).toMatchObject({ state: 'done', failure: null });
  expect((await ask.call('POST', '/measures/take', { take: made.body.id })).status).toBe(200);
  const [{ id }] = await query<{ id: string }>(
    database,
    "SELECT id FROM measures WHERE take_id = $1 AND measure = 'take'",
    [made.body.id],
  );
  const refused = await ask.call('POST', `/measures/${id}/again`);
  expect([refused.status, refused.body.error]).toEqual([409, 'This is already measured or being measured.']);
});
