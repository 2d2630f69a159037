import fc from 'fast-check';
import { solvePositive } from './least-squares';
import { seededNormal, seededRandom } from './random';

/** Normal equations of a fit of points to columns, and their right-hand side. */
function normalOf(columns: number[][], values: number[]): { normal: Float64Array; right: Float64Array; n: number } {
  const n = columns.length;
  const normal = new Float64Array(n * n),
    right = new Float64Array(n);
  for (let a = 0; a < n; a++) {
    for (let b = 0; b < n; b++) normal[a * n + b] = columns[a].reduce((s, v, k) => s + v * columns[b][k], 0);
    right[a] = columns[a].reduce((s, v, k) => s + v * values[k], 0);
  }
  return { normal, right, n };
}

test('a parabola is found again in its own points, and nearly in noisy ones', () => {
  const places = Array.from({ length: 41 }, (_, k) => (k - 20) / 10);
  const columns = [places.map(() => 1), places, places.map((x) => x * x)];
  const truth = [3, -2, 0.5];
  const at = (x: number) => truth[0] + truth[1] * x + truth[2] * x * x;
  const exact = normalOf(columns, places.map(at));
  Array.from(solvePositive(exact.normal, exact.right, 3)!).forEach((v, k) => expect(v).toBeCloseTo(truth[k], 9));
  for (const seed of [1, 2, 3]) {
    const normal = seededNormal(seed);
    const noisy = normalOf(
      columns,
      places.map((x) => at(x) + 0.05 * normal()),
    );
    Array.from(solvePositive(noisy.normal, noisy.right, 3)!).forEach((v, k) =>
      expect(Math.abs(v - truth[k])).toBeLessThan(0.05),
    );
  }
});

test('what is solved solves the system', () => {
  const value = fc.double({ min: -5, max: 5, noNaN: true });
  fc.assert(
    fc.property(fc.array(fc.tuple(value, value, value, value), { minLength: 6, maxLength: 30 }), (rows) => {
      const columns = [0, 1, 2].map((c) => rows.map((r) => r[c]));
      const { normal, right } = normalOf(
        columns,
        rows.map((r) => r[3]),
      );
      // A little on the diagonal keeps it well conditioned.
      for (let k = 0; k < 3; k++) normal[4 * k] += 0.5;
      const p = solvePositive(normal, right, 3)!;
      for (let a = 0; a < 3; a++) {
        const sum = p.reduce((s, v, b) => s + v * normal[a * 3 + b], 0);
        expect(sum).toBeCloseTo(right[a], 6);
      }
    }),
  );
});

test('only the upper half is read', () => {
  const p = solvePositive(Float64Array.from([4, 1, NaN, 3]), Float64Array.from([1, 2]), 2)!;
  expect(Array.from(p)).toEqual([expect.closeTo(1 / 11, 9), expect.closeTo(7 / 11, 9)]);
});

test.each<[string, number[]]>([
  ['twice the same column', [2, 2, 2, 2]],
  ['nothing at all', [0, 0, 0, 0]],
  ['a negative one', [-1, 0, 0, 1]],
  ['no number', [NaN, 0, 0, 1]],
])('%s has no solution', (_, normal) => {
  expect(solvePositive(Float64Array.from(normal), Float64Array.from([1, 1]), 2)).toBeNull();
});

describe('random numbers', () => {
  test('one seed gives one stream, another seed another', () => {
    const [a, b, c] = [seededRandom(7), seededRandom(7), seededRandom(8)];
    const of = (r: () => number) => Array.from({ length: 50 }, r);
    const first = of(a);
    expect(of(b)).toEqual(first);
    expect(of(c)).not.toEqual(first);
  });

  test.each([1, 2, 3])('seed %d: spread evenly over 0 to 1', (seed) => {
    const random = seededRandom(seed);
    const bins = new Array<number>(10).fill(0);
    for (let k = 0; k < 20000; k++) bins[Math.floor(10 * random())]++;
    for (const n of bins) expect(Math.abs(n - 2000)).toBeLessThan(5 * Math.sqrt(1800));
  });

  test.each([1, 2, 3])('seed %d: normal numbers have the mean, the spread and the tails they should', (seed) => {
    const normal = seededNormal(seed);
    const values = Array.from({ length: 20000 }, normal);
    const mean = values.reduce((a, b) => a + b, 0) / values.length;
    const variance = values.reduce((a, b) => a + (b - mean) ** 2, 0) / values.length;
    expect(Math.abs(mean)).toBeLessThan(0.035);
    expect(Math.abs(variance - 1)).toBeLessThan(0.05);
    const beyond = values.filter((v) => Math.abs(v) > 2).length / values.length;
    expect(Math.abs(beyond - 0.0455)).toBeLessThan(0.008);
    expect(values.every(Number.isFinite)).toBe(true);
  });
});
