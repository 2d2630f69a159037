import { IDENTITY, type Similarity } from '../base/geometry/similarity';
import type { LockMeasure, Verdict } from '../report/types';

/** Why a lock is not judged when the camera cannot be told from what moves before it. */
export const MOVES_APART: readonly string[] = ['two-movements', 'part-moves'];

/** A camera that moved further than this share of the width shows another picture. */
export const FARTHEST = 0.12;

/** Where the picture lies, and how far that may be used. */
export interface Poses {
  /** As far as one empty frame serves them all; null where not known, or further off. */
  poses: (Similarity | null)[];
  /** The same of a camera that goes further, for what is read stretch by stretch; null for one that does not. */
  far: (Similarity | null)[] | null;
  /** Why nobody can be told, where that is so. */
  unjudged: string | null;
}

/**
 * Where the picture lies in each frame as far as it may be believed. Where a blank picture shows no movement the
 * camera is taken to have stood still; where it cannot be told from what moves in front, nothing can be said of who is
 * in.
 */
export function steadyPoses(lock: LockMeasure, judged: Verdict, width: number): Poses {
  const { dx_px: dx, dy_px: dy, rotation_deg: turn, scale } = lock.path;
  const unknown = dx.map(() => null);
  const code = judged.verdict === 'unjudged' ? judged.reasons[0]?.code : null;
  if (code === 'one-frame' || code === 'no-texture')
    return { poses: dx.map(() => ({ ...IDENTITY })), far: null, unjudged: null };
  if (code === 'no-agreement' || MOVES_APART.includes(code ?? '')) {
    return {
      poses: unknown,
      far: null,
      unjudged:
        'The camera cannot be told from what moves in front of it, so who is in the picture cannot be told either.',
    };
  }
  const poses = dx.map((x, f): Similarity | null =>
    x === null ? null : { dx: x, dy: dy[f]!, rotation: (turn[f]! * Math.PI) / 180, scale: scale[f]! },
  );
  return (lock.sure_peak_px ?? 0) > FARTHEST * width
    ? { poses: unknown, far: poses, unjudged: 'The camera moves too far for an empty frame to be known.' }
    : { poses, far: null, unjudged: null };
}
