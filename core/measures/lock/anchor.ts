import type { Similarity } from '../../base/geometry/similarity';
import type { PatchAligner } from './align';
import type { CoarseFinder } from './coarse';
import { agrees, type Pose, type Sighting } from './consensus';
import type { PatchGrid } from './patches';
import type { KeptSighting } from './sightings';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { hypot, max } = Math;

/** One picture that others are held against, with what was seen of it in other frames. */
export interface Anchor {
  frame: number;
  grid: PatchGrid;
  /** Where the picture of its island's first anchor lies in this one. */
  fromFirst: Similarity;
  /** What looks for it in frames; null once it is not looked for any more. Finders of shifts of up to 16 px, and of up to 72 px. */
  tools: { aligner: PatchAligner; finders: { near: CoarseFinder; far: CoarseFinder } } | null;
  /** The first anchor of those that are tied to it. */
  island: number;
  /** Half the picture's size, in measuring pixels. */
  halfWidth: number;
  halfHeight: number;
  /** For each patch, how often it was found and how often it agreed with the camera. */
  foundCount: Float64Array;
  agreedCount: Float64Array;
  /** For each patch, how often it looked better where the movement puts it than where it was, less how often worse. */
  movedVotes: Float64Array;
}

/** What was seen in one frame. */
export interface FrameRecord {
  /** Index of the anchor held against; -1 when nothing was recognised. */
  anchor: number;
  sighting: KeptSighting | null;
  /** Movement against the anchor, in measuring pixels. */
  pose: Pose | null;
  /** How far apart its patches were allowed to move, px. */
  spread?: number;
  /** Share of the patches in view that agreed; 1 where left out. */
  share?: number;
  /**
   * How many patches lay where a camera that stayed put would show them, for each that went with the pose; not looked
   * at in every frame.
   */
  rival?: number;
  /** Where nothing was recognised: whether the picture differs nearly everywhere from the one before. */
  wholeMoves?: boolean;
  /** It was not held against every picture that it might show. */
  passedOver?: boolean;
}

/** How far each patch is to be trusted, from 0.05 to 1, by how often it went with the camera so far. */
export function reliabilities(anchor: Anchor): Float32Array {
  const { foundCount, agreedCount } = anchor;
  const out = new Float32Array(foundCount.length);
  for (let i = 0; i < out.length; i++) out[i] = max(0.05, (agreedCount[i] + 2) / (foundCount[i] + 2));
  return out;
}

/** Greatest corner distance between two poses, in measuring pixels. */
export function farFrom(a: Pose, b: Pose, width: number, height: number): number {
  let worst = 0;
  for (const [x, y] of [
    [-1, -1],
    [1, -1],
    [1, 1],
    [-1, 1],
  ]) {
    const u = (x * width) / 2;
    const v = (y * height) / 2;
    const ex = a[0] - b[0] + (a[2] - b[2]) * u - (a[3] - b[3]) * v;
    const ey = a[1] - b[1] + (a[3] - b[3]) * u + (a[2] - b[2]) * v;
    worst = max(worst, hypot(ex, ey));
  }
  return worst;
}

/** Keeps count of which patches go with the camera. */
export function noteAgreement(anchor: Anchor, s: Sighting, pose: Pose, spreads: Float32Array): void {
  const { patches } = anchor.grid;
  for (let i = 0; i < patches.length; i++) {
    if (!s.found[i]) continue;
    const agreed = agrees(patches[i], pose, s.dx[i], s.dy[i], spreads[i]);
    // Old counts fade, so that a spot freed by somebody who stood there can earn trust again.
    anchor.foundCount[i] = anchor.foundCount[i] * 0.995 + 1;
    anchor.agreedCount[i] = anchor.agreedCount[i] * 0.995 + (agreed ? 1 : 0);
  }
}
