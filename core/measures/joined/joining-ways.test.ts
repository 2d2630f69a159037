import fc from 'fast-check';
import { runs } from '../../testing/few';
import type { JoinedWish } from './joined';
import { JOINED_HOWS, JOINING_WAYS, missingOf } from './joining-ways';
import { planJoined } from './plan-joined';

const WISH: Omit<JoinedWish, 'how'> = {
  ...{ slide: 0, from: 0, line: null, moves: [], feather_px: 4, at: null, strength: [], outline: null, lift_stops: 0 },
  ...{ rate_pct: 100, front: 'first' },
};

test('every way has a name of its own and says what was made of the two', () => {
  expect(new Set(JOINED_HOWS.map((how) => JOINING_WAYS[how].name)).size).toBe(JOINED_HOWS.length);
  for (const how of JOINED_HOWS) {
    const said = JOINING_WAYS[how].says({ ...WISH, how, at: 7 }, 'Pass A', 'Plate');
    expect(said).not.toMatch(/undefined|null|NaN/);
    // What turns on a frame names it, but an opening that is there from the first frame on.
    if (JOINING_WAYS[how].needs.at) expect(said).toContain('frame 7');
  }
});

test('what a way cannot do without is asked for, one thing at a time, and nothing else is', () => {
  for (const how of JOINED_HOWS) {
    const { needs } = JOINING_WAYS[how];
    const there = { line: {}, outline: [], at: 0 };
    expect(missingOf({ how, ...there })).toBeNull();
    for (const need of ['line', 'outline', 'at'] as const)
      expect(missingOf({ how, ...there, [need]: null })).toBe(needs[need] ?? null);
    // A frame that is asked for is a frame that is sent.
    if (needs.at) expect(JOINING_WAYS[how].turns).toBe(true);
  }
});

test('what shows evenly shows between not at all and wholly, and what is cut in is whole from its frame on', () => {
  fc.assert(
    fc.property(fc.constantFrom(...JOINED_HOWS), fc.nat(200), fc.nat(200), fc.nat(100), (how, at, frame, pct) => {
      const share = JOINING_WAYS[how].evenly({ at, strength: [{ frame: 0, pct }] }, frame);
      if (share === null) return;
      expect(share).toBeGreaterThanOrEqual(0);
      expect(share).toBeLessThanOrEqual(1);
      if (how === 'cut') expect(share).toBe(frame >= at ? 1 : 0);
      if (how === 'opening') expect([share, frame < at]).toEqual([0, true]);
    }),
    { numRuns: runs(400) },
  );
});

test('two performers are both there in every frame; a plate may stand', () => {
  const count = { first: 100, second: 40 };
  expect(planJoined({ how: 'line', slide: 0, from: 0 }, count)?.first).toHaveLength(40);
  expect(planJoined({ how: 'opening', slide: 0, from: 0 }, count)?.first).toHaveLength(40);
  expect(planJoined({ how: 'opening', slide: 0, from: 0, at: 10 }, count)?.first).toHaveLength(100);
  for (const how of ['switch', 'through', 'cloth', 'figure', 'edge'] as const)
    expect(planJoined({ how, slide: 0, from: 0, at: 10 }, count)).toMatchObject({ second_missing: 60 });
});
