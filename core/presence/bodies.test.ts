import fc from 'fast-check';
import { areaOf, eachBody, eachRun, withoutBodies } from './bodies';
import { BODY, SHADOW } from './shade';

const WIDTH = 12,
  HEIGHT = 8,
  PIXELS = WIDTH * HEIGHT;

/** A figure whose rows are a rectangle of one kind. */
const figure = (left: number, top: number, right: number, bottom: number, kind: number) => ({
  rows: Array.from({ length: bottom - top + 1 }, (_, k) => [top + k, left, right, kind]).flat(),
  body: kind === BODY ? (right - left + 1) * (bottom - top + 1) : 0,
});

const rectangles = fc
  .tuple(fc.nat(WIDTH - 1), fc.nat(HEIGHT - 1), fc.nat(WIDTH - 1), fc.nat(HEIGHT - 1), fc.boolean())
  .map(([a, b, c, d, body]) => ({
    left: Math.min(a, c),
    top: Math.min(b, d),
    right: Math.max(a, c),
    bottom: Math.max(b, d),
    kind: body ? BODY : SHADOW,
  }));

test('pixels of bodies are nobody else’s, those of shadows stay free', () => {
  fc.assert(
    fc.property(fc.array(rectangles, { maxLength: 5 }), (all) => {
      const free = withoutBodies(
        all.map((r) => figure(r.left, r.top, r.right, r.bottom, r.kind)),
        null,
        WIDTH,
        PIXELS,
      );
      const wanted = new Uint8Array(PIXELS);
      for (let i = 0; i < PIXELS; i++) {
        const x = i % WIDTH,
          y = (i - x) / WIDTH;
        const taken = all.some((r) => r.kind === BODY && x >= r.left && x <= r.right && y >= r.top && y <= r.bottom);
        wanted[i] = taken ? 0 : 1;
      }
      expect(Buffer.compare(Uint8Array.from(free), wanted)).toBe(0);
    }),
  );
});

test('what was not seen is not free, and the mask given is left as it is', () => {
  const seen = new Uint8Array(PIXELS).fill(1);
  seen[5] = 0;
  const before = seen.slice();
  const free = withoutBodies([figure(0, 0, 2, 0, BODY)], seen, WIDTH, PIXELS);
  expect([...free.slice(0, 7)]).toEqual([0, 0, 0, 1, 1, 0, 1]);
  expect(seen).toEqual(before);
});

test('the area is that of the bodies, and each run of a body is told once', () => {
  const two = [figure(1, 1, 4, 3, BODY), figure(6, 0, 9, 5, SHADOW), figure(10, 2, 11, 2, BODY)];
  expect(areaOf(two)).toBe(14);
  expect(areaOf([])).toBe(0);
  const runs: [number, number][] = [];
  eachBody(two, WIDTH, (first, last) => runs.push([first, last]));
  expect(runs).toEqual([
    [13, 16],
    [25, 28],
    [37, 40],
    [34, 35],
  ]);
  let all = 0;
  eachRun(two, WIDTH, (first, last) => (all += last - first + 1));
  expect(all).toBe(14 + 24);
});
