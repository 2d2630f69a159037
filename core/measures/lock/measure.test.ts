import { judgeLock } from './judge';
import { greatestDisplacement, IDENTITY, type Similarity } from '../../base/geometry/similarity';
import type { LockMeasure } from '../../report/types';
import { RandomTexture, renderFrame, type SceneOptions } from '../../testing/rendered-scene';
import { LockMeter } from './measure';
import { few } from '../../testing/few';

const SIZE = { width: 480, height: 270 };
const DEGREE = Math.PI / 180;

function measure(options: SceneOptions, poses: Similarity[]): LockMeasure {
  const meter = new LockMeter();
  poses.forEach((pose, f) => meter.frame(renderFrame(options, pose, f)));
  return meter.finish({ width: options.width, height: options.height, factorX: 1, factorY: 1, fps: 25 });
}

/** Root mean square error at the worst corner over the measured frames, px. */
function error(lock: LockMeasure, truth: Similarity[], size = SIZE): { rms: number; share: number } {
  let sum = 0,
    count = 0;
  truth.forEach((t, f) => {
    const dx = lock.path.dx_px[f];
    if (dx === null) return;
    const got = {
      dx,
      dy: lock.path.dy_px[f]!,
      rotation: lock.path.rotation_deg[f]! * DEGREE,
      scale: lock.path.scale[f]!,
    };
    sum += greatestDisplacement(got, t, size.width, size.height) ** 2;
    count++;
  });
  return { rms: Math.sqrt(sum / Math.max(1, count)), share: count / truth.length };
}

const verdict = (lock: LockMeasure, frames: number) => judgeLock(lock, SIZE, SIZE, frames).verdict;
const still = (n: number) => Array.from({ length: n }, () => ({ ...IDENTITY }));
const base = (seed: number, more: Partial<SceneOptions> = {}): SceneOptions => ({
  ...SIZE,
  background: new RandomTexture(seed, 4, 40),
  grain: 2,
  seed,
  ...more,
});

test.each(few(1, [1, 2, 3]))('shift, turn and size together, seed %d: within 0.05 px at the worst corner', (seed) => {
  const truth = Array.from({ length: 24 }, (_, f) => ({
    dx: 12 * Math.sin(f / 5),
    dy: 7 * Math.sin(f / 4),
    rotation: 0.5 * DEGREE * Math.sin(f / 6),
    scale: 1 + 0.01 * Math.sin(f / 7),
  }));
  const lock = measure(base(seed), truth);
  const { rms, share } = error(lock, truth);
  expect(share).toBe(1);
  expect(rms).toBeLessThan(0.05);
  expect(lock.uncertainty_px).toBeLessThan(0.08);
  expect(lock.uncertainty_px! * 3).toBeGreaterThan(rms);
  expect(lock.knocks).toHaveLength(0);
});

test.each(few(1, [4, 5]))('a camera that stays put holds, seed %d, whatever the light does', (seed) => {
  const lock = measure(base(seed, { light: (f) => (f > 12 ? 0.6 : 1) - 0.004 * f }), still(24));
  expect(lock.peak_px).toBeLessThan(0.1);
  expect(verdict(lock, 24)).toBe('holds');
});

test('somebody who covers more than half the frame for a while does not pull the camera along', () => {
  const truth = still(36).map((p, f) => ({ ...p, dx: 0.3 * Math.sin(f / 4) }));
  const options = base(6, {
    mover: { texture: new RandomTexture(60, 4, 55), at: (f) => ({ x: -340 + f * 24, y: 0, width: 330, height: 270 }) },
  });
  const { rms, share } = error(measure(options, truth), truth);
  expect(share).toBeGreaterThan(0.9);
  expect(rms).toBeLessThan(0.12);
});

test('something detailed that covers a third from the first frame and creeps across is not taken for the background', () => {
  const size = { width: 640, height: 360 };
  const mover = {
    texture: new RandomTexture(70, 3, 60),
    at: (f: number) => ({ x: f * 1.6, y: 0, width: 213, height: 360 }),
  };
  const lock = measure({ ...base(7), ...size, background: new RandomTexture(7, 7, 16), mover }, still(45));
  expect(lock.peak_px).toBeLessThan(0.35);
  expect(judgeLock(lock, size, size, 45).verdict).toBe('holds');
});

/** A wall of level boards, which look the same however far one slides along them, with hardly any other detail. */
class Boards extends RandomTexture {
  at(x: number, y: number): number {
    return super.at(x, y) + (y > 200 ? 30 * Math.sin(y / 6) : 0);
  }
}

test.each(few(1, [20, 21, 22]))(
  'in front of level boards that cannot contradict it, the creeping thing is not taken for the camera, seed %d',
  (seed) => {
    const size = { width: 640, height: 360 };
    const mover = {
      texture: new RandomTexture(seed + 60, 3, 60),
      at: (f: number) => ({ x: 20 + f * 0.3, y: 0, width: 220, height: 360 }),
    };
    const lock = measure({ ...base(seed), ...size, grain: 1.5, background: new Boards(seed, 14, 5), mover }, still(60));
    expect(['holds', 'unjudged']).toContain(judgeLock(lock, size, size, 60).verdict);
  },
);

test('a pan across level boards with posts is still seen as a pan', () => {
  const boards = new Boards(23, 5, 22);
  const truth = Array.from({ length: 30 }, (_, f) => ({ dx: -2 * f, dy: 0, rotation: 0, scale: 1 }));
  const lock = measure(base(23, { background: boards }), truth);
  expect(error(lock, truth).rms).toBeLessThan(0.2);
  expect(verdict(lock, 30)).toBe('reshoot');
});

