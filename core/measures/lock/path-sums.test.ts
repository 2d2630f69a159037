import { median } from '../../base/numeric/quantile';
import fc from 'fast-check';
import { IDENTITY, type Similarity } from '../../base/geometry/similarity';
import { seededNormal } from '../../base/numeric/random';
import { makeStillCrop } from './crop';
import { findKnocks } from './knocks';
import { summarise } from './measure';
import type { CameraPath } from './refine';

const shift = (dx: number, dy = 0): Similarity => ({ ...IDENTITY, dx, dy });

test('the crop for shifts is their range, whichever side', () => {
  fc.assert(
    fc.property(
      fc.array(fc.tuple(fc.double({ min: -60, max: 60, noNaN: true }), fc.double({ min: -30, max: 30, noNaN: true })), {
        minLength: 1,
        maxLength: 20,
      }),
      (moves) => {
        const xs = moves.map((m) => m[0]),
          ys = moves.map((m) => m[1]);
        const expected =
          100 * Math.max((Math.max(...xs) - Math.min(...xs)) / 1920, (Math.max(...ys) - Math.min(...ys)) / 1080);
        expect(
          makeStillCrop(
            moves.map(([x, y]) => shift(x, y)),
            1920,
            1080,
          ),
        ).toBeCloseTo(expected, 1);
      },
    ),
  );
});

test('a still take needs no crop; missing frames are passed over', () => {
  expect(makeStillCrop([shift(0), null, shift(0)], 1280, 720)).toBe(0);
  expect(makeStillCrop([null], 1280, 720)).toBe(0);
});

test('a turn needs a crop on both sides', () => {
  const crop = makeStillCrop([IDENTITY, { ...IDENTITY, rotation: 0.01 }], 1920, 1080);
  expect(crop).toBeGreaterThan(1);
  expect(crop).toBeLessThan(2.5);
});

test('a zoom costs the same whichever end it began at: cropped there, or enlarged here', () => {
  fc.assert(
    fc.property(fc.double({ min: 1, max: 1.5, noNaN: true }), fc.boolean(), (zoom, isIn) => {
      const scales = Array.from({ length: 12 }, (_, k) => zoom ** ((isIn ? k : -k) / 11));
      const cost = makeStillCrop(
        scales.map((scale) => ({ ...IDENTITY, scale })),
        1920,
        1080,
      );
      expect(cost).toBeCloseTo(100 * (1 - 1 / zoom), 1);
    }),
  );
  // A zoom of 1.16 on a picture that wanders besides loses both.
  const both = makeStillCrop([IDENTITY, { ...IDENTITY, scale: 1 / 1.16 }, shift(96)], 1920, 1080);
  expect(both).toBeCloseTo(100 * (1 - 0.95 / 1.16), 0);
});

test('hand-held swaying is not a row of knocks, a slow drift is none', () => {
  const sway = Array.from({ length: 200 }, (_, f) =>
    shift(30 * Math.sin(f / 9) + 8 * Math.sin(f / 3.1), 20 * Math.sin(f / 13)),
  );
  expect(findKnocks(sway, 1920, 1080, 25, 0.02)).toHaveLength(0);
  expect(
    findKnocks(
      Array.from({ length: 200 }, (_, f) => shift(f * 0.05)),
      1920,
      1080,
      25,
      0.02,
    ),
  ).toHaveLength(0);
});

test('a jump between two frames is a knock of one frame that rests where it landed', () => {
  const [knock, ...others] = findKnocks(
    Array.from({ length: 100 }, (_, f) => shift(f < 60 ? 0 : 5)),
    1920,
    1080,
    25,
    0.02,
  );
  expect(others).toHaveLength(0);
  expect(knock).toMatchObject({ start: 60, end: 60 });
  expect(knock.rest_px).toBeCloseTo(5);
});

test('two knocks apart are two', () => {
  const path = Array.from({ length: 150 }, (_, f) =>
    shift((f >= 40 ? 8 * Math.exp(-(f - 40) / 2) : 0) + (f >= 100 ? 8 * Math.exp(-(f - 100) / 2) : 0)),
  );
  expect(findKnocks(path, 1920, 1080, 25, 0.02).map((k) => k.start)).toEqual([40, 100]);
});

