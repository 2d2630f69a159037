import { greatestDisplacement, type Similarity } from '../../base/geometry/similarity';
import { judgeLock } from './judge';
import { seededNormal } from '../../base/numeric/random';
import type { LockMeasure } from '../../report/types';
import { RandomTexture, renderFrame, type SceneOptions } from '../../testing/rendered-scene';
import { LockMeter } from './measure';

const SIZE = { width: 320, height: 180 };
const FPS = 25;
const scene = (seed: number, more: Partial<SceneOptions> = {}): SceneOptions => ({
  ...SIZE,
  background: new RandomTexture(seed, 4, 40),
  grain: 2,
  seed,
  ...more,
});
const at = (dx: number, dy = 0, rotation = 0, scale = 1): Similarity => ({ dx, dy, rotation, scale });
const many = (n: number, pose: (f: number) => Similarity) => Array.from({ length: n }, (_, f) => pose(f));

function measured(shown: (f: number) => SceneOptions, poses: Similarity[]) {
  const meter = new LockMeter();
  poses.forEach((pose, f) => meter.frame(renderFrame(shown(f), pose, f)));
  const cuts = meter.cuts(FPS);
  const lock = meter.finish({ ...SIZE, factorX: 1, factorY: 1, fps: FPS });
  return { lock, cuts, verdict: judgeLock(lock, SIZE, SIZE, poses.length) };
}

/** The frame's place against the measure's own reference, and how far the measure is off; null where it was not followed. */
function errors(lock: LockMeasure, truth: Similarity[]): (number | null)[] {
  const from = truth[lock.reference_frame!];
  return truth.map((t, f) => {
    const dx = lock.path.dx_px[f];
    if (dx === null) return null;
    const got = at(dx, lock.path.dy_px[f]!, (lock.path.rotation_deg[f]! * Math.PI) / 180, lock.path.scale[f]!);
    // Both only shift, or turn and grow about the first frame's own centre.
    const wanted = at(t.dx - from.dx, t.dy - from.dy, t.rotation - from.rotation, t.scale / from.scale);
    return greatestDisplacement(got, wanted, SIZE.width, SIZE.height);
  });
}
const worst = (values: (number | null)[]) => Math.max(...values.map((v) => v ?? Infinity));

/** A hand: slow sways of several periods and a tremor. */
function hand(seed: number, size: number): (f: number) => Similarity {
  const normal = seededNormal(seed);
  const phase = [normal(), normal(), normal(), normal()].map((v) => 3 * v);
  const sway = (f: number, k: number) =>
    Math.sin(f / 11 + phase[k]) + 0.5 * Math.sin(f / 4.3 + phase[k + 1]) + 0.12 * Math.sin(f / 1.3 + phase[k]);
  const from = [sway(0, 0), sway(0, 2)];
  return (f) => at(size * (sway(f, 0) - from[0]), 0.7 * size * (sway(f, 2) - from[1]));
}

