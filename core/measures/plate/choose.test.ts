import { rankClearRuns, spreadFrames } from './choose';

const level = (n: number, v = 0) => new Array<number>(n).fill(v);
const take = (
  clear: { start: number; end: number }[],
  more: Partial<Parameters<typeof rankClearRuns>[0][number]> = {},
) => ({ clear, stops: level(200), displacement: level(200), fps: 25, ...more });

test('the run nearest in light comes first, then the nearest in time, then the longer', () => {
  const long = { start: 0, end: 99 },
    short = { start: 120, end: 130 };
  const ranked = rankClearRuns([
    take([short, long]),
    take([long], { gap: 0.3 }),
    take([long], { gap: 0, minutes: 30 }),
    take([long], { gap: null }),
  ]);
  expect(ranked.map((c) => [c.take, c.run.start])).toEqual([
    [0, 0],
    [2, 0],
    [0, 120],
    [3, 0],
    [1, 0],
  ]);
  expect(ranked.find((c) => c.take === 3)!.stops).toBeNull();
  expect(ranked[0].seconds).toBe(4);
});

test('a run in which the light drifted away, the camera moved, or the grain is another, ranks lower', () => {
  const early = { start: 0, end: 60 },
    late = { start: 140, end: 199 };
  const drifting = Array.from({ length: 200 }, (_, f) => (f < 100 ? 0 : 0.4));
  expect(rankClearRuns([take([late, early], { stops: drifting.map((s, f) => (f < 130 ? 0 : s)) })])[0].run).toEqual(
    early,
  );
  const moved = Array.from({ length: 200 }, (_, f) => (f > 150 ? 3 : 0));
  expect(rankClearRuns([take([late, early], { displacement: moved })])[0].run).toEqual(early);
  expect(rankClearRuns([take([early], { grain: 4 }), take([early])])[0].take).toBe(1);
});

test('frames are spread evenly over a run, and all of a short one are used', () => {
  expect(spreadFrames({ start: 10, end: 12 })).toEqual([10, 11, 12]);
  const many = spreadFrames({ start: 0, end: 159 }, 16);
  expect(many).toHaveLength(16);
  expect(new Set(many.slice(1).map((f, k) => f - many[k]))).toEqual(new Set([10]));
});
