import { judgeFocus } from './judge';
import { RandomTexture, renderFrame } from '../../testing/rendered-scene';
import { IDENTITY } from '../../base/geometry/similarity';
import type { Plane } from '../../base/image/plane';
import { boxMean } from '../../base/image/regions';
import { CellMarks } from '../../base/image/cell-marks';
import { DetailMeter } from './detail-meter';
import { measureFocus, type FocusContext } from './measure';

const SIZE = { width: 480, height: 270 };
const steady: FocusContext = {
  fps: 25,
  light: new Array(60).fill(0),
  occupied: null,
  scale: new Array(60).fill(1),
  grain: 1,
  moved: false,
};

const { max, min, round } = Math;

/** A textured wall, out of focus by three box blurs of this half width, with grain on top. */
function wall(
  seed: number,
  grain: number,
  soft: (f: number) => number,
  frames = 60,
  gain: (f: number) => number = () => 1,
): DetailMeter {
  const sharp = renderFrame({ ...SIZE, background: new RandomTexture(seed, 2.2, 45), grain: 0, seed }, IDENTITY, 0);
  const noise = renderFrame(
    { ...SIZE, background: new RandomTexture(1, 5, 0), grain, seed: seed + 9 },
    IDENTITY,
    0,
  ).data;
  const meter = new DetailMeter();
  const blurred = new Map<number, Plane>();
  for (let f = 0; f < frames; f++) {
    const r = soft(f);
    if (!blurred.has(r)) {
      let data: Float32Array = Float32Array.from(sharp.data);
      for (let k = 0; k < 3 && r > 0; k++)
        data = boxMean(data, SIZE.width, SIZE.height, r, new Float32Array(data.length));
      blurred.set(r, { ...SIZE, data });
    }
    const base = blurred.get(r)!.data,
      level = gain(f);
    const data = new Uint8Array(base.length);
    for (let i = 0, k = (f * 977) % noise.length; i < data.length; i++, k = k + 1 < noise.length ? k + 1 : 0)
      data[i] = max(0, min(255, round(base[i] * level + noise[k] - 118)));
    meter.frame({ ...SIZE, data });
  }
  return meter;
}

test.each([
  [1, 1],
  [2, 2],
])('seed %d, grain %d: a hunt is found at its frames, none without', (seed, grain) => {
  const hunt = measureFocus(
    wall(seed, grain, (f) => (f >= 22 && f <= 36 ? 1 : 0)),
    { ...steady, grain },
  );
  expect(hunt.hunts).toHaveLength(1);
  expect(Math.abs(hunt.hunts[0].start - 22)).toBeLessThanOrEqual(2);
  expect(Math.abs(hunt.hunts[0].end - 36)).toBeLessThanOrEqual(2);
  expect(hunt.worst_loss_pct!).toBeGreaterThan(25);
  expect(hunt.worst_frame!).toBeGreaterThanOrEqual(22);
  const verdict = judgeFocus(hunt, 60);
  expect(['workable', 'reshoot']).toContain(verdict.verdict);
  expect(verdict.reasons[0]).toMatchObject({ code: 'hunt', frames: hunt.hunts });
  const still = measureFocus(
    wall(seed, grain, () => 0),
    { ...steady, grain },
  );
  expect(still.hunts).toEqual([]);
  expect(still.worst_loss_pct!).toBeLessThan(4);
  expect(judgeFocus(still, 60).verdict).toBe('holds');
});

test('changing light is no loss of focus, and softness grows with the loss', () => {
  const light = Array.from({ length: 60 }, (_, f) => -0.6 * (f / 59));
  const dimmed = measureFocus(
    wall(
      3,
      1,
      () => 0,
      60,
      (f) => 2 ** (light[f] / 2.2),
    ),
    { ...steady, light },
  );
  expect(dimmed.worst_loss_pct!).toBeLessThan(10);
  const losses = [1, 2, 4].map(
    (r) =>
      measureFocus(
        wall(3, 1, (f) => (f > 30 ? r : 0)),
        steady,
      ).worst_loss_pct!,
  );
  expect(losses[0]).toBeLessThan(losses[1]);
  expect(losses[1]).toBeLessThan(losses[2]);
});

test('a lens that breathes as it hunts is named; occupied cells are not asked; a blank wall is unjudged', () => {
  const soft = (f: number) => (f >= 20 && f <= 34 ? 1 : 0);
  expect(
    measureFocus(wall(4, 1, soft), { ...steady, scale: Array.from({ length: 60 }, (_, f) => (soft(f) ? 1.004 : 1)) })
      .breathing,
  ).toBe(true);
  expect(measureFocus(wall(4, 1, soft), steady).breathing).toBe(false);
  expect(
    measureFocus(wall(4, 1, soft), {
      ...steady,
      occupied: new CellMarks(60, 12 * 7, () => new Uint8Array(12 * 7).fill(1)),
    }).worst_loss_pct,
  ).toBeNull();
  const blank = new DetailMeter();
  for (let f = 0; f < 10; f++) blank.frame({ ...SIZE, data: new Uint8Array(SIZE.width * SIZE.height).fill(120) });
  const measure = measureFocus(blank, steady);
  expect(measure.worst_loss_pct).toBeNull();
  expect(judgeFocus(measure, 10)).toMatchObject({ verdict: 'unjudged', reasons: [{ code: 'no-detail' }] });
});

test('of a very long take a hunt is found as in a short one', () => {
  const short = wall(4, 1, (f) => (f >= 20 && f <= 34 ? 1 : 0));
  const { across, down, width, height } = short;
  const frames = 20_011;
  const long = { across, down, width, height, count: frames };
  const read = (f: number, coarser: boolean) => short.read(f < 60 ? f : f % 10, coarser);
  const found = measureFocus({ ...long, read } as DetailMeter, {
    ...steady,
    light: new Array(frames).fill(0),
    scale: new Array(frames).fill(1),
  });
  const own = measureFocus(short, steady);
  expect(found.hunts).toEqual(own.hunts);
  expect(Math.abs(found.worst_loss_pct! - own.worst_loss_pct!)).toBeLessThan(1.5);
  expect(found.path.sharpness).toHaveLength(frames);
  expect(Math.min(...found.path.sharpness.slice(60).map((s) => s!))).toBeGreaterThan(0.9);
});
