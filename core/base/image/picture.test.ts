import fc from 'fast-check';
import { ColourIntake, LumaIntake, pictureOf, smallSize } from './picture';
import { seededRandom } from '../numeric/random';

const bytes = (n: number, seed: number) => {
  const random = seededRandom(seed);
  return Uint8Array.from({ length: n }, () => Math.floor(256 * random()));
};

/** Mean of one block, rounded. */
function blockMean(data: Uint8Array, width: number, factor: number, x: number, y: number): number {
  let sum = 0;
  for (let v = 0; v < factor; v++)
    for (let u = 0; u < factor; u++) sum += data[(y * factor + v) * width + x * factor + u];
  return Math.floor(sum / (factor * factor) + 0.5);
}

const sizes = fc.constantFrom<[number, number]>(
  [480, 270],
  [270, 480],
  [401, 203],
  [317, 181],
  [64, 48],
  [32, 16],
  [40, 3000],
);

test('a small picture has about the size that is enough, and lies within the picture it is made of', () => {
  fc.assert(
    fc.property(fc.integer({ min: 16, max: 960 }), fc.integer({ min: 16, max: 4000 }), (width, height) => {
      const small = smallSize(width, height);
      expect(small.width * small.factor).toBeLessThanOrEqual(Math.max(width, small.factor));
      expect(small.height * small.factor).toBeLessThanOrEqual(Math.max(height, small.factor));
      expect(small.colourWidth).toBe(Math.ceil(small.width / 2));
      expect(small.colourHeight).toBe(Math.ceil(small.height / 2));
      expect(small.width * small.height).toBeLessThan(32400 * 2.3);
      if (width * height > 60000 && Math.min(width, height) > 100)
        expect(small.width * small.height).toBeGreaterThan(32400 * 0.4);
    }),
  );
});

test('the small luma is made of the means of whole blocks, in whole range', () => {
  fc.assert(
    fc.property(sizes, fc.boolean(), fc.integer({ min: 1, max: 1e6 }), ([width, height], broadcast, seed) => {
      const decoded = bytes(width * height, seed),
        before = decoded.slice();
      const intake = new LumaIntake(width, height, broadcast, false);
      const { luma, small } = intake.take(decoded);
      const { factor, width: across, height: down } = intake.size;
      expect(small).toHaveLength(across * down);
      const random = seededRandom(seed + 1);
      for (let n = 0; n < 100; n++) {
        const x = Math.floor(random() * across),
          y = n === 0 ? down - 1 : Math.floor(random() * down),
          i = Math.floor(random() * decoded.length);
        expect(luma.data[i]).toBe(
          broadcast ? Math.max(0, Math.min(255, Math.round(((decoded[i] - 16) * 255) / 219))) : decoded[i],
        );
        // Halves are rounded by what is nearest in a double, either way.
        expect(Math.abs(small[y * across + x] - blockMean(luma.data, width, factor, x, y))).toBeLessThanOrEqual(
          factor % 2 ? 0 : 1,
        );
      }
      expect(Buffer.compare(decoded, before)).toBe(0);
      const next = intake.take(new Uint8Array(decoded.length).fill(128));
      expect(next.small.every((v) => v === (broadcast ? 130 : 128))).toBe(true);
    }),
    { numRuns: 20 },
  );
});

