import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Roll } from '../../api/rolls';
import type { TakeInList } from '../../api/takes';
import { Caller, freshDatabase, startServer, type RunningServer } from '../testing/running-server';

const data = mkdtempSync(join(tmpdir(), 'umbrastat-plate-last-'));
let server: RunningServer;
let ask: Caller;
beforeAll(async () => {
  server = await startServer(await freshDatabase(), data);
  ask = new Caller(server.url);
});
afterAll(async () => {
  await server?.stop();
  rmSync(data, { recursive: true, force: true });
});

test('the plate is rolled last: until the measure by it is made, nothing that it may change is said', async () => {
  const { setupId } = await ask.newSetup({ name: 'Pillar', scene: 'pillar', parts: [] });
  const { parts } = await ask.putTrick(setupId, 'slip-behind');
  const passId = await ask.roll(parts.pass, { width: 640, seconds: 4, seed: 21, crossing: 'slips-behind' });
  const hidden = async () =>
    (await ask.board(setupId)).gate.tricks[0].requirements.find((r) => r.kind === 'hidden-at')!;
  for (let k = 0; (await hidden()).pending && k < 400; k++) await new Promise((resolve) => setTimeout(resolve, 100));
  const roll = await ask.call<Roll>('POST', `/parts/${parts.plate}/rolls`, { width: 640, seconds: 2, seed: 22 });
  expect(roll.status).toBe(201);

  /** What was said one after the other, each word once. */
  const said: string[] = [];
  const counted: string[] = [];
  for (let calm = 0, end = Date.now() + 120_000; calm < 15 && Date.now() < end;) {
    const [r, takes] = [await hidden(), (await ask.call<TakeInList[]>('GET', '/takes')).body];
    const word = r.pending ? 'being measured' : r.verdict;
    if (said.at(-1) !== word) said.push(word);
    const pass = takes.find((t) => t.id === passId)!;
    const toSee = pass.verdict === 'reshoot' || (pass.verdict === 'unjudged' && !pass.pending);
    if (toSee && r.pending) counted.push(pass.text ?? '');
    calm = word === 'being measured' ? 0 : calm + 1;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  expect(said).toEqual(['being measured', 'holds']);
  expect(counted).toEqual([]);
});
