import fc from 'fast-check';
import {
  attachedOnly,
  changesPerPixel,
  clearedOutside,
  eventsOf,
  leaveByTrail,
  reachesOf,
  whereOpen,
  type CoverEvents,
} from './events';
import { keyFrames } from './keys';
import { isLargeEnough, smallestPunchIn } from './punch';
import { smoothPath, waverOf } from './smooth';

const WIDTH = 32;
const HEIGHT = 18;

/** A mask that is set where a rule says so. */
const mask = (set: (x: number, y: number) => boolean) =>
  Uint8Array.from({ length: WIDTH * HEIGHT }, (_, i) => (set(i % WIDTH, Math.floor(i / WIDTH)) ? 1 : 0));
const ramp = (n: number, from: number, to: number) =>
  Array.from({ length: n }, (_, k) => from + ((to - from) * (k + 1)) / (n + 1));
/** A passing object: free, in, full, out, free. */
const passing = (base: number, full: number, lead: number, tail: number) => [
  ...(Array(base).fill(0) as number[]),
  ...ramp(lead, 0, 1),
  ...(Array(full).fill(1) as number[]),
  ...ramp(tail, 1, 0),
  ...(Array(base).fill(0) as number[]),
];

describe('events of a cover', () => {
  test('are found to the frame, whatever the lengths', () => {
    const n = fc.integer({ min: 3, max: 30 });
    fc.assert(
      fc.property(n, n, n, n, (base, full, lead, tail) => {
        expect(eventsOf(passing(base, full, lead, tail), 0.999)).toEqual({
          enter: base,
          firstFull: base + lead,
          lastFull: base + lead + full - 1,
          leave: base + lead + full + tail - 1,
          peak: (2 * (base + lead) + full - 1) >> 1,
        });
      }),
    );
  });

  test('an object that stays has no last frame, one that was there has its first at the start', () => {
    const share = passing(10, 6, 8, 8);
    expect(eventsOf(share.slice(0, 26), 0.999).leave).toBeNull();
    expect(eventsOf(share.slice(14), 0.999).enter).toBe(0);
  });

  test('nothing that covers has no events', () => {
    const none: CoverEvents = { enter: null, firstFull: null, lastFull: null, leave: null, peak: null };
    expect(eventsOf([], 1)).toEqual(none);
    expect(eventsOf([0, 0.001, 0.002], 1)).toEqual(none);
  });

  test('one that never covers all has a fullest frame and no full ones', () => {
    const found = eventsOf(
      passing(10, 5, 8, 8).map((s) => 0.8 * s),
      0.999,
    );
    expect(found).toMatchObject({ firstFull: null, lastFull: null });
    expect(found.peak).toBeGreaterThanOrEqual(18);
    expect(found.peak).toBeLessThanOrEqual(22);
  });

  test('of two covers the longer one counts', () => {
    const found = eventsOf([...passing(5, 3, 4, 4), ...passing(5, 9, 4, 4)], 0.999);
    expect(found).toMatchObject({ firstFull: 30, lastFull: 38 });
  });

  test('leaves that stir all the time are neither coming nor going', () => {
    const share = passing(20, 5, 6, 6).map((s, k) => Math.max(s, 0.02 + 0.004 * (k % 3)));
    expect(eventsOf(share, 0.999)).toMatchObject({ enter: 20, leave: 36 });
  });
});

describe('leaving although something remains', () => {
  const long = 320;
  /** The trailing edge starts when the picture is full and goes across at 20 pixels a frame, and is lost near the end. */
  const trail = [...(Array(20).fill(null) as null[]), ...Array.from({ length: 15 }, (_, k) => 20 * k)];
  const events: CoverEvents = { enter: 5, firstFull: 15, lastFull: 20, leave: null, peak: 18 };
  const share = (rest: (f: number) => number) =>
    Array.from({ length: 70 }, (_, f) => (f < 20 ? 1 : Math.max(rest(f), 1 - (f - 20) / 16)));
  const path = [...trail, ...(Array(35).fill(null) as null[])];

  test('the trailing edge says when it was gone', () => {
    const leave = leaveByTrail(
      path,
      share(() => 0.06),
      events,
      long,
      true,
    )!;
    expect(Math.abs(leave - 35)).toBeLessThanOrEqual(1);
    // The same from the other side.
    const back = path.map((t) => (t === null ? null : long - t));
    expect(
      leaveByTrail(
        back,
        share(() => 0.06),
        events,
        long,
        false,
      ),
    ).toBe(leave);
  });

  test.each<[string, () => number | null]>([
    [
      'the leaving is known anyhow',
      () =>
        leaveByTrail(
          path,
          share(() => 0.06),
          { ...events, leave: 40 },
          long,
          true,
        ),
    ],
    [
      'much remains covered',
      () =>
        leaveByTrail(
          path,
          share(() => 0.4),
          events,
          long,
          true,
        ),
    ],
    [
      'what remains grows',
      () =>
        leaveByTrail(
          path,
          share((f) => Math.max(0, 0.007 * (f - 36))),
          events,
          long,
          true,
        ),
    ],
    [
      'the edge stopped half way',
      () =>
        leaveByTrail(
          path.map((t) => (t !== null && t > 160 ? null : t)),
          share(() => 0.06),
          events,
          long,
          true,
        ),
    ],
    [
      'there is no trailing edge',
      () =>
        leaveByTrail(
          path.map(() => null),
          share(() => 0.06),
          events,
          long,
          true,
        ),
    ],
    [
      'it was gone only at the very end',
      () => leaveByTrail(path.slice(0, 36), share(() => 0.06).slice(0, 36), events, long, true),
    ],
  ])('is not claimed when %s', (_, leave) => {
    expect(leave()).toBeNull();
  });
});

