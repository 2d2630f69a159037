import { existsSync, mkdirSync, mkdtempSync, readdirSync, rmSync, utimesSync, writeFileSync } from 'node:fs';
import { randomUUID } from 'node:crypto';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import type { Pool } from 'pg';
import { ALL_MEASURES } from '../../core/measures';
import { openPool } from '../platform/database';
import type { House } from '../platform/house';
import { Storage } from '../platform/storage';
import { freshDatabase, migrateDatabase } from '../testing/running-server';
import { sweep } from './sweep';
import { diskUse, emptyWaste } from './usage';

const DAY = 24 * 3_600_000;
const root = mkdtempSync(join(tmpdir(), 'umbrastat-sweep-'));
const storage = new Storage(root);
let pool: Pool;
let house: House;
/** Hash of the one take's recording, the take, a plate made from it, and one that was removed. */
const hash = 'a'.repeat(64);
let take: string;
let plate: string;
let removed: string;

beforeAll(async () => {
  const database = await freshDatabase();
  migrateDatabase(database);
  pool = openPool(database);
  await storage.prepare();
  house = { pool, storage, measures: ALL_MEASURES } as unknown as House;
  const one = async (text: string, values: unknown[] = []) =>
    (await pool.query<{ id: string }>(text, values)).rows[0].id;
  const shoot = await one(
    `INSERT INTO shoots (name, delivery_width, delivery_height, delivery_fps) VALUES ('Night Ferry', 1280, 720, 25) RETURNING id`,
  );
  const setup = await one(`INSERT INTO setups (shoot_id, number, name) VALUES ($1, 1, 'Kiosk') RETURNING id`, [shoot]);
  const part = await one(`INSERT INTO parts (setup_id, name, position) VALUES ($1, 'Plate', 1) RETURNING id`, [setup]);
  await pool.query('INSERT INTO files (hash, bytes) VALUES ($1, 3), ($2, 3)', [hash, 'b'.repeat(64)]);
  take = await one(
    `INSERT INTO takes (part_id, number, file_hash, name, source) VALUES ($1, 1, $2, 'A001.mp4', 'file') RETURNING id`,
    [part, hash],
  );
  const made = `INSERT INTO measures (measure, take_id, wish, slot) VALUES ('plate', $1, '{}', $2) RETURNING id`;
  plate = await one(made, [take, 'one']);
  removed = await one(made, [take, 'two']);
  await pool.query('UPDATE measures SET deleted_at = now() WHERE id = $1', [removed]);
});
afterAll(async () => {
  await pool?.end();
  rmSync(root, { recursive: true, force: true });
});

function put(...path: string[]): string {
  const at = join(root, ...path);
  mkdirSync(dirname(at), { recursive: true });
  writeFileSync(at, 'xyz');
  return at;
}

test('what broke off, has no owner, or lost its take goes in time; what is used, and what is fresh, stays', async () => {
  const orphan = 'b'.repeat(64);
  const used = [
    put('files', 'aa', hash),
    put('proxies', `${hash}.jpegs`),
    put('wipes', `${take}.shape`),
    put('plates', `${plate}.png`),
  ];
  const lost = put('files', 'bb', orphan);
  // A long upload that still goes on: what is noted of it is as old as its beginning.
  const slow = [put('uploads', 'e'.repeat(32)), put('uploads', `${'e'.repeat(32)}.json`)];
  utimesSync(slow[0], new Date(), new Date(Date.now() + 2 * DAY));
  const broken = [
    put('uploads', 'f'.repeat(32)),
    put('uploads', `${'f'.repeat(32)}.json`),
    put('rolling', `${randomUUID()}.mp4`),
    put('proxies', `${hash}.jpegs.${randomUUID()}`),
  ];
  const ownerless = [put('proxies', `${orphan}.jpegs`), put('wipes', `${randomUUID()}.mp4`)];
  const ofRemoved = put('plates', `${removed}.png`);
  const there = (paths: string[]) => paths.filter((p) => existsSync(p));
  const all = [...slow, ...used, ...broken, ...ownerless, ofRemoved, lost];

  expect(await sweep(house)).toEqual({ brokenOff: 0, ownerless: 0, toWaste: 0, fromWaste: 0 });
  expect(there(all)).toEqual(all);

  expect(await sweep(house, Date.now() + 2 * DAY)).toEqual({ brokenOff: 4, ownerless: 2, toWaste: 1, fromWaste: 0 });
  expect(there(all)).toEqual([...slow, ...used, ofRemoved]);
  for (const path of slow) rmSync(path);
  expect(readdirSync(storage.waste)).toEqual([orphan]);
  expect((await pool.query('SELECT hash FROM files')).rows).toEqual([{ hash }]);

  // A removed plate can be brought back for a week; a recording lies in the waste for one.
  expect(await sweep(house, Date.now() + 10 * DAY)).toEqual({ brokenOff: 0, ownerless: 1, toWaste: 0, fromWaste: 1 });
  expect(there(all)).toEqual(used);
});

test('a recording that comes back while it has no take is not swept from under it', async () => {
  const upload = put('uploads', 'again');
  const { hash: own } = await storage.keepCopy(upload);
  // It has lain there for days, and is asked for again just now.
  await storage.keepCopy(upload);
  await sweep(house, Date.now() + 0.5 * DAY);
  expect(existsSync(storage.file(own))).toBe(true);
});

test('what takes room is said in bytes and files, and the waste can be emptied at once', async () => {
  put('waste', 'c'.repeat(64));
  const rows = async () => Object.fromEntries((await diskUse(house)).rows.map((r) => [r.what, [r.bytes, r.count]]));
  expect(await rows()).toMatchObject({ waste: [3, 1], measured: [9, 3], uploads: [3, 1] });
  await emptyWaste(house);
  expect(await rows()).toMatchObject({ waste: [0, 0], measured: [9, 3] });
  expect((await diskUse(house)).free).toBeGreaterThanOrEqual(0);
});