test('the median of an even count is the mean of the middle two', () => {
  expect(median([4, 1, 3, 2])).toBe(2.5);
  expect(median([])).toBeNaN();
});

/** A take that hangs together. */
const together = (poses: Similarity[]) => ({
  pieces: poses.map((pose) => ({ island: 0, pose })),
  wholeMoves: poses.map(() => false),
  passedOver: poses.map(() => false),
});

/** A path as if measured: true places with normal errors of one spread. */
function measuredPath(truth: Similarity[], sigma: number, seed: number): CameraPath {
  const normal = seededNormal(seed);
  return {
    referenceFrame: 0,
    poses: truth.map((p) => ({ ...p, dx: p.dx + sigma * normal(), dy: p.dy + sigma * normal() })),
    cornerSigma: truth.map(() => sigma),
    stillShare: truth.map(() => 0.9),
    patches: [],
    spots: 200,
    rival: 0,
    ...together(truth),
    stepSigma: sigma,
  };
}

const SCALE = { width: 1280, height: 720, factorX: 1, factorY: 1, fps: 25 };

test.each([1, 2, 3, 4, 5])(
  'errors of 0.12 px over 500 frames are not called movement, a lasting shift among them is, seed %d',
  (seed) => {
    const still = Array.from({ length: 500 }, () => shift(0));
    const quiet = summarise(measuredPath(still, 0.12, seed), SCALE);
    expect(quiet.peak_px).toBeGreaterThan(0.35);
    expect(quiet.sure_peak_px).toBeLessThan(0.2);
    const moved = summarise(
      measuredPath(
        still.map((p, f) => (f > 250 ? shift(0.6) : p)),
        0.12,
        seed,
      ),
      SCALE,
    );
    expect(moved.sure_peak_px).toBeGreaterThan(0.4);
    // One frame far off is a knock, however short.
    const knocked = summarise(
      measuredPath(
        still.map((p, f) => (f === 250 ? shift(3) : p)),
        0.12,
        seed,
      ),
      SCALE,
    );
    expect(knocked.sure_peak_px).toBeGreaterThan(2.5);
    expect(knocked.sure_peak_px).toBeLessThanOrEqual(knocked.peak_px!);
  },
);

test("out of focus the camera's place is known less well: a little wandering there is no movement, a push is", () => {
  const scale = { width: 1280, height: 720, factorX: 4 / 3, factorY: 4 / 3, fps: 25 };
  const sharpness = Array.from({ length: 100 }, (_, f) => (f >= 40 && f < 60 ? 0.16 : 1));
  const summed = (at: (f: number) => number, known?: number[]) => {
    const poses = Array.from({ length: 100 }, (_, f) => shift(at(f)));
    const path: CameraPath = {
      referenceFrame: 0,
      poses,
      cornerSigma: poses.map(() => 0.01),
      stillShare: poses.map(() => 0.9),
      patches: [],
      rival: 0,
      spots: 100,
      ...together(poses),
      stepSigma: 0.01,
    };
    return summarise(path, { ...scale, sharpness: known });
  };
  const wander = (f: number) => (f >= 40 && f < 60 ? 0.3 * Math.sin((f - 40) / 6) : 0);
  expect(summed(wander).sure_peak_px).toBeGreaterThan(0.35);
  expect(summed(wander, sharpness).sure_peak_px).toBeLessThan(0.1);
  expect(summed(wander, sharpness).peak_px).toBeCloseTo(summed(wander).peak_px!, 9);
  expect(summed((f) => 8 * wander(f), sharpness).sure_peak_px).toBeGreaterThan(2);
  // Where it is sharp nothing changes, and what is not known counts as sharp.
  expect(summed((f) => (f > 70 ? 0.4 : 0), sharpness).sure_peak_px).toBeCloseTo(
    summed((f) => (f > 70 ? 0.4 : 0)).sure_peak_px!,
    2,
  );
});
