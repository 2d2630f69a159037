import { request } from 'node:http';
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import {
  Caller,
  freshDatabase,
  KEPT_MAIN,
  NOWHERE,
  query,
  startServer,
  until,
  type RunningServer,
} from './testing/running-server';

// A folder whose name begins with a dot, as people have them: what lies in it is sent all the same.
const data = mkdtempSync(join(tmpdir(), '.umbrastat-routes-'));
let server: RunningServer;
let ask: Caller;
/** One of everything, by the first word of its address; and a requirement of the planned trick. */
const ids: Record<string, string> = {};
let requirement = 'locked';

type Method = 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE';

/** Words that routes are made with in a loop. */
const FILLED: Record<string, string[]> = {
  '/setups/:id/${path}': ['/setups/:id/part-order', '/setups/:id/trick-order'],
  '/${path}/:id/${word}': ['shoots', 'setups'].flatMap((w) => [`/${w}/:id/archived`, `/${w}/:id/deleted`]),
};

/** Every route that the sources declare. */
const ROUTES = readdirSync(__dirname, { recursive: true, encoding: 'utf8' })
  .filter((name) => name.endsWith('-routes.ts'))
  .flatMap((name) => {
    const text = readFileSync(join(__dirname, name), 'utf8');
    return [...text.matchAll(/router\.(get|post|put|patch|delete)\(\s*['`]([^'`]+)['`]/g)].flatMap(([, method, path]) =>
      (FILLED[path] ?? [path]).map((p): [Method, string] => [method.toUpperCase() as Method, p]),
    );
  });
const withId = ROUTES.filter(([, path]) => path.includes(':id'));

beforeAll(async () => {
  server = await startServer(await freshDatabase(), data, {}, KEPT_MAIN);
  ask = new Caller(server.url);
  const { shootId, setupId } = await ask.newSetup({ name: 'Pillar', scene: 'pillar' });
  const planned = await ask.putTrick(setupId, 'slip-behind');
  requirement = planned.trick.requirements[0].key;
  const partId = Object.values(planned.parts)[0];
  const takes = await ask.roll(partId, { seconds: 1, seed: 3 });
  const [{ id: measures }] = await query<{ id: string }>(server.database, 'SELECT id FROM measures LIMIT 1');
  const [{ id: rolls }] = await query<{ id: string }>(server.database, 'SELECT id FROM rolls LIMIT 1');
  const plate = await ask.measure('plate', [takes, takes], { run: { start: 2, end: 9 }, keep_grain: false });
  Object.assign(ids, { shoots: shootId, setups: setupId, planned: planned.id, parts: partId, takes, measures, rolls });
  const mark = await ask.call<{ id: string }>('POST', `/takes/${takes}/marks`, { frame: 3, name: 'Hit' });
  const pack = await ask.call<{ id: string }>('POST', `/shoots/${shootId}/packs`, { takes: 'standing' });
  Object.assign(ids, { plates: plate.id, marks: mark.body.id, packs: pack.body.id });
});
afterAll(async () => {
  await server?.stop();
  rmSync(data, { recursive: true, force: true });
});

/** A sentence for a person: no stack, no name of a file of ours, no SQL. */
function expectSentence(error: unknown): void {
  expect(error).toMatch(/^.{10,}\.$/s);
  expect(error).not.toMatch(/\bat .*\(|\.ts\b|SELECT|undefined|null/);
}

/** An address with an id, and with the other words filled in. */
const filled = (path: string, id: string) =>
  path
    .replace(':id', id)
    .replace(':frame', '0')
    .replace('/eye-checks/:key', `/eye-checks/${requirement}`)
    .replace('{*path}', 'README.html')
    .replace(':key', 'cover');

test('the sources declare the routes that the app calls', () => {
  const paths = ROUTES.map((r) => r.join(' '));
  expect(paths.length).toBeGreaterThan(45);
  expect(new Set(paths).size).toBe(paths.length);
  for (const known of ['GET /takes/:id/report', 'POST /measures/:key', 'PUT /setups/:id/trick-order', 'GET /shoots'])
    expect(paths).toContain(known);
});

test.each(withId)('%s %s: an id that is none is refused with a sentence', async (method, path) => {
  const answer = await ask.call(method, filled(path, 'no-id'), method === 'GET' ? undefined : {});
  expect(answer.status).toBe(422);
  expectSentence(answer.body.error);
});

/** What a body must hold before the row is looked for. */
const ENOUGH: Record<string, object> = {
  'POST /parts/:id/takes': { upload_id: 'f'.repeat(32), name: 'x.mp4' },
  'PUT /takes/:id/meter': { readings: [] },
  'PUT /measures/:id/deleted': { on: true },
  'POST /takes/:id/marks': { frame: 3, name: 'Hit' },
  'POST /takes/:id/marks/file': { text: 'WEBVTT' },
  'PATCH /marks/:id': { frame: 3 },
  'PUT /marks/:id/deleted': { on: true },
};

test.each(withId)('%s %s: what is not there is said to be gone', async (method, path) => {
  const body = method === 'GET' ? undefined : (ENOUGH[`${method} ${path}`] ?? {});
  const answer = await ask.call(method, filled(path, NOWHERE), body);
  expect(answer.status).toBe(404);
  expectSentence(answer.body.error);
});

/** Routes that are content with no body at all, or to which an empty one says enough. */
const CONTENT = [
  'POST /shoots/:id/copy',
  'POST /setups/:id/copy',
  'POST /parts/:id/rolls',
  'POST /measures/:id/again',
  'POST /measures/:id/call-off',
  'POST /shoots/:id/packs',
  'DELETE /packs/:id',
  'DELETE /sums/:id',
  'DELETE /devices/:id',
  'DELETE /disk/waste',
  'DELETE /sensors/:key',
];

test.each(ROUTES.filter((r) => r[0] !== 'GET' && !CONTENT.includes(r.join(' '))))(
  '%s %s: without a body nothing is done, and what is missing is said',
  async (method, path) => {
    const kind = path.split('/')[1];
    const answer = await ask.call(method, filled(path, ids[kind] ?? NOWHERE));
    expect([path, answer.status]).toEqual([path, 422]);
    expectSentence(answer.body.error.endsWith('.') ? answer.body.error : `${answer.body.error}.`);
  },
);

test('a body that is no JSON, or too large, is refused', async () => {
  const send = (body: string) =>
    fetch(`${server.url}/api/shoots`, { method: 'POST', headers: { 'Content-Type': 'application/json' }, body });
  expect((await send('{')).status).toBe(400);
  expect((await send(JSON.stringify({ name: 'x'.repeat(4_000_000) }))).status).toBe(413);
  expect((await ask.call('GET', '/nothing')).status).toBe(404);
});

const UUID = '3f1c2a10-9d6e-4b57-8a11-5b7f0d2c9e44';
const NO_IDS = [`(${UUID})`, `[${UUID}]`, `{${UUID}}`, UUID.replace(/-/g, ':'), UUID.replace(/-/g, ''), 'a:b:c'].concat(
  ['%E0%A4%A', '%00', '%ED%A0%80', 'constructor', '__proto__', '..%2f..%2fetc', `${UUID}%00`, '%20'],
);

/** Sends a request as it is given; every answer must be a refusal with a sentence. */
async function expectRefused(method: string, path: string, init: RequestInit = {}): Promise<void> {
  const response = await fetch(`${server.url}/api${path}`, { method, ...init });
  const text = await response.text();
  expect([path, response.status >= 400 && response.status < 500, text]).toEqual([path, true, text]);
  expectSentence((JSON.parse(text) as { error: string }).error);
}

test.each(withId)(
  '%s %s: whatever stands in the place of the id, it is refused with a sentence',
  async (method, path) => {
    for (const id of NO_IDS) await expectRefused(method, filled(path, id));
  },
);

/** So many odd requests to each route; `npm run attack` sends more. */
const RUNS = Number((process.env as Record<string, string | undefined>).UMBRASTAT_ATTACK ?? 12);
const odd = fc.oneof(
  fc.constantFrom<unknown>('a\0b', '\ud800', 'constructor', '__proto__', '9'.repeat(400), '0000-00-00', NOWHERE),
  fc.constantFrom<unknown>('+275760-09-13T00:00:00Z', '-000001-01-01T00:00:00Z', '2099-02-30', 'NaN', "'; --"),
  fc.constantFrom<unknown>(-1, 1e308, 2 ** 53, 0.5, null, true, [], {}),
  fc.string({ unit: 'binary' }),
  fc.jsonValue(),
);
const WORDS = ['name', 'ids', 'on', 'circled', 'done', 'at', 'by', 'ticks', 'line', 'key', 'trick', 'wishes', 'take'];
const MORE = ['against', 'wish', 'part_id', 'setup_id', 'upload_id', 'days', 'time_zone', 'camera', 'text', 'inputs'];
const body = fc.dictionary(fc.constantFrom(...WORDS, ...MORE, 'kind', 'seconds', 'delivery_fps', 'readings'), odd);

test.each(ROUTES.filter(([method]) => method !== 'GET'))(
  '%s %s: no body, however odd, breaks it',
  async (method, path) => {
    const kind = path.split('/')[1];
    await fc.assert(
      fc.asyncProperty(body, async (value) => {
        // What is there stays there: deleting and archiving have tests of their own.
        const id = /deleted|archived|DELETE/.test(`${method} ${path}`) ? NOWHERE : (ids[kind] ?? NOWHERE);
        const answer = await ask.call(method, filled(path, id), value);
        expect([value, answer.status < 500]).toEqual([value, true]);
      }),
      { numRuns: RUNS },
    );
  },
);

test.each(ROUTES.filter(([method]) => method !== 'GET'))(
  '%s %s: a body nested however deep is refused with a sentence',
  async (method, path) => {
    const kind = path.split('/')[1];
    const id = /deleted|archived|DELETE/.test(`${method} ${path}`) ? NOWHERE : (ids[kind] ?? NOWHERE);
    for (const [before, after] of [
      ['{"wish":', '}'],
      ['{"trick":{"key":"x","parts":', '}}'],
      ['{"name":', '}'],
    ]) {
      const deep = `${before}${'['.repeat(20_000)}${']'.repeat(20_000)}${after}`;
      const headers = { 'Content-Type': 'application/json' };
      const answer = await fetch(`${server.url}/api${filled(path, id)}`, { method, headers, body: deep });
      expect([path, answer.status < 500]).toEqual([path, true]);
      if (answer.status >= 400) expectSentence(((await answer.json()) as { error: string }).error);
    }
  },
);

test('files are sent from a folder whose name begins with a dot', async () => {
  await until(
    async () => (await ask.call<{ state: string }>('GET', `/packs/${ids.packs}`)).body.state,
    (state) => state === 'done',
    150,
  );
  for (const path of [
    `/packs/${ids.packs}/look/README.html`,
    `/packs/${ids.packs}/zip`,
    `/takes/${ids.takes}/stills/3/picture`,
    `/takes/${ids.takes}/stills/3/picture?save=true&size=delivery`,
    `/plates/${ids.plates}/picture`,
    `/plates/${ids.plates}/file`,
    `/plates/${ids.plates}/file?as=clip&seconds=1`,
    `/takes/${ids.takes}/frames/0`,
  ])
    expect([path, (await fetch(`${server.url}/api${path}`)).status]).toEqual([path, 200]);
});

/** Sends a request with headers that fetch does not let anybody set. */
const raw = (method: string, path: string, headers: Record<string, string>) =>
  new Promise<number>((resolve, reject) => {
    const { hostname, port } = new URL(server.url);
    const req = request({ hostname, port, method, path: `/api${path}`, headers }, (res) => {
      res.resume();
      resolve(res.statusCode ?? 0);
    });
    req.on('error', reject);
    req.end();
  });

test.each(ROUTES)('%s %s: other sites, and other names for this machine, get nothing', async (method, path) => {
  const at = filled(path, ids[path.split('/')[1]] ?? NOWHERE);
  for (const headers of [
    { Origin: 'http://ferry.example' },
    { Origin: 'null' },
    { Host: 'ferry.example' },
    { Host: 'localhost.ferry.example' },
    { 'Sec-Fetch-Site': 'cross-site' },
  ] as Record<string, string>[])
    expect([headers, await raw(method, at, headers)]).toEqual([headers, 403]);
});

test('a database connection that is ended is no fault of the app: 503 at the most, and then it goes on', async () => {
  const statuses = new Set<number>();
  let ended = false;
  const asking = Promise.all(
    Array.from({ length: 6 }, async () => {
      while (!ended)
        for (const path of ['/health', '/shoots', '/takes']) {
          const { status } = await fetch(`${server.url}/api${path}`, { headers: { 'Cache-Control': 'no-cache' } });
          statuses.add(status);
        }
    }),
  );
  for (let k = 0; k < 12; k++) {
    await query(
      server.database,
      `SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = current_database() AND pid <> pg_backend_pid()`,
    );
    await new Promise((resolve) => setTimeout(resolve, 60));
  }
  ended = true;
  await asking;
  expect([...statuses].filter((s) => s !== 200 && s !== 503)).toEqual([]);
  for (const path of ['/health', '/shoots', '/takes']) expect((await ask.call('GET', path)).status).toBe(200);
});

test('headers that make no sense are refused, or passed over', async () => {
  const json = { 'Content-Type': 'application/json' };
  await expectRefused('POST', '/shoots', {
    headers: { 'Content-Type': 'application/json; charset=klingon' },
    body: '{}',
  });
  await expectRefused('POST', '/shoots', { headers: { ...json, 'Content-Encoding': 'gzip' }, body: '{}' });
  await expectRefused('POST', '/shoots', { headers: { ...json, 'Content-Encoding': 'wrong' }, body: '{}' });
  for (const range of ['bytes=9999999999-', 'bytes=-0', 'bytes=a-b', 'lines=1-2', 'bytes=5-1'])
    for (const path of [`/takes/${ids.takes}/frames/0`, `/plates/${ids.plates}/file`]) {
      const { status } = await fetch(`${server.url}/api${path}`, { headers: { Range: range } });
      expect([range, [200, 206, 416].includes(status)]).toEqual([range, true]);
    }
  await expectRefused('GET', '/takes/%E0%A4%A');
});

test('a part of a trick cannot be called what every object has', async () => {
  const { trick } = await ask.putTrick(ids.setups, 'slip-behind');
  const text = JSON.stringify(trick).replaceAll(`"${trick.parts[0].key}"`, '"constructor"');
  const answer = await ask.call('POST', `/setups/${ids.setups}/tricks`, { trick: JSON.parse(text) as object });
  expect(answer.status).toBe(422);
});

test('a file that is gone from the disk is said to be gone', async () => {
  const proxies = join(data, 'proxies');
  const kept = readdirSync(proxies).find((f) => f.endsWith('.jpegs.index'))!;
  rmSync(join(proxies, kept));
  rmSync(join(proxies, kept.replace('.jpegs.index', '.outlines.json')));
  rmSync(join(data, 'plates', `${ids.plates}.png.jpg`));
  for (const path of [
    `/takes/${ids.takes}/frames/0`,
    `/takes/${ids.takes}/outlines`,
    `/plates/${ids.plates}/picture`,
  ]) {
    const answer = await ask.call('GET', path);
    expect([path, answer.status]).toEqual([path, 404]);
    expectSentence(answer.body.error);
  }
});

test('with the shoot everything below it is gone, and work on it ends quietly', async () => {
  // Work that is under way when its take goes.
  await ask.call('POST', `/parts/${ids.parts}/rolls`, { seconds: 3 });
  await until(
    () => query<{ n: number }>(server.database, "SELECT count(*)::int AS n FROM pgboss.job WHERE state = 'active'"),
    ([{ n }]) => n > 0,
    30,
  );
  await query(server.database, 'DELETE FROM shoots WHERE id = $1', [ids.shoots]);
  for (const [method, path] of withId) {
    const kind = path.split('/')[1];
    if (!ids[kind]) continue;
    const body = method === 'GET' ? undefined : (ENOUGH[`${method} ${path}`] ?? {});
    const answer = await ask.call(method, filled(path, ids[kind]), body);
    expect([method, path, answer.status]).toEqual([method, path, 404]);
    expectSentence(answer.body.error);
  }
  await until(
    () => query<{ n: number }>(server.database, "SELECT count(*)::int AS n FROM pgboss.job WHERE state <= 'active'"),
    ([{ n }]) => n === 0,
    60,
  );
  expect((await ask.call('GET', '/health')).body).toEqual({ ok: true });
});
