import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { USUAL_SERVER } from '../../cli/pack';
import { readConfig } from './config';

const database = 'postgres://127.0.0.1/umbrastat';

test('the command line looks for a server where ./start serves one, and the papers name that place', () => {
  const { host, port } = readConfig({ UMBRASTAT_DATABASE: database });
  expect(USUAL_SERVER).toBe(`http://${host}:${port}`);
  expect(readFileSync(join(__dirname, '..', '..', 'README.md'), 'utf8')).toContain(`127.0.0.1:${port}`);
  expect(readConfig({ UMBRASTAT_DATABASE: database, PORT: '4190' }).port).toBe(4190);
});

test('without a database it says how to start', () => {
  expect(() => readConfig({})).toThrow(/\.\/start/);
});
