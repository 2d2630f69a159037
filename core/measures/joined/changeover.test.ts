import fc from 'fast-check';
import { changeover, comeIn, matteAt } from './changeover';

const shot = { start: 0, end: 99 };

test('a line gives way while neither cuts anybody, over a few frames', () => {
  expect(changeover(50, [{ start: 53, end: 99 }], [{ start: 0, end: 46 }], shot)).toEqual({ start: 47, end: 52 });
  expect(changeover(50, [], [], shot)).toEqual({ start: 44, end: 55 });
  expect(changeover(50, [{ start: 50, end: 99 }], [{ start: 0, end: 49 }], shot)).toBeNull();
  expect(changeover(1, [], [], { start: 0, end: 3 })).toEqual({ start: 0, end: 3 });
});

test('no frame of it is one in which either of the two cuts somebody', () => {
  const run = fc
    .tuple(fc.integer({ min: 0, max: 99 }), fc.integer({ min: 0, max: 20 }))
    .map(([start, n]) => ({ start, end: Math.min(99, start + n) }));
  const runs = fc.array(run, { maxLength: 5 });
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 99 }), runs, runs, (first, before, after) => {
      const found = changeover(first, before, after, shot);
      if (!found) return;
      for (let f = found.start; f <= found.end; f++)
        expect([...before, ...after].some((r) => f >= r.start && f <= r.end)).toBe(false);
      expect(found.start).toBeGreaterThanOrEqual(first - 6);
      expect(found.end).toBeLessThan(first + 6);
    }),
  );
});

test('it comes in evenly, and is whole on both sides', () => {
  const over = { start: 47, end: 52 };
  expect(comeIn(over, 46)).toBe(0);
  expect(comeIn(over, 53)).toBe(1);
  const steps = [47, 48, 49, 50, 51, 52].map((f) => comeIn(over, f));
  for (let k = 1; k < steps.length; k++) expect(steps[k] - steps[k - 1]).toBeCloseTo(1 / 7, 9);
});

test('which line parts the two at a frame: held ones in their runs, the shot’s own elsewhere', () => {
  const held = [
    { start: 30, end: 49, matte: 'one', ease_in: { start: 28, end: 31 } },
    { start: 50, end: 59, matte: 'two', ease_in: { start: 48, end: 51 }, ease_out: { start: 58, end: 61 } },
  ];
  const at = (f: number) => matteAt('own', held, f);
  expect(at(10)).toEqual({ from: 'own', to: null, share: 0 });
  expect(at(29)).toMatchObject({ from: 'own', to: 'one' });
  expect(at(40)).toEqual({ from: 'one', to: null, share: 0 });
  expect(at(50)).toMatchObject({ from: 'one', to: 'two', share: 3 / 5 });
  expect(at(60)).toMatchObject({ from: 'two', to: 'own' });
  expect(at(70)).toEqual({ from: 'own', to: null, share: 0 });
});
