import { seededNormal } from '../base/numeric/random';
import { byOneShutter, type Smeared } from './one-shutter';
import { smearFrom } from './smear';
import { blockFrames } from '../testing/walker-frames';
import { paceAt, steadyPaceAt, trackOf } from './track';

// The normal curve's sum by adding it up, in steps of a hundredth.
const sums = new Float64Array(1601);
for (let k = 1; k <= 1600; k++)
  sums[k] = sums[k - 1] + (0.01 * Math.exp(-((-8 + 0.01 * (k - 0.5)) ** 2) / 2)) / Math.sqrt(2 * Math.PI);
const normalTo = (z: number) => sums[Math.max(0, Math.min(1600, Math.round((z + 8) * 100)))];

/** 10 to 90 %, as its middle half says, of a straight ramp over a normal one: by adding up many of them. */
function riseOf(ramp: number, sigma: number): number {
  const share = (x: number) => {
    let sum = 0;
    for (let k = 0; k < 400; k++) sum += normalTo((x - ramp * ((k + 0.5) / 400 - 0.5)) / sigma) / 400;
    return sum;
  };
  let [low, high] = [0, ramp + 6 * sigma];
  for (let k = 0; k < 30; k++) {
    const middle = (low + high) / 2;
    if (share(middle) < 0.75) low = middle;
    else high = middle;
  }
  return 1.6 * 2 * low;
}

test.each([
  [4, 1],
  [7, 1.5],
  [20, 1],
  [3, 2],
])('a smear of %i px over an edge of sigma %f is found again', (ramp, sigma) => {
  expect(smearFrom(riseOf(ramp, sigma), 1.6 * 2 * 0.6745 * sigma)).toBeCloseTo(0.8 * ramp, 1);
});

test('an edge no softer than a still one is not smeared', () => {
  expect(smearFrom(3, 3)).toBe(0);
  expect(smearFrom(2.5, 3)).toBe(0);
});

describe.each([1, 2, 3, 4])('one take, one shutter, seed %i', (seed) => {
  const normal = seededNormal(seed);
  const speeds = Array.from({ length: 24 }, (_, k) => 6 + 10 * Math.abs(Math.sin(k / 4)));
  const still = 2.2;
  const alongOf = (smear: number) => {
    let [low, high] = [0, 60];
    for (let k = 0; k < 40; k++) {
      const middle = (low + high) / 2;
      if (smearFrom(middle, still) < smear) low = middle;
      else high = middle;
    }
    return low;
  };
  const seen = speeds.map((v): Smeared => ({
    along: Math.max(0, alongOf(0.4 * v) * (1 + 0.15 * normal())),
    // Few edges lie along a way: what they say of one frame is rough.
    across: Math.max(0.5, still * (1 + 0.35 * normal())),
    blur: 1,
    speed: v * (1 + 0.08 * normal()),
  }));

  test('nearly all smears are right to a quarter, though single readings are not', () => {
    const own = seen.map((s) => smearFrom(s.along!, s.across!));
    const wrong = (values: readonly (number | null)[]) =>
      values.filter((v, k) => Math.abs(v! / (0.4 * speeds[k]) - 1) > 0.25).length;
    expect(wrong(own)).toBeGreaterThan(wrong(byOneShutter(seen)));
    expect(wrong(byOneShutter(seen))).toBeLessThanOrEqual(3);
  });

  test('the frame that is smeared least is among the slowest', () => {
    const blurs = byOneShutter(seen) as number[];
    const best = blurs.indexOf(Math.min(...blurs));
    expect(speeds[best]).toBeLessThan(1.35 * Math.min(...speeds));
  });

  test('a frame in which no edge was read is as smeared as its speed says; who stands is not smeared', () => {
    const lost = { along: null, across: null, blur: null, speed: 12 };
    const stands = { along: still, across: still, blur: 0, speed: 0.2 };
    const found = byOneShutter([...seen, lost, stands]);
    expect(Math.abs(found[24]! - 4.8)).toBeLessThan(1);
    expect(found[25]!).toBeLessThan(0.5);
  });
});

test('rough outlines say how somebody moves by what most frames near by say', () => {
  const frames = [10, 14, 18, 27, 26, 30, 34].map((x) => ({ body: [{ x, y: 20, width: 12, height: 24 }] }));
  const track = trackOf(blockFrames(120, 68, frames), 4);
  expect(paceAt(track, 2)![0]).toBe(26);
  expect(Math.abs(steadyPaceAt(track, 3)![0] - 16)).toBeLessThanOrEqual(2);
  expect(steadyPaceAt(track.slice(0, 2), 0)).toEqual([16, 0]);
});
