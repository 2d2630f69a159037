import fc from 'fast-check';
import { seededNormal, seededRandom } from '../../base/numeric/random';
import { PlateStitcher } from './stitch';

const W = 32;
const H = 18;
const PIXELS = W * H;

/** A picture of known colours, with grain of so many levels. */
function picture(seed: number, grain: number, most: 255 | 65535 = 255, stops = 0): Uint8Array | Uint16Array {
  const truth = colours(most);
  const normal = seededNormal(seed);
  const values = truth.map((v) => Math.max(0, Math.min(most, Math.round(v * 2 ** stops + grain * normal()))));
  return most === 255 ? Uint8Array.from(values) : Uint16Array.from(values);
}

function colours(most: 255 | 65535): number[] {
  const random = seededRandom(7);
  return Array.from({ length: 3 * PIXELS }, () => Math.round((0.2 + 0.6 * random()) * most));
}

/** Everything but a box is free, on a grid that may be smaller. */
function free(box: { x: number; y: number; w: number; h: number }, width = W, height = H) {
  const mask = new Uint8Array(width * height).fill(1);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      if (x >= box.x && x < box.x + box.w && y >= box.y && y < box.y + box.h) mask[y * width + x] = 0;
  return { mask, width, height };
}

const rms = (a: ArrayLike<number>, b: ArrayLike<number>) => {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += (a[i] - b[i]) ** 2;
  return Math.sqrt(sum / a.length);
};

test.each([
  [255, 4],
  [65535, 900],
] as const)(
  'the mean of many frames is the scene, of %d levels, and its grain falls with their root',
  (most, grain) => {
    const errors = [4, 16, 64].map((frames) => {
      const stitcher = new PlateStitcher(W, H, most);
      for (let f = 0; f < frames; f++) stitcher.add(picture(f + 1, grain, most), null, null);
      const made = stitcher.finish();
      expect(made).toMatchObject({ unseenShare: 0, unseen: [], picture: { width: W, height: H, most } });
      expect(made.picture.data).toBeInstanceOf(most === 255 ? Uint8Array : Uint16Array);
      return rms(made.picture.data, colours(most));
    });
    // Rounding to whole levels adds 0.29 of a level.
    errors.forEach((error, i) => {
      expect(error).toBeLessThan(1.15 * Math.hypot(grain / Math.sqrt([4, 16, 64][i]), 0.29));
      expect(error).toBeGreaterThan(0.8 * (grain / Math.sqrt([4, 16, 64][i])));
    });
  },
);

test('16 bits are kept: steps finer than a level of 8 bits survive', () => {
  const stitcher = new PlateStitcher(W, H, 65535);
  const ramp = Uint16Array.from({ length: 3 * PIXELS }, (_, i) => 20000 + i);
  stitcher.add(ramp, null, null);
  expect([...stitcher.finish().picture.data]).toEqual([...ramp]);
});

test('a masked mean takes each pixel only from frames in which it is free', () => {
  const truth = colours(255);
  const stitcher = new PlateStitcher(W, H, 255);
  // Somebody bright walks from left to right; every pixel is free in some frames.
  for (let f = 0; f < 8; f++) {
    const box = { x: 4 * f, y: 3, w: 6, h: 10 };
    const data = picture(f + 1, 0);
    for (let y = box.y; y < box.y + box.h; y++)
      for (let x = box.x; x < Math.min(W, box.x + box.w); x++) data.fill(255, 3 * (y * W + x), 3 * (y * W + x) + 3);
    stitcher.add(data, free(box), null);
  }
  const { picture: plate, unseenShare } = stitcher.finish();
  expect(unseenShare).toBe(0);
  expect(rms(plate.data, truth)).toBe(0);
});

test('what was never free is boxed, counted, and shows the mean of all frames in its place', () => {
  const stitcher = new PlateStitcher(W, H, 255);
  const box = { x: 8, y: 4, w: 10, h: 6 };
  for (const level of [40, 80]) stitcher.add(new Uint8Array(3 * PIXELS).fill(level), free(box), null);
  const { picture: plate, unseenShare, unseen } = stitcher.finish();
  expect(unseen).toEqual([{ x: 8, y: 4, width: 10, height: 6 }]);
  expect(unseenShare).toBeCloseTo(60 / PIXELS, 10);
  expect(plate.data.every((v) => v === 60)).toBe(true);
});

