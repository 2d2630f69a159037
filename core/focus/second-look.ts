// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, max, min } = Math;

/** A frame was mistaken for soft when so much more of its detail was thought lost than really was. */
const MISTAKEN = 0.15;

/**
 * What the frames lost of their detail, told again now that it is known who stands where: a first idea takes whoever
 * has less detail than what they hide for a lens out of focus. Null where the first idea will do.
 * @param first share of fine detail lost in each frame, by the first idea; null where unknown
 * @param told the same, read where nobody stands
 */
export function tellSoftAgain(
  first: readonly (number | null)[],
  told: readonly (number | null)[],
): (number | null)[] | null {
  const nearest = told.map((_, f) => {
    // Where everything is hidden the focus is as it was before and after.
    for (let d = 0; d < told.length; d++) {
      const near = [told[f - d], told[f + d]].filter((v): v is number => typeof v === 'number');
      if (near.length) return max(...near);
    }
    return null;
  });
  const again = first.map((v, f) => (v === null || nearest[f] === null ? v : min(v, nearest[f])));
  return first.some((v, f) => v !== null && abs(v - again[f]!) > MISTAKEN) ? again : null;
}
