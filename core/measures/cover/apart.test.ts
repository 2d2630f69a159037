import fc from 'fast-check';
import { IDENTITY } from '../../base/geometry/similarity';
import { seededRandom } from '../../base/numeric/random';
import { alikeShare } from './alike';
import { attachedOnly, eventsOf } from './events';
import { edgeGoesWithStart, firstFull, panFreeEnds, staysFull } from './free-ends';
import { shareOf } from '../../base/image/mask';
import { filledByVote, objectPath, steadied } from './steady';
import type { SweptFrame } from './sweep';

const W = 64,
  H = 36;
const size = { width: W, height: H, colourWidth: 32, colourHeight: 18, factor: 4 };
const maskOf = (covered: (x: number, y: number) => boolean) =>
  Uint8Array.from({ length: W * H }, (_, i) => (covered(i % W, Math.floor(i / W)) ? 1 : 0));
/** Something 100 wide that comes in from the left, fills the picture, and leaves to the right. */
const crossing = (f: number) => ({ from: -104 + 4 * f, to: -4 + 4 * f });
const masks = (f: number, open: (x: number, y: number, f: number) => boolean = () => false) =>
  maskOf((x, y) => x >= crossing(f).from && x < crossing(f).to && !open(x, y, f));
const swept = (covered: Uint8Array, dx = 0, sure = true): SweptFrame => ({
  covered,
  share: shareOf(covered),
  pose: { ...IDENTITY, dx },
  sure,
  gain: 1,
});
const none = new Uint8Array(W * H),
  all = none.map(() => 1);

test('a place that looks like the background in a few frames is filled by what the others say; one open in the object stays open', () => {
  // For four frames the object looks like the wall at the picture's right edge; a notch in the object itself goes with it.
  const likeness = (x: number, y: number, f: number) => x > 58 && y > 10 && y < 20 && f > 18 && f < 23;
  const notch = (x: number, y: number, f: number) => y < 6 && x - crossing(f).from > 40 && x - crossing(f).from < 56;
  const found = Array.from({ length: 44 }, (_, f) => masks(f, (x, y) => likeness(x, y, f) || notch(x, y, f)));
  const truth = Array.from({ length: 44 }, (_, f) => masks(f, notch));
  const filled = filledByVote(found, objectPath(found, 0, W, H), 0, W, H, 2, 42);
  filled.forEach((mask, f) => expect(Math.abs(shareOf(mask) - shareOf(truth[f]))).toBeLessThan(0.004));
  expect(shareOf(found[20])).toBeLessThan(shareOf(truth[20]) - 0.01);
});

test('steadied masks take an edge along and drop what flickers', () => {
  const random = seededRandom(4);
  const found = Array.from({ length: 40 }, (_, f) => masks(f, () => random() < 0.04));
  const steady = steadied(found, objectPath(found, 0, W, H), 0, W, H);
  for (let f = 6; f < 34; f++) {
    let off = 0;
    const truth = masks(f);
    steady[f].forEach((v, i) => {
      if (v !== truth[i]) off++;
    });
    expect(off).toBeLessThan(0.01 * W * H);
  }
});

test('what does not reach in from the side the object comes from, or goes to, is no part of it', () => {
  const blob = (x: number, y: number) => x > 50 && x < 56 && y > 14 && y < 20;
  const found = Array.from({ length: 44 }, (_, f) =>
    maskOf((x, y) => (x >= crossing(f).from && x < crossing(f).to) || blob(x, y)),
  );
  const events = eventsOf(found.map(shareOf), 0.998);
  const left = attachedOnly(found, events, 0, W, H);
  expect(shareOf(left[3])).toBeCloseTo(shareOf(masks(3)));
  expect(shareOf(left[42])).toBeCloseTo(shareOf(masks(42)));
  expect(left[events.firstFull!]).toBe(found[events.firstFull!]);
  // Coming down aslant it may show at the top first.
  const corner = Array.from({ length: 60 }, (_, f) =>
    maskOf((x, y) => x / 2 + y < 3 * f - 20 && x / 2 + y > 3 * f - 105),
  );
  const aslant = attachedOnly(corner, eventsOf(corner.map(shareOf), 0.998), 45, W, H);
  expect(aslant).toEqual(corner);
});

