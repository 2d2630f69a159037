import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { MeasureSent } from '../../api/measures';
import { Caller, freshDatabase, query, startServer, until, type RunningServer } from '../testing/running-server';
import { TINY, type Tiny } from '../testing/tiny/measure';

/**
 * A measure is added as docs/architecture.md says: its description, its judge and its feed, and nothing else. The server
 * and its worker get them from outside; all else must follow.
 */
const data = mkdtempSync(join(tmpdir(), 'umbrastat-added-'));
let server: RunningServer;
let ask: Caller;

beforeAll(async () => {
  server = await startServer(await freshDatabase(), data, {}, 'server/testing/tiny/server.ts');
  ask = new Caller(server.url);
});
afterAll(async () => {
  await server?.stop();
  rmSync(data, { recursive: true, force: true });
});

/** A setup with a trick that asks for its beats, and a take of it. */
async function rolled(seconds: number): Promise<{ setupId: string; takeId: string }> {
  const { setupId } = await ask.newSetup({ name: 'Bench', scene: 'bench' });
  const planned = await ask.putTrick(setupId, 'dialled-fade');
  const beats = planned.trick.requirements.find((r) => r.kind === 'beats-marked')!;
  return { setupId, takeId: await ask.roll(planned.parts[beats.parts[0]], { seconds, seed: 3 }) };
}
const requirement = async (setupId: string) =>
  (await ask.board(setupId)).gate.tricks[0].requirements.find((r) => r.kind === 'beats-marked')!;

test('it is asked for by the plan, made, kept, judged at the gate, and can be read with its paths', async () => {
  const { setupId, takeId } = await rolled(1);
  const judged = await until(
    () => requirement(setupId),
    (r) => !r.pending && r.verdict !== 'unjudged',
    60,
  );
  expect(judged).toMatchObject({ verdict: 'holds', byEye: false, text: '25 frames, 10 are asked for' });
  const found = (await ask.call<MeasureSent<object, Tiny>>('GET', `/measures/tiny/of?take=${takeId}`)).body;
  expect(found).toMatchObject({ state: 'done', verdict: { verdict: 'holds' }, result: { frames: 25 } });
  expect(found.result!.path.levels).toHaveLength(25);
  expect(readFileSync(join(data, 'measures', `${found.id}.txt`), 'utf8')).toBe('25');
  const [kept] = await query<{ result: object }>(server.database, 'SELECT result FROM measures WHERE id = $1', [
    found.id,
  ]);
  expect(kept.result).toEqual({ frames: 25 });
});

test('its wishes are checked, its refusals are sentences, and it can be asked for again', async () => {
  const { takeId } = await rolled(1);
  const wishes = (wish: object) => ask.call('POST', '/measures/tiny', { take: takeId, wish });
  expect((await wishes({ least: 'many' })).status).toBe(422);
  expect(await wishes({ least: 99 })).toMatchObject({ status: 422, body: { error: 'The take has 25 frames.' } });
  const refused = await ask.measure('tiny', [takeId], { least: 13 });
  expect(refused).toMatchObject({ state: 'failed', failure: 'Thirteen frames bring bad luck. Ask for more.' });
  const again = await ask.call<MeasureSent>('POST', `/measures/${refused.id}/again`);
  expect(again.status).toBe(200);
  const once = await until(
    () => ask.call<MeasureSent>('GET', `/measures/${refused.id}`),
    (r) => r.body.state === 'failed',
    30,
  );
  expect(once.body.failure).toMatch(/bad luck/);
  expect(await ask.measure('tiny', [takeId], { least: 5 })).toMatchObject({ state: 'done', failure: null });
});

test('asked for with another wish while it is made: what the older wish finds is dropped', async () => {
  const { takeId } = await rolled(1);
  const wished = (least: number) => ask.call<MeasureSent>('POST', '/measures/tiny', { take: takeId, wish: { least } });
  for (const least of [3, 4, 5, 13]) await wished(least);
  const jobs = () =>
    query<{ n: number }>(
      server.database,
      "SELECT count(*)::int AS n FROM pgboss.job WHERE name = 'measure' AND state <= 'active'",
    );
  await until(jobs, ([{ n }]) => n === 0, 60);
  const { body } = await ask.call<MeasureSent>('GET', `/measures/tiny/of?take=${takeId}`);
  expect(body).toMatchObject({ state: 'failed', failure: expect.stringContaining('bad luck'), wish: { least: 13 } });
});

test('work that ends its thread is tried three times, then it has failed with a sentence; other work goes on', async () => {
  const { takeId } = await rolled(1);
  const failed = await ask.measure('tiny', [takeId], { least: 17 });
  expect(failed).toMatchObject({ state: 'failed', failure: TINY.sorry, result: null });
  expect(await ask.measure('tiny', [takeId], { least: 4 })).toMatchObject({ state: 'done', failure: null });
});