test('two places never seen are two boxes; specks of a pixel are counted but not boxed', () => {
  const stitcher = new PlateStitcher(W, H, 255);
  const mask = free({ x: 1, y: 1, w: 4, h: 4 }).mask;
  for (const [x, y] of [
    [20, 5],
    [21, 5],
    [20, 6],
    [21, 6],
    [22, 6],
  ])
    mask[y * W + x] = 0;
  mask[17 * W + 31] = 0;
  stitcher.add(new Uint8Array(3 * PIXELS).fill(90), { mask, width: W, height: H }, null);
  const { unseen, unseenShare } = stitcher.finish();
  expect(unseen).toHaveLength(2);
  expect(unseen).toEqual(
    expect.arrayContaining([
      { x: 1, y: 1, width: 4, height: 4 },
      { x: 20, y: 5, width: 3, height: 2 },
    ]),
  );
  expect(unseenShare).toBeCloseTo((16 + 5 + 1) / PIXELS, 10);
});

test('a mask of another size is laid over the whole picture', () => {
  const stitcher = new PlateStitcher(W, H, 255);
  // Half the size: its right half covers the picture's right half.
  stitcher.add(new Uint8Array(3 * PIXELS).fill(50), free({ x: W / 4, y: 0, w: W / 4, h: H / 2 }, W / 2, H / 2), null);
  expect(stitcher.finish().unseen).toEqual([{ x: W / 2, y: 0, width: W / 2, height: H }]);
});

test('frames in other light are brought to the plate’s light before they are averaged', () => {
  const stitcher = new PlateStitcher(W, H, 255);
  const darker = Float32Array.from({ length: 256 }, (_, v) => v / 2);
  stitcher.add(new Uint8Array(3 * PIXELS).fill(60), null, null);
  stitcher.add(new Uint8Array(3 * PIXELS).fill(120), null, darker);
  expect(stitcher.finish().picture.data.every((v) => v === 60)).toBe(true);
});

test('keeping grain, each pixel is one frame’s own: the first in which it is free', () => {
  const stitcher = new PlateStitcher(W, H, 255, true);
  const box = { x: 0, y: 0, w: W / 2, h: H };
  const [first, second] = [picture(1, 6), picture(2, 6)];
  stitcher.add(first, free(box), null);
  stitcher.add(second, null, null);
  const { data } = stitcher.finish().picture;
  const wanted = first.map((v, k) => (Math.floor(k / 3) % W < W / 2 ? second[k] : v));
  expect(rms(data, wanted)).toBe(0);
});

test('a plate of no frames is black and never seen', () => {
  const { picture: plate, unseenShare, unseen } = new PlateStitcher(W, H, 255).finish();
  expect([plate.data.every((v) => v === 0), unseenShare]).toEqual([true, 1]);
  expect(unseen).toEqual([{ x: 0, y: 0, width: W, height: H }]);
});

test('whatever is covered: seen and unseen share the picture, and no value leaves what the frames show', () => {
  const box = fc.record({
    x: fc.integer({ min: 0, max: W - 1 }),
    y: fc.integer({ min: 0, max: H - 1 }),
    w: fc.integer({ min: 1, max: W }),
    h: fc.integer({ min: 1, max: H }),
  });
  const frames = fc.array(fc.record({ box, level: fc.integer({ min: 10, max: 240 }) }), { minLength: 1, maxLength: 5 });
  fc.assert(
    fc.property(frames, fc.boolean(), (all, grain) => {
      const stitcher = new PlateStitcher(W, H, 255, grain);
      const everFree = new Uint8Array(PIXELS);
      for (const { box: b, level } of all) {
        const { mask, ...size } = free(b);
        mask.forEach((m, i) => (everFree[i] |= m));
        stitcher.add(new Uint8Array(3 * PIXELS).fill(level), { mask, ...size }, null);
      }
      const { picture: plate, unseenShare, unseen } = stitcher.finish();
      const hidden = everFree.reduce((n, f) => n + (1 - f), 0);
      expect(unseenShare).toBeCloseTo(hidden / PIXELS, 10);
      const levels = all.map((f) => f.level);
      const [least, most] = [Math.min(...levels), Math.max(...levels)];
      const fits = (v: number, k: number) =>
        !everFree[Math.floor(k / 3)] && grain ? v === 0 : v >= least && v <= most;
      expect(Array.from(plate.data).findIndex((v, k) => !fits(v, k))).toBe(-1);
      for (const u of unseen) {
        expect(u.x + u.width).toBeLessThanOrEqual(W);
        expect(u.y + u.height).toBeLessThanOrEqual(H);
      }
    }),
    { numRuns: 60 },
  );
});
