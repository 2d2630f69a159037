import { applySimilarity, type Similarity } from '../geometry/similarity';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { min } = Math;

/**
 * Share of the frame's width (per cent) that must be cropped so that a held picture never shows the frame's edge.
 *
 * The crop keeps the frame's shape; its place is chosen as well as its size. Found by halving: for each size the centre is
 * slid until the room on opposite sides is even.
 * @param poses movement against the reference, source pixels; nulls are passed over
 */
export function makeStillCrop(poses: readonly (Similarity | null)[], width: number, height: number): number {
  const back = poses.filter((p): p is Similarity => p !== null);
  if (back.length === 0) return 0;
  let fits = 0;
  let fails = 1;
  if (roomFor(back, width, height, 1) >= -1e-6) return 0;
  for (let i = 0; i < 14; i++) {
    const share = (fits + fails) / 2;
    if (roomFor(back, width, height, share) >= 0) fits = share;
    else fails = share;
  }
  return (1 - fits) * 100;
}

/** Least room, in pixels, between a crop of this share and the frames' edges, at the best centre. Negative: does not fit. */
function roomFor(poses: readonly Similarity[], width: number, height: number, share: number): number {
  const halfX = (width / 2) * share;
  const halfY = (height / 2) * share;
  let cx = 0;
  let cy = 0;
  let least = -Infinity;
  for (let round = 0; round < 6; round++) {
    let left = Infinity, right = Infinity, top = Infinity, bottom = Infinity;
    for (const p of poses) {
      for (const [sx, sy] of [[-1, -1], [1, -1], [1, 1], [-1, 1]]) {
        // Where this corner of the held crop lies in the frame as shot.
        const [x, y] = applySimilarity(p, cx + sx * halfX, cy + sy * halfY);
        left = min(left, x + width / 2);
        right = min(right, width / 2 - x);
        top = min(top, y + height / 2);
        bottom = min(bottom, height / 2 - y);
      }
    }
    least = min(left, right, top, bottom);
    cx += (right - left) / 2;
    cy += (bottom - top) / 2;
  }
  return least;
}
