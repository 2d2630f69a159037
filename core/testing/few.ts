// eslint-disable-next-line no-restricted-globals -- how much is tested is said from outside
const everything = Boolean(process.env.UMBRASTAT_EVERYTHING);

/**
 * Of cases that put one question again and again (other seeds, places, kinds) the first `n`: so many are in `./test`.
 * All of them are run by `./test everything`.
 */
export function few<T>(n: number, cases: readonly T[]): T[] {
  return everything ? [...cases] : cases.slice(0, n);
}

/** How often a property is tried: a quarter of `n`, and `n` times by `./test everything`. */
export const runs = (n: number): number => (everything ? n : Math.ceil(n / 4));