test('a small picture made from a smoothed one is no softer for it, and its grain hardly hangs together', () => {
  // Twice as large in each direction, and made small by the cubic B-spline, as decoding does it.
  const width = 480,
    height = 270;
  const tap = (d: number) => (d < 1 ? (4 - 6 * d * d + 3 * d * d * d) / 6 : d < 2 ? (2 - d) ** 3 / 6 : 0);
  const taps = [-3.5, -2.5, -1.5, -0.5, 0.5, 1.5, 2.5, 3.5].map(
    (d) => [Math.round(d + 0.5), tap(Math.abs(d) / 2) / 2] as const,
  );
  const halve = (row: (i: number) => number, i: number) => taps.reduce((s, [d, w]) => s + w * row(2 * i + d), 0);
  const make = (at: (x: number, y: number) => number) => {
    const across = Array.from({ length: 2 * height }, (_, y) =>
      Float64Array.from({ length: width }, (_, x) => halve((i) => at(Math.max(0, Math.min(2 * width - 1, i)), y), x)),
    );
    return Uint8Array.from({ length: width * height }, (_, k) =>
      Math.round(halve((i) => across[Math.max(0, Math.min(2 * height - 1, i))][k % width], Math.floor(k / width))),
    );
  };
  const random = seededRandom(8);
  const noise = Float64Array.from({ length: 4 * width * height }, () => 128 + 120 * (random() - 0.5));
  const grainy = make((x, y) => noise[y * 2 * width + x]),
    edge = make((x) => (x < width + 1 ? 40 : 200));
  const look = (smoothed: boolean) => {
    const intake = new LumaIntake(width, height, false, smoothed);
    const { small } = intake.take(grainy);
    const across = intake.size.width,
      down = intake.size.height;
    let own = 0,
      next = 0;
    for (let y = 2; y < down - 2; y++)
      for (let x = 2; x < across - 2; x++) {
        own += (small[y * across + x] - 128) ** 2;
        next += (small[y * across + x] - 128) * (small[y * across + x + 1] - 128);
      }
    const row = intake.take(edge).small.slice(20 * across, 21 * across);
    return { alike: next / own, soft: [...row].filter((v) => v > 45 && v < 195).length };
  };
  expect(look(false).alike).toBeGreaterThan(0.15);
  expect(Math.abs(look(true).alike)).toBeLessThan(0.12);
  expect(look(true).soft).toBeLessThanOrEqual(look(false).soft);
});

test('a strip so long that its blocks are larger than the compiled loop takes is summed all the same', () => {
  const [width, height] = [960, 9300];
  const decoded = new Uint8Array(width * height);
  for (let i = 0; i < decoded.length; i++) decoded[i] = (i * 31 + (i >> 9)) & 255;
  const intake = new LumaIntake(width, height, false, false);
  expect(intake.size.factor).toBeGreaterThan(16);
  const { small } = intake.take(decoded);
  for (const [x, y] of [
    [0, 0],
    [intake.size.width - 1, intake.size.height - 1],
    [7, 300],
  ]) {
    expect(
      Math.abs(small[y * intake.size.width + x] - blockMean(decoded, width, intake.size.factor, x, y)),
    ).toBeLessThanOrEqual(1);
  }
});

test('a picture of grey alone has no colour, and one with colour keeps it where it was', () => {
  const width = 480,
    height = 270;
  const grey = pictureOf({ width, height, data: bytes(width * height, 3) });
  expect(grey.small.blue.every((v) => v === 128)).toBe(true);
  const half = { width: 240, height: 135, data: new Uint8Array(240 * 135).fill(128) };
  for (let y = 0; y < 135; y++) for (let x = 200; x < 240; x++) half.data[y * 240 + x] = 200;
  const { small } = pictureOf(
    { width, height, data: new Float32Array(width * height).fill(99.6) },
    { blue: half, red: { ...half, data: new Uint8Array(half.data.length).fill(90) } },
  );
  const { colourWidth, colourHeight } = smallSize(width, height);
  expect(small.luma.every((v) => v === 100)).toBe(true);
  expect(small.red.every((v) => v === 90)).toBe(true);
  for (let y = 0; y < colourHeight; y++) {
    expect(small.blue[y * colourWidth + colourWidth - 2]).toBe(200);
    expect(small.blue[y * colourWidth + 2]).toBe(128);
  }
});

test('colour differences of broadcast range fill the whole range, rounded', () => {
  const decoded = Uint8Array.from({ length: 2 * 48 * 27 }, (_, i) => (i * 37) & 255);
  expect([...new ColourIntake(decoded.length).widen(decoded)]).toEqual(
    Array.from(decoded, (c) => Math.max(0, Math.min(255, Math.round(128 + ((c - 128) * 255) / 224)))),
  );
});
