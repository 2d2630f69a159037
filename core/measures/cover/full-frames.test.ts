import fc from 'fast-check';
import type { Way } from './edges';
import type { EdgePaths, FoundEdge } from './edge-finder';
import type { CoverEvents } from './events';
import { exactFull } from './full-frames';
import { LINES_AT } from './profile';

const LONG = 1920;
const FRAMES = 80;

interface Crossing {
  way: Way;
  /** Frames, fractions too, at which the middle of the leading edge enters and the trailing edge does. */
  enters: number;
  opens: number;
  /** Pixels a frame, and how far the edge lies further along at the far side than at the near side. */
  speed: number;
  lean: number;
}

/** The edge's place along the way at a share of the breadth; null outside the picture, where it cannot be seen. */
function place(c: Crossing, start: number, f: number, at: number): number | null {
  const along = (f - start) * c.speed + (at - 0.5) * c.lean;
  if (along < 0 || along > LONG) return null;
  return c.way === 0 || c.way === 90 ? along : LONG - along;
}

function edge(c: Crossing, start: number, looked = true): FoundEdge {
  const frames = Array.from({ length: FRAMES }, (_, f) => f);
  const lines = LINES_AT.map((at) => frames.map((f) => place(c, start, f, at)));
  return { looked, lines, softness: 20, byMotion: null, byDefocus: null };
}

/** First and last frame in which neither edge cuts a corner off. */
function truth(c: Crossing): [number, number] {
  const late = Math.abs(c.lean) / 2 / c.speed;
  const first = Math.ceil(c.enters + LONG / c.speed + late),
    last = Math.floor(c.opens - late);
  return [first, last];
}

const crossing = (seed: Partial<Crossing> = {}): Crossing => ({
  way: 0,
  enters: 4.3,
  opens: 44.6,
  speed: 70,
  lean: 40,
  ...seed,
});

const seen = (c: Crossing, off: [number, number], looked = true) => {
  const [first, last] = truth(c);
  const events: CoverEvents = {
    enter: Math.floor(c.enters),
    firstFull: first + off[0],
    lastFull: last + off[1],
    leave: Math.min(FRAMES - 1, Math.ceil(c.opens + LONG / c.speed)),
    peak: (first + last) >> 1,
  };
  const edges: EdgePaths = {
    lead: edge(c, c.enters, looked),
    trail: edge(c, c.opens, looked),
    coarse: { lead: [], trail: [] },
  };
  return { events, found: exactFull(events, edges, c.way, LONG) };
};

test('masks that are a frame or two off are put right by the paths of the edges, whichever way they travel', () => {
  const some = fc.record({
    way: fc.constantFrom<Way>(0, 90, 180, 270),
    enters: fc.double({ min: 2, max: 6, noNaN: true }),
    opens: fc.double({ min: 42, max: 46, noNaN: true }),
    speed: fc.double({ min: 60, max: 80, noNaN: true }),
    lean: fc.double({ min: -80, max: 80, noNaN: true }),
  });
  const off = fc.constantFrom(0, 1);
  fc.assert(
    fc.property(some, off, off, (c, late, early) => {
      // Coarse masks call it full before it is: a strip narrower than one of their pixels does not count.
      const { found } = seen(c, [-late, early]);
      const [first, last] = truth(c);
      expect(Math.abs(found.firstFull! - first)).toBeLessThanOrEqual(1);
      expect(Math.abs(found.lastFull! - last)).toBeLessThanOrEqual(1);
      expect(found).toMatchObject({ enter: Math.floor(c.enters) });
    }),
    { numRuns: 200 },
  );
});

test('a crossing well away from a whole frame is put right exactly', () => {
  for (const way of [0, 90, 180, 270] as const) {
    const c = crossing({ way });
    expect([seen(c, [-1, 1]).found.firstFull, seen(c, [-1, 1]).found.lastFull]).toEqual(truth(c));
    expect([seen(c, [0, 0]).found.firstFull, seen(c, [0, 0]).found.lastFull]).toEqual(truth(c));
  }
});

test('edges that were not followed closely, or bend, change nothing', () => {
  const c = crossing();
  expect(seen(c, [-1, 1], false).found).toEqual(seen(c, [-1, 1], false).events);
  const { events } = seen(c, [-1, 1]);
  const bent = edge(c, c.enters);
  bent.lines[1] = bent.lines[1].map((v) => v && v + 0.03 * LONG);
  const edges: EdgePaths = { lead: bent, trail: edge(c, c.opens, false), coarse: { lead: [], trail: [] } };
  expect(exactFull(events, edges, 0, LONG)).toEqual(events);
});

test('what is never full stays so', () => {
  const { events } = seen(crossing(), [0, 0]);
  const short = { ...events, firstFull: null, lastFull: null };
  const edges: EdgePaths = { lead: edge(crossing(), 4), trail: edge(crossing(), 44), coarse: { lead: [], trail: [] } };
  expect(exactFull(short, edges, 0, LONG)).toEqual(short);
});
