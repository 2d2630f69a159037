import { boxMean, findRegions } from '../image/regions';

/** Regions smaller than this share of the picture are specks. */
const SPECK = 0.0015;
/** What is enclosed by the object and smaller than this share is a hole in the finding, not in the object. */
const HOLE = 0.06;
/** Beside the largest region others count when they have this share of it. */
const BESIDE = 0.08;

/**
 * Makes one solid object of the pixels that differ: specks go, holes are filled.
 * @param raw 1 where the picture differs from what lies behind; changed in place
 */
export function solidMask(raw: Uint8Array, width: number, height: number): Uint8Array {
  const pixels = width * height;
  const mean = boxMean(raw, width, height, 2, new Float32Array(pixels));
  for (let i = 0; i < pixels; i++) raw[i] = mean[i] > 0.5 ? 1 : 0;
  const regions = findRegions(raw, width, height, SPECK * pixels);
  const most = regions.reduce((n, r) => Math.max(n, r.pixels.length), 0);
  raw.fill(0);
  for (const r of regions) if (r.pixels.length >= BESIDE * most) for (const i of r.pixels) raw[i] = 1;
  const free = Uint8Array.from(raw, (v) => 1 - v);
  for (const r of findRegions(free, width, height)) {
    const inside = r.left > 0 && r.top > 0 && r.right < width - 1 && r.bottom < height - 1;
    if (r.pixels.length < (inside ? HOLE : SPECK) * pixels) for (const i of r.pixels) raw[i] = 1;
  }
  return raw;
}

/** Pixels within `reach` of a set one, as 1. */
export function grown(mask: Uint8Array, width: number, height: number, reach: number): Uint8Array {
  const mean = boxMean(mask, width, height, reach, new Float32Array(mask.length));
  return Uint8Array.from(mean, (v) => (v > 0 ? 1 : 0));
}

/** Share of the pixels that are set. */
export function shareOf(mask: Uint8Array): number {
  let n = 0;
  for (let i = 0; i < mask.length; i++) n += mask[i];
  return n / mask.length;
}
