import { insideOf, type ZoneOutline } from '../../base/geometry/outline';
import type { Run, Side } from '../../report/types';
import { DistanceField } from '../../base/image/distance';
import type { DrawnLine } from './drawn';
import type { Glide } from '../../movers/glides';
import { sidesOf } from '../../movers/moving';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { max, min, round } = Math;

/**
 * How two takes are joined in a proof: parted by a line; parted until somebody is hidden and then the second alone; the
 * first seen through; the second in an opening of the first; the first until a frame and then the second; a figure of the
 * first held in the second; a figure of the one over the other; the second behind a cloth of the first; who is in the first
 * (in an outline alone, where one is drawn) cut out over the second; the second below the line of the first's hands.
 */
export type JoinedHow =
  'line' | 'switch' | 'through' | 'opening' | 'cut' | 'held' | 'over' | 'cloth' | 'figure' | 'edge';

/** How strongly the first take shows at a frame of it; between two it changes evenly. */
export interface Strength {
  frame: number;
  pct: number;
}

/** A line that is held for some frames; it comes in over some, and where no other follows it goes out over some. */
export interface MovingLine extends Run {
  ease_in?: Run | null;
  ease_out?: Run | null;
  points: [number, number][];
  first_side: Side;
}

/** A line that moves evenly from one place to another over some frames, with at most so much of a feather. */
export interface GlidingLine extends Glide {
  first_side: Side;
  feather_px: number;
}

/** What may be chosen of a proof of two joined takes. Places in source pixels of the first, frames of the first. */
export interface JoinedWish {
  how: JoinedHow;
  /** How many frames later the second starts. */
  slide: number;
  /** The first frame shown. */
  from: number;
  line: { points: [number, number][]; first_side: Side } | null;
  /** Lines that take over for some frames, where the first cannot stay put. */
  moves: MovingLine[];
  /** How it moves from one to the next; older proofs have none. */
  glides?: GlidingLine[];
  /** Length of the soft edge. */
  feather_px: number;
  /** From when on the second stands alone, or shows in its opening. */
  at: number | null;
  strength: Strength[];
  outline: [number, number][] | null;
  /** By how much the second is lifted in the opening. */
  lift_stops: number;
  /** The second's speed, per cent of real. */
  rate_pct: number;
  /** Whether the second is laid on the first, in its light; older proofs show it as shot. */
  even?: boolean;
  /** Which of the two a figure is taken of that lies over the other. */
  front: 'first' | 'second';
}

/** How strongly the first take shows in a frame, 0 to 1; whole where nothing is said. */
export function strengthAt(strength: readonly Strength[], frame: number): number {
  const keys = [...strength].sort((a, b) => a.frame - b.frame);
  if (keys.length === 0) return 1;
  const after = keys.findIndex((k) => k.frame >= frame);
  if (after === 0) return keys[0].pct / 100;
  if (after < 0) return keys[keys.length - 1].pct / 100;
  const [p, q] = [keys[after - 1], keys[after]];
  return (p.pct + ((q.pct - p.pct) * (frame - p.frame)) / (q.frame - p.frame)) / 100;
}

/**
 * How strongly the second take shows at each pixel, 0 to 255, where a line parts the two.
 * @param scale pixels of this picture for a source pixel
 */
export function lineMatte(line: DrawnLine, feather: number, width: number, height: number, scale: number): Uint8Array {
  const upright = line.first_side === 'left' || line.first_side === 'right';
  const points = line.points.map(([x, y]): [number, number] => [x * scale, y * scale]);
  const sides = sidesOf({ points, upright }, width, height);
  const firstIs = line.first_side === 'left' || line.first_side === 'top' ? -1 : 1;
  return softened(
    Uint8Array.from(sides, (s) => (s === -firstIs ? 1 : 0)),
    feather * scale,
    width,
    height,
  );
}

/** The same for the second take in an opening of the first. */
export function openingMatte(
  outline: ZoneOutline,
  feather: number,
  width: number,
  height: number,
  scale: number,
): Uint8Array {
  const own = outline.map(([x, y]): [number, number] => [x * scale, y * scale]);
  return softened(insideOf(own, width, height), feather * scale, width, height);
}

/** A mask with a smooth step across its edge. */
function softened(mask: Uint8Array, feather: number, width: number, height: number): Uint8Array {
  const field = new DistanceField(width, height);
  const within = field.of(
      Uint8Array.from(mask, (m) => 1 - m),
      new Float32Array(mask.length),
    ),
    outside = field.of(mask, new Float32Array(mask.length));
  return Uint8Array.from(mask, (m, i) => {
    // To the border between two pixels: half a pixel nearer than to the other one's middle.
    const d = m ? within[i] - 0.5 : 0.5 - outside[i];
    const t = min(1, max(0, d / max(1, feather) + 0.5));
    return round(255 * t * t * (3 - 2 * t));
  });
}
