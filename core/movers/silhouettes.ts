import { applySimilarity, greatestDisplacement, IDENTITY, type Similarity } from '../base/geometry/similarity';
import { eachRun } from '../presence/bodies';
import type { Figure } from '../presence/figures';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { floor } = Math;

/** Pictures that lie on each other closer than this, small pixels, are taken as they are. */
const TOGETHER = 0.4;

/** Who stands where in each frame of a pass, shadows included, on one grid that all passes of a setup share. */
export interface Silhouettes {
  width: number;
  height: number;
  /** Frames. */
  count: number;
  /** Fills `out` with 1 where somebody is and 0 elsewhere; gives whether anybody is, or null where that is not known. */
  mask: (frame: number, out: Uint8Array) => boolean | null;
}

export interface SilhouettesInput {
  width: number;
  height: number;
  /** What was found in front of the pass's own background in each frame; null where nothing is known. */
  figures: readonly (readonly Pick<Figure, 'rows'>[] | null)[];
  /** 1, on the shared grid, where somebody stands from first to last, so that they are background to the pass itself. */
  always: Uint8Array | null;
  /** Where the shared grid's picture lies in this pass's, small pixels about the middle; null where it is this pass's own. */
  place: Similarity | null;
}

/** Lays a pass's figures on the shared grid. */
export function silhouettesOf({ width, height, figures, always, place }: SilhouettesInput): Silhouettes {
  const moved = place && greatestDisplacement(place, IDENTITY, width, height) > TOGETHER;
  const sources = moved ? sourcesOf(place, width, height) : null;
  const own = new Uint8Array(width * height);
  return {
    width,
    height,
    count: figures.length,
    mask(frame, out) {
      const all = figures[frame];
      if (!all) {
        out.fill(0);
        return null;
      }
      const laid = sources ? own : out;
      laid.fill(0);
      eachRun(all, width, (first, last) => laid.fill(1, first, last + 1));
      if (sources) for (let i = 0; i < out.length; i++) out[i] = sources[i] < 0 ? 0 : own[sources[i]];
      let any = all.length > 0 && (!sources || out.includes(1));
      if (always)
        for (let i = 0; i < out.length; i++)
          if (always[i]) {
            out[i] = 1;
            any = true;
          }
      return any;
    },
  };
}

/** For each pixel of the shared grid the one of the pass's own picture that lies there; -1 outside it. */
function sourcesOf(place: Similarity, width: number, height: number): Int32Array {
  const out = new Int32Array(width * height);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      const [u, v] = applySimilarity(place, x + 0.5 - width / 2, y + 0.5 - height / 2);
      const a = floor(u + width / 2),
        b = floor(v + height / 2);
      out[i] = a < 0 || b < 0 || a >= width || b >= height ? -1 : b * width + a;
    }
  return out;
}

/** The same similarity for pictures whose pixels are so many times as large. */
export function atSize(place: Similarity, factor: number): Similarity {
  return { ...place, dx: place.dx / factor, dy: place.dy / factor };
}
