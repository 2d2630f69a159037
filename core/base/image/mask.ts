import { findRegions } from './regions';
import { addressOf as at, Kernels, onceForSize } from '../kernels/kernels';

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
  for (const r of findRegions(inverse(raw), width, height, 1, HOLE * pixels)) {
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
  for (const r of findRegions(inverse(mask), width, height, 1, DOUBTFUL * mask.length)) {
    let n = 0;
    for (const i of r.pixels) n += doubtful[i];
    if (n >= MOSTLY * r.pixels.length) setAll(mask, r.pixels);
  }
}

/** Sets each pixel to what most of the (2 r + 1) squared pixels about it are; those beyond the picture's edges do not vote. */
function majority(mask: Uint8Array, width: number, height: number, r: number): void {
  const { kernels, arrays } = roomFor((width + 4 * r) * (height + 4 * r));
  arrays.mask.set(mask);
  kernels.run.majority({ mask: at(arrays.mask), width, height, r, columns: at(arrays.line), out: at(arrays.out) });
  mask.set(arrays.out.subarray(0, mask.length));
}

/** Pixels within `reach` of a set one, across and down, as 1. */
export function grown(mask: Uint8Array, width: number, height: number, reach: number): Uint8Array {
  const { kernels, arrays } = roomFor((width + 4 * reach) * (height + 4 * reach));
  arrays.mask.set(mask);
  kernels.run.grow({
    mask: at(arrays.mask),
    width,
    height,
    reach,
    line: at(arrays.line),
    rows: at(arrays.rows),
    out: at(arrays.out),
  });
  return arrays.out.slice(0, mask.length);
}

/**
 * All columns that an object lies in, or all rows where it is not `across`, and those within `reach` of them: parts of
 * it may not be found yet.
 */
export function wholeBand(mask: Uint8Array, width: number, height: number, across: boolean, reach: number): Uint8Array {
  const { kernels, arrays } = roomFor((width + 4 * reach) * (height + 4 * reach));
  arrays.mask.set(mask);
  kernels.run.widenToBand({
    mask: at(arrays.mask),
    width,
    height,
    across: across ? 1 : 0,
    reach,
    line: at(arrays.line),
    out: at(arrays.out),
  });
  return arrays.out.slice(0, mask.length);
}

/** The number of pixels that change from one mask to the next; notes in `ever` those that are ever set. */
export function changesBetween(before: Uint8Array, after: Uint8Array, ever: Uint8Array): number {
  const { kernels, arrays } = roomFor(ever.length);
  arrays.mask.set(before);
  arrays.rows.set(after);
  arrays.out.set(ever);
  const n = kernels.run.changesBetween({
    before: at(arrays.mask),
    after: at(arrays.rows),
    ever: at(arrays.out),
    count: ever.length,
  });
  ever.set(arrays.out.subarray(0, ever.length));
  return n;
}

/** Bytes that a loop may write beyond what it was asked for. */
const BEYOND = 64;

/** @param pixels of the mask with as much again about it as is looked at */
const roomFor = onceForSize((pixels) =>
  Kernels.with({
    mask: ['bytes', pixels],
    line: ['bytes', pixels + BEYOND],
    rows: ['bytes', pixels + BEYOND],
    out: ['bytes', pixels + BEYOND],
  }),
);

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
