import { IDENTITY } from '../base/geometry/similarity';
import { BT709, smallSize, type Picture } from '../base/image/picture';
import type { Transfer } from '../base/image/transfer';
import { measureLight } from '../measures/light/measure';
import { seededNormal } from '../base/numeric/random';
import { keepLasting, measurePresence } from '../presence/measure';
import { renderTake, type TakeOptions } from '../testing/rendered-take';
import { analyseScene } from './analyse-scene';
import { PictureStack } from '../base/image/stack';
import { few } from '../testing/few';

const sizeOf = ({ luma }: Picture) => smallSize(luma.width, luma.height);

const SIZE = { width: 480, height: 270, frames: 75, grain: 2, seed: 1 };

function analyse(options: Partial<TakeOptions>, transfer: Transfer | null = null, coded?: (picture: Picture) => void) {
  const o = { ...SIZE, ...options };
  const stack = new PictureStack();
  const areas: number[] = [];
  for (const { picture, area } of renderTake(o)) {
    coded?.(picture);
    stack.frame(picture);
    areas.push(area);
  }
  const poses = areas.map(() => IDENTITY);
  const scene = analyseScene({ stack, poses, factor: stack.size.factor, fps: 25, transfer, matrix: BT709 })!;
  const presence = measurePresence(
    keepLasting(scene.figures),
    scene.background,
    { width: o.width, height: o.height, factor: stack.size.factor, poses },
    null,
  );
  return { scene, presence, light: measureLight(scene.light, 25), areas };
}

const walker =
  (from: number, to: number, size = 32): TakeOptions['body'] =>
  (f) =>
    f < from || f > to
      ? null
      : { x: -size + ((f - from) / (to - from)) * (480 + 2 * size), y: 160, rx: size, ry: 2.1 * size };

// A shadow's rim on a textured wall is the hardest to tell from the body it touches.
test.each(
  few(1, [
    [1, 2, 0, 0.05],
    [2, 3, 0.5, 0.12],
    [3, 1.5, 0.4, 0.09],
    [4, 4, 0, 0.05],
  ]),
)(
  'seed %d, grain %d, shadow %d: somebody who walks by does not change the light, and their area is known',
  (seed, grain, shadow, bound) => {
    const { presence, light, areas } = analyse({ seed, grain, body: walker(18, 58), shadow });
    expect(Math.abs(light.drift_stops!)).toBeLessThan(0.01);
    expect(light.range_stops).toBeLessThan(0.02);
    expect(light.steps).toEqual([]);
    expect(light.flicker).toBeNull();
    const ratios = areas.flatMap((a, f) => (a > 0.01 ? [presence.path.area_share[f]! / a] : []));
    ratios.sort((a, b) => a - b);
    expect(ratios.length).toBeGreaterThan(25);
    expect(Math.abs(ratios[ratios.length >> 1] - 1)).toBeLessThan(bound);
    const first = areas.findIndex((a) => a > 0),
      last = areas.length - 1 - [...areas].reverse().findIndex((a) => a > 0);
    expect(presence.present_runs).toHaveLength(1);
    expect(Math.abs(presence.present_runs[0].start - first)).toBeLessThanOrEqual(2);
    expect(Math.abs(presence.present_runs[0].end - last)).toBeLessThanOrEqual(2);
    expect(presence.clear_runs).toHaveLength(2);
    expect(presence.edge_runs.left[0].start).toBeLessThan(26);
    expect(presence.edge_runs.right[presence.edge_runs.right.length - 1].end).toBeGreaterThan(48);
    expect(presence.edge_runs.top).toEqual([]);
    // The shadow is told apart from the body where there is room for it.
    const darkest = Math.max(...presence.path.shadow_share.map((s) => s ?? 0));
    if (shadow) expect(darkest).toBeGreaterThan(0.005);
    else expect(darkest).toBeLessThan(0.002);
  },
);

