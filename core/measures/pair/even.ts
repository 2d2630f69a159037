import { applySimilarity, greatestDisplacement, IDENTITY, type Similarity } from '../../base/geometry/similarity';
import { toCode, toLight } from '../../base/image/transfer';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, floor, max, min, round } = Math;

/** What makes a second take lie on the first, in its light. */
export interface Evening {
  /** Where a place of the first lies in the second, source pixels about the middle; null where it lies there already. */
  place: Similarity | null;
  /** How far that is at most, source pixels. */
  px: number;
  /** By how much the second is made brighter; 0 where it is as bright. */
  stops: number;
}

/** What is nearer than this, source pixels, lies there; what is farther off than this share of the width was not found. */
const LIES_PX = 0.3;
const MOST_SHARE = 0.05;
/** Light that differs by less than this, stops, is one; by more than this it was changed on purpose. */
const ONE_LIGHT = 0.02;
const MOST_STOPS = 1.5;

/**
 * @param place of the first in the second; null when they could not be laid on each other
 * @param gap light of the second less that of the first, stops; null when it is not known
 */
export function eveningOf(
  place: Similarity | null,
  gap: number | null,
  { width, height }: { width: number; height: number },
): Evening {
  const px = place ? greatestDisplacement(place, IDENTITY, width, height) : 0;
  const lies = px < LIES_PX || px > MOST_SHARE * width;
  const even = gap === null || abs(gap) < ONE_LIGHT || abs(gap) > MOST_STOPS;
  return { place: lies ? null : place, px: lies ? 0 : px, stops: even ? 0 : -gap };
}

/** What each code value becomes when light is lifted by so many stops. */
export const lifted = (stops: number): Uint8Array =>
  Uint8Array.from({ length: 256 }, (_, v) =>
    round(255 * toCode('bt709', min(1, toLight('bt709', v / 255) * 2 ** stops))),
  );

/**
 * A colour picture of the second as it lies on the first; beyond its edge its last pixels go on.
 * @param rgb red, green and blue  @param scale pixels of this picture for a source pixel
 */
export function laidOnFirst(
  rgb: Uint8Array,
  { width, height }: { width: number; height: number },
  place: Similarity,
  scale: number,
  out: Uint8Array,
): Uint8Array {
  const own = { ...place, dx: place.dx * scale, dy: place.dy * scale };
  const [mx, my] = [width / 2, height / 2];
  for (let y = 0, o = 0; y < height; y++)
    for (let x = 0; x < width; x++, o += 3) {
      const [u, v] = applySimilarity(own, x + 0.5 - mx, y + 0.5 - my);
      const a = max(0, min(width - 1, u + mx - 0.5)),
        b = max(0, min(height - 1, v + my - 0.5));
      const c = min(width - 2, floor(a)),
        r = min(height - 2, floor(b));
      const [s, t] = [a - c, b - r];
      const i = 3 * (r * width + c),
        k = i + 3 * width;
      for (let p = 0; p < 3; p++)
        out[o + p] = round(
          (rgb[i + p] * (1 - s) + rgb[i + 3 + p] * s) * (1 - t) + (rgb[k + p] * (1 - s) + rgb[k + 3 + p] * s) * t,
        );
    }
  return out;
}
