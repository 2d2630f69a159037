import fc from 'fast-check';
import { BT601, BT709, type Matrix } from '../../base/image/picture';
import { stopsTable, toCode, toLight, type Transfer } from '../../base/image/transfer';
import { seededRandom } from '../../base/numeric/random';
import type { Background } from '../../scene/background';
import type { SteadyPicture } from '../../scene/steady-reader';
import { WhiteGauge } from './white';

const WIDTH = 64,
  HEIGHT = 48;
const CURVE: Transfer = 'bt709';

/** Patches of painted colours, in linear light: red, green, blue of each half-size pixel. */
function patches(seed: number): [number, number, number][] {
  const random = seededRandom(seed);
  const level = () => 0.08 + 0.35 * random();
  return Array.from({ length: (WIDTH * HEIGHT) / 4 }, () => [level(), level(), level()]);
}

/** The patches as a camera with these gains would show them, as planes of code values. */
function shown(scene: [number, number, number][], matrix: Matrix, gains: [number, number, number]) {
  const luma = new Float32Array(WIDTH * HEIGHT),
    blue = new Float32Array(scene.length),
    red = new Float32Array(scene.length);
  const across = WIDTH / 2;
  scene.forEach((light, c) => {
    const [r, g, b] = light.map((v, k) => 255 * toCode(CURVE, v * gains[k]));
    const y = matrix.red * r + (1 - matrix.red - matrix.blue) * g + matrix.blue * b;
    for (const [u, v] of [
      [0, 0],
      [1, 0],
      [0, 1],
      [1, 1],
    ])
      luma[(2 * Math.floor(c / across) + v) * WIDTH + 2 * (c % across) + u] = y;
    blue[c] = 128 + (b - y) / (2 * (1 - matrix.blue));
    red[c] = 128 + (r - y) / (2 * (1 - matrix.red));
  });
  return { luma, blue, red };
}

function background(scene: [number, number, number][], matrix: Matrix, restless?: Uint8Array): Background {
  const zero = new Float32Array(WIDTH * HEIGHT);
  return {
    width: WIDTH,
    height: HEIGHT,
    colourWidth: WIDTH / 2,
    colourHeight: HEIGHT / 2,
    ...shown(scene, matrix, [1, 1, 1]),
    sigma: zero,
    sigmaDown: zero,
    noise: new Float32Array(16),
    colourNoise: 0,
    restless: restless ?? new Uint8Array(WIDTH * HEIGHT),
    support: zero,
    known: new Uint8Array(zero.length).fill(1),
    moved: false,
    gradient: zero,
    rough: zero,
  };
}

function picture(scene: [number, number, number][], matrix: Matrix, gains: [number, number, number]): SteadyPicture {
  const { luma, blue, red } = shown(scene, matrix, gains);
  const bytes = (p: Float32Array) => Uint8Array.from(p, (v) => Math.round(v));
  return { luma: bytes(luma), blue: bytes(blue), red: bytes(red), seen: null };
}

const stops = stopsTable(CURVE);
const nobody = new Float32Array(WIDTH * HEIGHT);

test('linear light and code values are each other turned round, so that the scenes here are what they say', () => {
  for (const v of [0.01, 0.1, 0.4]) expect(toLight(CURVE, toCode(CURVE, v))).toBeCloseTo(v, 5);
});

test('a shift of white is read within 0.02 stop in either matrix, whatever the exposure does besides', () => {
  const shift = fc.double({ min: -0.5, max: 0.5, noNaN: true });
  fc.assert(
    fc.property(shift, shift, shift, fc.integer({ min: 1, max: 1e6 }), fc.boolean(), (red, blue, all, seed, hd) => {
      const matrix = hd ? BT709 : BT601,
        scene = patches(seed);
      const gauge = new WhiteGauge(background(scene, matrix), stops, matrix);
      const gains: [number, number, number] = [2 ** (all + red), 2 ** all, 2 ** (all + blue)];
      const read = gauge.read(picture(scene, matrix, gains), nobody, 1);
      expect(Math.abs(read!.red - red)).toBeLessThan(0.02);
      expect(Math.abs(read!.blue - blue)).toBeLessThan(0.02);
    }),
    { numRuns: 40 },
  );
});

test('where somebody stands, and where the picture moves by itself, no white is read', () => {
  const scene = patches(5);
  const warm = scene.map((light, c): [number, number, number] =>
    c % (WIDTH / 2) < WIDTH / 4 ? [2 * light[0], light[1], light[2]] : light,
  );
  const left = Float32Array.from(nobody, (_, i) => (i % WIDTH < WIDTH / 2 ? 9 : 0));
  const gauge = new WhiteGauge(background(scene, BT709), stops, BT709);
  const seenBoth = gauge.read(picture(warm, BT709, [1, 1, 1]), nobody, 1)!,
    withSomebody = gauge.read(picture(warm, BT709, [1, 1, 1]), left, 1)!;
  expect(seenBoth.red).toBeGreaterThan(0.4);
  expect(Math.abs(withSomebody.red)).toBeLessThan(0.02);
  const leaves = Uint8Array.from(left, (v) => (v ? 1 : 0));
  const quiet = new WhiteGauge(background(scene, BT709, leaves), stops, BT709);
  expect(Math.abs(quiet.read(picture(warm, BT709, [1, 1, 1]), nobody, 1)!.red)).toBeLessThan(0.02);
});

test('what a moved frame does not show is left out', () => {
  const scene = patches(6);
  const view = picture(scene, BT709, [1, 1, 1]);
  view.red.fill(200, 0, view.red.length / 2);
  const seen = Uint8Array.from(nobody, (_, i) => (i < (WIDTH * HEIGHT) / 2 ? 0 : 1));
  const read = new WhiteGauge(background(scene, BT709), stops, BT709).read({ ...view, seen }, nobody, 1)!;
  expect(Math.abs(read.red)).toBeLessThan(0.02);
});

test('with somebody before nearly everything, or in the dark, it says nothing', () => {
  const scene = patches(7);
  const gauge = new WhiteGauge(background(scene, BT709), stops, BT709);
  const crowd = Float32Array.from(nobody, (_, i) => (i < 0.97 * nobody.length ? 9 : 0));
  expect(gauge.read(picture(scene, BT709, [1, 1, 1]), crowd, 1)).toBeNull();
  expect(gauge.read(picture(scene, BT709, [0.01, 0.01, 0.01]), nobody, 1)).toBeNull();
  const black = scene.map((): [number, number, number] => [0, 0, 0]);
  const dark = new WhiteGauge(background(black, BT709), stops, BT709);
  expect(dark.read(picture(scene, BT709, [1, 1, 1]), nobody, 1)).toBeNull();
});
