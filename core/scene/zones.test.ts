import { seededNormal } from '../base/numeric/random';
import { stopsTable } from '../base/image/transfer';
import { Differ } from '../presence/differ';
import { BODY } from '../presence/shade';
import type { Background } from './background';
import { relight, slopes } from './gauge';
import { ZoneField, ZONES_ACROSS, ZONES_DOWN } from './zones';

const WIDTH = 160,
  HEIGHT = 90,
  PIXELS = WIDTH * HEIGHT,
  NOISE = 1.5,
  FPS = 25;
const STOPS = stopsTable('srgb');
const at = (value: (x: number, y: number) => number) =>
  Float32Array.from({ length: PIXELS }, (_, i) => value(i % WIDTH, Math.floor(i / WIDTH)));
const wall = (x: number, y: number) => 110 + 30 * Math.sin(x / 2.7) * Math.cos(y / 3.3);

function background(): Background {
  const grey = () => new Float32Array(80 * 45).fill(128);
  const even = (v: number) => new Float32Array(PIXELS).fill(v);
  return {
    width: WIDTH,
    height: HEIGHT,
    colourWidth: 80,
    colourHeight: 45,
    luma: at(wall),
    blue: grey(),
    red: grey(),
    sigma: even(NOISE),
    sigmaDown: even(NOISE),
    noise: new Float32Array(16).fill(NOISE),
    colourNoise: 0.5,
    restless: new Uint8Array(PIXELS),
    support: even(1),
    known: new Uint8Array(PIXELS).fill(1),
    moved: false,
    gradient: even(8),
    rough: even(10),
  };
}

/** Shows so many frames to a zone field; gives it back with the differ. */
function follow(frames: number, shown: (f: number, x: number, y: number) => number, seed = 1) {
  const back = background();
  const differ = new Differ(back, STOPS);
  const zones = new ZoneField(back, slopes(STOPS), FPS, differ);
  const normal = seededNormal(seed);
  const grey = () => new Uint8Array(80 * 45).fill(128);
  for (let f = 0; f < frames; f++) {
    const luma = Uint8Array.from(
      at((x, y) => Math.max(0, Math.min(255, Math.round(shown(f, x, y) + NOISE * normal())))),
    );
    differ.compare({ luma, blue: grey(), red: grey(), seen: null }, 0, zones);
    zones.follow(9);
  }
  return { zones, differ };
}

const half = (zones: ZoneField, right: boolean) => {
  let sum = 0,
    n = 0;
  zones.stops.forEach((s, z) => {
    const x = z % ZONES_ACROSS;
    if (right ? x < ZONES_ACROSS / 2 + 1 : x > ZONES_ACROSS / 2 - 2) return;
    sum += s;
    n++;
  });
  return sum / n;
};

test('light that stands still leaves the zones at nothing', () => {
  const { zones } = follow(20, (_f, x, y) => wall(x, y));
  expect(zones.stops).toHaveLength(ZONES_ACROSS * ZONES_DOWN);
  expect(Math.max(...zones.stops.map(Math.abs))).toBeLessThan(0.03);
  expect((zones.levels() ?? new Float32Array(1)).reduce((most, v) => Math.max(most, Math.abs(v)), 0)).toBeLessThan(1);
});

test.each([-0.3, 0.25])(
  'light that changes by %d stop on one half is followed there, and not on the other',
  (stops) => {
    const tables = Array.from({ length: 60 }, (_, f) => relight(STOPS, stops * Math.min(1, f / 40)));
    const { zones } = follow(60, (f, x, y) => (x < 80 ? tables[f][Math.round(wall(x, y))] : wall(x, y)));
    expect(half(zones, false)).toBeGreaterThan(Math.min(stops * 0.75, stops * 1.15));
    expect(half(zones, false)).toBeLessThan(Math.max(stops * 0.75, stops * 1.15));
    expect(Math.abs(half(zones, true))).toBeLessThan(0.03);
    expect(zones.levels()).not.toBeNull();
  },
);

test.each([1, 2, 3])(
  'seed %d: what stands before half of the picture, as bright as the wall, is not followed',
  (seed) => {
    const thing = (x: number, y: number) => 118 + 24 * Math.sin(x / 1.9 + 1) * Math.sin(y / 2.2);
    const { zones } = follow(60, (f, x, y) => (x < 80 ? thing(x + (f % 5), y) : wall(x, y)), seed);
    expect(Math.abs(half(zones, false))).toBeLessThan(0.03);
    expect(Math.abs(half(zones, true))).toBeLessThan(0.03);
  },
);

test('what lies inside somebody’s outline says nothing of the light, however much it looks like the wall', () => {
  const back = background();
  const differ = new Differ(back, STOPS);
  const zones = new ZoneField(back, slopes(STOPS), FPS, differ);
  const grey = () => new Uint8Array(80 * 45).fill(128);
  const rows = Array.from({ length: HEIGHT }, (_, y) => [y, 0, 79, BODY]).flat();
  for (let f = 0; f < 40; f++) {
    const luma = Uint8Array.from(at((x, y) => Math.round(wall(x, y)) + (x < 80 ? Math.min(5, f / 4) : 0)));
    differ.compare({ luma, blue: grey(), red: grey(), seen: null }, 0, zones);
    differ.occupy([{ rows }]);
    zones.follow(9);
  }
  expect(Math.abs(half(zones, false))).toBeLessThan(0.01);
  expect(differ.countAbove(1e6)).toBe(80 * HEIGHT);
});
