import { greatestDisplacement, IDENTITY, type Similarity } from '../../base/geometry/similarity';
import { RandomTexture, renderFrame, type SceneOptions } from '../../testing/rendered-scene';
import { poseToSimilarity } from './consensus';
import { CameraTracker } from './track';

const SIZE = { width: 320, height: 180 };
const scene = (seed: number, more: Partial<SceneOptions> = {}): SceneOptions => ({
  ...SIZE,
  background: new RandomTexture(seed, 4, 40),
  grain: 2,
  seed,
  ...more,
});

function track(options: SceneOptions | ((f: number) => SceneOptions), poses: Similarity[]): CameraTracker {
  const tracker = new CameraTracker();
  poses.forEach((pose, f) => tracker.frame(renderFrame(typeof options === 'function' ? options(f) : options, pose, f)));
  return tracker;
}

const at = (dx: number, dy = 0): Similarity => ({ ...IDENTITY, dx, dy });
const still = (n: number) => Array.from({ length: n }, () => at(0));

/** How far a frame's pose against its anchor lies from the truth, px; null when it was not recognised. */
function errorAt(tracker: CameraTracker, truth: Similarity[], f: number): number | null {
  const { anchor, pose } = tracker.records[f];
  if (anchor < 0 || !pose) return null;
  const from = truth[tracker.anchors[anchor].frame];
  const wanted = { ...truth[f], dx: truth[f].dx - from.dx, dy: truth[f].dy - from.dy };
  return greatestDisplacement(poseToSimilarity(pose), wanted, SIZE.width, SIZE.height);
}

/** Which anchors a frame hangs together with; null when it was not recognised. */
const islandAt = ({ records, anchors }: CameraTracker, f: number) =>
  records[f].anchor < 0 ? null : anchors[records[f].anchor].island;

test('the first picture is the anchor as long as the camera stands', () => {
  const truth = still(12);
  const tracker = track(scene(1), truth);
  expect(tracker.anchors.map((a) => a.frame)).toEqual([0]);
  expect(tracker.anchors[0].fromFirst).toEqual(IDENTITY);
  expect(tracker.records.every((r) => r.anchor === 0)).toBe(true);
  truth.forEach((_, f) => expect(errorAt(tracker, truth, f)!).toBeLessThan(0.06));
});

test.each([2, 3])(
  'a pan over more than a picture width changes its anchor on the way and stays true to each, seed %d',
  (seed) => {
    // Two picture widths in 110 frames.
    const truth = Array.from({ length: 110 }, (_, f) => at(-6 * f));
    const tracker = track(scene(seed), truth);
    expect(tracker.anchors.length).toBeGreaterThan(2);
    const lost = truth.filter((_, f) => errorAt(tracker, truth, f) === null).length;
    expect(lost).toBe(0);
    truth.forEach((_, f) => expect(errorAt(tracker, truth, f)!).toBeLessThan(0.6));
    // Each anchor knows where the first picture lies in it.
    for (const anchor of tracker.anchors) {
      const wanted = at(truth[0].dx - truth[anchor.frame].dx);
      const got = anchor.fromFirst;
      expect(Math.abs(got.dx + wanted.dx) < 2 || Math.abs(got.dx - wanted.dx) < 2).toBe(true);
    }
  },
);

test('a camera that pans away and back holds against the anchor it knows, and ends where it began', () => {
  const way = (f: number) => (f < 40 ? -6 * f : -6 * Math.max(0, 80 - f));
  const truth = Array.from({ length: 90 }, (_, f) => at(way(f)));
  const tracker = track(scene(4), truth);
  const last = tracker.records.at(-1)!;
  expect(last.anchor).toBe(0);
  expect(errorAt(tracker, truth, 89)!).toBeLessThan(0.1);
});

