import fc from 'fast-check';
import { IDENTITY, type Similarity } from '../../base/geometry/similarity';
import { seededNormal } from '../../base/numeric/random';
import { motionOf, steadiestRuns, type Piece } from './motion';
import { against, middlePose, usableRun } from './usable';

const SIZE = { width: 1920, height: 1080, fps: 25 };
const at = (dx: number, dy = 0): Similarity => ({ ...IDENTITY, dx, dy });
const path = (n: number, pose: (f: number) => Similarity | null) => Array.from({ length: n }, (_, f) => pose(f));
const pieces = (poses: (Similarity | null)[], island = 0): Piece[] => poses.map((pose) => pose && { island, pose });

describe('the usable run', () => {
  test('lies within the take, never loses more than two seconds or a fifth at an end, and keeps what lies between', () => {
    const take = fc.tuple(
      fc.integer({ min: 20, max: 160 }),
      fc.integer({ min: 0, max: 60 }),
      fc.integer({ min: 0, max: 60 }),
      fc.integer({ min: 1, max: 1e6 }),
    );
    fc.assert(
      fc.property(take, ([count, head, tail, seed]) => {
        const normal = seededNormal(seed);
        const poses = path(count, (f) => (f < head || f >= count - tail ? at(20 + 5 * normal()) : at(0.02 * normal())));
        const run = usableRun(poses, SIZE, 0.02)!;
        const most = Math.floor(Math.min(50, count / 5));
        expect(run.start).toBeGreaterThanOrEqual(0);
        expect(run.start).toBeLessThanOrEqual(most);
        expect(run.end).toBeGreaterThanOrEqual(count - 1 - most);
        expect(run.end).toBeLessThan(count);
        if (head + tail <= most) expect([run.start, run.end]).toEqual([head, count - 1 - tail]);
      }),
      { numRuns: 80 },
    );
  });

  test('of a take that moves all through is all of it, and so it is where hardly anything was followed', () => {
    const sway = path(100, (f) => at(10 * Math.sin(f / 9), 6 * Math.cos(f / 7)));
    expect(usableRun(sway, SIZE, 0.05)).toEqual({ start: 0, end: 99 });
    const hardly = path(100, (f) => (f % 4 ? null : at(0)));
    expect(usableRun(hardly, SIZE, 0.05)).toEqual({ start: 0, end: 99 });
    expect(
      usableRun(
        path(30, () => null),
        SIZE,
        0.05,
      ),
    ).toBeNull();
  });

  test('what happens after the take has begun is no head', () => {
    const late = path(100, (f) => (f >= 14 && f < 18 ? at(9) : at(0)));
    expect(usableRun(late, SIZE, 0.02)).toEqual({ start: 0, end: 99 });
    const early = path(100, (f) => (f < 6 || (f >= 10 && f < 12) ? at(9) : at(0)));
    expect(usableRun(early, SIZE, 0.02)).toEqual({ start: 12, end: 99 });
  });
});

test('against another frame every place is the same movement seen from there', () => {
  const poses = path(5, (f) => ({ dx: 3 * f, dy: -f, rotation: 0.01 * f, scale: 1 + 0.02 * f }));
  const seen = against(poses, poses[3]!);
  expect(seen[3]!.dx).toBeCloseTo(0, 9);
  expect(seen[3]!.scale).toBeCloseTo(1, 9);
  expect(against([null, poses[1]], poses[1]!)[0]).toBeNull();
  expect(middlePose([null, at(2), at(8), at(3)])!.dx).toBe(3);
  expect(middlePose([null])).toBeNull();
});

describe('how the camera moves', () => {
  const pan = path(120, (f) => at(-8 * f));
  const hand = path(120, (f) => at(12 * Math.sin(f / 6) + 3 * Math.sin(f / 2.1), 9 * Math.sin(f / 4.4)));

  test('standing, panning, held by hand', () => {
    const normal = seededNormal(4);
    const still = path(120, () => at(0.05 * normal(), 0.05 * normal()));
    expect(motionOf(pieces(still), SIZE, 0.05)).toEqual({ moves: false, handheld: false, speed_px_per_s: null });
    const panned = motionOf(pieces(pan), SIZE, 0.05);
    expect(panned).toMatchObject({ moves: true, handheld: false });
    expect(panned.speed_px_per_s).toBeCloseTo(200, 6);
    expect(motionOf(pieces(hand), SIZE, 0.05)).toMatchObject({ moves: true, handheld: true });
  });

  test('pieces that do not hang together are never held against each other', () => {
    const apart = path(120, (f) => at(f < 60 ? 0 : 900)).map((pose, f): Piece => ({
      island: f < 60 ? 0 : 1,
      pose: pose!,
    }));
    expect(motionOf(apart, SIZE, 0.05)).toEqual({ moves: false, handheld: false, speed_px_per_s: null });
  });

  test('the steadiest runs fit into the take, the longer the less steady, and lie where it was calmest', () => {
    const calmer = path(150, (f) => at((f < 100 ? 10 : 1) * Math.sin(f / 5)));
    const runs = steadiestRuns(calmer, SIZE, { start: 0, end: 149 });
    expect(runs.map((r) => r.seconds)).toEqual([0.5, 1, 2, 3, 5]);
    for (const { run, seconds } of runs) expect(run.end - run.start + 1).toBe(Math.max(2, Math.round(25 * seconds)));
    for (let k = 1; k < runs.length; k++) expect(runs[k].peak_px).toBeGreaterThanOrEqual(0.7 * runs[k - 1].peak_px);
    expect(runs[2].run.start).toBeGreaterThanOrEqual(85);
    expect(steadiestRuns(calmer, SIZE, { start: 20, end: 25 })).toEqual([]);
  });
});