test('when only a third of the picture has detail and that moves, it says that it cannot tell', () => {
  const mover = {
    texture: new RandomTexture(71, 3, 60),
    at: (f: number) => ({ x: 10 + f, y: 0, width: 160, height: 270 }),
  };
  const lock = measure(base(19, { background: new RandomTexture(19, 7, 0), mover }), still(30));
  expect(judgeLock(lock, SIZE, SIZE, 30)).toMatchObject({ verdict: 'unjudged', reasons: [{ code: 'part-moves' }] });
});

test('wind in two thirds of the picture is not camera movement', () => {
  const wind = (f: number, x: number, y: number): [number, number] =>
    x < 320 ? [3 * Math.sin(f / 3 + x / 40 + y / 55), 1.5 * Math.sin(f / 2.2 + x / 31)] : [0, 0];
  const lock = measure(base(8, { wind }), still(40));
  expect(lock.peak_px).toBeLessThan(0.25);
  expect(verdict(lock, 40)).toBe('holds');
  const trusted = lock.patches.filter((p) => p.trust >= 0.2);
  expect(trusted.filter((p) => p.x_px < 300).length).toBeLessThan(0.1 * trusted.length);
});

test('when everything moves by itself it is unjudged', () => {
  const wind = (f: number, x: number, y: number): [number, number] => [
    5 * Math.sin(f / 2 + x / 23 + y / 41),
    4 * Math.sin(f / 1.7 + x / 37 - y / 19),
  ];
  expect(verdict(measure(base(9, { wind }), still(30)), 30)).toBe('unjudged');
});

test('a blank wall, a black picture and one frame are unjudged, with a reason', () => {
  const wall = measure(base(10, { background: new RandomTexture(10, 4, 0) }), still(10));
  expect(judgeLock(wall, SIZE, SIZE, 10)).toMatchObject({ verdict: 'unjudged', reasons: [{ code: 'no-texture' }] });
  const black = measure(base(11, { light: () => 0, grain: 1.5 }), still(10));
  expect(verdict(black, 10)).toBe('unjudged');
  const one = measure(base(12), still(1));
  expect(judgeLock(one, SIZE, SIZE, 1)).toMatchObject({ verdict: 'unjudged', reasons: [{ code: 'one-frame' }] });
  expect(one.path.dx_px).toEqual([0]);
});

test('no frame at all gives an empty measure', () => {
  const lock = new LockMeter().finish({ ...SIZE, factorX: 1, factorY: 1, fps: 25 });
  expect(lock.peak_px).toBeNull();
  expect(judgeLock(lock, SIZE, SIZE, 0).verdict).toBe('unjudged');
});

test('dark, noisy material stays within 0.15 px', () => {
  const size = { width: 960, height: 540 };
  const truth = Array.from({ length: 12 }, (_, f) => ({
    dx: 6 * Math.sin(f / 6),
    dy: 3 * Math.sin(f / 5),
    rotation: 0,
    scale: 1,
  }));
  const { rms, share } = error(measure({ ...base(13, { light: () => 0.2 }), ...size }, truth), truth, size);
  expect(share).toBe(1);
  expect(rms).toBeLessThan(0.15);
});

test('a knock is found at its frame, with what it left behind', () => {
  const truth = still(50).map((p, f) => {
    if (f < 25) return p;
    const ring = Math.exp(-(f - 25) / 4);
    return { ...p, dx: 2.4 + 14 * ring * Math.cos((f - 25) * 1.1), dy: 6 * ring * Math.sin((f - 25) * 1.3) };
  });
  const lock = measure(base(14), truth);
  expect(error(lock, truth).rms).toBeLessThan(0.06);
  expect(lock.knocks).toHaveLength(1);
  expect(lock.knocks[0].start).toBe(25);
  expect(lock.knocks[0].rest_px).toBeGreaterThan(2.2);
  expect(lock.knocks[0].rest_px).toBeLessThan(2.8);
  expect(lock.peak_frame).toBe(25);
});

test('a knock of a tenth of the width is followed from one frame to the next', () => {
  const truth = still(30).map((p, f) => (f < 15 ? p : { ...p, dx: 48, dy: -12, rotation: 0.3 * DEGREE }));
  const lock = measure(base(15), truth);
  const { rms, share } = error(lock, truth);
  expect(share).toBeGreaterThan(0.9);
  expect(rms).toBeLessThan(0.06);
});

test('a pan that leaves the first picture is chained without tearing', () => {
  const truth = Array.from({ length: 60 }, (_, f) => ({ dx: -8 * f, dy: 0.5 * f, rotation: 0, scale: 1 }));
  const lock = measure(base(16), truth);
  const { rms, share } = error(lock, truth);
  expect(share).toBeGreaterThan(0.95);
  expect(rms).toBeLessThan(0.5);
});

test('odd sizes work, and a change of size inside a take is refused', () => {
  const size = { width: 333, height: 187 };
  const truth = still(8).map((p, f) => ({ ...p, dx: f * 0.4 }));
  expect(error(measure({ ...base(17), ...size }, truth), truth, size).rms).toBeLessThan(0.08);
  const meter = new LockMeter();
  meter.frame(renderFrame(base(18), IDENTITY, 0));
  expect(() => meter.frame(renderFrame({ ...base(18), width: 200 }, IDENTITY, 1))).toThrow('same size');
});
