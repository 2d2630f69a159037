import fc from 'fast-check';
import { edgesOf, edgeSpeed, nearestWay, travelDirection } from './edges';
import { clearedOutside, eventsOf, leaveByTrail, reachesOf, whereOpen } from './events';
import { keyFrames } from './keys';
import { grown, shareOf, solidMask, withoutSlips } from '../../base/image/mask';
import { smallestPunchIn } from './punch';
import { smoothPath } from './smooth';

const W = 64,
  H = 36;
const maskOf = (covered: (x: number, y: number) => boolean) =>
  Uint8Array.from({ length: W * H }, (_, i) => (covered(i % W, Math.floor(i / W)) ? 1 : 0));

test('key frames: an even movement needs its ends, and straight lines between the keys never miss by more than allowed', () => {
  expect(keyFrames([Array.from({ length: 30 }, (_, f) => 7 + 41.3 * f)], 12, 2)).toEqual([12, 41]);
  fc.assert(
    fc.property(
      fc.array(fc.double({ min: -900, max: 900, noNaN: true }), { minLength: 1, maxLength: 40 }),
      fc.double({ min: 0.1, max: 50, noNaN: true }),
      (path, within) => {
        const keys = keyFrames([path], 0, within);
        expect(keys[0]).toBe(0);
        expect(keys[keys.length - 1]).toBe(path.length - 1);
        for (let k = 1; k < keys.length; k++) {
          const [a, b] = [keys[k - 1], keys[k]];
          for (let f = a; f <= b; f++)
            expect(
              Math.abs(path[f] - path[a] - ((path[b] - path[a]) * (f - a)) / Math.max(1, b - a)),
            ).toBeLessThanOrEqual(within + 1e-9);
        }
      },
    ),
  );
});

test('a smooth path goes on through gaps and outliers, and beyond what is known', () => {
  const truth = (f: number) => 20 + 30 * f;
  const path = Array.from({ length: 30 }, (_, f) =>
    f < 4 || f === 15 || f > 26 ? null : truth(f) + (f === 9 ? 60 : f % 2 ? 0.8 : -0.8),
  );
  const smooth = smoothPath(path, 0, 29)!;
  smooth.forEach((v, f) => expect(Math.abs(v - truth(f))).toBeLessThan(1.5));
  expect(smoothPath([null, 3, null], 0, 2)).toBeNull();
});

test('events: in, full, out, and what never happens', () => {
  const share = [0, 0, 0.1, 0.5, 0.9, 1, 1, 0.7, 0.2, 0, 0];
  expect(eventsOf(share, 0.998)).toEqual({ enter: 2, firstFull: 5, lastFull: 6, leave: 8, peak: 5 });
  expect(eventsOf([0, 0.3, 0.9, 0.94, 0.9], 0.998)).toEqual({
    enter: 1,
    firstFull: null,
    lastFull: null,
    leave: null,
    peak: 3,
  });
  expect(eventsOf([0, 0, 0], 0.998)).toEqual({ enter: null, firstFull: null, lastFull: null, leave: null, peak: null });
});

test('what remains covered for good does not keep an object from leaving; what grows or stays before the end does', () => {
  const events = { enter: 2, firstFull: 10, lastFull: 12, leave: null, peak: 11 };
  const trail = Array.from({ length: 40 }, (_, f) => (f <= 12 ? null : f < 29 ? 6 * (f - 12) : f % 3 ? 55 : null));
  const share = (rest: (f: number) => number) =>
    Array.from({ length: 40 }, (_, f) => (f < 2 ? 0 : f <= 12 ? 1 : f < 29 ? 1 - (f - 12) / 17 + 0.1 : rest(f)));
  expect(
    leaveByTrail(
      trail,
      share((f) => 0.1 + 0.01 * (f % 2)),
      events,
      100,
      true,
    ),
  ).toBe(28);
  expect(
    leaveByTrail(
      trail.map((v) => (v === null ? null : 100 - v)),
      share(() => 0.1),
      events,
      100,
      false,
    ),
  ).toBe(28);
  expect(
    leaveByTrail(
      trail,
      share((f) => 0.05 + 0.02 * (f - 28)),
      events,
      100,
      true,
    ),
  ).toBeNull();
  expect(
    leaveByTrail(
      trail.map((v, f) => (f > 20 ? 48 : v)),
      share(() => 0.5),
      events,
      100,
      true,
    ),
  ).toBeNull();
  expect(
    leaveByTrail(
      trail,
      share(() => 0.1),
      { ...events, leave: 30 },
      100,
      true,
    ),
  ).toBeNull();
  const masks = clearedOutside(
    Array.from({ length: 5 }, () => new Uint8Array([1, 1])),
    { ...events, enter: 1, leave: 3, peak: 2 },
  );
  expect(masks.map((m) => m[0])).toEqual([0, 1, 1, 1, 0]);
});

