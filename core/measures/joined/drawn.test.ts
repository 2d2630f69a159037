import fc from 'fast-check';
import { LaidPasses, type DrawnLine } from './drawn';
import { gapTable, gapTrace } from '../../movers/gaps';
import { outlinesOfPasses, packGaps, turnedRound, turnedTable, unpackGaps } from '../../movers/kept';
import { measurePair } from '../pair/measure';
import { silhouettesOf, type Silhouettes } from '../../movers/silhouettes';
import { runs } from '../../testing/few';

const [W, H] = [96, 54];
const FACTOR = 4;

/** Somebody as a block of 12 x 24 whose left upper corner is at a place for each frame; null for nobody, undefined for not known. */
function pass(count: number, at: (f: number) => { x: number; y?: number } | null | undefined): Silhouettes {
  const figures = Array.from({ length: count }, (_, f) => {
    const place = at(f);
    if (place === undefined) return null;
    if (place === null) return [];
    const rows: number[] = [];
    for (let y = place.y ?? 20; y < (place.y ?? 20) + 24; y++) {
      const [from, to] = [Math.max(0, Math.round(place.x)), Math.min(W - 1, Math.round(place.x) + 11)];
      if (to >= from && y < H) rows.push(y, from, to, 1);
    }
    return [{ rows }];
  });
  return silhouettesOf({ width: W, height: H, figures, always: null, place: null });
}

const straight = (x: number): DrawnLine => ({
  points: [
    [x, 0],
    [x, H * FACTOR],
  ],
  first_side: 'left',
});
/** The first walks from 4 to 33, so up to 44; the second stands at 60. */
const walker = pass(30, (f) => ({ x: 4 + f }));
const stander = pass(30, () => ({ x: 60 }));

const laid = (slide = 0) => new LaidPasses(outlinesOfPasses(walker, stander, FACTOR), slide);

test('frames in which another line stands for it are not cut, nor those in which it was measured to cut nobody', () => {
  const passes = laid();
  const line = straight(30 * FACTOR);
  const { a } = passes.against(line, 0);
  expect(a.runs.length).toBeGreaterThan(0);
  const [{ start, end }] = a.runs;
  expect(passes.against(line, 0, a.runs).a).toMatchObject({ runs: [] });
  expect(passes.against(line, 0, [{ start, end: start }]).a.runs[0]).toEqual({ start: start + 1, end });
  expect(passes.against(line, 0, [], [{ start, end: start }]).a.runs).toEqual([{ start, end: start }]);
  expect(passes.against(line, 0, [], []).a.mask.some((v) => v)).toBe(false);
});

test('a line between the two cuts nobody, and its room is twice the way to the nearer one', () => {
  const found = laid().against(straight(50 * FACTOR), 0);
  expect([found.a.runs, found.b.runs]).toEqual([[], []]);
  // From 50 to the first one's edge at 45, as far as pixels' edges go.
  expect(found.room_px! / FACTOR).toBeCloseTo(10, 0);
  expect(laid().against(straight(50 * FACTOR), 8 * FACTOR).a.runs).toEqual([]);
});

test('what a line cuts is told by frame and by place', () => {
  const { a, b, room_px: room } = laid().against(straight(30 * FACTOR), 0);
  // The first one's right side is past 30 from frame 15 on.
  expect(a.runs).toEqual([{ start: 15, end: 29 }]);
  expect(b.runs).toEqual([]);
  expect(room).toBe(0);
  a.mask.forEach((m, i) => expect(m === 1).toBe(i % W >= 30 && i % W <= 44 && i >= 20 * W && i < 44 * W));
  // On the other side of it everything is cut.
  const other = laid().against({ ...straight(50 * FACTOR), first_side: 'right' }, 0);
  expect([other.a.runs, other.b.runs]).toEqual([[{ start: 0, end: 29 }], [{ start: 0, end: 29 }]]);
});

test('a feather wider than the corridor cuts what it reaches, and says when', () => {
  const { a, room_px: room } = laid().against(straight(50 * FACTOR), 20 * FACTOR);
  // Ten to the left of the line is 40: reached from frame 25 or 26 on.
  expect(a.runs[0].start).toBeGreaterThanOrEqual(25);
  expect(a.runs[0].start).toBeLessThanOrEqual(27);
  expect(room).toBeGreaterThan(0);
});

test('a slide lays other frames on each other', () => {
  // Twenty frames later only the last ten of the first have one of the second.
  expect(laid(20).run).toEqual({ start: 20, end: 29 });
  expect(laid(-25).run).toEqual({ start: 0, end: 4 });
  expect(laid(-25).against(straight(30 * FACTOR), 0).a.runs).toEqual([]);
  expect(laid(40).run.end).toBeLessThan(laid(40).run.start);
  expect(laid(40).against(straight(30 * FACTOR), 0)).toMatchObject({ a: { runs: [] }, room_px: null });
});

test('beside a plate every frame counts in which the first is to be seen', () => {
  const outlines = outlinesOfPasses(
    walker,
    pass(3, () => null),
    FACTOR,
  );
  const line = straight(30 * FACTOR);
  expect(new LaidPasses(outlines, 0).against(line, 0).a.runs).toEqual([]);
  expect(new LaidPasses(outlines, 0, { start: 0, end: 19 }).against(line, 0).a.runs).toEqual([{ start: 15, end: 19 }]);
});

