import fc from 'fast-check';
import type { DrawnLine } from '../../core/measures/joined/drawn';
import {
  handlesOf,
  middleLine,
  pathOf,
  pointAdded,
  pointDropped,
  pointMoved,
  seenFrom,
  sidesChanged,
  thinned,
} from './line-by-hand';

const SIZE = { width: 1280, height: 720 };
const bent: DrawnLine = {
  points: [
    [600, 0],
    [640, 300],
    [620, 720],
  ],
  first_side: 'left',
};

test('ends stay on their edges, and points between keep their order', () => {
  expect(pointMoved(bent, 0, [500, 90], SIZE).points[0]).toEqual([500, 0]);
  expect(pointMoved(bent, 2, [-40, 90], SIZE).points[2]).toEqual([0, 720]);
  expect(pointMoved(bent, 1, [700, 900], SIZE).points[1]).toEqual([700, 718]);
  const lying: DrawnLine = {
    points: [
      [0, 200],
      [1280, 220],
    ],
    first_side: 'top',
  };
  expect(pointMoved(lying, 0, [300, 260], SIZE).points[0]).toEqual([0, 260]);
});

test('wherever points are put, the line still goes from edge to edge and never back', () => {
  const put = fc.record({
    index: fc.nat(9),
    x: fc.integer({ min: -300, max: 1600 }),
    y: fc.integer({ min: -300, max: 1100 }),
    add: fc.boolean(),
  });
  fc.assert(
    fc.property(fc.array(put, { maxLength: 20 }), (puts) => {
      let line = middleLine(SIZE);
      for (const { index, x, y, add } of puts) {
        if (add) line = pointAdded(line, index % line.points.length).line;
        line = pointMoved(line, index % line.points.length, [x, y], SIZE);
      }
      const ys = line.points.map(([, y]) => y);
      expect([ys[0], ys[ys.length - 1]]).toEqual([0, SIZE.height]);
      ys.slice(1).forEach((y, i) => expect(y).toBeGreaterThanOrEqual(ys[i]));
      for (const [x] of line.points) expect(x >= 0 && x <= SIZE.width).toBe(true);
    }),
  );
});

test('a point more and a point less', () => {
  const { line, index } = pointAdded(bent, 0);
  expect([line.points[1], index]).toEqual([[620, 150], 1]);
  expect(pointDropped(line, 1)).toEqual(bent);
  expect([pointDropped(bent, 0), pointDropped(bent, 2)]).toEqual([bent, bent]);
  expect(pointAdded(bent, 2).index).toBe(2);
});

test('points on each other become one, and the ends stay', () => {
  const found: DrawnLine = {
    points: [
      [600, 0],
      [600, 2],
      [640, 300],
      [641, 301],
      [620, 718],
      [620, 720],
    ],
    first_side: 'left',
  };
  expect(thinned(found, 4).points).toEqual([
    [600, 0],
    [640, 300],
    [620, 720],
  ]);
  expect(thinned(bent, 4)).toEqual(bent);
});

test('sides change with the take that is first', () => {
  expect(sidesChanged(bent).first_side).toBe('right');
  expect(seenFrom(sidesChanged(bent), true)).toEqual(bent);
  expect(seenFrom(bent, false)).toBe(bent);
});

test('a mask is drawn row by row', () => {
  expect(pathOf(Uint8Array.of(0, 1, 1, 0, 0, 0, 1, 0), 4, 2)).toBe('M2.0 0.0H6.0V2.0H2.0ZM4.0 2.0H6.0V4.0H4.0Z');
  expect(pathOf(new Uint8Array(8), 4, 2)).toBe('');
});

test('points that can be taken hold of lie apart on screen, and the chosen one is always among them', () => {
  const points = fc.array(fc.tuple(fc.integer({ min: 0, max: 1280 }), fc.integer({ min: 0, max: 720 })), {
    minLength: 1,
    maxLength: 40,
  });
  fc.assert(
    fc.property(points, fc.double({ min: 0.2, max: 1, noNaN: true }), fc.nat(), (all, scale, n) => {
      const picked = n % all.length;
      const shown = handlesOf(all, scale, picked);
      expect(shown).toContain(picked);
      expect(shown).toEqual([...new Set(shown)].sort((a, b) => a - b));
      for (const [k, i] of shown.entries())
        for (const j of shown.slice(k + 1)) {
          const apart = Math.max(Math.abs(all[i][0] - all[j][0]), Math.abs(all[i][1] - all[j][1])) * scale;
          expect(apart).toBeGreaterThanOrEqual(24);
        }
      // None is left out that had room.
      for (const i of all.keys())
        if (!shown.includes(i))
          expect(
            shown.some((j) => Math.max(Math.abs(all[i][0] - all[j][0]), Math.abs(all[i][1] - all[j][1])) * scale < 28),
          ).toBe(true);
    }),
  );
});