test('an object is told from the background where it is brighter, of another colour, or patterned; not where it is the same grey', () => {
  const covered = maskOf((x) => x < 40);
  const view = (luma: number, blue = 128) => ({
    luma: new Float32Array(W * H).fill(luma),
    blue: new Float32Array(W * H).fill(blue),
    red: new Float32Array(W * H).fill(128),
    known: all,
  });
  const plane = (value: (i: number) => number) => Uint8Array.from({ length: W * H }, (_, i) => value(i));
  const grey = new Uint8Array(32 * 18).fill(128);
  const share = (luma: Uint8Array, behind: ReturnType<typeof view>) =>
    alikeShare({ luma, blue: grey, red: grey }, covered, behind, 1, 1.1, size);
  // Beyond the reach of the object's nearest pixels nothing is said of its look there.
  expect(
    share(
      plane(() => 90),
      view(91),
    ),
  ).toBeGreaterThan(0.4);
  expect(
    share(
      plane(() => 90),
      view(120),
    ),
  ).toBe(0);
  expect(
    share(
      plane(() => 90),
      view(91, 150),
    ),
  ).toBe(0);
  expect(
    share(
      plane((i) => (i % 3 ? 80 : 110)),
      view(91),
    ),
  ).toBe(0);
  expect(alikeShare({ luma: plane(() => 90), blue: grey, red: grey }, all, view(90), 1, 1.1, size)).toBe(0);
});

test('ends of a pan: one cut in full cover, one cut just before, one free at both', () => {
  const out = Array.from({ length: 40 }, (_, f) => swept(f < 2 ? none : masks(f), -3 * f));
  expect(panFreeEnds(out, out)).toBe('both');
  const stopped = Array.from({ length: 30 }, (_, f) => swept(masks(Math.min(f, 20)), -3 * f));
  const fromItsEnd = stopped.map(({ covered }, f) => swept(f < 17 ? covered.map((v) => 1 - v) : none));
  expect(staysFull(fromItsEnd, firstFull(stopped))).toBe(true);
  expect(panFreeEnds(stopped, fromItsEnd)).toBe('start');
  const before = Array.from({ length: 16 }, (_, f) => swept(masks(f), -3 * f));
  // From its end the object itself is what lies behind, and all else seems to come in front of it at once.
  const contrary = before.map((_, f) => swept(f === 15 ? none : maskOf((x) => x > 30), 0, false));
  expect(panFreeEnds(before, contrary)).toBe('start');
});

test('of two things that take each other’s place, the one that carries the edge is in front', () => {
  fc.assert(
    fc.property(fc.double({ min: -3, max: 3, noNaN: true }), (pan) => {
      // The edge goes 4 pixels a frame; what comes in goes with it, what was there pans by another amount.
      const forward = Array.from({ length: 24 }, (_, f) =>
        swept(
          maskOf((x) => x < 4 * f - 8),
          pan * f,
        ),
      );
      const backward = forward.map((s, f) =>
        swept(
          s.covered.map((v) => 1 - v),
          4 * f,
        ),
      );
      const full = firstFull(forward);
      expect(edgeGoesWithStart(forward, backward, full, size)).toBe(false);
      // The other way round: what was there goes with the edge.
      const start = forward.map((s, f) => ({ ...s, pose: { ...IDENTITY, dx: 4 * f } })),
        end = backward.map((s, f) => ({ ...s, pose: { ...IDENTITY, dx: pan * f } }));
      expect(edgeGoesWithStart(start, end, full, size)).toBe(true);
    }),
    { numRuns: 20 },
  );
});

test('shares are counted right, whatever the length and place in memory', () => {
  fc.assert(
    fc.property(
      fc.array(fc.boolean(), { minLength: 1, maxLength: 3000 }),
      fc.integer({ min: 0, max: 3 }),
      (bits, skip) => {
        const mask = new Uint8Array(bits.length + skip).subarray(skip);
        bits.forEach((b, i) => {
          mask[i] = b ? 1 : 0;
        });
        expect(shareOf(mask)).toBeCloseTo(bits.filter(Boolean).length / bits.length, 12);
      },
    ),
  );
  expect(shareOf(new Uint8Array(100000).fill(1))).toBe(1);
});
