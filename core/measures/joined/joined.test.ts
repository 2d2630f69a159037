import { MOST_FRAMES, planJoined, type JoinedTiming } from './plan-joined';
import fc from 'fast-check';
import Joi from 'joi';
import { JOINED } from './description';
import type { JoinedHow } from './joined';

const HOWS: JoinedHow[] = ['line', 'switch', 'through', 'opening', 'cut', 'held', 'over', 'cloth', 'figure', 'edge'];
const count = { first: 100, second: 80 };
const plan = (more: Partial<JoinedTiming> & { how: JoinedHow }) => planJoined({ slide: 0, from: 0, ...more }, count);

test('whatever is wished, only frames that there are are shown, as many of the one as of the other', () => {
  const wish = fc.record({
    how: fc.constantFrom(...HOWS),
    slide: fc.integer({ min: -150, max: 150 }),
    from: fc.nat(99),
    at: fc.option(fc.nat(99)),
    rate_pct: fc.integer({ min: 25, max: 400 }),
  });
  const counts = fc.record({ first: fc.integer({ min: 1, max: 900 }), second: fc.integer({ min: 1, max: 900 }) });
  fc.assert(
    fc.property(wish, counts, (w, c) => {
      const made = planJoined(w, c);
      if (!made) return true;
      const inside = (frames: number[], n: number) => frames.every((f) => Number.isInteger(f) && f >= 0 && f < n);
      return (
        made.first.length === made.second.length &&
        made.first.length <= MOST_FRAMES &&
        made.first.length > 0 &&
        inside(made.first, c.first) &&
        inside(made.second, c.second) &&
        made.second_missing >= 0
      );
    }),
  );
});

test('a cut shows the first until its frame, and then the second to its end', () => {
  const made = plan({ how: 'cut', at: 60, slide: 50 })!;
  expect(made.first.slice(0, 3)).toEqual([0, 1, 2]);
  expect([made.first[59], made.second[60]]).toEqual([59, 10]);
  expect(made.second.at(-1)).toBe(79);
  expect(made.second_missing).toBe(0);
  // The second has nothing to show yet.
  expect(plan({ how: 'cut', at: 60, slide: 61 })).toBeNull();
  expect(plan({ how: 'cut', at: null })).toBeNull();
});

test('a held frame stands through all of the second', () => {
  const made = plan({ how: 'held', at: 33 })!;
  expect([new Set(made.first), made.second.length, made.second[79]]).toEqual([new Set([33]), 80, 79]);
  expect(plan({ how: 'held', at: 100 })).toBeNull();
});

test('at another speed the second passes faster', () => {
  const made = plan({ how: 'over', slide: 20, rate_pct: 200 })!;
  expect([made.second[20], made.second[30], made.second[59]]).toEqual([0, 20, 78]);
  expect(made.first).toHaveLength(100);
});

test('a wish that lacks its frame is refused with a sentence', () => {
  const takes = [count.first, count.second].map((frame_count) => ({ media: { frame_count } })) as never;
  for (const how of ['switch', 'cut', 'held', 'cloth']) {
    const wish = JOINED.wish(Joi).validate({ how }).value as never;
    expect(JOINED.misfit!(wish, takes)).toMatch(/^Choose the frame .*\.$/);
  }
  const over = JOINED.wish(Joi).validate({ how: 'over' });
  expect([over.error, JOINED.misfit!(over.value as never, takes)]).toEqual([undefined, null]);
  expect(JOINED.wish(Joi).validate({ how: 'over', rate_pct: 5 }).error?.message).toMatch(/speed in per cent/);
});

test('a plate that shows in its opening from a frame on may be shorter than the pass; a visitor may not', () => {
  const count = { first: 100, second: 40 };
  expect(planJoined({ how: 'opening', slide: 0, from: 0, at: 60 }, count)!.first).toHaveLength(100);
  expect(planJoined({ how: 'opening', slide: 0, from: 0, at: null }, count)!.first).toHaveLength(40);
});