describe.each([1])('a camera that moves all the time, seed %d', (seed) => {
  test('held by hand: followed from the first frame to the last, and called so', () => {
    const truth = many(70, hand(seed, 9));
    const { lock, cuts, verdict } = measured(() => scene(seed), truth);
    expect(worst(errors(lock, truth))).toBeLessThan(0.5);
    expect(lock).toMatchObject({ handheld: true, moves: true, measured_share: 1, knocks: [] });
    expect(lock.speed_px_per_s).toBeGreaterThan(20);
    expect(cuts).toEqual([]);
    expect(verdict.verdict).toBe('reshoot');
    expect(verdict.reasons[0].text).toMatch(
      /^The camera was held by hand: up to \d+\.\d px, about \d+(\.\d+)? px a second\.$/,
    );
    expect(verdict.reasons[0].fix).toMatch(/The steadiest 2 s are frames \d+ to \d+, within/);
  });

  test('panned over three picture widths: the same, but no hand', () => {
    const truth = many(90, (f) => at(-11 * f, 0.4 * f));
    const { lock, verdict } = measured(() => scene(seed + 10), truth);
    // Each anchor on the way adds its own error.
    expect(worst(errors(lock, truth))).toBeLessThan(3);
    expect(lock).toMatchObject({ handheld: false, moves: true, measured_share: 1 });
    expect(lock.speed_px_per_s! / (11 * FPS)).toBeGreaterThan(0.95);
    expect(lock.speed_px_per_s! / (11 * FPS)).toBeLessThan(1.05);
    expect(verdict).toMatchObject({ verdict: 'reshoot', reasons: [{ code: 'moves' }] });
  });

  test('zoomed by a third: the same', () => {
    const truth = many(60, (f) => at(0, 0, 0, 1 + f / 180));
    const { lock } = measured(() => scene(seed + 20), truth);
    expect(worst(errors(lock, truth))).toBeLessThan(2);
    expect(lock).toMatchObject({ handheld: false, moves: true, measured_share: 1 });
    expect(lock.peak_scale_pct).toBeGreaterThan(31);
    expect(lock.peak_scale_pct).toBeLessThan(35);
  });
});

describe('heads and tails', () => {
  const shaken = (f: number) => (f < 9 ? at(4 * Math.sin(f * 1.7) * Math.exp(-f / 6), 2 * Math.cos(f * 1.3)) : at(0));

  test('the button’s shake and the camera taken down are no part of a locked take', () => {
    const truth = many(90, (f) => (f > 80 ? at(0, 6 * (f - 80)) : shaken(f)));
    const { lock, verdict } = measured(() => scene(31), truth);
    expect(lock.usable_run!.start).toBeGreaterThanOrEqual(7);
    expect(lock.usable_run!.start).toBeLessThanOrEqual(10);
    expect(lock.usable_run!.end).toBe(80);
    expect(lock.peak_px).toBeLessThan(0.2);
    expect(verdict.verdict).toBe('holds');
    expect(verdict.reasons.map((r) => r.code)).toEqual(['still', 'head', 'tail']);
    // The path speaks of the whole take.
    expect(lock.path.displacement_px[89]).toBeGreaterThan(50);
  });

  test('a slate before the lens is none either, and the rest is held against itself', () => {
    const slate = scene(90);
    const { lock, cuts, verdict } = measured(
      (f) => (f < 8 ? slate : scene(32)),
      many(80, () => at(0)),
    );
    expect(lock.usable_run).toEqual({ start: 8, end: 79 });
    expect(lock.reference_frame).toBeGreaterThanOrEqual(8);
    expect(lock.measured_share).toBe(1);
    expect(verdict.verdict).toBe('holds');
    expect(cuts).toEqual([]);
  });

  test('a knock in the middle, and a drift from end to end, are never cut away', () => {
    const knock = many(90, (f) => (f < 40 ? at(0) : f < 46 ? at(9 * Math.sin(f)) : at(2.5)));
    const knocked = measured(() => scene(33), knock);
    expect(knocked.lock.usable_run).toEqual({ start: 0, end: 89 });
    expect(knocked.verdict.reasons.map((r) => r.code)).toContain('knock');
    const drift = measured(
      () => scene(34),
      many(90, (f) => at(f / 45)),
    );
    expect(drift.lock.usable_run).toEqual({ start: 0, end: 89 });
    expect(drift.lock.peak_px).toBeGreaterThan(1.8);
    expect(drift.verdict.reasons[0].code).toBe('drift');
  });

  test('more than two seconds, or a fifth of the take, are no head', () => {
    const { lock } = measured(
      () => scene(35),
      many(60, (f) => (f < 20 ? at(12) : at(0))),
    );
    expect(lock.usable_run).toEqual({ start: 0, end: 59 });
    expect(lock.peak_px).toBeGreaterThan(11);
  });
});

