import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { MeasureSent } from '../../api/measures';
import type { SpotFound, StillsFound } from '../../core/report/moment-types';
import { Caller, freshDatabase, KEPT_MAIN, startServer, until, type RunningServer } from '../testing/running-server';

const data = mkdtempSync(join(tmpdir(), 'umbrastat-moments-'));
let server: RunningServer;
let ask: Caller;
const small = { width: 640, seconds: 2.4 };

beforeAll(async () => {
  server = await startServer(await freshDatabase(), data, {}, KEPT_MAIN);
  ask = new Caller(server.url);
});
afterAll(async () => {
  await server?.stop();
  rmSync(data, { recursive: true, force: true });
});

/** A setup with a trick, and a way to roll its parts and to wait for one of its requirements. */
async function planned(trick: string) {
  const { setupId } = await ask.newSetup({ name: 'Quay', scene: 'kiosk', parts: [] });
  const { id, parts } = await ask.putTrick(setupId, trick);
  const requirement = (kind: string) =>
    until(
      async () => (await ask.board(setupId)).gate.tricks[0].requirements.find((r) => r.kind === kind)!,
      (r) => r.ready && !r.pending,
      150,
    );
  return {
    setupId,
    plannedId: id,
    roll: (part: string, how: object) => ask.roll(parts[part], { ...small, ...how }),
    requirement,
  };
}

test('whether a frame is sharp enough to be held is decided by measure', async () => {
  const { roll, requirement } = await planned('held-moment');
  const fall = await roll('fall', { crossing: 'comes-and-stays', seed: 4 });
  const sharp = await requirement('sharp-at');
  expect(sharp).toMatchObject({ verdict: 'holds', byEye: false });
  expect(sharp.text).toMatch(/^the sharpest is frame \d+: \d+\.\d px of motion blur/);
  const { result } = await ask.measure('stills', [fall]);
  const { stills } = result as StillsFound;
  expect(stills.length).toBeGreaterThan(2);
  expect(stills[0]).toMatchObject({ whole: true, hold: 'holds', files: null });
});

test('whether one thing starts where another ended is decided by measure, and frames can be chosen', async () => {
  const { roll, requirement, setupId, plannedId } = await planned('mid-air-vanish');
  const jump = await roll('jump', { crossing: 'left-to-right', seed: 3 });
  const prop = await roll('prop', { crossing: 'comes-and-stays', seed: 4 });
  await roll('plate', { crossing: 'nobody', seed: 2 });
  const spot = await requirement('same-spot');
  // Both may be at the same edge in these frames: what counts is that it is told.
  expect([spot.byEye, spot.verdict]).toEqual([false, expect.stringMatching(/^(holds|workable|reshoot)$/)]);
  expect(spot.text).toMatch(/^(At frame \d+ of the second it lies \d+ px|The two lie on the same spot)/);
  const asked = await ask.measure('spot', [jump, prop], { at_a: 30, at_b: 45 });
  expect(asked.result as SpotFound).toMatchObject({ at_a: 30, at_b: 45 });
  // What is noted of the lens, and a sensor entered in a sum, say how far it is on set.
  expect(asked.verdict!.reasons[0].fix).not.toContain('cm');
  await ask.call('PATCH', `/setups/${setupId}`, { camera: { focal_mm: 50, focus_m: 5 } });
  const inputs = { distance: 5, performer: 0.9, feather: 90, delivery_width: 1280, focal: 50, sensor_width: 24.9 };
  const kept = await ask.call('POST', `/planned/${plannedId}/sums`, {
    kind: 'double-room',
    inputs: { ...inputs, sensor_height: 18.7, aspect: 1.778 },
  });
  expect(kept.status).toBe(201);
  const again = (await ask.call<MeasureSent>('GET', `/measures/${asked.id}`)).body;
  expect(again.verdict!.reasons[0].fix).toMatch(
    /\d px \(about \d+(\.\d)? cm\) to the (left|right).*, at 5 m, and roll/,
  );
  const wrong = await ask.call<{ error: string }>('POST', '/measures/spot', {
    take: jump,
    against: prop,
    wish: { at_a: 4000, at_b: null },
  });
  expect(wrong).toMatchObject({ status: 422, body: { error: 'The first take has frames 0 to 59; give one of them.' } });
});

test('a cloth is told by the plate: without one a sentence says so, and where there is no cloth it is unjudged', async () => {
  const { roll, requirement } = await planned('cloth-drop');
  await roll('pass', { crossing: 'comes-and-stays', seed: 4 });
  expect(await requirement('cloth-hides')).toMatchObject({
    verdict: 'unjudged',
    text: expect.stringContaining('Roll the plate of this setup') as string,
  });
  await roll('plate', { crossing: 'nobody', seed: 2 });
  const told = await until(
    () => requirement('cloth-hides'),
    (r) => !r.text.includes('Roll the plate'),
    200,
  );
  expect(told.text).toMatch(/No cloth was told|look too much alike/);
  expect(told.verdict).toBe('unjudged');
});
