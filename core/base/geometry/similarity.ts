// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { cos, hypot, max, sin } = Math;

/**
 * Shift, turn and size between two pictures of the same scene.
 *
 * All angles are radians here (reports use degrees); positive turns are clockwise as seen, because y points down.
 * A point is given relative to the frame's centre, in pixels.
 */
export interface Similarity {
  /** Where the reference's centre appears, to the right, in pixels. */
  dx: number;
  /** Where the reference's centre appears, downwards, in pixels. */
  dy: number;
  /** Clockwise turn in radians. */
  rotation: number;
  /** Size relative to the reference: 1.01 is 1 % larger. */
  scale: number;
}

export const IDENTITY: Readonly<Similarity> = Object.freeze({ dx: 0, dy: 0, rotation: 0, scale: 1 });

/** Where the point (x, y) of the reference lies after `t`; both relative to the centre, in pixels. */
export function applySimilarity(t: Similarity, x: number, y: number): [number, number] {
  const c = t.scale * cos(t.rotation);
  const s = t.scale * sin(t.rotation);
  return [t.dx + c * x - s * y, t.dy + s * x + c * y];
}

/** The similarity that does `first`, then `second`. */
export function composeSimilarity(second: Similarity, first: Similarity): Similarity {
  const [dx, dy] = applySimilarity(second, first.dx, first.dy);
  return { dx, dy, rotation: second.rotation + first.rotation, scale: second.scale * first.scale };
}

/** The similarity that undoes `t`. `t.scale` must not be 0. */
export function invertSimilarity(t: Similarity): Similarity {
  const back = { dx: 0, dy: 0, rotation: -t.rotation, scale: 1 / t.scale };
  const [dx, dy] = applySimilarity(back, -t.dx, -t.dy);
  return { ...back, dx, dy };
}

/** The frame's four corners and its centre, relative to the centre, as [x, y] pairs in pixels. */
export function cornersAndCentre(width: number, height: number): [number, number][] {
  const x = width / 2;
  const y = height / 2;
  return [
    [-x, -y],
    [x, -y],
    [x, y],
    [-x, y],
    [0, 0],
  ];
}

/** Greatest distance, over the four corners and the centre, between where `a` and `b` put them, in pixels. */
export function greatestDisplacement(a: Similarity, b: Similarity, width: number, height: number): number {
  let worst = 0;
  for (const [x, y] of cornersAndCentre(width, height)) {
    const [ax, ay] = applySimilarity(a, x, y);
    const [bx, by] = applySimilarity(b, x, y);
    worst = max(worst, hypot(ax - bx, ay - by));
  }
  return worst;
}