test('coding that repeats a still picture, noise and all, and codes anew what was hidden leaves nobody behind', () => {
  const [empty] = renderTake({ ...SIZE, frames: 1, grain: 0 });
  const wall = Float32Array.from(empty.picture.luma.data);
  const normal = seededNormal(17);
  const fresh = () => 5 * normal();
  const noise = wall.map(fresh),
    hidden = new Uint8Array(wall.length);
  const coded = ({ luma: { data } }: Picture) => {
    for (let i = 0; i < data.length; i++) {
      const covered = Math.abs(data[i] - wall[i]) > 4;
      if (!covered && hidden[i]) noise[i] = fresh();
      hidden[i] = covered ? 1 : 0;
      data[i] = Math.max(0, Math.min(255, Math.round(data[i] + noise[i])));
    }
  };
  const { presence } = analyse({ grain: 0, body: walker(12, 48) }, null, coded);
  expect(presence.clear_runs).toHaveLength(2);
  expect(presence.clear_runs[1].end).toBe(74);
  expect(presence.clear_runs[1].start).toBeLessThan(52);
});

test('an empty take is clear from end to end, whatever the grain', () => {
  for (const grain of [0, 1, 5]) {
    const { presence } = analyse({ grain, seed: 5 });
    expect(presence.clear_runs).toEqual([{ start: 0, end: 74 }]);
    expect(presence.restless).toEqual([]);
  }
});

test.each<[string, Transfer, Transfer | null]>(
  few(1, [
    ['sRGB, untagged', 'srgb', null],
    ['Rec.709, tagged', 'bt709', 'bt709'],
    ['Rec.709, untagged', 'bt709', null],
    ['HLG, tagged', 'hlg', 'hlg'],
  ]),
)('a drift and a step are known to 0.02 stop: %s', (_, curve, transfer) => {
  const truth = (f: number) => 0.3 * (f / 74) - (f >= 41 ? 0.25 : 0);
  const { light } = analyse({ curve, level: 105, light: truth, body: walker(10, 70) }, transfer);
  light.path.stops.forEach((s, f) => expect(Math.abs(s! - truth(f))).toBeLessThan(0.02));
  expect(light.steps).toHaveLength(1);
  expect(Math.abs(light.steps[0].frame - 41)).toBeLessThanOrEqual(1);
  expect(Math.abs(light.steps[0].stops + 0.25)).toBeLessThan(0.02);
});

test('flicker is found with its apparent frequency under a drift, and a drift alone is none', () => {
  const { light } = analyse({
    light: (f) => 0.2 * (f / 74) + Math.log2(1 + 0.03 * Math.sin((2 * Math.PI * 7.3 * f) / 25)),
  });
  expect(Math.abs(light.flicker!.seen_hz - 7.3)).toBeLessThan(0.2);
  expect(Math.abs(light.flicker!.share_pct - 3)).toBeLessThan(0.5);
  expect(light.steps).toEqual([]);
  expect(analyse({ light: (f) => 0.2 * (f / 74) }).light.flicker).toBeNull();
});

test('a shift of white is read as red and blue against green, and the light stays', () => {
  const { light } = analyse({ white: (f) => [0.15 * (f / 74), -0.2 * (f / 74)] });
  // The last second against the first: two thirds of the way.
  expect(Math.abs(light.white!.red_stops - 0.1)).toBeLessThan(0.02);
  expect(Math.abs(light.white!.blue_stops + 0.133)).toBeLessThan(0.025);
});

test('somebody who stands still for most of the take is still somebody', () => {
  const stands: TakeOptions['body'] = (f) => {
    if (f < 8 || f > 66) return null;
    const x = f < 16 ? 40 + (f - 8) * 22 : f > 58 ? 216 + (f - 58) * 22 : 216;
    return { x, y: 172, rx: 30, ry: 68 };
  };
  const { presence } = analyse({ body: stands, seed: 4 });
  expect(presence.clear_runs.map((r) => [r.start, r.end])).toEqual([
    [0, expect.any(Number)],
    [expect.any(Number), 74],
  ]);
  expect(Math.abs(presence.clear_runs[0].end - 7)).toBeLessThanOrEqual(2);
  expect(Math.abs(presence.clear_runs[1].start - 67)).toBeLessThanOrEqual(2);
});

test.each(
  few(1, [
    [1, 0.7],
    [2, 0.85],
    [3, 1],
    [4, 1.2],
  ]),
)(
  'seed %d: somebody in a coat %d times as bright as the wall who comes and stays was not there before, whatever spots look alike',
  (seed, coat) => {
    const comes: TakeOptions['body'] = (f) =>
      f < 20 ? null : { x: Math.min(216, 20 + (f - 20) * 24), y: 172, rx: 30, ry: 68 };
    const { presence } = analyse({ body: comes, seed, coat, contrast: 14 });
    expect(presence.clear_runs).toHaveLength(1);
    expect(presence.clear_runs[0].start).toBe(0);
    expect(Math.abs(presence.clear_runs[0].end - 19)).toBeLessThanOrEqual(2);
    expect(presence.present_runs[0].end).toBe(74);
  },
);

