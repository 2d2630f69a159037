import fc from 'fast-check';
import { blockFrames, type BlockFrame } from '../../testing/walker-frames';
import { barHeight, measureBars } from '../bars/measure';
import { measureMeet } from '../meet/measure';
import { measureSpot } from './measure';
import { apartFrames, crossedRuns, stillCandidates, wholeRuns } from '../stills/measure';
import { paceAt, trackOf } from '../../movers/track';

const [W, H] = [120, 68];
const body = (x: number, y: number, width = 12, height = 24): BlockFrame => ({ body: [{ x, y, width, height }] });
const track = (frames: BlockFrame[], factor = 4) => trackOf(blockFrames(W, H, frames), factor);

test('where somebody is: box, middle, axis and the edges they reach; scraps are left out', () => {
  const [alone, scrap, nobody, unknown, cut] = track([
    body(40, 20),
    { body: [{ x: 40, y: 20, width: 12, height: 24 }, { x: 100, y: 2, width: 4, height: 4 }] }, // prettier-ignore
    {},
    null,
    { body: [{ x: 110, y: 50, width: 20, height: 30 }], shadow: [{ x: 0, y: 60, width: 30, height: 5 }] },
  ]);
  expect(alone).toMatchObject({
    box: { x: 160, y: 80, width: 48, height: 96 },
    x: 184,
    y: 128,
    area: 4608,
    touches: [],
  });
  expect(Math.abs(alone!.angle!)).toBeCloseTo(90, 3);
  expect(scrap!.box).toEqual(alone!.box);
  expect([nobody, unknown]).toEqual([undefined, null]);
  expect(cut).toMatchObject({ touches: ['right', 'bottom'], shadowTouches: ['left'] });
  expect(track([body(40, 20, 20, 20)])[0]!.angle).toBeNull();
});

test('how they move is told from the frames beside, and not where an edge cuts them off', () => {
  const walk = track([body(20, 20), body(23, 20), body(26, 21), body(110, 21)]);
  expect(paceAt(walk, 1)).toEqual([12, 2]);
  expect(paceAt(walk, 2)).toEqual([12, 4]);
  expect(paceAt(walk, 3)).toBeNull();
});

test('one place against another: shift, size and turn, and the nearest pair of frames', () => {
  const a = track([body(10, 10), body(30, 20), body(50, 30)]);
  const b = track([body(58, 34, 15, 30), body(30, 20), body(31, 20)]);
  const spot = measureSpot(a, b, { at_a: null, at_b: null });
  expect(spot).toMatchObject({ at_a: 2, at_b: 0, dx_px: 38, dy_px: 28, size_ratio: 1.25, angle_deg: 0 });
  expect(spot.best).toMatchObject({ at_a: 1, at_b: 1, dx_px: 0, dy_px: 0 });
  expect(measureSpot(a, b, { at_a: 1, at_b: 2 })).toMatchObject({ dx_px: 4, dy_px: 0 });
  expect(measureSpot(track([{}]), b, { at_a: null, at_b: null })).toMatchObject({ dx_px: null, best: null, a: null });
});

test('the two the other way round give the opposite', () => {
  const place = fc.record({ x: fc.integer({ min: 2, max: 100 }), y: fc.integer({ min: 2, max: 40 }) });
  fc.assert(
    fc.property(place, place, (p, q) => {
      const [a, b] = [track([body(p.x, p.y)]), track([body(q.x, q.y)])];
      const [one, two] = [measureSpot(a, b, { at_a: 0, at_b: 0 }), measureSpot(b, a, { at_a: 0, at_b: 0 })];
      expect(one.dx_px).toBeCloseTo(-two.dx_px!, 9);
      expect(one.dy_px).toBeCloseTo(-two.dy_px!, 9);
      expect(one.size_ratio! * two.size_ratio!).toBeCloseTo(1, 9);
    }),
    { numRuns: 50 },
  );
});

