import fc from 'fast-check';
import {
  edgesToSet,
  handLines,
  handMasks,
  keysOfEdge,
  lineAt,
  linesIn,
  nextToSet,
  refitted,
  type HandKey,
} from './by-hand';
import { shareOf } from '../../base/image/mask';

const SIZE = { width: 80, height: 45, colourWidth: 40, colourHeight: 23, factor: 1 };
const key = (frame: number, at: number, edge: HandKey['edge'] = 'lead'): HandKey => ({ frame, edge, from: at, to: at });

/** Answers what halving asks for from a known path, until nothing more is asked. */
function answered(path: (f: number) => number, ends: { start: number; end: number }, within: number): HandKey[] {
  const keys: HandKey[] = [];
  for (
    let next = nextToSet(keys, ends, within);
    next !== null;
    next = nextToSet(keysOfEdge(keys, 'lead'), ends, within)
  ) {
    if (keys.length > 400) throw new Error('Halving asks without end.');
    keys.push(key(next, path(next)));
  }
  return keys;
}

test('halving asks for the ends first, then the middle; an even edge needs no more', () => {
  expect(answered((f) => 0.03 * f, { start: 4, end: 30 }, 0.002).map((k) => k.frame)).toEqual([4, 30, 17]);
  expect(
    answered((f) => 0.0012 * f * f, { start: 0, end: 32 }, 0.002)
      .map((k) => k.frame)
      .slice(0, 4),
  ).toEqual([0, 32, 16, 8]);
  expect(nextToSet([key(3, 0.1), key(4, 0.2)], { start: 3, end: 4 }, 0.001)).toBeNull();
});

test('once halving is content, every frame it asked for lies on the lines between the others, and it asks for none twice', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 2, max: 90 }),
      fc.double({ min: 0.5, max: 2.5, noNaN: true }),
      fc.double({ min: 0.001, max: 0.02, noNaN: true }),
      (last, power, within) => {
        const keys = answered((f) => (f / last) ** power, { start: 0, end: last }, within);
        expect(new Set(keys.map((k) => k.frame)).size).toBe(keys.length);
        expect(keys.length).toBeLessThanOrEqual(last + 1);
        const sorted = keysOfEdge(keys, 'lead');
        for (const k of sorted) expect(lineAt(sorted, k.frame)!.from).toBeCloseTo(k.from, 9);
      },
    ),
  );
});

test('between and beyond the keys a line goes on straight; one key stands; none is none', () => {
  const keys = [key(10, 0.2), key(20, 0.6)];
  expect(lineAt(keys, 15)!.from).toBeCloseTo(0.4);
  expect(lineAt(keys, 25)!.from).toBeCloseTo(0.8);
  expect(lineAt(keys, 5)!.from).toBeCloseTo(0);
  expect(lineAt([keys[0]], 99)).toEqual({ from: 0.2, to: 0.2 });
  expect(lineAt([], 3)).toBeNull();
  expect(keysOfEdge([key(3, 0.1), key(3, 0.7), key(1, 0)], 'lead').map((k) => [k.frame, k.from])).toEqual([
    [1, 0],
    [3, 0.7],
  ]);
});

test.each([0, 90, 180, 270] as const)('way %d: the object lies between its leading and its trailing edge', (way) => {
  const forwards = way < 180;
  const at = (share: number) => (forwards ? share : 1 - share);
  const keys: HandKey[] = [
    key(0, at(0), 'lead'),
    key(10, at(1), 'lead'),
    key(5, at(0), 'trail'),
    key(15, at(1), 'trail'),
  ];
  const masks = handMasks({ kind: 'passing', way, keys }, 20, SIZE);
  const share = masks.map(shareOf);
  [
    [0, 0],
    [5, 0.5],
    [8, 0.5],
    [12, 0.3],
    [19, 0],
  ].forEach(([f, wanted]) => expect(Math.abs(share[f] - wanted)).toBeLessThan(0.03));
  // What lies ahead of the leading edge is free.
  const ahead = way === 0 || way === 270 ? masks[5][SIZE.width - 1] : masks[5][way === 90 ? masks[5].length - 1 : 0];
  expect(ahead).toBe(0);
});

test('a door that the camera walks up to has four sides, a lid one; leaning lines lean', () => {
  expect([edgesToSet('approaching').length, edgesToSet('closing').length, edgesToSet('panning').length]).toEqual([
    4, 1, 2,
  ]);
  const box = (frame: number, half: number): HandKey[] => [
    key(frame, 0.5 - half, 'left'),
    key(frame, 0.5 + half, 'right'),
    key(frame, 0.5 - half, 'top'),
    key(frame, 0.5 + half, 'bottom'),
  ];
  const masks = handMasks({ kind: 'approaching', way: 0, keys: [...box(0, 0.2), ...box(10, 0.6)] }, 11, SIZE);
  expect(shareOf(masks[0])).toBeCloseTo(0.16, 1);
  expect(shareOf(masks[10])).toBe(1);
  const leaning = handMasks({ kind: 'closing', way: 90, keys: [{ frame: 0, edge: 'lead', from: 0, to: 1 }] }, 1, SIZE);
  expect(shareOf(leaning[0])).toBeCloseTo(0.5, 1);
  expect([leaning[0][0], leaning[0][SIZE.width - 1]]).toEqual([0, 1]);
});

test('the picture is believed where it agrees with the person, and not where it does not', () => {
  const keys = [key(0, 0.1), key(20, 0.9)];
  const lines = handLines({ kind: 'passing', way: 0, keys }, 'lead', 21)!;
  const found = (by: (f: number) => number | null) =>
    lines.map((line) =>
      line.map((v, f) => {
        const d = by(f);
        return d === null ? null : v + d;
      }),
    );
  const near = refitted(
    lines,
    found((f) => (f === 7 ? 0.2 : 0.004)),
    [0, 20],
  );
  expect(near.confirmed).toBeGreaterThan(0.8);
  expect(near.lines[1][10] - lines[1][10]).toBeCloseTo(0.004);
  // One frame in which it jumps away stays as it was set.
  expect(near.lines[1][7]).toBe(lines[1][7]);
  expect(near.shift[10]).toBeCloseTo(0.004);
  expect(
    refitted(
      lines,
      found(() => 0.03),
      [0, 20],
    ),
  ).toMatchObject({ confirmed: 0, lines });
  expect(
    refitted(
      lines,
      found(() => null),
      [0, 20],
    ).confirmed,
  ).toBe(0);
  expect(linesIn([[-0.2, 0.5, 1.3]], 200)).toEqual([[null, 100, null]]);
});
