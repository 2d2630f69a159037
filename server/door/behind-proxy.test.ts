import { execFileSync, spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { freshDatabase, startServer, type RunningServer } from '../testing/running-server';
import { testUnless } from '../testing/skipped';

/** Somebody on another machine, told by a network of its own, and a forwarder between them and the server's loopback. */
const NAME = `umb${process.pid % 100000}`;
const [HERE, THERE] = ['10.219.77.1', '10.219.77.2'];
const PROXY_PORT = 8199;
const ip = (...args: string[]) => execFileSync('ip', args, { stdio: 'pipe' });

/** Passes requests on with some headers set; with a Host of its own where one is given. */
const PROXY = `
const http = require('node:http');
const [port, more] = [Number(process.argv[1]), JSON.parse(process.argv[2])];
http.createServer((req, res) => {
  const headers = { ...req.headers, ...more };
  const on = http.request({ host: '127.0.0.1', port, method: req.method, path: req.url, headers }, (back) => {
    res.writeHead(back.statusCode, back.headers); back.pipe(res);
  });
  req.pipe(on);
}).listen(${PROXY_PORT}, '${HERE}', () => console.log('ready'));`;

/** Sends requests from the other network, one after the other; prints their statuses. */
const ASK = `
const http = require('node:http');
const ask = ([host, method, path, body]) => new Promise((resolve) => {
  const headers = { Host: host, ...(body ? { 'Content-Type': 'application/json' } : {}) };
  http.request({ host: '${HERE}', port: ${PROXY_PORT}, method, path, headers }, (res) => resolve(res.statusCode))
    .end(body && JSON.stringify(body));
});
(async () => {
  const all = [];
  for (const one of JSON.parse(process.argv[1])) all.push(await ask(one));
  console.log(JSON.stringify(all));
  process.exit(0);
})();`;

const data = mkdtempSync(join(tmpdir(), 'umbrastat-proxy-'));
let server: RunningServer | null = null;
let proxy: ChildProcess | null = null;
let hasNetwork = false;

function hasNamespaces(): boolean {
  try {
    ip('netns', 'add', NAME);
    ip('link', 'add', `${NAME}a`, 'type', 'veth', 'peer', 'name', `${NAME}b`, 'netns', NAME);
    ip('addr', 'add', `${HERE}/24`, 'dev', `${NAME}a`);
    ip('link', 'set', `${NAME}a`, 'up');
    ip('netns', 'exec', NAME, 'ip', 'addr', 'add', `${THERE}/24`, 'dev', `${NAME}b`);
    ip('netns', 'exec', NAME, 'ip', 'link', 'set', `${NAME}b`, 'up');
    return true;
  } catch {
    return false;
  }
}
hasNetwork = hasNamespaces();

afterAll(async () => {
  proxy?.kill();
  await server?.stop();
  try {
    ip('netns', 'del', NAME);
  } catch {
    // There was none.
  }
  rmSync(data, { recursive: true, force: true });
});

async function passOn(headers: Record<string, string>): Promise<void> {
  const before = proxy;
  if (before) {
    const gone = new Promise((resolve) => before.once('exit', resolve));
    before.kill();
    await gone;
  }
  const { port } = new URL(server!.url);
  const fresh = spawn(process.execPath, ['-e', PROXY, port, JSON.stringify(headers)], {
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  proxy = fresh;
  await new Promise((resolve) => fresh.stdout.once('data', resolve));
}

type Asked = [host: string, method: string, path: string, body?: object];
const ask = (all: Asked[]) =>
  JSON.parse(
    execFileSync('ip', ['netns', 'exec', NAME, process.execPath, '-e', ASK, JSON.stringify(all)]).toString(),
  ) as number[];

const SHOOT = { name: 'Night Ferry', delivery_width: 1280, delivery_height: 720, delivery_fps: 25 };

testUnless(hasNetwork ? null : 'no network namespace can be made (not root, or no iproute2)')(
  'through a forwarder on this machine nobody gets in without the pass code, whatever name they ask for',
  async () => {
    const database = await freshDatabase();
    for (const env of [
      { UMBRASTAT_HOST: '127.0.0.1' },
      { UMBRASTAT_HOST: '0.0.0.0' },
      { UMBRASTAT_HOST: '127.0.0.1', UMBRASTAT_NAMES: 'set.lan' },
    ] as Record<string, string>[]) {
      server = await startServer(database, data, env);
      const { host } = new URL(server.url);
      for (const headers of [
        { 'X-Forwarded-For': THERE, 'X-Forwarded-Proto': 'https' },
        { Forwarded: `for=${THERE};proto=https` },
        { Via: '1.1 set' },
        { 'X-Forwarded-Host': 'set.lan', Host: host },
      ] as Record<string, string>[]) {
        await passOn(headers);
        const statuses = ask([
          ...['localhost', host].flatMap((name): Asked[] => [
            [name, 'GET', '/api/shoots'],
            [name, 'POST', '/api/shoots', SHOOT],
          ]),
          ['localhost', 'GET', '/api/door'],
        ]);
        expect([env, headers, statuses]).toEqual([env, headers, [401, 401, 401, 401, 200]]);
      }
      // One that says nothing is known only where a name was given for it.
      if ('UMBRASTAT_NAMES' in env) {
        await passOn({});
        expect(ask(['set.lan', 'localhost'].map((name) => [name, 'GET', '/api/shoots']))).toEqual([401, 401]);
      } else expect((await fetch(`${server.url}/api/shoots`)).status).toBe(200);
      await server.stop();
      server = null;
    }
  },
);
