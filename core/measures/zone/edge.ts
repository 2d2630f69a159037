import { betweenPixels } from '../../base/image/between-pixels';
import { quantile } from '../../base/numeric/quantile';
import type { FineLuma } from '../../presence/fine-background';
import type { EdgeRead } from '../../report/zone-types';
import type { ZoneOutline } from '../../base/geometry/outline';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, ceil, hypot, log2, max } = Math;

/** The outline is drawn by a finger: its edge lies within so many pixels of it. */
const ASTRAY = 4;
/** Both sides of it are read at these distances, pixels, along so many neighbours to either side. */
const BESIDE = [1.5, 2.5, 3.5];
const ALONG = 2;
/** A mask follows an edge whose step is so many times one frame's grain. */
const READABLE = 2;
/** Along the picture's own edges there is nothing to be read. */
const RIM = 3;

/** How well a zone's edge can be read in the empty picture along its outline. @param factor source pixels for one pixel */
export function readEdge(
  outline: ZoneOutline,
  behind: FineLuma,
  width: number,
  height: number,
  factor: number,
): EdgeRead | null {
  const places = placesAlong(outline).filter(({ x, y }) => x > RIM && y > RIM && x < width - RIM && y < height - RIM);
  if (places.length === 0) return null;
  const at = (values: Float32Array, x: number, y: number) =>
    betweenPixels(values, width, height, Math.min(width - 1, max(0, x - 0.5)), Math.min(height - 1, max(0, y - 0.5)));
  const read = places.map(({ x, y, nx, ny }) => {
    let best = 0;
    for (let off = -ASTRAY; off <= ASTRAY; off++) {
      let step = 0,
        grain = 0;
      for (let k = -ALONG; k <= ALONG; k++)
        for (const d of BESIDE)
          for (const side of [1, -1]) {
            const u = x + nx * (off + side * d) - ny * k,
              v = y + ny * (off + side * d) + nx * k;
            step += side * at(behind.luma, u, v);
            grain += at(behind.sigma, u, v);
          }
      const n = (2 * ALONG + 1) * BESIDE.length;
      best = max(best, abs(step / n) / max(0.5, grain / (2 * n)));
    }
    return best;
  });
  const poor = read.filter((r) => r < READABLE);
  const worst = read.indexOf(Math.min(...read));
  return {
    readable_share: 1 - poor.length / read.length,
    weakest: { x_px: places[worst].x * factor, y_px: places[worst].y * factor },
    step_over_grain: read[worst],
    lift_stops: poor.length ? log2(READABLE / max(0.05, quantile(poor, 0.25))) : 0,
  };
}

/** Places along an outline, a pixel apart, with the way across it. */
function placesAlong(outline: ZoneOutline) {
  return outline.flatMap(([ax, ay], k) => {
    const [bx, by] = outline[(k + 1) % outline.length];
    const length = hypot(bx - ax, by - ay);
    if (length === 0) return [];
    const [nx, ny] = [(by - ay) / length, -(bx - ax) / length];
    return Array.from({ length: ceil(length) }, (_, s) => ({
      x: ax + ((bx - ax) * s) / length,
      y: ay + ((by - ay) * s) / length,
      nx,
      ny,
    }));
  });
}