describe('several shots in a file', () => {
  test('a cut is found at its frame, whether the camera stands or is held by hand', () => {
    const other = scene(92);
    expect(
      measured(
        (f) => (f < 33 ? scene(41) : other),
        many(70, () => at(0)),
      ).cuts,
    ).toEqual([33]);
    expect(measured((f) => (f < 40 ? scene(42) : other), many(70, hand(3, 5))).cuts).toEqual([40]);
    const third = scene(93);
    const twice = measured(
      (f) => (f < 25 ? scene(43) : f < 52 ? other : third),
      many(80, () => at(0)),
    );
    expect(twice.cuts).toEqual([25, 52]);
  });

  test('nothing else is one: a flash, somebody who fills the picture bit by bit, a card held up and taken away', () => {
    const flash = measured(
      (f) => scene(44, { light: () => (f === 30 ? 3 : 1) }),
      many(60, () => at(0)),
    );
    expect(flash.cuts).toEqual([]);
    const mover = {
      texture: new RandomTexture(77, 5, 45),
      at: (f: number) => ({ x: -SIZE.width + 12 * (f - 10), y: 0, width: SIZE.width + 40, height: SIZE.height }),
    };
    expect(
      measured(
        () => scene(45, { mover }),
        many(80, () => at(0)),
      ).cuts,
    ).toEqual([]);
    const card = scene(94);
    const shown = measured(
      (f) => (f >= 20 && f < 50 ? card : scene(46)),
      many(90, () => at(0)),
    );
    expect(shown.cuts).toEqual([]);
    expect(shown.lock.peak_px).toBeLessThan(0.2);
  });
});

test('somebody who fills the picture for a second does not move a camera that stands', () => {
  const mover = {
    texture: new RandomTexture(78, 4, 45),
    at: (f: number) => ({ x: -SIZE.width + 14 * (f - 12), y: 0, width: SIZE.width + 20, height: SIZE.height }),
  };
  const { lock, verdict } = measured(
    () => scene(51, { mover }),
    many(80, () => at(0)),
  );
  expect(lock.peak_px).toBeLessThan(0.35);
  expect(lock.measured_share).toBeGreaterThan(0.5);
  expect(verdict.verdict).not.toBe('reshoot');
});

test('a camera waved about is called so where no frame lies on another', () => {
  const texture = (f: number) => scene(100 + f);
  const { lock, verdict } = measured(
    texture,
    many(40, () => at(0)),
  );
  expect(lock.measured_share).toBeLessThan(0.3);
  expect(lock.restless_share).toBeGreaterThan(0.4);
  expect(verdict).toMatchObject({ verdict: 'reshoot', reasons: [{ code: 'waved' }] });
});

test('few corners are enough where they agree: a plain wall with a door frame', () => {
  class Wall extends RandomTexture {
    at(x: number, y: number): number {
      const frame = Math.abs(x - 420) < 3 || (Math.abs(y - 340) < 3 && x > 420);
      return 150 + 0.02 * super.at(x, y) - (frame ? 60 : 0);
    }
  }
  const wall = scene(61, { background: new Wall(61, 9, 5) });
  const held = measured(
    () => wall,
    many(50, () => at(0)),
  );
  expect(['holds', 'unjudged']).toContain(held.verdict.verdict);
  const moved = measured(
    () => wall,
    many(50, (f) => at(f / 6, f / 9)),
  );
  expect(moved.verdict.verdict).not.toBe('holds');
});

test('what is left of another shot at the head of a file, or at its end, is cut off, however short', () => {
  const here = many(40, () => at(0, 0));
  expect(measured((f) => scene(f < 2 ? 71 : 72), here).cuts).toEqual([2]);
  expect(measured((f) => scene(f < 37 ? 73 : 74), here).cuts).toEqual([37]);
  // Amid the file so short a one is something held before the lens.
  expect(measured((f) => scene(f === 20 || f === 21 ? 75 : 76), here).cuts).toEqual([]);
});
