/**
 * Of cases that put one question again and again (other seeds, places, kinds) the first `n`: so many are in `./test`.
 * All of them are run by `./test everything`.
 */
export function few<T>(n: number, cases: readonly T[]): T[] {
  return process.env.UMBRASTAT_EVERYTHING ? [...cases] : cases.slice(0, n);
}

/** How often a property is tried: a quarter of `n`, and `n` times by `./test everything`. */
export const runs = (n: number): number => (process.env.UMBRASTAT_EVERYTHING ? n : Math.ceil(n / 4));