test('frames worth looking at lie apart, whole ones and slow ones first', () => {
  const xs = [...Array.from({ length: 20 }, (_, k) => 5 + 4 * k), ...Array<number>(15).fill(81)];
  const walk = track(xs.map((x) => body(x, 20)));
  const some = stillCandidates(walk, 25, 3);
  expect(some.every((f) => f >= 19)).toBe(true);
  for (let k = 1; k < some.length; k++) expect(some[k] - some[k - 1]).toBeGreaterThanOrEqual(apartFrames(25));
  expect(wholeRuns(track([body(0, 20), body(9, 20), {}]))).toEqual([{ start: 1, end: 1 }]);
});

test('whoever walks where somebody is held is named by frames', () => {
  const frames = [body(50, 20), body(50, 20), body(80, 20), body(70, 20), body(60, 20), body(45, 20), body(20, 20)];
  expect(crossedRuns(blockFrames(W, H, frames), 0)).toEqual([{ start: 4, end: 5 }]);
});

test('a figure over the bars: which, when, how far, their shadow, and where the picture cuts them off', () => {
  const size = { width: 480, height: 272 };
  const bar = barHeight(size, 2.4);
  expect(bar).toBeCloseTo(36, 9);
  const deep = (y: number): BlockFrame => body(40, y, 12, 30);
  // The lower bar begins at 236: row 59.
  const shaded = { shadow: [{ x: 10, y: 60, width: 20, height: 4 }], ...deep(20) };
  const frames = [{}, deep(20), deep(32), deep(34), deep(34), deep(20), shaded];
  const found = measureBars({ ...blockFrames(W, H, frames), factor: 4, size, bar });
  expect(found.crosses).toEqual([{ edge: 'bottom', run: { start: 2, end: 4 }, depth_px: 20 }]);
  expect(found.clear_runs).toEqual([{ start: 0, end: 0 }]);
  expect(found.cut_off_runs).toEqual([]);
  const cut = measureBars({ ...blockFrames(W, H, [deep(40), deep(40), deep(40)]), factor: 4, size, bar });
  expect(cut.cut_off_runs).toEqual([{ start: 0, end: 2 }]);
  expect(measureBars({ ...blockFrames(W, H, [frames[6], frames[6]]), factor: 4, size, bar }).shadow_below_runs).toEqual(
    [{ start: 0, end: 1 }],
  );
});

describe('a performer who reacts and a vehicle that passes', () => {
  const performer = (way: number) =>
    track(Array.from({ length: 50 }, (_, f) => body(Math.round(40 + (f > 20 ? way * (f - 20) : 0)), 20)));
  // 2 pixels of the grid a frame from the right.
  const vehicle = track(Array.from({ length: 55 }, (_, f) => body(Math.max(0, 118 - 2 * f), 30, 20, 20)));
  const input = { fpsA: 25, fpsB: 25, width: 480, height: 272, at: null, ratePct: null };

  test('the frames that meet, the slide, the speed and who is in front', () => {
    const met = measureMeet({ a: performer(1), b: vehicle, ...input });
    expect(Math.abs(met.a_frame! - 20)).toBeLessThanOrEqual(1);
    // Their right side is at 52: the vehicle's left is there from frame 33 on.
    expect(met.b_frame).toBe(33);
    expect(met.b_speed_widths_per_s).toBeCloseTo((2 * 4 * 25) / 480, 2);
    expect(met.rate_pct).toBeCloseTo((100 * 0.8) / ((2 * 4 * 25) / 480), 0);
    expect(met.slide_frames).toBe(Math.round(met.a_frame! - (33 * 100) / met.rate_pct!));
    expect(met).toMatchObject({ opposed: true, layer: 'b_over_a' });
    expect(Math.abs(met.b_direction_deg!)).toBeCloseTo(180, 0);
  });

  test('who gives way with the vehicle is not opposed to it; a place and a speed can be given', () => {
    expect(measureMeet({ a: performer(-0.7), b: vehicle, ...input }).opposed).toBe(false);
    const given = measureMeet({ a: performer(1), b: vehicle, ...input, at: { x: 400, y: 0 }, ratePct: 100 });
    expect([given.b_frame, given.slide_frames]).toEqual([9, given.a_frame! - 9]);
  });

  test('who never moves does not react', () => {
    const still = track(Array.from({ length: 50 }, () => body(40, 20)));
    expect(measureMeet({ a: still, b: vehicle, ...input })).toMatchObject({ a_frame: null, slide_frames: null });
    expect(measureMeet({ a: still, b: still, ...input }).b_frame).toBeNull();
  });
});

