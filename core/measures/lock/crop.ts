import type { Similarity } from '../../base/geometry/similarity';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, cos, min, sin } = Math;

/**
 * Share of the frame's width (per cent) that is lost when the picture is held still: what must be cropped so that it never
 * shows the frame's edge, and what enlarging the frames that show more of the scene costs.
 *
 * The crop keeps the frame's shape; its place is chosen as well as its size. Found by halving: for each size the
 * centre is slid until the room on opposite sides is even. In a frame of scale c a crop of share s is s * c of that
 * frame's own pixels wide: what the frame with the fewest has left is what the picture is worth.
 * @param poses movement against the reference, source pixels; nulls are passed over
 */
export function makeStillCrop(poses: readonly (Similarity | null)[], width: number, height: number): number {
  const known = poses.filter((p): p is Similarity => p !== null);
  if (known.length === 0) return 0;
  const back = movements(known);
  let fits = 0;
  let fails = 1;
  const smallest = known.reduce((least, p) => min(least, p.scale), 1);
  if (roomFor(back, width, height, 1) >= -1e-6) return (1 - smallest) * 100;
  for (let i = 0; i < 14; i++) {
    const share = (fits + fails) / 2;
    if (roomFor(back, width, height, share) >= 0) fits = share;
    else fails = share;
  }
  return (1 - fits * smallest) * 100;
}

/** Least room, in pixels, between a crop of this share and the frames' edges, at the best centre. Negative: does not fit. */
function roomFor({ dx, dy, along, across }: Movements, width: number, height: number, share: number): number {
  const halfX = (width / 2) * share;
  const halfY = (height / 2) * share;
  let cx = 0;
  let cy = 0;
  let least = -Infinity;
  for (let round = 0; round < 6; round++) {
    let left = Infinity,
      right = Infinity,
      top = Infinity,
      bottom = Infinity;
    for (let k = 0; k < dx.length; k++) {
      // Where the middle of the held crop lies in the frame as shot, and how far its corners reach from there.
      const x = along[k] * cx - across[k] * cy + dx[k],
        y = across[k] * cx + along[k] * cy + dy[k];
      const wide = abs(along[k]) * halfX + abs(across[k]) * halfY,
        high = abs(across[k]) * halfX + abs(along[k]) * halfY;
      left = min(left, width / 2 + x - wide);
      right = min(right, width / 2 - x - wide);
      top = min(top, height / 2 + y - high);
      bottom = min(bottom, height / 2 - y - high);
    }
    least = min(left, right, top, bottom);
    cx += (right - left) / 2;
    cy += (bottom - top) / 2;
  }
  return least;
}

/** Shifts in pixels, and size times the cosine and the sine of the turn, by frame. */
interface Movements {
  dx: Float64Array;
  dy: Float64Array;
  along: Float64Array;
  across: Float64Array;
}

function movements(poses: readonly Similarity[]): Movements {
  const column = (pick: (p: Similarity) => number) => Float64Array.from(poses, pick);
  return {
    dx: column((p) => p.dx),
    dy: column((p) => p.dy),
    along: column((p) => p.scale * cos(p.rotation)),
    across: column((p) => p.scale * sin(p.rotation)),
  };
}