test('passers-by that stay behind do not keep an object from leaving, a part of it that stays does', () => {
  const street = [0, 0, 0.01, 0.2, 0.6, 1, 1, 0.6, 0.2, 0.02, 0.015, 0.02, 0.018, 0.021, 0.017, 0.02, 0.019];
  expect(eventsOf(street, 0.998)).toMatchObject({ enter: 2, leave: 8 });
  // It goes on leaving to the end.
  expect(eventsOf([0, 0.5, 1, 0.5, 0.058, 0.05, 0.042, 0.034, 0.026, 0.018, 0.01, 0.005], 0.998).leave).toBeNull();
  expect(eventsOf([0, 0.5, 1, 0.5, 0.1, 0.1, 0.1, 0.1, 0.1, 0.1, 0.1], 0.998).leave).toBeNull();
});

test('the way and the edges of something that crosses, in each of the four ways', () => {
  for (const way of [0, 90, 180, 270] as const) {
    const masks = Array.from({ length: 20 }, (_, f) =>
      maskOf((x, y) => {
        const along = way === 0 ? x : way === 180 ? W - 1 - x : ((way === 90 ? y : H - 1 - y) * W) / H;
        return along < 3.2 * f;
      }),
    );
    const direction = travelDirection(masks, 0, 19, W, H)!;
    expect(nearestWay(direction)).toBe(way);
    const { lead, trail } = edgesOf(masks[10], W, H, way);
    expect(trail).toBeNull();
    const expected = way === 0 ? 32 : way === 180 ? W - 32 : way === 90 ? 18 : H - 18;
    expect(Math.abs(lead! - expected)).toBeLessThanOrEqual(1);
  }
  expect(edgeSpeed([null, 10, 20, 30, 40, 50, 60, null])!.speed).toBeCloseTo(10);
});

test('specks go, holes are filled, and what stays open at the picture’s edge stays open', () => {
  const raw = maskOf((x, y) => x < 40 && !(x > 10 && x < 14 && y > 10 && y < 14) && !(x > 20 && x < 34 && y < 8));
  raw[30 * W + 60] = 1;
  const mask = solidMask(raw, W, H);
  expect(mask[12 * W + 12]).toBe(1);
  expect(mask[30 * W + 60]).toBe(0);
  expect(mask[2 * W + 27]).toBe(0);
  expect(reachesOf(mask, W, H)).toEqual({ top: false, bottom: false, left: true, right: false });
  const wide = grown(mask, W, H, 2);
  expect(wide[20 * W + 41]).toBe(1);
  expect(wide[20 * W + 43]).toBe(0);
  const open = whereOpen([maskOf((x, y) => !(x > 50 && y > 28))], [0.96], 0, W, H);
  expect(open).toHaveLength(1);
  expect(open[0].where).toBe('at the lower right');
});

test('one frame that slipped is set right by its neighbours, and an edge that moves is left as it is', () => {
  const moving = [24, 26, 28, 30, 32].map((edge) => maskOf((x) => x < edge));
  expect(withoutSlips(moving)).toEqual(moving);
  const slipped = [...moving];
  slipped[2] = maskOf((x, y) => x < 28 || y > 18);
  expect(withoutSlips(slipped)[2]).toEqual(maskOf((x, y) => x < 28 || (x < 30 && y > 18)));
});

test('the smallest punch-in shows nothing but the object, and a larger window would not', () => {
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 20 }), fc.integer({ min: 0, max: 12 }), (left, top) => {
      const mask = maskOf((x, y) => x >= left && y >= top);
      const punch = smallestPunchIn(mask, W, H)!;
      const w = W / punch.scale,
        h = H / punch.scale;
      expect(punch.x - w / 2).toBeGreaterThanOrEqual(left - 1e-6);
      expect(punch.y - h / 2).toBeGreaterThanOrEqual(top - 1);
      // One pixel wider would not fit: the free width, or the free height, is used up.
      expect(w + 1 > W - left || Math.ceil(((w + 1) * H) / W) > H - top).toBe(true);
    }),
    { numRuns: 40 },
  );
  expect(smallestPunchIn(new Uint8Array(W * H), W, H)).toBeNull();
  expect(shareOf(maskOf((x) => x < 32))).toBeCloseTo(0.5);
});
