import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { ZonePage } from '../../api/passes';
import type { TakePage } from '../../api/takes';
import type { RequirementKind } from '../../core/tricks/types';
import { Caller, freshDatabase, KEPT_MAIN, startServer, until, type RunningServer } from '../testing/running-server';

const data = mkdtempSync(join(tmpdir(), 'umbrastat-figures-'));
let server: RunningServer;
let ask: Caller;
let setupId: string, lit: { id: string; takeId: string };

/** What the gate says of a kind of requirement once it is decided. */
const said = async (kind: RequirementKind) =>
  until(
    async () => (await ask.board(setupId)).gate.tricks.flatMap((t) => t.requirements).find((r) => r.kind === kind)!,
    (r) => r.ready && !r.pending,
    150,
  );

beforeAll(async () => {
  server = await startServer(await freshDatabase(), data, {}, KEPT_MAIN);
  ask = new Caller(server.url);
  ({ setupId } = await ask.newSetup({ name: 'Counter', scene: 'kiosk', parts: [] }));
});
afterAll(async () => {
  await server?.stop();
  rmSync(data, { recursive: true, force: true });
});

test('how far a hung thing drifts is said at the trick’s own speed; the empty frame tells it from the place', async () => {
  const { id, trick, parts } = await ask.putTrick(setupId, 'floater');
  const wishes = { speed_pct: 40, push_pct: null, height_m: null, tilt_deg: null, lens_mm: null };
  await ask.call('PUT', `/planned/${id}`, { trick, wishes });
  await ask.roll(parts.plate, { width: 640, seconds: 1, seed: 2 });
  const takeId = await ask.roll(parts.pass, { width: 640, seconds: 2, act: 'hangs', act_fault: 'swings', seed: 3 });
  const drifts = await said('drifts-little');
  expect(drifts).toMatchObject({ verdict: 'reshoot', byEye: false, fix: expect.stringMatching(/stand/) });
  expect(drifts.text).toMatch(
    /drifts by up to \d\d\.\d px \(\d+ % of its size\) and turns by \d+\.\d°.*slowed to 40 %/,
  );
  const page = (await ask.call<TakePage>('GET', `/takes/${takeId}`)).body;
  expect(page.verdict).toBe('reshoot');
});

test('light waits for its zone and its mark, and then is said to rise on it', async () => {
  const { id, parts } = await ask.putTrick(setupId, 'lit-prop');
  const takeId = await ask.roll(parts.pass, { width: 640, seconds: 3, act: 'lights-lamp', seed: 4 });
  lit = { id, takeId };
  expect(await said('light-on-beat')).toMatchObject({ verdict: 'unjudged', text: 'no zone is drawn yet', byEye: true });
  const zone = [[0.5, 0.22], [0.88, 0.22], [0.88, 0.94], [0.5, 0.94]]; // prettier-ignore
  await ask.call('PUT', `/planned/${id}/zone`, { zone });
  // Nine twentieths of three seconds.
  expect(await said('light-on-beat')).toMatchObject({
    verdict: 'unjudged',
    text: expect.stringMatching(/^light rises in the zone at frame 34, by 0\.\d\d stop; no frame is marked yet$/),
  });
  await ask.call('POST', `/takes/${takeId}/marks`, { frame: 34, name: 'Light', kind: 'light', found: 34 });
  expect(await said('light-on-beat')).toMatchObject({
    verdict: 'holds',
    byEye: false,
    text: expect.stringMatching(/on “Light”, and nowhere else$/),
  });
});

test('a zone that is too small for the light is said, on the zone’s page as at the gate', async () => {
  const zone = [[0.66, 0.5], [0.72, 0.5], [0.72, 0.67], [0.66, 0.67]]; // prettier-ignore
  await ask.call('PUT', `/planned/${lit.id}/zone`, { zone });
  const { text } = await said('light-on-beat');
  expect(text).toMatch(/brighter outside the zone too: \d+ % of what changes lies there$/);
  const { body } = await ask.call<ZonePage>('GET', `/setups/${setupId}/zones`);
  const own = body.tricks.find((t) => t.id === lit.id)!;
  expect(own.takes).toHaveLength(1);
  expect(own.takes[0]).toMatchObject({ id: lit.takeId, watched: false, zone: null });
  expect(own.takes[0].said[0].text).toContain(text);
});
