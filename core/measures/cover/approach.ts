import {
  applySimilarity,
  composeSimilarity,
  IDENTITY,
  invertSimilarity,
  type Similarity,
} from '../../base/geometry/similarity';
import type { SmallSize } from '../../base/image/picture';
import { median, quantile } from '../../base/numeric/quantile';
import { isSmall, registerStep } from '../../base/image/register';
import type { CoverMeasure } from '../../report/wipe-types';
import type { PictureStack } from '../../base/image/stack';
import { shareOf } from '../../base/image/mask';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, floor, max, min, sqrt } = Math;

/** The object is followed back from the first frame in which it fills this share of what it fills at most. */
const FROM = 0.55;

/**
 * What the camera walks up to is in the picture from the start and looks like background there. From a frame in which
 * it stands out it is followed back by its own picture.
 */
export function followBack(stack: PictureStack, masks: readonly Uint8Array[], size: SmallSize): Uint8Array[] {
  const { width, height } = size;
  const share = masks.map(shareOf);
  const most = max(...share, 0);
  const from = share.findIndex((s) => s >= FROM * most);
  const out = [...masks];
  if (from <= 0 || most < 0.2) return out;
  let pose: Similarity = { ...IDENTITY };
  let expected = Float32Array.from(stack.read(from).luma);
  let mask = masks[from];
  for (let f = from - 1; f >= 0; f--) {
    const seen = stack.read(f).luma.slice();
    let step: Similarity = { ...IDENTITY };
    for (let round = 0; round < 6; round++) {
      const view = laid(expected, step, width, height),
        usable = laidMask(mask, step, width, height);
      const found = registerStep(view, seen, usable, width, height, round > 0, null);
      if (!found || found.flat) break;
      step = composeSimilarity(found.step, step);
      if (isSmall(found.step, width) && round > 0) break;
    }
    pose = composeSimilarity(step, pose);
    mask = laidMask(masks[from], pose, width, height);
    out[f] = mask;
    expected = Float32Array.from(seen);
  }
  return out;
}

function laid(plane: Float32Array, t: Similarity, width: number, height: number): Float32Array {
  const out = new Float32Array(plane.length);
  each(t, width, height, (o, u, v) => {
    const i = max(0, min(width - 2, floor(u))),
      j = max(0, min(height - 2, floor(v)));
    const fx = max(0, min(1, u - i)),
      fy = max(0, min(1, v - j)),
      p = j * width + i;
    out[o] =
      (1 - fy) * ((1 - fx) * plane[p] + fx * plane[p + 1]) +
      fy * ((1 - fx) * plane[p + width] + fx * plane[p + width + 1]);
  });
  return out;
}

function laidMask(mask: Uint8Array, t: Similarity, width: number, height: number): Uint8Array {
  const out = new Uint8Array(mask.length);
  each(t, width, height, (o, u, v) => {
    const i = floor(u + 0.5),
      j = floor(v + 0.5);
    out[o] = i >= 0 && j >= 0 && i < width && j < height ? mask[j * width + i] : 0;
  });
  return out;
}

function each(t: Similarity, width: number, height: number, put: (o: number, u: number, v: number) => void): void {
  const back = invertSimilarity(t);
  const cx = (width - 1) / 2,
    cy = (height - 1) / 2;
  for (let y = 0, o = 0; y < height; y++) {
    for (let x = 0; x < width; x++, o++) {
      const [u, v] = applySimilarity(back, x - cx, y - cy);
      put(o, u + cx, v + cy);
    }
  }
}

/** Frames over which the speed of an approach is taken. */
const STRIDE = 5;

/** What lies behind tells how the camera is turned while this much of the picture is open at least. */
const TELLS = 0.4;
const LEAST_TURNS = 4;

/**
 * How well the object is kept in the middle, and how evenly the camera comes nearer, from its masks; how far the camera
 * rolls from the turn of what lies behind it.
 * @param turned turn of what lies behind in each frame, degrees; null where it was not seen
 */
export function approachOf(
  masks: readonly Uint8Array[],
  turned: readonly (number | null)[],
  from: number,
  to: number,
  { width, height }: SmallSize,
  scale: number,
): NonNullable<CoverMeasure['approach']> {
  const centres: [number, number][] = [],
    sizes: number[] = [];
  const turns = turned
    .slice(from, to + 1)
    .flatMap((t, k) => (t !== null && shareOf(masks[from + k]) < 1 - TELLS ? [t] : []));
  for (let f = from; f <= to && f < masks.length; f++) {
    const m = masks[f];
    let n = 0,
      sx = 0,
      sy = 0,
      cut = 0;
    for (let y = 0, i = 0; y < height; y++)
      for (let x = 0; x < width; x++, i++)
        if (m[i]) {
          n++;
          sx += x;
          sy += y;
          if (x === 0 || y === 0 || x === width - 1 || y === height - 1) cut++;
        }
    // Once it is cut by the picture's edges its middle is not to be seen.
    if (n < 40 || cut > 0.02 * (width + height)) continue;
    const mx = sx / n,
      my = sy / n;
    centres.push([mx, my]);
    sizes.push(sqrt(n));
  }
  if (centres.length < 4) return { off_centre_px: 0, sway_px: 0, roll_deg: 0, speed_spread: 0 };
  const cx = median(centres.map((c) => c[0])),
    cy = median(centres.map((c) => c[1]));
  const sway = quantile(
    centres.map((c) => Math.hypot(c[0] - cx, c[1] - cy)),
    0.9,
  );
  // A steady walk makes the inverse of the size fall by the same amount in each frame.
  const steps: number[] = [];
  for (let k = STRIDE; k < sizes.length; k++) steps.push((1 / sizes[k - STRIDE] - 1 / sizes[k]) / STRIDE);
  const usual = median(steps);
  return {
    off_centre_px: Math.hypot(cx - (width - 1) / 2, cy - (height - 1) / 2) * scale,
    sway_px: sway * scale,
    roll_deg: turns.length < LEAST_TURNS ? 0 : (quantile(turns, 0.9) - quantile(turns, 0.1)) / 2,
    speed_spread: steps.length > 3 && usual !== 0 ? abs((quantile(steps, 0.9) - quantile(steps, 0.1)) / 2 / usual) : 0,
  };
}
