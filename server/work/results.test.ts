import { randomUUID } from 'node:crypto';
import type { Pool } from 'pg';
import { openPool } from '../platform/database';
import { freshDatabase } from '../testing/running-server';
import { readResults } from './results';

let pool: Pool;
/** Statements that were sent. */
let sent = 0;

beforeAll(async () => {
  pool = openPool(await freshDatabase(true));
  await pool.query('CREATE TABLE measures (id uuid PRIMARY KEY, finished integer NOT NULL, result jsonb)');
});
beforeEach(() => {
  sent = 0;
});
afterAll(() => pool?.end());

const counting = () =>
  new Proxy(pool, {
    get: (of, key) => {
      if (key === 'query') sent++;
      const held: unknown = Reflect.get(of, key);
      return typeof held === 'function' ? (held.bind(of) as unknown) : held;
    },
  });
const keep = async (result: object | null, finished = 1) => {
  const id = randomUUID();
  await pool.query('INSERT INTO measures VALUES ($1, $2, $3)', [id, finished, result]);
  return { id, finished };
};

test('what was read once is not read again', async () => {
  const one = await keep({ peak: 1 });
  const two = await keep({ peak: 2 });
  expect((await readResults(counting(), [one])).get(one.id)).toEqual({ peak: 1 });
  expect(sent).toBe(1);
  const both = await readResults(counting(), [one, two]);
  expect([both.get(one.id), both.get(two.id)]).toEqual([{ peak: 1 }, { peak: 2 }]);
  expect(sent).toBe(2);
  await readResults(counting(), [one, two]);
  expect(sent).toBe(2);
});

test('the same result is given again, so that what is worked out from it can be kept with it', async () => {
  const one = await keep({ peak: 3 });
  const first = (await readResults(pool, [one])).get(one.id);
  expect((await readResults(pool, [one])).get(one.id)).toBe(first);
});

test('measured again, it is read anew', async () => {
  const one = await keep({ peak: 4 });
  await readResults(pool, [one]);
  await pool.query('UPDATE measures SET result = $2, finished = finished + 1 WHERE id = $1', [one.id, { peak: 5 }]);
  const again = { ...one, finished: 2 };
  expect((await readResults(counting(), [again])).get(one.id)).toEqual({ peak: 5 });
  expect(sent).toBe(1);
  // And then is the one that is known.
  await readResults(counting(), [again]);
  expect(sent).toBe(1);
});

test('measured again between two statements: what is read is kept as what it is', async () => {
  const one = await keep({ peak: 6 }, 7);
  // Whoever asks saw the row before it was measured for the seventh time.
  expect((await readResults(pool, [{ id: one.id, finished: 6 }])).get(one.id)).toEqual({ peak: 6 });
  expect((await readResults(counting(), [one])).get(one.id)).toEqual({ peak: 6 });
  expect(sent).toBe(0);
});

test('no rows need no statement; rows that are gone or have no result are left out', async () => {
  expect((await readResults(counting(), [])).size).toBe(0);
  expect(sent).toBe(0);
  const none = await keep(null);
  expect((await readResults(pool, [none, { id: randomUUID(), finished: 1 }])).size).toBe(0);
});
