import { DetailMeter } from '../measures/focus/detail-meter';
import { followedFocus } from '../measures/focus/followed';
import type { Similarity } from '../base/geometry/similarity';
import { BT709, pictureOf } from '../base/image/picture';
import type { Plane } from '../base/image/plane';
import { stretchesOf } from '../measures/lock/stretches';
import { measurePresence } from '../presence/measure';
import { measureLight } from '../measures/light/measure';
import { RandomTexture, renderFrame } from '../testing/rendered-scene';
import { analyseScene } from './analyse-scene';
import { followedScene } from './followed';
import { PictureStack } from '../base/image/stack';
import { few } from '../testing/few';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, cos, floor, max, min, round } = Math;

const SIZE = { width: 480, height: 270 };
const FRAMES = 60;
const FPS = 25;
const FAR = 0.12 * SIZE.width;
const PLAIN = { width: SIZE.width / 2, height: SIZE.height / 2, data: new Uint8Array(240 * 135).fill(128) };

interface Rolled {
  poses: Similarity[];
  stack: PictureStack;
  detail: DetailMeter;
}

/** A camera that pans by so much in each frame, over far more than its picture's width. */
function roll(
  seed: number,
  speed: (frame: number) => number,
  light: (frame: number) => number,
  lens: (plane: Plane, frame: number) => Plane = (p) => p,
  mover?: ReturnType<typeof walkerAt>,
): Rolled {
  const background = new RandomTexture(seed, 5, 34);
  const stack = new PictureStack(),
    detail = new DetailMeter();
  let dx = 0;
  const poses = Array.from({ length: FRAMES }, (_, f): Similarity => {
    const pose = { dx, dy: 0, rotation: 0, scale: 1 };
    const luma = lens(renderFrame({ ...SIZE, background, grain: 1.2, seed, light, mover }, pose, f), f);
    stack.frame(pictureOf(luma, { blue: PLAIN, red: PLAIN }));
    detail.frame(luma);
    dx -= speed(f);
    return pose;
  });
  return { poses, stack, detail };
}

const input = ({ poses, stack }: Rolled) => ({
  stack,
  poses,
  factor: SIZE.width / stack.size.width,
  fps: FPS,
  transfer: 'srgb' as const,
  matrix: BT709,
});

const sceneOf = (pan: Rolled) => followedScene(input(pan), stretchesOf(pan.poses, SIZE, FAR), pan.poses, SIZE);

function focusOf(rolled: Rolled) {
  const { poses, detail } = rolled;
  const none = poses.map(() => null);
  const context = { fps: FPS, light: none, occupied: null, grain: 1.2, moved: true, scale: poses.map(() => 1) };
  return followedFocus(detail, context, stretchesOf(poses, SIZE, FAR), poses, { factorX: 1, factorY: 1 });
}

/** A picture smeared along its rows by so many pixels. */
function smeared({ width, height, data }: Plane, length: number): Plane {
  const out = new Uint8Array(data.length);
  const steps = Array.from({ length: 9 }, (_, k) => (k / 8 - 0.5) * length);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let sum = 0;
      for (const s of steps) {
        const u = max(0, min(width - 1.001, x + s)),
          i = floor(u);
        sum += data[y * width + i] + (u - i) * (data[y * width + i + 1] - data[y * width + i]);
      }
      out[y * width + x] = round(sum / steps.length);
    }
  return { width, height, data: out };
}

/** A picture out of focus: each pixel the mean of 25, but for the rim. */
function softened({ width, height, data }: Plane): Plane {
  let from = Float32Array.from(data);
  for (const step of [1, width]) {
    const out = from.slice();
    for (let i = 2 * width + 2; i < data.length - 2 * width - 2; i++)
      out[i] = (from[i - 2 * step] + from[i - step] + from[i] + from[i + step] + from[i + 2 * step]) / 5;
    from = out;
  }
  return { width, height, data: Uint8Array.from(from, round) };
}

test.each(few(1, [3, 8]))(
  'light is read through a pan of more than one picture as where the camera stands (seed %i)',
  (seed) => {
    const step = (f: number) => (f < 30 ? 1 : 0.85);
    const still = roll(seed, () => 0, step),
      pan = roll(seed, () => 12, step);
    const truth = measureLight(analyseScene(input(still))!.light, FPS);
    const found = measureLight(sceneOf(pan).light, FPS);
    expect(found.measured_share).toBe(1);
    expect(found.steps.map((s) => s.frame)).toEqual([30]);
    expect(found.steps[0].stops).toBeCloseTo(truth.steps[0].stops, 1);
    found.path.stops.forEach((v, f) => expect(abs(v! - truth.path.stops[f]!)).toBeLessThan(0.03));
  },
);

