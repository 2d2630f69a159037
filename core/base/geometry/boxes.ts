import type { Box } from '../../report/types';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { max, min } = Math;

/** What two boxes share of what both cover: 1 for the same box, 0 for boxes that do not meet. */
export function sharedOf(a: Box, b: Box): number {
  const across = min(a.x + a.width, b.x + b.width) - max(a.x, b.x),
    down = min(a.y + a.height, b.y + b.height) - max(a.y, b.y);
  if (across <= 0 || down <= 0) return 0;
  return (across * down) / (a.width * a.height + b.width * b.height - across * down);
}
