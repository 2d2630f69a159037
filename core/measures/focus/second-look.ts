import type { Background } from '../../scene/background';
import type { PictureStack } from '../../base/image/stack';
import { shareOfBackground } from './covered';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { max, min, round } = Math;

/** A frame was mistaken for soft when so much more of its detail was thought lost than really was. */
const MISTAKEN = 0.15;
/** In a soft picture at least this share of the cells is as bright as the background's. */
const SOFT_SHARE = 0.5;
/** Side of a cell, small pixels. */
const CELL = 10;

/**
 * What the frames lost of their detail, told again now that the background is known: a first idea takes whoever has
 * less detail than what they hide for a lens out of focus. Null where the first idea will do.
 * @param first share of fine detail lost in each frame, by the first idea; null where unknown
 * @param told the same, read where nobody was found to stand
 */
export function tellSoftAgain(
  first: readonly (number | null)[],
  told: readonly (number | null)[],
  stack: PictureStack,
  background: Pick<Background, 'luma' | 'width' | 'height' | 'moved'> | null,
): (number | null)[] | null {
  if (!background || !first.some((v) => v !== null && v > MISTAKEN)) return null;
  const { width, height, moved } = background;
  const share = shareOfBackground(background, max(1, round(width / CELL)), max(1, round(height / CELL)));
  const again = first.map((v, f) => {
    if (v === null || v <= MISTAKEN) return v;
    if (!moved && share(stack.read(f).luma) < SOFT_SHARE) return 0;
    return min(v, told[f] ?? v);
  });
  return first.some((v, f) => v !== null && v - again[f]! > MISTAKEN) ? again : null;
}
