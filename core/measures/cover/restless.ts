import type { SmallPicture, SmallSize } from '../../base/image/picture';
import { boxMean } from '../../base/image/regions';
import type { PictureStack } from '../../base/image/stack';
import { grown } from '../../base/image/mask';

const { abs, max, min, sqrt } = Math;

/** What moves by itself behind the object, and how it looks from afar: by its mean over small squares, which leaves in the wind keep. */
export interface RestlessPlaces {
  /** 1 where the picture moves by itself. */
  mask: Uint8Array;
  /** Mean over squares, and how it varies, levels. */
  luma: Float32Array;
  spread: Float32Array;
  blue: Float32Array;
  red: Float32Array;
}

/** Frames with less than this covered, and not close to one with more, show what is behind. */
const OUTSIDE = 0.1;
const CLOSE = 2;
const LEAST_FRAMES = 6;
/** A pixel that varies by this many levels, and times the noise, moves by itself. */
const STIRS = 3.5;
const STIRS_NOISE = 2.5;
const LEAST_SHARE = 0.01;
/** Half side of the squares, and what their mean may differ by: levels, and times what it varies by. */
const SQUARE = 3;
const ALLOWED = 6;
const ALLOWED_SPREADS = 4;
const ALLOWED_COLOUR = 7;

/** Learns from the frames in which the object is not in what moves by itself, for a camera that stands still; null when nothing does. */
export function learnRestless(
  stack: PictureStack,
  swept: readonly { share: number; gain: number }[],
  size: SmallSize,
  noise: number,
): RestlessPlaces | null {
  const frames = swept.flatMap((_, f) =>
    swept.slice(max(0, f - CLOSE), f + CLOSE + 1).every((s) => s.share < OUTSIDE) ? [f] : [],
  );
  if (frames.length < LEAST_FRAMES) return null;
  const { width, height } = size;
  const pixels = width * height;
  const plane = () => new Float32Array(pixels);
  const mask = new Uint8Array(pixels);
  const lows: Float32Array[] = [],
    blues: Float32Array[] = [],
    reds: Float32Array[] = [];
  // Before and after the object each by itself: something that was put down or stopped is another picture, but does not stir.
  for (const group of groupsOf(frames)) {
    const sum = plane(),
      square = plane();
    for (const f of group) {
      const picture = stack.read(f),
        gain = swept[f].gain;
      for (let i = 0; i < pixels; i++) {
        const v = picture.luma[i] / gain;
        sum[i] += v;
        square[i] += v * v;
      }
      const { luma, blue, red } = fromAfar(picture, size, gain);
      lows.push(luma);
      blues.push(blue);
      reds.push(red);
    }
    const n = group.length,
      least = max(STIRS, STIRS_NOISE * noise);
    if (n >= 3) for (let i = 0; i < pixels; i++) if (square[i] / n - (sum[i] / n) ** 2 > least * least) mask[i] = 1;
  }
  const wide = grown(mask, width, height, 2);
  if (wide.reduce((a, b) => a + b, 0) < LEAST_SHARE * pixels) return null;
  const mean = (all: Float32Array[]) => {
    const out = plane();
    for (const one of all) for (let i = 0; i < pixels; i++) out[i] += one[i] / all.length;
    return out;
  };
  const luma = mean(lows),
    spread = plane();
  for (const one of lows) for (let i = 0; i < pixels; i++) spread[i] += (one[i] - luma[i]) ** 2 / lows.length;
  for (let i = 0; i < pixels; i++) spread[i] = sqrt(spread[i]);
  return { mask: wide, luma, spread, blue: mean(blues), red: mean(reds) };
}

/** A take that shows more than `OUTSIDE` in front in so many first frames begins with what stirs, or with the object in. */
const FIRST = 12;
const SOON = 3;
/** What stirs in its place keeps its look from afar to so many levels; what passes does not, on more than this share of its way. */
const KEEPS_LOOK = 9;
const PASSES = 0.1;

/**
 * What stirs from the first frame on, where so much of it does that no frame seems free of an object; null when the
 * take begins quietly, or nothing stirs.
 */
export function stirringFromStart(
  stack: PictureStack,
  swept: readonly { share: number; gain: number }[],
  size: SmallSize,
  noise: number,
): RestlessPlaces | null {
  const first = swept.slice(SOON, FIRST);
  if (swept.length < 2 * FIRST || first.some((s) => s.share < OUTSIDE)) return null;
  const free = swept.map(({ gain }, f) => ({ gain, share: f < FIRST + CLOSE ? 0 : 1 }));
  const places = learnRestless(stack, free, size, noise);
  if (!places) return null;
  let stirs = 0,
    passes = 0;
  for (let i = 0; i < places.mask.length; i++) {
    if (!places.mask[i]) continue;
    stirs++;
    if (places.spread[i] > KEEPS_LOOK) passes++;
  }
  return passes > PASSES * stirs ? null : places;
}

function groupsOf(frames: readonly number[]): number[][] {
  const out: number[][] = [];
  for (const f of frames) {
    if (out.length && f === out[out.length - 1][out[out.length - 1].length - 1] + 1) out[out.length - 1].push(f);
    else out.push([f]);
  }
  return out;
}

/** Judges the places that move by themselves by their means over squares; `out` is changed there. */
export function testRestless(
  out: Uint8Array,
  places: RestlessPlaces,
  picture: SmallPicture,
  gain: number,
  size: SmallSize,
): void {
  const { luma, blue, red } = fromAfar(picture, size, gain);
  for (let i = 0; i < out.length; i++) {
    if (!places.mask[i]) continue;
    const bright = abs(luma[i] - places.luma[i]) > max(ALLOWED, ALLOWED_SPREADS * places.spread[i]);
    out[i] = bright || abs(blue[i] - places.blue[i]) + abs(red[i] - places.red[i]) > ALLOWED_COLOUR ? 1 : 0;
  }
}

function fromAfar(
  { luma, blue, red }: SmallPicture,
  { width, height, colourWidth, colourHeight }: SmallSize,
  gain: number,
) {
  const pixels = width * height;
  const low = boxMean(luma, width, height, SQUARE, new Float32Array(pixels));
  const half = Math.ceil(SQUARE / 2);
  const b = boxMean(blue, colourWidth, colourHeight, half, new Float32Array(colourWidth * colourHeight)),
    r = boxMean(red, colourWidth, colourHeight, half, new Float32Array(colourWidth * colourHeight));
  const outBlue = new Float32Array(pixels),
    outRed = new Float32Array(pixels);
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      low[i] /= gain;
      const c = min(colourHeight - 1, y >> 1) * colourWidth + min(colourWidth - 1, x >> 1);
      outBlue[i] = b[c];
      outRed[i] = r[c];
    }
  }
  return { luma: low, blue: outBlue, red: outRed };
}
