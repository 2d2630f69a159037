import { boxMean, findRegions } from '../../base/image/regions';
import type { SmallPicture, SmallSize } from '../../base/image/picture';
import type { PictureStack } from '../../base/image/stack';
import { grown, inverse, setAll, shareOf, solidMask } from '../../base/image/mask';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { log, max, min } = Math;

/** Colours are counted in so many steps of brightness and of each colour difference. */
const STEPS = 16;
const BINS = STEPS * STEPS * STEPS;
/** A colour never seen counts for so much of a picture. */
const UNSEEN = 2e-4;
/** The two looks are told apart when no more than this of the first frame is likelier of the last one, and this of that. */
const MOST_ALIKE = 0.12;
const LEAST_OWN = 0.2;
/** Half side of the squares whose pixels decide together; how far the object's outline may lie outside the next frame's. */
const SQUARE = 2;
const SHAKE = 3;
/** How much of what is known of a look a frame renews. */
const RENEWS = 0.15;
const LEAST_OUTSIDE = 0.04;
/** The surroundings' look is renewed while the object covers less than this; one that covers so much may be cut off all round. */
const HALFWAY = 0.5;
const FULLY = 0.97;

/**
 * What a camera walks up to, in every frame, by its look: whatever the last frame shows and the first does not, followed back
 * to the start. Its outline may only close in on the way back, and each pixel belongs to the look (brightness and colour) that
 * it is likelier of. Null when object and surroundings look too much alike for that.
 */
export function walkedUpTo(stack: PictureStack, frames: number, size: SmallSize): Uint8Array[] | null {
  const { width, height } = size;
  if (frames < 2) return null;
  // Should the last frame show more than the object, that is still rarer in it than in the first.
  const object = lookOf(stack.read(frames - 1), size, null)!,
    around = lookOf(stack.read(0), size, null)!;
  if (likelierOf(object, around, around) > MOST_ALIKE || likelierOf(object, around, object) < LEAST_OWN) return null;
  const out = new Array<Uint8Array>(frames);
  const ratio = new Float32Array(width * height),
    smooth = new Float32Array(width * height);
  let next: Uint8Array = new Uint8Array(width * height).fill(1);
  for (let f = frames - 1; f >= 0; f--) {
    const picture = stack.read(f);
    each(picture, size, (i, bin) => {
      ratio[i] = log((object[bin] + UNSEEN) / (around[bin] + UNSEEN));
    });
    boxMean(ratio, width, height, SQUARE, smooth);
    const within = shareOf(next) > FULLY ? null : grown(next, width, height, SHAKE);
    const raw = Uint8Array.from(smooth, (v, i) => (v > 0 && (!within || within[i]) ? 1 : 0));
    const mask = connected(raw, next, size);
    out[f] = mask;
    const share = shareOf(mask);
    if (share === 0) {
      for (let k = f; k >= 0; k--) out[k] = mask;
      break;
    }
    // Nearer by, in other light, both look a little different.
    renew(object, lookOf(picture, size, mask));
    if (1 - share > LEAST_OUTSIDE && share < HALFWAY)
      renew(around, lookOf(picture, size, inverse(grown(mask, width, height, SHAKE))));
    next = mask;
  }
  return out;
}

/** The part of a mask that goes on with the object of the next frame, without holes. */
function connected(raw: Uint8Array, next: Uint8Array, { width, height }: SmallSize): Uint8Array {
  const solid = solidMask(raw, width, height);
  let best: Int32Array | null = null,
    most = 0;
  for (const { pixels } of findRegions(solid, width, height)) {
    let n = 0;
    for (const i of pixels) n += next[i];
    if (n > most) {
      most = n;
      best = pixels;
    }
  }
  const out = new Uint8Array(raw.length);
  if (best) setAll(out, best);
  // What it encloses is its own.
  for (const r of findRegions(inverse(out), width, height))
    if (r.left > 0 && r.top > 0 && r.right < width - 1 && r.bottom < height - 1) setAll(out, r.pixels);
  return out;
}

/** Calls back for every pixel with the number of its colour. */
function each({ luma, blue, red }: SmallPicture, size: SmallSize, put: (i: number, bin: number) => void): void {
  const { width, height, colourWidth, colourHeight } = size;
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      const c = min(colourHeight - 1, y >> 1) * colourWidth + min(colourWidth - 1, x >> 1);
      put(i, ((luma[i] >> 4) * STEPS + fine(blue[c])) * STEPS + fine(red[c]));
    }
  }
}

/** Colour differences are mostly small: finer steps about grey. */
function fine(v: number): number {
  return max(0, min(STEPS - 1, (v - 128 + 6 * (STEPS / 2)) / 6)) | 0;
}

/** How often each colour occurs, as shares; neighbouring brightnesses lend to each other. Null where there is nothing to look at. */
function lookOf(picture: SmallPicture, size: SmallSize, where: Uint8Array | null): Float64Array | null {
  const counts = new Float64Array(BINS);
  let n = 0;
  each(picture, size, (i, bin) => {
    if (where && !where[i]) return;
    counts[bin]++;
    n++;
  });
  if (n === 0) return null;
  const out = new Float64Array(BINS);
  const one = STEPS * STEPS;
  for (let k = 0; k < BINS; k++) {
    const v = counts[k] / n;
    if (v === 0) continue;
    out[k] += 0.5 * v;
    out[k >= one ? k - one : k] += 0.25 * v;
    out[k + one < BINS ? k + one : k] += 0.25 * v;
  }
  return out;
}

function renew(look: Float64Array, by: Float64Array | null): void {
  if (by) for (let k = 0; k < BINS; k++) look[k] += RENEWS * (by[k] - look[k]);
}

/** The share of a picture's colours that are likelier of one look than of another. */
function likelierOf(one: Float64Array, other: Float64Array, colours: Float64Array): number {
  let sum = 0;
  for (let k = 0; k < BINS; k++) if (one[k] > other[k]) sum += colours[k];
  return sum;
}