test('a picture hidden for a while is recognised again, and nothing is claimed of what was hidden', () => {
  // A wall of another make fills the frame from 10 to 29.
  const other = scene(90);
  const truth = still(45);
  const tracker = track((f) => (f >= 10 && f < 30 ? other : scene(5)), truth);
  for (let f = 0; f < 45; f++) {
    // What is seen meanwhile is followed by itself, and tied to nothing.
    if (f >= 10 && f < 30) expect(islandAt(tracker, f)).not.toBe(0);
    else if (f >= 33 || f < 10) expect(errorAt(tracker, truth, f)!).toBeLessThan(0.1);
  }
  expect(tracker.records[44].anchor).toBe(0);
});

test('hidden for longer, the other picture becomes an anchor of its own; back at the first one it is recalled', () => {
  const other = scene(91);
  const truth = still(80);
  const tracker = track((f) => (f >= 10 && f < 50 ? other : scene(6)), truth);
  expect(tracker.anchors.length).toBe(2);
  const [first, second] = tracker.anchors;
  expect(first.frame).toBe(0);
  // Nothing tells how the other picture lies to the first.
  expect([first.island, second.island]).toEqual([0, 1]);
  expect(second.frame).toBeGreaterThanOrEqual(10);
  expect(tracker.records[49].anchor).toBe(1);
  expect(tracker.records[79].anchor).toBe(0);
  expect(errorAt(tracker, truth, 79)!).toBeLessThan(0.06);
});

test('a large mover does not take the camera along: what stayed where it was is seen to have stayed', () => {
  const mover = {
    texture: new RandomTexture(77, 5, 45),
    at: (f: number) => ({ x: -120 + 4 * f, y: 20, width: 190, height: 160 }),
  };
  // The wall is plainer than whoever crosses it.
  const truth = still(70);
  const tracker = track(scene(7, { background: new RandomTexture(7, 5, 14), mover }), truth);
  const errors = truth.map((_, f) => errorAt(tracker, truth, f));
  expect(errors.filter((e) => e === null).length).toBeLessThan(7);
  // It goes 276 px meanwhile, and covers more than half of a wall that the grain nearly drowns.
  const known = errors.filter((e) => e !== null).sort((a, b) => a - b);
  expect(known[known.length >> 1]).toBeLessThan(0.6);
  expect(known[known.length - 1]).toBeLessThan(2);
});

test('a camera that moved for good has no rival where it was', () => {
  const truth = Array.from({ length: 40 }, (_, f) => at(f < 8 ? 0 : 9, f < 8 ? 0 : -5));
  const tracker = track(scene(8), truth);
  truth.forEach((_, f) => expect(errorAt(tracker, truth, f)!).toBeLessThan(0.08));
  const rivals = tracker.records.flatMap((r) => r.rival ?? []);
  expect(rivals.length).toBeGreaterThan(0);
  for (const rival of rivals) expect(rival).toBeLessThan(0.1);
});

test('a knock of many pixels within one frame is followed', () => {
  const truth = Array.from({ length: 24 }, (_, f) => at(f === 10 ? 38 : f > 10 ? 12 : 0, f >= 10 ? 7 : 0));
  const tracker = track(scene(9), truth);
  for (const f of [9, 11, 16, 23]) expect(errorAt(tracker, truth, f)!).toBeLessThan(0.1);
});

test('a blank wall gives no anchor and no pose, whatever its grain', () => {
  const tracker = track(scene(10, { background: new RandomTexture(10, 4, 0), grain: 3 }), still(30));
  expect(tracker.anchors).toHaveLength(0);
  expect(tracker.records).toHaveLength(30);
  expect(tracker.records.every((r) => r.anchor === -1 && r.pose === null)).toBe(true);
});

test('detail that comes into a blank picture is taken as the anchor then', () => {
  const blank = scene(11, { background: new RandomTexture(11, 4, 0) });
  const truth = still(30);
  const tracker = track((f) => (f < 6 ? blank : scene(11)), truth);
  expect(tracker.anchors.map((a) => a.frame)).toEqual([6]);
  expect(errorAt(tracker, truth, 29)!).toBeLessThan(0.06);
});

test('frames of another size are refused', () => {
  const tracker = track(scene(12), still(2));
  const other = renderFrame({ ...scene(12), width: 300 }, IDENTITY, 2);
  expect(() => tracker.frame(other)).toThrow(RangeError);
});
