import { median } from '../../base/numeric/quantile';
import type { Mirrored } from '../../report/pair-types';
import type { Background } from '../../scene/background';
import { runsAmong, type PassPicture } from './thrown';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, ceil, floor, max, min, sqrt } = Math;

/** A floor mirrors whoever stands on it by this share, at least and at most: what is as strong as they are is their own body. */
const FAINTEST = 0.05;
const STRONGEST = 0.5;
/** Where the floor is too plain to show whether it shines through, by less. */
const STRONGEST_UNSEEN = 0.4;
/** So much of what differs below the feet is explained by what differs above them, turned over. */
const EXPLAINED = 0.6;
/** And what they wear, not their outline alone, which a shadow may share: so closely its pattern goes along. */
const PATTERN = 0.75;
/** A pattern shows by this many times the noise. */
const CLEAR = 1.5;
/** So much of the floor's own texture shines through, and no more than there is. */
const SHINES_THROUGH = [0.6, 1.4];
/** What leaves so much of the background's texture is light that falls on it, and nobody. */
const LIGHT = 0.5;
/** The feet are in this lower part of whoever is in with their mirror image, and so many small pixels of it count at least. */
const FEET_FROM = 0.35;
const LEAST_ROWS = 6;
const LEAST_SHOWN = 0.15;
const LEAST_PIXELS = 40;
/** A figure of fewer rows shows too little. */
const LEAST_HEIGHT = 16;
/** It is in so many of the pictures that show anybody, at least in this many, about as strong in all of them. */
const LEAST_SHARE = 0.4;
const LEAST_PICTURES = 3;
const ALIKE = 0.35;
/** So many pictures are enough. */
const LOOKS = 12;
/** What is common to a picture is told by every so many pixels. */
const STEP = 11;
/** A place is theirs where they differ from the background by so many times the noise. */
const THEIRS = 4;

/** How one figure is mirrored in one picture. Small pixels. */
interface Image {
  frame: number;
  strength: number;
  line: number;
  left: number;
  right: number;
  bottom: number;
  over: boolean;
}

/**
 * Whether whoever is in a pass is mirrored in the floor they stand on: below their feet the picture differs from the empty
 * one as they do, turned over and weaker, while the floor's own texture shines through. Null where they are not, or wear
 * nothing that tells their mirror image from a shadow.
 * @param beyond 1 at the small pixels of the other pass's part; null where no line parts the two
 * @param factor source pixels for one small pixel
 */
export function mirroredIn(
  pictures: readonly PassPicture[],
  background: Background,
  beyond: Uint8Array | null,
  factor: number,
): Mirrored | null {
  const all = pictures.filter((p) => p.figures.length > 0);
  const shown = all.filter((_, k) => k % ceil(all.length / LOOKS) === 0);
  const { sigma } = background;
  const noise = median(Float32Array.from({ length: floor(sigma.length / STEP) }, (_, k) => sigma[STEP * k]));
  const found = shown.flatMap((p) => {
    const off = differenceOf(p, background);
    const each = p.figures.flatMap((f) => imageOf(f.rows, off, p, background, noise, beyond) ?? []);
    return each.length ? [each.reduce((a, b) => (b.strength > a.strength ? b : a))] : [];
  });
  const usual = found.length ? median(found.map((i) => i.strength)) : 0;
  const images = found.filter((i) => abs(i.strength - usual) <= ALIKE * usual);
  if (images.length < LEAST_PICTURES || images.length < LEAST_SHARE * shown.length) return null;
  const typical = images.reduce((a, b) => (abs(b.strength - usual) < abs(a.strength - usual) ? b : a));
  return {
    runs: runsAmong(
      shown.map((p) => p.frame),
      images.map((i) => i.frame),
    ),
    frame: typical.frame,
    share: usual,
    x_px: typical.left * factor,
    y_px: typical.line * factor,
    width_px: (typical.right - typical.left + 1) * factor,
    height_px: (typical.bottom + 1 - typical.line) * factor,
    over: images.filter((i) => i.over).map((i) => i.frame),
  };
}

/** Levels by which a picture differs from the background, but for the light of the whole. */
function differenceOf({ picture }: PassPicture, { luma }: Background): Float32Array {
  const off = new Float32Array(luma.length);
  for (let i = 0; i < off.length; i++) off[i] = picture.luma[i] - luma[i];
  const common = median(Float32Array.from({ length: floor(off.length / STEP) }, (_, k) => off[STEP * k]));
  for (let i = 0; i < off.length; i++) off[i] = picture.seen && !picture.seen[i] ? 0 : off[i] - common;
  return off;
}

