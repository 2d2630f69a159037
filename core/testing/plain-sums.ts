import fc from 'fast-check';

/** Pictures of odd sizes on which compiled loops are held against the same sums written plainly. */
export const sizes = fc.record({
  width: fc.integer({ min: 5, max: 61 }),
  height: fc.integer({ min: 5, max: 37 }),
  seed: fc.integer({ min: 1, max: 1e6 }),
});
export const RUNS = { numRuns: 25 };

/** Random values for a loop to work on. */
export const bytes = (n: number, random: () => number) =>
  Uint8Array.from({ length: n }, () => Math.floor(256 * random()));
export const floats = (n: number, random: () => number, low: number, high: number) =>
  Float32Array.from({ length: n }, () => low + (high - low) * random());
export const flags = (n: number, random: () => number, share: number) =>
  Uint8Array.from({ length: n }, () => (random() < share ? 1 : 0));

/** @throws Error that names the first value that lies further apart */
export function close(got: ArrayLike<number>, wanted: ArrayLike<number>, within: number): void {
  expect(got.length).toBe(wanted.length);
  for (let i = 0; i < got.length; i++)
    if (!(Math.abs(got[i] - wanted[i]) <= within)) throw new Error(`${got[i]} instead of ${wanted[i]} at ${i}`);
}