describe('masks', () => {
  const events: CoverEvents = { enter: 1, firstFull: 2, lastFull: 2, leave: 3, peak: 2 };
  const all = mask(() => true);
  const left = mask((x) => x < 10);
  const right = mask((x) => x > 20);
  const stray = mask((x, y) => x < 10 || (x > 24 && y > 4 && y < 9));

  test('outside of its coming and going nothing is covered', () => {
    const cleared = clearedOutside([left, left, all, right, right], events);
    expect(cleared.map((m) => m.includes(1))).toEqual([false, true, true, true, false]);
    expect(cleared[2]).toBe(all);
  });

  test('what does not reach in from the side it comes from is no part of it', () => {
    const out = attachedOnly([stray, stray, all, stray, right], events, 0, WIDTH, HEIGHT);
    expect(out[1]).toEqual(left);
    expect(out[2]).toBe(all);
    // After it was full it leaves to the other side.
    expect(out[4]).toEqual(right);
    expect(out[3]).toEqual(mask((x, y) => x > 24 && y > 4 && y < 9));
  });

  test('without full frames nothing is taken off', () => {
    const given = [stray, stray];
    expect(attachedOnly(given, { ...events, firstFull: null, lastFull: null }, 0, WIDTH, HEIGHT)).toEqual(given);
  });

  test('which sides it reaches', () => {
    expect(reachesOf(all, WIDTH, HEIGHT)).toEqual({ top: true, bottom: true, left: true, right: true });
    expect(
      reachesOf(
        mask((_, y) => y > 2),
        WIDTH,
        HEIGHT,
      ),
    ).toEqual({ top: false, bottom: true, left: false, right: false });
  });

  test.each([
    ['at the top', (_: number, y: number) => y < 3],
    ['at the bottom', (_: number, y: number) => y > 14],
    ['at the left', (x: number) => x < 4],
    ['at the upper right', (x: number, y: number) => x > 26 && y < 4],
    ['at the lower left', (x: number, y: number) => x < 4 && y > 14],
    ['in the middle', (x: number, y: number) => x > 13 && x < 18 && y > 7 && y < 11],
  ])('what stays open is told: %s', (where, open) => {
    const m = mask((x, y) => !open(x, y));
    const share = m.reduce((s, v) => s + v, 0) / m.length;
    const [first, ...rest] = whereOpen([m, m, m], [0.5, share, share - 0.01], 1, WIDTH, HEIGHT);
    expect(first).toEqual({ where, share: expect.closeTo(1 - share, 9) as number, frames: { start: 1, end: 2 } });
    expect(rest).toEqual([]);
  });

  test('an object changes each pixel twice, leaves do so again and again', () => {
    const none = mask(() => false);
    expect(changesPerPixel([none, left, all, all, right, none])).toBeCloseTo(2, 9);
    expect(changesPerPixel([none, all, none, all, none, all, none])).toBe(6);
    expect(changesPerPixel([none, none])).toBe(0);
    expect(changesPerPixel([])).toBe(0);
  });
});

