import type { Run } from '../../report/types';
import { median } from '../../base/numeric/quantile';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { ceil } = Math;

/** So much of the cells, those with the most detail, say what coding leaves alone; fewer cells than these say nothing. */
const STRONG_SHARE = 0.25;
const LEAST_STRONG = 8;
/** Coding takes up to this share of the detail in a picture that still looks like one. */
const MOST_CODED = 0.3;
/** And from the strongest detail clearly less than from most of it, at most this share of that. */
const SPARED = 0.8;

/** The cells with the most detail; none where there are few. @param best the detail of each at its best, by its number */
export function strongest(cells: Uint32Array, best: ArrayLike<number>): Uint32Array {
  const many = ceil(STRONG_SHARE * cells.length);
  return many < LEAST_STRONG
    ? new Uint32Array(0)
    : cells
        .slice()
        .sort((a, b) => best[b] - best[a])
        .subarray(0, many);
}

/**
 * Whether it is coding that takes detail in a run of frames, not the lens. A lens out of focus takes its share of all
 * detail; a coder that is short of bits leaves out what is faint, and keeps what stands out.
 * @param sharpness of each frame, by most of the cells. @param strong the same by those with the most detail
 */
export function isCoding(
  { start, end }: Run,
  sharpness: readonly (number | null)[],
  strong: readonly (number | null)[],
): boolean {
  const both = sharpness
    .slice(start, end + 1)
    .flatMap((s, k) => (s !== null && strong[start + k] !== null ? [[1 - s, 1 - strong[start + k]!]] : []));
  // Of what is covered most of the time nothing is known.
  if (2 * both.length < end - start + 1) return false;
  // A lens that goes in the midst of coarsely coded pictures takes more than coding does.
  if (both.some(([all]) => all > MOST_CODED)) return false;
  const [all, spared] = [0, 1].map((k) => median(both.map((pair) => pair[k])));
  return spared <= SPARED * all;
}
