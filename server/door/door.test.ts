import { mkdtempSync, rmSync, statSync } from 'node:fs';
import { request } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { DeviceInList, DoorState } from '../../api/door';
import { freshDatabase, query, startServer, type RunningServer } from '../testing/running-server';
import { hashCode, isCode, makeCode } from './code';
import { isLoopback, ownNames } from './own-pages';
import { welcome } from './welcome';

const data = mkdtempSync(join(tmpdir(), 'umbrastat-door-'));
/** How long the first wrong code too many waits here. */
const WAIT_MS = 150;
let server: RunningServer;
let code: string;

beforeAll(async () => {
  server = await startServer(await freshDatabase(), data, {
    UMBRASTAT_DOOR: 'always',
    UMBRASTAT_FIRST_WAIT_MS: String(WAIT_MS),
  });
  // As made at the first start, but known here.
  code = makeCode();
  await query(server.database, 'UPDATE door SET code_hash = $1, salt = $2', [await hashCode(code, 'salt'), 'salt']);
});
afterAll(async () => {
  await server?.stop();
  rmSync(data, { recursive: true, force: true });
});

interface Said {
  status: number;
  headers: Record<string, string | string[] | undefined>;
  body: string;
}

/** Sends a request with any headers at all: those that browsers set, and pages cannot, too. */
function send(method: string, path: string, headers: Record<string, string> = {}, body?: unknown): Promise<Said> {
  const { hostname, port } = new URL(server.url);
  const text = body === undefined ? '' : JSON.stringify(body);
  const own = body === undefined ? {} : { 'Content-Type': 'application/json', 'Content-Length': String(text.length) };
  return new Promise((resolve, reject) => {
    const req = request({ hostname, port, method, path, headers: { ...own, ...headers } }, (res) => {
      let all = '';
      res.on('data', (d: Buffer) => (all += d.toString()));
      res.on('end', () => resolve({ status: res.statusCode ?? 0, headers: res.headers, body: all }));
    });
    req.on('error', reject);
    req.end(text);
  });
}

/** Joins; gives the device's cookie. */
async function joinAs(name: string, typed = code): Promise<{ said: Said; cookie: string }> {
  const said = await send('POST', '/api/door/join', {}, { code: typed, name });
  const [cookie = ''] = (said.headers['set-cookie'] as string[] | undefined) ?? [];
  return { said, cookie };
}

test('who has not joined gets nothing but the way to join; who has works as at the machine itself', async () => {
  for (const [method, path] of [
    ['GET', '/api/shoots'],
    ['POST', '/api/shoots'],
    ['POST', '/api/uploads'],
    ['GET', '/api/devices'],
  ])
    expect([path, (await send(method, path)).status]).toEqual([path, 401]);
  const state = JSON.parse((await send('GET', '/api/door')).body) as DoorState;
  expect(state).toEqual({ closed: true, joined: false, name: null });

  const { said, cookie } = await joinAs('Phone of the focus puller');
  expect(said.status).toBe(201);
  expect(cookie).toMatch(/HttpOnly/);
  expect(cookie).toMatch(/SameSite=Strict/);
  const mine = { Cookie: cookie.split(';')[0] };
  expect((await send('GET', '/api/shoots', mine)).status).toBe(200);
  const size = { delivery_width: 1280, delivery_height: 720, delivery_fps: 25 };
  expect((await send('POST', '/api/shoots', mine, { name: 'Night Ferry', ...size })).status).toBe(201);
  const upload = { ...mine, 'Tus-Resumable': '1.0.0', 'Upload-Length': '10' };
  expect((await send('POST', '/api/uploads', upload)).status).toBe(201);
  // A cookie that somebody made up, or changed, is none.
  for (const wrong of [`${mine.Cookie}x`, 'umbrastat_device=s%3A00000000-0000-4000-8000-000000000000.x'])
    expect((await send('GET', '/api/shoots', { Cookie: wrong })).status).toBe(401);
});

test('a device is listed, and sent away at once', async () => {
  const [a, b] = [(await joinAs('Tablet\r\nat the monitor')).cookie, (await joinAs('Laptop')).cookie].map((c) => ({
    Cookie: c.split(';')[0],
  }));
  const list = async (who: object) =>
    JSON.parse((await send('GET', '/api/devices', who as Record<string, string>)).body) as DeviceInList[];
  const seen = await list(b);
  expect(seen.filter((d) => d.own).map((d) => d.name)).toEqual(['Laptop']);
  const tablet = seen.find((d) => d.name === 'Tablet at the monitor')!;
  expect((await send('GET', '/api/shoots', a)).status).toBe(200);
  expect((await send('DELETE', `/api/devices/${tablet.id}`, b)).status).toBe(200);
  expect((await send('GET', '/api/shoots', a)).status).toBe(401);
  expect((await list(b)).map((d) => d.name)).not.toContain('Tablet at the monitor');
});

