import fc from 'fast-check';
import { seededRandom } from '../numeric/random';
import { mediaFacts, rateOf, RepeatMeter, type ContainerFacts } from './facts';

const container = (times: number[], containerFps = '25/1'): ContainerFacts => ({
  width: 320,
  height: 180,
  rotationDeg: 0,
  codec: 'h264',
  pixelFormat: 'yuv420p',
  bitDepth: 8,
  containerFps,
  times,
  timecode: null,
});

/** Feeds pictures by number: equal numbers are equal pictures. */
function meter(pictures: number[]): RepeatMeter {
  const m = new RepeatMeter();
  for (const n of pictures) {
    const random = seededRandom(n + 1);
    m.frame({ width: 64, height: 36, data: Uint8Array.from({ length: 64 * 36 }, () => random() * 255) });
  }
  return m;
}

test('rates are read as fractions', () => {
  expect(rateOf('30000/1001')).toBeCloseTo(29.97, 2);
  expect(rateOf('25')).toBe(25);
  expect(rateOf('0/0')).toBeNaN();
});

test('fifteen pictures a second in a thirty file are seen for what they are', () => {
  const f = mediaFacts(
    container(
      Array.from({ length: 60 }, (_, i) => i / 30),
      '30/1',
    ),
    meter(Array.from({ length: 60 }, (_, i) => Math.floor(i / 2))),
  );
  expect(f.measured_fps).toBeCloseTo(30);
  expect(f.repeated_frames).toEqual(Array.from({ length: 30 }, (_, i) => 2 * i + 1));
  expect(f.real_fps).toBeCloseTo(15);
  expect(f.variable_rate).toBe(false);
});

test('a still picture claims no repeats, nor does a steady one', () => {
  expect(meter(Array.from({ length: 40 }, () => 7)).repeated(12)).toEqual([]);
  expect(meter(Array.from({ length: 40 }, (_, i) => i)).repeated(12)).toEqual([]);
});

test('gaps in the time stamps are missing frames', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 2, max: 40 }),
      fc.integer({ min: 1, max: 5 }),
      fc.constantFrom(24, 25, 29.97, 50),
      (at, lost, fps) => {
        const times = Array.from({ length: 60 }, (_, i) => (i + (i > at ? lost : 0)) / fps);
        const f = mediaFacts(container(times, `${fps}/1`), meter(times.map((_, i) => i)));
        expect(f.missing_frames).toEqual([{ after: at, count: lost }]);
        expect(f.variable_rate).toBe(true);
      },
    ),
    { numRuns: 25 },
  );
});

test('a wandering rate is told from millisecond rounding', () => {
  const rounded = Array.from({ length: 100 }, (_, i) => Math.round((i * 1000) / 30) / 1000);
  expect(mediaFacts(container(rounded, '30/1'), meter(rounded.map((_, i) => i))).variable_rate).toBe(false);
  const wandering = rounded.map((t, i) => t + 0.006 * Math.sin(i / 3));
  expect(mediaFacts(container(wandering, '30/1'), meter(wandering.map((_, i) => i))).variable_rate).toBe(true);
});

test('without time stamps the declared rate serves; with nothing it is null', () => {
  const none = mediaFacts(container([NaN, NaN, NaN]), meter([1, 2, 3]));
  expect(none).toMatchObject({ measured_fps: 25, variable_rate: null, frame_count: 3, missing_frames: [] });
  expect(mediaFacts(container([], '0/0'), meter([1]))).toMatchObject({
    measured_fps: null,
    real_fps: null,
    duration_s: null,
  });
});
