import { findRegions } from '../image/regions';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, max, min } = Math;

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
  if (!raw.includes(1)) return raw;
  majority(raw, width, height, 2);
  const regions = findRegions(raw, width, height, SPECK * pixels);
  const most = regions.reduce((n, r) => max(n, r.pixels.length), 0);
  raw.fill(0);
  for (const r of regions) if (r.pixels.length >= BESIDE * most) setAll(raw, r.pixels);
  for (const r of findRegions(inverse(raw), width, height)) {
    const inside = r.left > 0 && r.top > 0 && r.right < width - 1 && r.bottom < height - 1;
    if (r.pixels.length < (inside ? HOLE : SPECK) * pixels) setAll(raw, r.pixels);
  }
  return raw;
}

/** Sets pixels by their numbers. */
export function setAll(mask: Uint8Array, pixels: Int32Array): void {
  for (let k = 0; k < pixels.length; k++) mask[pixels[k]] = 1;
}

/** 1 where a mask is 0. */
export function inverse(mask: Uint8Array): Uint8Array {
  const out = new Uint8Array(mask.length);
  for (let i = 0; i < out.length; i++) out[i] = 1 - mask[i];
  return out;
}

/** Open places up to this share of the picture are doubtful when most of them lie where the picture is known only from afar. */
const DOUBTFUL = 0.006;
const MOSTLY = 0.7;

/** Closes small open places that lie where what is behind moves by itself: there an object may look like it by chance. */
export function fillDoubtful(mask: Uint8Array, doubtful: Uint8Array, width: number, height: number): void {
  for (const r of findRegions(inverse(mask), width, height)) {
    if (r.pixels.length > DOUBTFUL * mask.length) continue;
    let n = 0;
    for (const i of r.pixels) n += doubtful[i];
    if (n >= MOSTLY * r.pixels.length) setAll(mask, r.pixels);
  }
}

/** Sets each pixel to what most of the (2 r + 1) squared pixels about it are; those beyond the picture's edges do not vote. */
function majority(mask: Uint8Array, width: number, height: number, r: number): void {
  const rows = new Uint8Array(mask.length);
  for (let y = 0; y < height; y++) {
    const row = y * width;
    let sum = 0;
    for (let x = 0; x < r && x < width; x++) sum += mask[row + x];
    for (let x = 0; x < width; x++) {
      if (x + r < width) sum += mask[row + x + r];
      if (x - r - 1 >= 0) sum -= mask[row + x - r - 1];
      rows[row + x] = sum;
    }
  }
  for (let x = 0; x < width; x++) {
    let sum = 0;
    for (let y = 0; y < r && y < height; y++) sum += rows[y * width + x];
    const across = min(width - 1, x + r) - max(0, x - r) + 1;
    for (let y = 0; y < height; y++) {
      if (y + r < height) sum += rows[(y + r) * width + x];
      if (y - r - 1 >= 0) sum -= rows[(y - r - 1) * width + x];
      const voters = across * (min(height - 1, y + r) - max(0, y - r) + 1);
      mask[y * width + x] = 2 * sum > voters ? 1 : 0;
    }
  }
}

/** Pixels within `reach` of a set one, across and down, as 1. */
export function grown(mask: Uint8Array, width: number, height: number, reach: number): Uint8Array {
  const rows = new Uint8Array(mask.length),
    out = new Uint8Array(mask.length);
  for (let y = 0; y < height; y++) spread(mask, rows, y * width, 1, width, reach);
  for (let x = 0; x < width; x++) spread(rows, out, x, width, height, reach);
  return out;
}

/** Sets what lies within `reach` of a set value of one line. */
function spread(from: Uint8Array, to: Uint8Array, start: number, step: number, count: number, reach: number): void {
  let left = 0;
  for (let k = 0, i = start; k < count; k++, i += step) {
    if (from[i]) left = reach + 1;
    if (left > 0) {
      to[i] = 1;
      left--;
    }
  }
  left = 0;
  for (let k = count - 1, i = start + (count - 1) * step; k >= 0; k--, i -= step) {
    if (from[i]) left = reach + 1;
    if (left > 0) {
      to[i] = 1;
      left--;
    }
  }
}

/** Share of the pixels that are set. */
export function shareOf(mask: Uint8Array): number {
  let n = 0,
    i = 0;
  if (mask.byteOffset % 4 === 0) {
    // Four at a time: each byte of the sum counts its own, and is read before it can overflow.
    const words = new Uint32Array(mask.buffer, mask.byteOffset, mask.length >> 2);
    for (let w = 0; w < words.length;) {
      let sum = 0;
      for (const end = min(words.length, w + 250); w < end; w++) sum = (sum + words[w]) | 0;
      n += (sum & 255) + ((sum >>> 8) & 255) + ((sum >>> 16) & 255) + (sum >>> 24);
    }
    i = words.length << 2;
  }
  for (; i < mask.length; i++) n += mask[i];
  return n / mask.length;
}

/** A frame's covered share differs by this much from those beside it, which agree, when something went wrong in it. */
const ASTRAY = 0.05;
const AGREE = 0.12;

/** Where one frame does not fit between its neighbours, each pixel is what two of the three frames say. */
export function withoutSlips(masks: readonly Uint8Array[]): Uint8Array[] {
  const share = masks.map(shareOf);
  return masks.map((own, f) => {
    const before = masks[f - 1],
      after = masks[f + 1];
    if (!before || !after) return own;
    const [a, b] = [share[f - 1], share[f + 1]];
    if (abs(a - b) > AGREE || (share[f] > min(a, b) - ASTRAY && share[f] < max(a, b) + ASTRAY)) return own;
    const out = new Uint8Array(own.length);
    for (let i = 0; i < out.length; i++) out[i] = own[i] + before[i] + after[i] > 1 ? 1 : 0;
    return out;
  });
}