test('what moves by itself is learned as restless, and somebody in front of the rest is still seen', () => {
  const leaves: TakeOptions['restless'] = (f, x, y) =>
    x < 165 && y < 150 ? 1 + 0.6 * Math.sin(f * 1.9 + x / 5 + y / 7) : 1;
  const empty = analyse({ restless: leaves, seed: 6 });
  expect(empty.presence.restless_share).toBeGreaterThan(0.1);
  expect(empty.presence.restless_share).toBeLessThan(0.3);
  expect(empty.presence.clear_runs).toEqual([{ start: 0, end: 74 }]);
  const walked = analyse({ restless: leaves, seed: 6, body: walker(20, 56) });
  expect(Math.abs(walked.presence.present_runs[0].start - 20)).toBeLessThanOrEqual(3);
});

test('dark, flat and tiny pictures do not fail', () => {
  expect(analyse({ level: 9, contrast: 1, frames: 20 }).presence.present_runs).toEqual([]);
  const flat = analyse({ contrast: 0, frames: 20, body: walker(5, 15) });
  expect(flat.presence.present_runs).toHaveLength(1);
  const one = analyse({ frames: 1 });
  expect(one.light.steps).toEqual([]);
  expect(analyse({ width: 32, height: 32, frames: 15 }).presence.clear_runs).toEqual([{ start: 0, end: 14 }]);
});

/** Something large that comes in from the left, stirs before most of the picture, and leaves to the right. */
const stirrer: TakeOptions['body'] = (f) => {
  if (f < 8 || f > 66) return null;
  const middle = 240 + 14 * Math.sin(f / 2.5);
  const x = f < 18 ? -210 + ((f - 8) / 10) * 450 : f > 56 ? 240 + ((f - 56) / 10) * 450 : middle;
  return { x, y: 135 + 5 * Math.cos(f / 2), rx: 205, ry: 190 };
};

test.each(
  few(1, [
    [21, 1.5, 0.45],
    [22, 2.5, 0.7],
    [23, 2, 1.6],
  ]),
)(
  'seed %d, grain %d, coat %d: who stays before three quarters of the picture and stirs is somebody, not leaves',
  (seed, grain, coat) => {
    const { scene, presence, light, areas } = analyse({ seed, grain, coat, contrast: 45, body: stirrer });
    expect(Math.max(...areas)).toBeGreaterThan(0.7);
    const off = areas.map((a, f) => Math.abs(presence.path.area_share[f]! - a)).sort((a, b) => a - b);
    expect(off[Math.floor(0.9 * off.length)]).toBeLessThan(0.04);
    // Before it comes and after it went hardly anything is seen: no more than a speck of the background's own faults.
    areas.forEach((a, f) => a > 0 || expect(presence.path.area_share[f]).toBeLessThan(0.006));
    const restless = scene.background.restless.reduce((a, b) => a + b, 0) / scene.background.restless.length;
    expect(restless).toBeLessThan(0.08);
    expect(light.steps).toEqual([]);
    expect(light.range_stops).toBeLessThan(0.06);
  },
);

test('the light is not read from what stands before the picture, however large', () => {
  const { light } = analyse({ seed: 31, contrast: 45, light: (f) => -0.004 * f, body: stirrer });
  expect(light.steps).toEqual([]);
  const off = light.path.stops.map((v, f) => v! + 0.004 * f);
  expect(Math.max(...off) - Math.min(...off)).toBeLessThan(0.07);
});

test('a picture with the deepest black in it is measured like any other', () => {
  const stack = new PictureStack();
  for (const { picture } of renderTake({ ...SIZE, frames: 30, body: walker(6, 24), grain: 0 })) {
    const { small } = picture;
    for (let i = 0; i < small.luma.length; i++) if (small.luma[i] < 120) (small.luma as Uint8Array)[i] = 0;
    stack.add(small, sizeOf(picture));
  }
  const poses = Array.from({ length: stack.count }, () => IDENTITY);
  const scene = analyseScene({ stack, poses, factor: stack.size.factor, fps: 25, transfer: null, matrix: BT709 })!;
  expect(scene.background.luma.every((v) => v >= 0 && v < 256)).toBe(true);
  expect(scene.figures).toHaveLength(30);
});