test('another site’s page, or another name for this machine, can do nothing, uploads included', async () => {
  const { cookie } = await joinAs('Phone');
  const mine = { Cookie: cookie.split(';')[0] };
  const own = new URL(server.url).host;
  const upload = { ...mine, 'Tus-Resumable': '1.0.0', 'Upload-Length': '10' };
  const foreign: Record<string, string>[] = [
    { Origin: 'http://ferry.example' },
    { Origin: 'null' },
    { Host: 'ferry.example' },
    { 'Sec-Fetch-Site': 'cross-site' },
    { 'Sec-Fetch-Site': 'same-site' },
    { Origin: `http://localhost:1${own.split(':')[1].slice(1)}` },
  ];
  for (const headers of foreign) {
    for (const [method, path] of [
      ['GET', '/api/shoots'],
      ['POST', '/api/shoots'],
      ['PUT', `/api/shoots/x/archived`],
    ])
      expect([headers, (await send(method, path, { ...mine, ...headers })).status]).toEqual([headers, 403]);
    expect([headers, (await send('POST', '/api/uploads', { ...upload, ...headers })).status]).toEqual([headers, 403]);
    const asked = await send('OPTIONS', '/api/uploads', headers);
    expect(asked.headers['access-control-allow-origin']).toBeUndefined();
  }
  expect((await send('POST', '/api/uploads', { ...upload, Origin: server.url })).status).toBe(201);
  expect(
    (await send('GET', '/api/shoots', { ...mine, Origin: server.url, 'Sec-Fetch-Site': 'same-origin' })).status,
  ).toBe(200);
  const open = await send('POST', '/api/uploads', upload);
  expect(open.headers['access-control-allow-origin']).toBeUndefined();
});

test('what cookies are signed with, and the code, lie nowhere as text', async () => {
  expect(statSync(join(data, 'secret')).mode & 0o777).toBe(0o600);
  const rows = await query<{ code_hash: string }>(server.database, 'SELECT * FROM door');
  expect(JSON.stringify(rows)).not.toContain(code);
});

test('wrong codes slow down who sends them, refuse them in the end, and never anybody else', async () => {
  const from = (address: string, typed = code) =>
    send('POST', '/api/door/join', { 'X-Forwarded-For': address }, { code: typed, name: 'Stranger' });
  const wrong = (address: string, count: number) =>
    Promise.all(Array.from({ length: count }, () => from(address, 'AAAA-AAAA')));
  const took = async (work: () => Promise<Said>) => {
    const began = performance.now();
    return { status: (await work()).status, ms: performance.now() - began };
  };
  // More addresses than any limit on all of them together would allow.
  const many = await Promise.all(Array.from({ length: 21 }, (_, k) => wrong(`10.1.0.${k + 1}`, 5)));
  expect(many.flat().map((s) => s.status)).toEqual(Array.from({ length: 105 }, () => 403));
  const slow = await took(() => from('10.1.0.1', 'AAAA-AAAA'));
  expect(slow.status).toBe(403);
  expect(slow.ms).toBeGreaterThan(0.9 * WAIT_MS);
  // The right one is heard there too, and at once from elsewhere and at the machine.
  expect((await from('10.1.0.1')).status).toBe(201);
  const guesser = await wrong('10.2.0.1', 105);
  expect(guesser.filter((s) => s.status === 429).length).toBe(5);
  expect((await from('10.2.0.1')).status).toBe(429);
  expect((await from('10.2.0.2')).status).toBe(201);
  // Nobody knows who it is that a forwarder sends without a word: they wait, and are not refused.
  const unnamed = await Promise.all(
    Array.from({ length: 12 }, () =>
      send('POST', '/api/door/join', { Via: '1.1 ferry' }, { code: 'AAAA-AAAA', name: 'Stranger' }),
    ),
  );
  expect([...new Set(unnamed.map((s) => s.status))]).toEqual([403]);
  const here = await took(() => send('POST', '/api/door/join', {}, { code, name: 'Here' }));
  expect(here.status).toBe(201);
  expect(here.ms).toBeLessThan(4000);
});

test('a cookie goes over https alone where the browser came by https, however that is said', async () => {
  const cookieOf = async (headers: Record<string, string>) => {
    const { headers: got } = await send('POST', '/api/door/join', headers, { code, name: 'Phone' });
    return String(got['set-cookie']);
  };
  expect(await cookieOf({ 'X-Forwarded-Proto': 'https' })).toMatch(/; Secure/);
  expect(await cookieOf({ Forwarded: 'for=10.0.0.9;proto=https' })).toMatch(/; Secure/);
  expect(await cookieOf({ 'X-Forwarded-Proto': 'http' })).not.toMatch(/Secure/);
  expect(await cookieOf({})).not.toMatch(/Secure/);
});

test('a code is read however it is typed, and told from others', async () => {
  const made = makeCode();
  expect(made).toMatch(/^[A-Z2-9]{4}-[A-Z2-9]{4}$/);
  const hash = await hashCode(made, 's');
  expect(await isCode(` ${made.toLowerCase().replace('-', ' ')} `, 's', hash)).toBe(true);
  expect(await isCode(makeCode(), 's', hash)).toBe(false);
  expect(await isCode(made, 'other', hash)).toBe(false);
});

test('names: this machine’s own alone; opened to the network also those it has there', () => {
  expect([...ownNames('127.0.0.1')]).toEqual(['localhost', '127.0.0.1', '[::1]']);
  expect(ownNames('0.0.0.0', ['Set.Lan']).has('set.lan')).toBe(true);
  expect(['127.0.0.1', '::1', '::ffff:127.0.0.1', 'localhost'].every(isLoopback)).toBe(true);
  expect(['0.0.0.0', '192.168.1.5', '::', '::ffff:10.0.0.1'].some(isLoopback)).toBe(false);
});

test('the start command shows a code that was just made, with a picture of it, and never on loopback', async () => {
  const opened = await welcome({ host: '192.168.1.5', port: 4180 }, 'K7MP-2QXD');
  expect(opened).toContain('ready: http://192.168.1.5:4180');
  expect(opened).toContain('K7MP-2QXD');
  expect(opened).toMatch(/[▀▄█]{5}/);
  expect(await welcome({ host: '192.168.1.5', port: 4180 }, 'old')).toContain('UMBRASTAT_NEW_CODE=yes');
  expect(await welcome({ host: '127.0.0.1', port: 4180 }, null)).toBe('Umbrastat is ready: http://127.0.0.1:4180\n');
});