test('a reaction begins with the twist against what comes, not with being carried off after it', () => {
  // They stand, go back by two a frame for ten frames, wait for four, and are flung the other way.
  const xs = [
    ...Array<number>(40).fill(60),
    ...Array.from({ length: 10 }, (_, k) => 58 - 2 * k),
    ...Array<number>(4).fill(40),
    ...Array.from({ length: 12 }, (_, k) => 44 + 4 * k),
  ];
  const van = Array.from({ length: 40 }, (_, k) => 4 + 2 * k);
  const found = measureMeet({
    ...{ a: track(xs.map((x) => body(x, 30))), b: track(van.map((x) => body(x, 30, 20, 20))) },
    ...{ fpsA: 25, fpsB: 25, width: 4 * W, height: 4 * H, at: null, ratePct: null },
  });
  expect(Math.abs(found.a_frame! - 39)).toBeLessThanOrEqual(1);
  expect(found).toMatchObject({ opposed: true });
});

test('coming in, and coming to rest on a mark, is no reaction', () => {
  // They run in over the right edge by 7 a frame, stop at 40, and give way by 3 a frame from frame 60 on.
  const runs = Array.from({ length: 90 }, (_, f) => (f < 20 ? 120 : Math.max(40, 115 - 7 * (f - 20))));
  const xs = runs.map((x, f) => x + (f > 60 ? Math.min(36, 3 * (f - 60)) : 0));
  const inPicture = xs.map((x) => (x >= W ? {} : body(x, 30, Math.min(12, W - x))));
  const van = Array.from({ length: 40 }, (_, k) => body(4 + 2 * k, 30, 20, 20));
  const about = { fpsA: 25, fpsB: 25, width: 4 * W, height: 4 * H, at: null, ratePct: null };
  const found = measureMeet({ a: track(inPicture), b: track(van), ...about });
  expect(Math.abs(found.a_frame! - 60)).toBeLessThanOrEqual(1);
  // Cut off by the lower edge all the while, as a performer often is.
  const waist = xs.map((x) => (x >= W ? {} : body(x, H - 20, Math.min(12, W - x), 20)));
  expect(Math.abs(measureMeet({ a: track(waist), b: track(van), ...about }).a_frame! - 60)).toBeLessThanOrEqual(1);
});

test('a scrap that differs from the empty picture all the while is nobody, before they come and beside them', () => {
  const scrap = { x: 112, y: 50, width: 6, height: 4 };
  const [before, beside] = track([{ body: [scrap] }, { body: [scrap, { x: 20, y: 10, width: 40, height: 50 }] }]);
  expect(before).toBeUndefined();
  expect(beside!.box).toEqual({ x: 80, y: 40, width: 160, height: 200 });
});

test('one that lies on the other is read by its outline: what the middles say is left', () => {
  const [a, b] = [track([body(40, 20)]), track([body(50, 22)])];
  const spot = measureSpot(a, b, { at_a: 0, at_b: 0 }, () => ({ dx_px: 37, dy_px: 9, size_ratio: 1.1, turn_deg: 4 }));
  expect(spot).toMatchObject({ dx_px: 37, dy_px: 9, size_ratio: 1.1, angle_deg: 4, best: { dx_px: 37 } });
  expect(spot.outlines_px).toBeCloseTo(Math.hypot(3, 1), 9);
});
