import fc from 'fast-check';
import { largestSteps } from './steps';
import { stopsTable, taggedTransfer, toCode, toLight, type Transfer } from './transfer';

const CURVES: Transfer[] = ['srgb', 'bt709', 'pq', 'hlg', 'gamma22', 'gamma28', 'linear'];
const share = fc.double({ min: 0, max: 1, noNaN: true });

describe.each(CURVES)('%s', (curve) => {
  test('black is no light and white is all of it', () => {
    expect(toLight(curve, 0)).toBeCloseTo(0, 6);
    expect(toLight(curve, 1)).toBeCloseTo(1, 3);
    expect(toLight(curve, -1)).toBe(toLight(curve, 0));
    expect(toLight(curve, 2)).toBe(toLight(curve, 1));
  });

  test('more code is never less light, and coding undoes it', () => {
    fc.assert(
      fc.property(share, share, (a, b) => {
        const [low, high] = [Math.min(a, b), Math.max(a, b)];
        expect(toLight(curve, low)).toBeLessThanOrEqual(toLight(curve, high));
        expect(toLight(curve, toCode(curve, toLight(curve, a)))).toBeCloseTo(toLight(curve, a), 6);
      }),
    );
  });

  test('its table of stops rises, from a finite value on', () => {
    const table = stopsTable(curve);
    expect(table).toHaveLength(256);
    expect(Number.isFinite(table[0])).toBe(true);
    for (let v = 1; v < 256; v++) expect(table[v]).toBeGreaterThanOrEqual(table[v - 1]);
    expect(table[255]).toBeCloseTo(0, 2);
  });
});

test('values that the standards give', () => {
  // IEC 61966-2-1: half code is 21.4 % of the light; BT.709: 26 %; HLG: a twelfth at half code.
  expect(toLight('srgb', 0.5)).toBeCloseTo(0.214, 4);
  expect(toLight('bt709', 0.5)).toBeCloseTo(0.2596, 3);
  expect(toLight('hlg', 0.5)).toBeCloseTo(1 / 12, 4);
  // BT.2100: 100 of 10,000 cd/m2 lie at 50.8 % of the code range.
  expect(toLight('pq', 0.5081)).toBeCloseTo(0.01, 4);
  expect(toLight('gamma22', 0.5)).toBeCloseTo(0.5 ** 2.2, 9);
});

test.each<[string | null, Transfer | null]>([
  ['bt709', 'bt709'],
  ['smpte170m', 'bt709'],
  ['bt2020-10', 'bt709'],
  ['iec61966-2-1', 'srgb'],
  ['smpte2084', 'pq'],
  ['arib-std-b67', 'hlg'],
  ['bt470bg', 'gamma28'],
  ['unknown', null],
  ['', null],
  [null, null],
])('the tag %j names %s', (tag, curve) => {
  expect(taggedTransfer(tag)).toBe(curve);
});

test('the largest step at a pixel is to the neighbour that differs most', () => {
  const cases = fc.record({
    width: fc.integer({ min: 1, max: 9 }),
    height: fc.integer({ min: 1, max: 9 }),
    seed: fc.nat(),
  });
  fc.assert(
    fc.property(cases, ({ width, height, seed }) => {
      const values = Array.from({ length: width * height }, (_, i) => ((i + 1) * (seed + 7919)) % 101);
      const steps = largestSteps(width, height, (a, b) => Math.abs(values[a] - values[b]));
      for (let y = 0, i = 0; y < height; y++)
        for (let x = 0; x < width; x++, i++) {
          const beside = [
            ...(x > 0 ? [values[i - 1]] : []),
            ...(x + 1 < width ? [values[i + 1]] : []),
            ...(y > 0 ? [values[i - width]] : []),
            ...(y + 1 < height ? [values[i + width]] : []),
          ];
          expect(steps[i]).toBe(Math.max(0, ...beside.map((v) => Math.abs(v - values[i]))));
        }
    }),
  );
});
