import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { chmodSync, existsSync, mkdtempSync, readdirSync, readFileSync, readlinkSync, rmSync } from 'node:fs';
import { once } from 'node:events';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { freePort, until } from './testing/running-server';

/** The start command, as somebody types it. */
const root = join(__dirname, '..');
const folder = mkdtempSync(join(tmpdir(), 'umbrastat-start-'));
// The database's own user must get in.
chmodSync(folder, 0o755);
const running: ChildProcess[] = [];

interface Started {
  process: ChildProcess;
  said: () => string;
  code: Promise<number | null>;
  url: string;
}

async function start(data: string, port: number): Promise<Started> {
  const child = spawn(join(root, 'start'), {
    env: { ...process.env, UMBRASTAT_DATA: join(folder, data), PORT: String(port), UMBRASTAT_DEMO: 'no' },
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  running.push(child);
  let text = '';
  child.stdout.on('data', (d: Buffer) => (text += d.toString()));
  child.stderr.on('data', (d: Buffer) => (text += d.toString()));
  const code = new Promise<number | null>((resolve) => {
    child.on('close', resolve);
  });
  return { process: child, said: () => text, code, url: `http://127.0.0.1:${port}` };
}

const ready = (s: Started, times = 1) =>
  until(
    async () => s.said(),
    (text) => text.split('is ready').length > times,
    120,
  );

/** Processes of which something is true. */
function processes(belongs: (pid: string) => boolean): number[] {
  return readdirSync('/proc').flatMap((pid) => {
    try {
      return /^\d+$/.test(pid) && belongs(pid) ? [Number(pid)] : [];
    } catch {
      // It ended meanwhile.
      return [];
    }
  });
}

/** Those that work with a data folder, by a word of their command line. */
const working = (data: string, word: string) =>
  processes(
    (pid) =>
      readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes(word) &&
      readFileSync(`/proc/${pid}/environ`, 'utf8')
        .split('\0')
        .includes(`UMBRASTAT_DATA=${join(folder, data)}`),
  );
/** Those of its database, which writes over its environment: they work in its folder. */
const databaseOf = (data: string) =>
  processes((pid) => readlinkSync(`/proc/${pid}/cwd`) === join(folder, data, 'postgres'));
const none = (data: string) =>
  until(
    async () => [...working(data, 'server-worker'), ...working(data, 'server-main')],
    (left) => left.length === 0,
    20,
  );

afterAll(async () => {
  for (const child of running) child.kill('SIGINT');
  await Promise.all(
    running.map((child) => child.exitCode !== null || child.signalCode !== null || once(child, 'exit')),
  );
  rmSync(folder, { recursive: true, force: true });
});

test('a port that is taken: it says so and leaves nothing running', async () => {
  const other = createServer();
  const port = await new Promise<number>((resolve) => {
    other.listen(0, '127.0.0.1', () => resolve((other.address() as { port: number }).port));
  });
  const second = await start('taken', port);
  expect(await second.code).toBe(1);
  expect(second.said()).toMatch(/Port \d+ cannot be used/);
  await none('taken');
  expect(existsSync(join(folder, 'taken', 'postgres', 'postmaster.pid'))).toBe(false);
  other.close();
});

test('a second start with the same data points at the first; the server is started again when it dies', async () => {
  const first = await start('one', await freePort());
  await ready(first);
  const second = await start('one', await freePort());
  expect(await second.code).toBe(1);
  expect(second.said()).toContain(`already runs with ${join(folder, 'one')}: ${first.url}`);
  expect((await fetch(`${first.url}/api/health`)).status).toBe(200);

  const [server] = working('one', 'server-main');
  process.kill(server, 'SIGKILL');
  await until(
    async () => first.said(),
    (text) => text.includes('Starting it again in 1 s'),
    20,
  );
  await ready(first, 2);
  expect((await fetch(`${first.url}/api/health`)).status).toBe(200);
  // The old server's worker went with it.
  await until(
    async () => working('one', 'server-worker'),
    (left) => left.length === 1,
    20,
  );

  first.process.kill('SIGINT');
  expect(await first.code).toBe(0);
  await none('one');
  expect(existsSync(join(folder, 'one', 'postgres', 'postmaster.pid'))).toBe(false);
  expect(existsSync(join(folder, 'one', 'address'))).toBe(false);
});

test('one that is stopped does not stop the other’s database', async () => {
  const [a, b] = [await start('one', await freePort()), await start('two', await freePort())];
  await Promise.all([ready(a), ready(b)]);
  a.process.kill('SIGTERM');
  expect(await a.code).toBe(0);
  expect((await fetch(`${b.url}/api/health`)).status).toBe(200);
});

test('all of it killed at once: the next start comes up', async () => {
  const first = await start('killed-whole', await freePort());
  await ready(first);
  const [own, database] = [working('killed-whole', ''), databaseOf('killed-whole')];
  // The script, the server and its worker; the database and its helpers.
  expect([own.length >= 3, database.length > 3]).toEqual([true, true]);
  for (const pid of [...own, ...database]) process.kill(pid, 'SIGKILL');
  const second = await start('killed-whole', await freePort());
  await ready(second);
  expect((await fetch(`${second.url}/api/health`)).status).toBe(200);
});

/** Runs a script with the database functions of the start command, for a data folder of its own; gives what it said. */
function withDatabase(data: string, script: string): { code: number | null; said: string } {
  const { status, stdout, stderr } = spawnSync('bash', ['-c', `set -eu; . scripts/setup.sh; ${script}`], {
    cwd: root,
    env: { ...process.env, CACHE: folder, DATA: join(folder, data), UMBRASTAT_PG_PORT: '54810' },
    encoding: 'utf8',
    timeout: 120_000,
  });
  return { code: status, said: `${stdout}${stderr}` };
}

test('after a kill of everything at once the next start waits for what is left, and works', () => {
  const first = withDatabase(
    'killed',
    'start_database "$DATA"; make_database one; as_pg head -1 "$PG_DATA/postmaster.pid"',
  );
  expect(first.code).toBe(0);
  const folderOf = 'PG_DATA="$DATA/postgres"; [ -d "$PG_DATA" ] || exit 3;';
  const killed = withDatabase(
    'killed',
    `${folderOf} pid=$(as_pg head -1 "$PG_DATA/postmaster.pid"); kill -9 $pid; start_database "$DATA"; ` +
      'psql -qtA "$PG_ADDRESS/one" -c "SELECT 42"; stop_database',
  );
  expect(killed).toEqual({ code: 0, said: expect.stringContaining('42') });
});

test('a database that names another’s process as its own is started, and stopped, without touching that', () => {
  const stranger = spawn('sleep', ['600'], { stdio: 'ignore' });
  try {
    expect(withDatabase('stale', 'start_database "$DATA"; stop_database').code).toBe(0);
    const note = `printf '%s\\n' ${stranger.pid} "$DATA/postgres" 1 54810 '' 127.0.0.1 '' ready`;
    const started = withDatabase(
      'stale',
      `${note} >"$DATA/postgres/postmaster.pid"; chown --reference="$DATA/postgres" "$DATA/postgres/postmaster.pid"; ` +
        'start_database "$DATA"; psql -qtA "$PG_ADDRESS/postgres" -c "SELECT 42"; stop_database; ' +
        `${note} >"$DATA/postgres/postmaster.pid"; PG_STARTED=yes; stop_database; rm "$DATA/postgres/postmaster.pid"`,
    );
    expect(started).toEqual({ code: 0, said: expect.stringMatching(/42[^]*another program/) });
    expect(stranger.exitCode ?? stranger.signalCode).toBe(null);
  } finally {
    stranger.kill();
  }
});