describe('punch-in', () => {
  const aspect = { width: 320, height: 180 };
  /** The smallest enlargement by trying every place: slow and sure. */
  const byTrying = (m: Uint8Array) => {
    for (let w = WIDTH; w >= WIDTH / 3; w--) {
      const h = Math.ceil((w * HEIGHT) / WIDTH);
      for (let y = 0; y + h <= HEIGHT; y++)
        for (let x = 0; x + w <= WIDTH; x++) {
          let free = true;
          for (let v = y; v < y + h && free; v++) for (let u = x; u < x + w; u++) if (!m[v * WIDTH + u]) free = false;
          if (free) return WIDTH / w;
        }
    }
    return null;
  };

  test('is the smallest that shows the object alone, wherever it is open', () => {
    const spot = fc.record({ x: fc.integer({ min: 0, max: 31 }), y: fc.integer({ min: 0, max: 17 }) });
    fc.assert(
      fc.property(fc.array(spot, { minLength: 1, maxLength: 6 }), (spots) => {
        const m = mask((x, y) => !spots.some((s) => s.x === x && s.y === y));
        expect(smallestPunchIn(m, WIDTH, HEIGHT)?.scale ?? null).toBe(byTrying(m));
      }),
      { numRuns: 60 },
    );
  });

  test('its picture lies inside the recording and shows nothing open', () => {
    const m = mask((x, y) => !(y < 2 || x > 29));
    const { scale, x, y } = smallestPunchIn(m, WIDTH, HEIGHT)!;
    const [w, h] = [WIDTH / scale, Math.ceil(HEIGHT / scale)];
    expect(x - w / 2).toBeGreaterThanOrEqual(0);
    expect(x + w / 2).toBeLessThanOrEqual(30);
    expect(y - h / 2).toBeGreaterThanOrEqual(2);
  });

  test('nothing is proposed where it would take more than three times', () => {
    expect(
      smallestPunchIn(
        mask(() => false),
        WIDTH,
        HEIGHT,
      ),
    ).toBeNull();
    expect(
      smallestPunchIn(
        mask(() => true),
        WIDTH,
        HEIGHT,
      ),
    ).toMatchObject({ scale: 1, x: 16, y: 9 });
  });

  test('a recording is large enough up to the enlargement that uses up its pixels', () => {
    expect(isLargeEnough(aspect, 1, aspect)).toBe(true);
    expect(isLargeEnough(aspect, 1.01, aspect)).toBe(false);
    expect(isLargeEnough({ width: 640, height: 360 }, 2, aspect)).toBe(true);
    expect(isLargeEnough({ width: 640, height: 200 }, 1.5, aspect)).toBe(false);
  });
});

describe('key frames', () => {
  const path = fc.array(fc.double({ min: -500, max: 500, noNaN: true }), { minLength: 1, maxLength: 80 });
  const within = fc.double({ min: 0.1, max: 60, noNaN: true });

  test('straight lines between them keep to the path', () => {
    fc.assert(
      fc.property(path, within, fc.integer({ min: 0, max: 1000 }), (p, near, from) => {
        const keys = keyFrames([p], from, near).map((k) => k - from);
        expect(keys[0]).toBe(0);
        expect(keys[keys.length - 1]).toBe(p.length - 1);
        for (let k = 1; k < keys.length; k++) {
          const [a, b] = [keys[k - 1], keys[k]];
          for (let f = a; f <= b && b > a; f++)
            expect(Math.abs(p[a] + ((p[b] - p[a]) * (f - a)) / (b - a) - p[f])).toBeLessThanOrEqual(near + 1e-9);
        }
      }),
    );
  });

  test('an even pace needs its ends only, and the most uneven of several paths decides', () => {
    const even = Array.from({ length: 50 }, (_, f) => 7 * f);
    const bent = even.map((v, f) => v + 0.2 * (f - 25) ** 2);
    expect(keyFrames([even], 100, 1)).toEqual([100, 149]);
    expect(keyFrames([even, bent], 100, 1)).toEqual(keyFrames([bent], 100, 1));
    expect(keyFrames([], 0, 1)).toEqual([]);
  });
});

describe('smooth paths', () => {
  test('a wavering path is followed nearer than it was measured, gaps and wild places notwithstanding', () => {
    for (const seed of [1, 2, 3]) {
      let s = seed;
      const random = () => (s = (s * 16807) % 2147483647) / 2147483647;
      const truth = Array.from({ length: 60 }, (_, f) => 12 * f + 0.15 * f * f);
      const measured: (number | null)[] = truth.map((v) => v + 3 * (random() + random() - 1));
      measured[20] = null;
      measured[21] = null;
      measured[40] = truth[40] + 160;
      const smooth = smoothPath(measured, 0, 59)!;
      const errors = smooth.map((v, f) => Math.abs(v - truth[f])).sort((a, b) => a - b);
      expect(errors[30]).toBeLessThan(0.8);
      expect(errors[59]).toBeLessThan(4);
    }
  });

  test('beyond what is known it goes on straight', () => {
    const path = Array.from({ length: 40 }, (_, f) => (f < 30 ? 5 * f : null));
    const smooth = smoothPath(path, 0, 39)!;
    expect(smooth[39]).toBeCloseTo(195, 0);
  });

  test('too little known is no path, and its waver is not known either', () => {
    expect(smoothPath([1, null, 3, null], 0, 3)).toBeNull();
    expect(waverOf([1, null, 3, null], 0, 3)).toBe(Infinity);
    expect(waverOf([0, 5, 10, 15, 20], 0, 4)).toBe(0);
  });
});