/** The mirror image below one figure's feet. */
function imageOf(
  rows: ArrayLike<number>,
  off: Float32Array,
  { frame, picture }: PassPicture,
  background: Background,
  noise: number,
  beyond: Uint8Array | null,
): Image | null {
  const { width, height } = background;
  let top = height,
    bottom = 0,
    left = width,
    right = 0;
  for (let r = 0; r < rows.length; r += 4) {
    top = min(top, rows[r]);
    bottom = max(bottom, rows[r]);
    left = min(left, rows[r + 1]);
    right = max(right, rows[r + 2]);
  }
  if (bottom - top < LEAST_HEIGHT) return null;
  const least = max(LEAST_ROWS, LEAST_SHOWN * (bottom - top));
  let best: (Image & { explained: number }) | null = null;
  // Rows y and `sum` - y mirror each other.
  for (let sum = ceil(2 * (top + FEET_FROM * (bottom - top))); sum <= 2 * bottom + 2; sum++) {
    const first = floor(sum / 2) + 1,
      last = min(height - 1, sum - top);
    if (last - first + 1 < least) continue;
    const part = { first, last, left, right, sum, width };
    const fit = fitMirrored(off, part, THEIRS * noise);
    if (!fit || fit.explained < max(EXPLAINED, best?.explained ?? 0) || fit.pattern < PATTERN) continue;
    if (fit.strength < FAINTEST || fit.strength > STRONGEST || fit.spread < CLEAR * noise) continue;
    const shines = throughIt(picture.luma, off, background, part, fit);
    if (shines === null ? fit.strength > STRONGEST_UNSEEN : shines < SHINES_THROUGH[0] || shines > SHINES_THROUGH[1])
      continue;
    const above = fit.pixels.map((i) => turned(part, i));
    if ((textureKept((i) => picture.luma[i], background, above) ?? 0) > LIGHT) continue;
    const over = !!beyond && fit.pixels.some((i) => beyond[i]);
    best = {
      frame,
      strength: fit.strength,
      line: (sum + 1) / 2,
      left,
      right,
      bottom: fit.lowest,
      over,
      explained: fit.explained,
    };
  }
  return best;
}

/** A part of the picture below a line, and what lies above it, turned over. */
interface Below {
  first: number;
  last: number;
  left: number;
  right: number;
  /** Rows that mirror each other add up to this. */
  sum: number;
  width: number;
}

/** How strongly, and how well, what differs above a line explains what differs below it. */
function fitMirrored(off: Float32Array, part: Below, theirs: number) {
  let own = 0,
    cross = 0,
    all = 0;
  const pixels: number[] = [];
  let n = 0,
    sumUp = 0,
    sumDown = 0,
    upUp = 0,
    upDown = 0,
    downDown = 0;
  eachBelow(part, (i, above) => {
    const down = off[i],
      up = off[above];
    own += up * up;
    cross += up * down;
    all += down * down;
    if (abs(up) < theirs) return;
    pixels.push(i);
    n++;
    sumUp += up;
    sumDown += down;
    upUp += up * up;
    upDown += up * down;
    downDown += down * down;
  });
  if (n < LEAST_PIXELS || own === 0 || all === 0) return null;
  const strength = cross / own;
  const varUp = upUp / n - (sumUp / n) ** 2,
    varDown = downDown / n - (sumDown / n) ** 2;
  return {
    strength,
    explained: (cross * cross) / (own * all),
    pattern: (upDown / n - (sumUp * sumDown) / (n * n)) / sqrt(max(1e-9, varUp * varDown)),
    /** What the pattern differs by below, levels. */
    spread: strength * sqrt(max(0, varUp)),
    pixels,
    lowest: floor(pixels[pixels.length - 1] / part.width),
  };
}

/** How much of the floor's texture is left in a mirror image, as a share; null where the floor shows none. */
function throughIt(
  luma: Uint8Array,
  off: Float32Array,
  background: Background,
  part: Below,
  { strength, pixels }: { strength: number; pixels: readonly number[] },
): number | null {
  return textureKept((i) => luma[i] - strength * off[turned(part, i)], background, pixels);
}

/** How much of the background's fine texture some pixels show, as a share; null where it has none. */
function textureKept(
  shown: (i: number) => number,
  { luma, sigma, width }: Background,
  pixels: readonly number[],
): number | null {
  const fine = (at: (i: number) => number, i: number) =>
    at(i) - (at(i - 1) + at(i + 1) + at(i - width) + at(i + width)) / 4;
  const among = new Set(pixels);
  let own = 0,
    kept = 0,
    noise = 0,
    n = 0;
  for (const i of pixels) {
    if (![i - 1, i + 1, i - width, i + width].every((k) => among.has(k))) continue;
    const there = fine((k) => luma[k], i);
    own += there * there;
    kept += there * fine(shown, i);
    noise += 1.25 * sigma[i] * sigma[i];
    n++;
  }
  return n < LEAST_PIXELS / 2 || own < 2 * noise ? null : kept / own;
}

/** The pixel that mirrors another. */
const turned = ({ sum, width }: Below, i: number) => (sum - floor(i / width)) * width + (i % width);

function eachBelow({ first, last, left, right, sum, width }: Below, use: (i: number, above: number) => void): void {
  for (let y = first; y <= last; y++) for (let x = left; x <= right; x++) use(y * width + x, (sum - y) * width + x);
}