test.each(few(1, [3, 8]))('steady light and a steady lens hold through a pan (seed %i)', (seed) => {
  const pan = roll(
    seed,
    () => 12,
    () => 1,
  );
  const light = measureLight(sceneOf(pan).light, FPS);
  expect(light.steps).toEqual([]);
  expect(light.range_stops!).toBeLessThan(0.03);
  const focus = focusOf(pan);
  expect(focus.hunts).toEqual([]);
  expect(focus.worst_loss_pct!).toBeLessThan(15);
});

/** A box with a texture of its own whose left side is there in each frame; null where nobody is. */
const walkerAt = (left: (frame: number) => number | null) => ({
  texture: new RandomTexture(77, 4, 40),
  at: (frame: number) => ({ ...WALKER, x: left(frame) ?? 2 * SIZE.width }),
});

const WALKER = { y: 70, height: 160, width: 60 };
const AREA = (WALKER.width * WALKER.height) / (SIZE.width * SIZE.height);
const STEADY = [() => 11, () => 1, undefined] as const;
const presenceIn = (pan: Rolled) => {
  const { figures, poses, restless } = sceneOf(pan);
  const { width, height } = pan.stack.size;
  const scale = { ...SIZE, factor: SIZE.width / width, poses };
  return measurePresence(figures, { width, height, restless }, scale, null);
};

test.each(few(1, [4, 9]))('whoever the camera follows is told where they are, all the way (seed %i)', (seed) => {
  const left = (f: number) => 190 + round(30 * cos(f / 8));
  const { clear_runs, path } = presenceIn(roll(seed, ...STEADY, walkerAt(left)));
  expect(clear_runs).toEqual([]);
  for (let f = 0; f < FRAMES; f++) {
    expect(abs(path.left_px[f]! - left(f))).toBeLessThan(6);
    expect(abs(path.right_px[f]! - left(f) - WALKER.width)).toBeLessThan(6);
    // Body and what of it looks like the wall in shade, for its texture is of the wall's kind.
    expect(abs(path.area_share[f]! + path.shadow_share[f]! - AREA)).toBeLessThan(0.15 * AREA);
  }
});

test('who crosses against a pan is in for as long as they are seen, and an empty pan is clear', () => {
  const left = (f: number) => {
    const at = 480 - 24 * (f - 20);
    return at < 480 && at > -WALKER.width ? at : null;
  };
  const { present_runs } = presenceIn(roll(6, ...STEADY, walkerAt(left)));
  expect(present_runs).toHaveLength(1);
  expect(abs(present_runs[0].start - 21)).toBeLessThanOrEqual(2);
  expect(abs(present_runs[0].end - 42)).toBeLessThanOrEqual(2);
  expect(presenceIn(roll(6, ...STEADY)).clear_runs).toEqual([{ start: 0, end: FRAMES - 1 }]);
});

test('a lens that hunts in the middle of a pan is found there', () => {
  const pan = roll(
    5,
    () => 12,
    () => 1,
    (plane, f) => (f >= 24 && f <= 33 ? softened(plane) : plane),
  );
  const { hunts, worst_loss_pct } = focusOf(pan);
  expect(hunts).toHaveLength(1);
  expect(abs(hunts[0].start - 24)).toBeLessThanOrEqual(2);
  expect(abs(hunts[0].end - 33)).toBeLessThanOrEqual(2);
  expect(worst_loss_pct!).toBeGreaterThan(40);
});

test('a lens that holds is said to through a pan whose speed only shakes a little', () => {
  const pan = roll(
    7,
    (f) => 11 + 0.3 * cos(2 * f),
    () => 1,
    (plane, f) => smeared(plane, 0.5 * (11 + 0.3 * cos(2 * f))),
  );
  const { hunts, worst_loss_pct, path } = focusOf(pan);
  expect(path.sharpness.filter((s) => s !== null).length).toBeGreaterThan(0.9 * FRAMES);
  expect(hunts).toEqual([]);
  expect(worst_loss_pct!).toBeLessThan(20);
});

test('what the shutter smears while the camera goes faster is no hunt', () => {
  const speed = (f: number) => 4 + 4 * cos(f / 9);
  const pan = roll(
    6,
    speed,
    () => 1,
    (plane, f) => smeared(plane, 0.5 * speed(f)),
  );
  const { hunts } = focusOf(pan);
  expect(hunts).toEqual([]);
});