test('seen from the second pass the same is cut', () => {
  const outlines = outlinesOfPasses(walker, stander, FACTOR);
  const turned = new LaidPasses(turnedRound(outlines), 3).against({ ...straight(30 * FACTOR), first_side: 'right' }, 0);
  const own = new LaidPasses(outlines, -3).against(straight(30 * FACTOR), 0);
  expect(turned.a.runs).toEqual([]);
  expect(turned.b.mask).toEqual(own.a.mask);
  // Frames are those of whoever is first.
  expect(turned.b.runs).toEqual(own.a.runs.map((r) => ({ start: r.start + 3, end: r.end + 3 })));
  const table = gapTable(walker, stander);
  expect(turnedTable(turnedTable(table))).toEqual(table);
  expect(gapTrace(turnedTable(table), 0, 30, 1)).toEqual(gapTrace(table, 0, 30, 1));
});

test('a point let go of near the corridor goes into it; far from it, it stays', () => {
  const slanted = (x: number): DrawnLine => ({ ...straight(x), points: [[x, 0], straight(50 * FACTOR).points[1]] });
  const near = laid().snapped(slanted(38 * FACTOR), 0, 8 * FACTOR);
  expect(near[1]).toBe(0);
  // From there to 50 at the foot the line passes the first one's shoulder, at 45 and 20 down.
  expect(near[0] / FACTOR).toBeGreaterThan(42);
  expect(near[0] / FACTOR).toBeLessThan(46);
  expect(laid().against(slanted(near[0]), 0).a.runs).toEqual([]);
  expect(laid().snapped(straight(50 * FACTOR), 1, 8 * FACTOR)).toEqual([50 * FACTOR, H * FACTOR]);
  expect(laid().snapped(straight(20 * FACTOR), 0, 8 * FACTOR)).toEqual([20 * FACTOR, 0]);
  // Frames that need not be served leave more room.
  const without = [{ start: 10, end: 29 }];
  expect(laid().snapped(straight(28 * FACTOR), 0, 8 * FACTOR, without)).toEqual([28 * FACTOR, 0]);
});

test('the line that was found cuts nobody, lying or upright, whoever is first', () => {
  const place = fc.record({ x: fc.integer({ min: 0, max: 84 }), y: fc.integer({ min: 0, max: 40 }) });
  const walk = fc.record({ from: place, to: place });
  fc.assert(
    fc.property(walk, walk, (one, two) => {
      const going = ({ from, to }: typeof one) =>
        pass(12, (f) => ({
          x: from.x + ((to.x - from.x) * f) / 11,
          y: Math.round(from.y + ((to.y - from.y) * f) / 11),
        }));
      const [a, b] = [going(one), going(two)];
      const { found } = measurePair({ a, b, slide: 0, factor: FACTOR, light: null });
      fc.pre(found.seam !== null && found.seam.fixed);
      const passes = new LaidPasses(outlinesOfPasses(a, b, FACTOR), 0);
      const drawn = { points: found.seam!.points, first_side: found.seam!.first_side };
      const against = passes.against(drawn, 0);
      expect([against.a.runs, against.b.runs]).toEqual([[], []]);
      // The corridor of the line as found, to a pixel of the grid either way.
      expect(Math.abs(against.room_px! - found.seam!.feather_px)).toBeLessThanOrEqual(2.1 * FACTOR);
    }),
    { numRuns: runs(60) },
  );
});

test('outlines of large and long passes are coarser, never smaller', () => {
  const figures = Array.from({ length: 1500 }, (_, f) => (f === 700 ? [{ rows: [301, 500, 502, 1] }] : []));
  const wide = silhouettesOf({ width: 1000, height: 562, figures, always: null, place: null });
  const small = outlinesOfPasses(wide, wide, 2);
  expect(small).toMatchObject({ width: 334, height: 188, factor: 6, step: 3, count: { a: 1500, b: 1500 } });
  expect(small.a).toHaveLength(500);
  expect(small.a[233]).toEqual([100, 166, 167]);
  expect(
    new LaidPasses(small, 0).against(
      {
        points: [
          [600, 0],
          [600, 1124],
        ],
        first_side: 'left',
      },
      0,
    ).a.runs,
  ).toEqual([{ start: 699, end: 701 }]);
  const unknown = outlinesOfPasses(
    pass(3, () => undefined),
    pass(3, () => null),
    1,
  );
  expect([unknown.a[0], unknown.b[0]]).toEqual([null, []]);
});

test('the kept table is read back as it was, and gives the trace of any slide', () => {
  const table = gapTable(walker, stander);
  const bytes = packGaps(table);
  expect(unpackGaps(bytes.buffer as ArrayBuffer)).toEqual(table);
  expect(unpackGaps(bytes.buffer.slice(0, 40) as ArrayBuffer)).toBeNull();
  expect(unpackGaps(new ArrayBuffer(4))).toBeNull();
  const asFound = measurePair({ a: walker, b: stander, slide: 7, factor: FACTOR, light: null }).found.path.gap_px;
  const trace = gapTrace(table, 7, 30, FACTOR);
  expect(trace.map((g) => g === null)).toEqual(asFound.map((g) => g === null));
  trace.forEach((g, f) => g !== null && expect(Math.abs(g - asFound[f]!)).toBeLessThan(0.2 * FACTOR));
});
