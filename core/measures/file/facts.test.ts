import fc from 'fast-check';
import { seededRandom } from '../../base/numeric/random';
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

/** A wall with somebody who walks, as a coder leaves it: unchanged where nothing moves but for a few samples. */
function walking(frames: number, place: (f: number) => number, more: (f: number) => number = () => 0): RepeatMeter {
  const m = new RepeatMeter();
  for (let f = 0; f < frames; f++) {
    const random = seededRandom(500 + f);
    const data = Uint8Array.from({ length: 64 * 36 }, (_, i) => {
      const x = i % 64;
      const inside = Math.abs(x - place(f)) < 9;
      const value = inside ? 200 + 30 * Math.sin(x - place(f)) : 90 + ((i * 37) % 50);
      return Math.max(0, Math.min(255, value + more(f) * value + (random() < 0.06 ? 1 : 0)));
    });
    m.frame({ width: 64, height: 36, data });
  }
  return m;
}

test('each picture twice in a file of double rate: half of them, however slowly it moves', () => {
  for (const speed of [1.7, 0.6]) {
    const found = walking(80, (f) => 4 + speed * Math.floor(f / 2)).repeated(12);
    expect(found).toEqual(Array.from({ length: 40 }, (_, k) => 2 * k + 1));
  }
});

test('neither the still frames before somebody comes in, nor light that flickers, repeat a picture', () => {
  expect(walking(60, (f) => (f < 9 ? -20 : -20 + 2 * (f - 9))).repeated(12)).toEqual([]);
  const flicker = walking(
    80,
    () => -20,
    (f) => 0.03 * Math.sin((2 * Math.PI * f) / 8),
  );
  expect(flicker.repeated(25)).toEqual([]);
});

test('a phone’s long first frame is a gap', () => {
  const times = Array.from({ length: 41 }, (_, i) => (i === 0 ? 0 : 0.185 + i / 30));
  const f = mediaFacts(container(times, '90000/2999'), meter(times.map((_, i) => i)));
  expect(f).toMatchObject({ variable_rate: true, first_gap_after: 0 });
  expect(f.missing_count).toBeGreaterThanOrEqual(5);
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
