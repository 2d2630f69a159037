import { median } from '../../base/numeric/quantile';
import { findRegions } from '../../base/image/regions';
import { addressOf as at, Kernels, onceForSize } from '../../base/kernels/kernels';
import { edgesOf, type Way } from './edges';
import { inverse, setAll, shareOf } from '../../base/image/mask';
import { LINES_AT } from './profile';

const { abs, max, min, round } = Math;

/** Frames to each side that have a say in a pixel. */
const SAY = 2;
/** An edge that goes further than this share of the picture in a frame was not followed. */
const JUMP = 0.5;
/** Where more than this is covered, what edges there are are seldom the object's. */
const UNSEEN = 0.97;
/** Steps to each side of which the middle one is taken. */
const NEARBY = 3;
/** A step differs from those about it by this share at most. */
const OWN_STEP = 0.35;

/**
 * Each pixel as most of the frames about it say, looked at where the object has gone: what is open in the object
 * itself stays open, what only looks like the background by chance for a frame or two is covered.
 * @param along where the object is in each frame along its way, mask pixels; zeros for one that stays in its place
 */
export function steadied(
  masks: readonly Uint8Array[],
  along: readonly number[],
  way: Way,
  width: number,
  height: number,
): Uint8Array[] {
  const vertical = way === 90 || way === 270;
  return masks.map((own, f) => {
    const reach = min(SAY, f, masks.length - 1 - f);
    const near: { mask: Uint8Array; shift: number }[] = [];
    for (let g = f - reach; g <= f + reach; g++) near.push({ mask: masks[g], shift: round(along[g] - along[f]) });
    if (near.every(({ mask }) => !mask.includes(1))) return own;
    return asMostSay(near, own, vertical, width, height);
  });
}

/** 1 where more than half of the masks that reach there say so, each looked at so much further on; as it was where they are even. */
function asMostSay(
  near: readonly { mask: Uint8Array; shift: number }[],
  own: Uint8Array,
  vertical: boolean,
  width: number,
  height: number,
): Uint8Array {
  const { kernels, arrays } = roomFor(width * height);
  const long = vertical ? height : width;
  arrays.sums.fill(0);
  arrays.voters.fill(0);
  for (const { mask, shift } of near) {
    for (let k = max(0, -shift); k < min(long, long - shift); k++) arrays.voters[k]++;
    arrays.mask.set(mask);
    kernels.run.addShifted({
      mask: at(arrays.mask),
      sums: at(arrays.sums),
      dx: vertical ? 0 : shift,
      dy: vertical ? shift : 0,
      width,
      height,
    });
  }
  arrays.mask.set(own);
  kernels.run.asMostSay({
    said: at(arrays.sums),
    voters: at(arrays.voters),
    own: at(arrays.mask),
    vertical: vertical ? 1 : 0,
    width,
    height,
    out: at(arrays.out),
  });
  return arrays.out.slice(0, own.length);
}

const roomFor = onceForSize((pixels) =>
  Kernels.with({ mask: ['bytes', pixels], sums: ['bytes', pixels], voters: ['bytes', pixels], out: ['bytes', pixels] }),
);

/**
 * Where an object is in each frame along its way, mask pixels from where it was first seen: by its edges, and on
 * between them as they went.
 */
export function objectPath(masks: readonly Uint8Array[], way: Way, width: number, height: number): number[] {
  const long = way === 90 || way === 270 ? height : width;
  const edges = masks.map((mask) => LINES_AT.map((at) => edgesOf(mask, width, height, way, at)));
  const fullness = masks.map(shareOf);
  const steps = masks.map((_, f) => {
    if (f === 0) return null;
    const gone = LINES_AT.flatMap((_place, k) =>
      (['lead', 'trail'] as const).flatMap((which) => {
        const [a, b] = [edges[f - 1][k][which], edges[f][k][which]];
        return a === null || b === null || abs(b - a) > JUMP * long ? [] : [b - a];
      }),
    );
    return gone.length ? median(gone) : null;
  });
  const seen = steps.flatMap((s, f) => (s === null || fullness[f] > UNSEEN ? [] : [f]));
  const known = seen.length ? seen : steps.flatMap((s, f) => (s === null ? [] : [f]));
  // A place where the object looks like the background has an edge too, which stays: the middle of several steps is the object's.
  const usual = new Map(
    known.map((f, k) => {
      const middle = median(known.slice(max(0, k - NEARBY), k + NEARBY + 1).map((g) => steps[g]!));
      return [f, abs(steps[f]! - middle) < OWN_STEP * abs(middle) ? steps[f]! : middle];
    }),
  );
  const out = [0];
  for (let f = 1, next = 0; f < masks.length; f++) {
    if (known.length === 0) {
      out.push(0);
      continue;
    }
    while (next < known.length && known[next] < f) next++;
    const b = known[min(next, known.length - 1)],
      a = b <= f ? b : known[max(0, next - 1)];
    const step = a === b ? usual.get(a)! : usual.get(a)! + ((f - a) / (b - a)) * (usual.get(b)! - usual.get(a)!);
    out.push(out[f - 1] + step);
  }
  return out;
}

/** Open places up to this share of the picture are put to the vote. */
const PLACE = 0.06;
/** Frames that vote: each so many, up to so far away; and how many votes for a pixel, on the mean, and what share of them, decide. */
const VOTE_EVERY = 3;
const VOTE_REACH = 15;
const LEAST_VOTES = 2;
const DECIDES = 0.65;

/**
 * Fills open places at which the object is seen in most of the other frames, wherever it has gone: there it looks like
 * what lies behind by chance. What is open in the object itself is open in all of them.
 * @param along as for `steadied`. @param from first, @param to last frame to look at
 */
export function filledByVote(
  masks: readonly Uint8Array[],
  along: readonly number[],
  way: Way,
  width: number,
  height: number,
  from: number,
  to: number,
): Uint8Array[] {
  const vertical = way === 90 || way === 270,
    long = vertical ? height : width;
  return masks.map((own, f) => {
    if (f < from || f > to) return own;
    const places = findRegions(inverse(own), width, height, 1, PLACE * own.length);
    if (places.length === 0) return own;
    const out = own.slice();
    for (const { pixels } of places) {
      let said = 0,
        asked = 0;
      for (let g = max(from, f - VOTE_REACH); g <= min(to, f + VOTE_REACH); g++) {
        const shift = round(along[g] - along[f]);
        if (g === f || (g - f) % VOTE_EVERY !== 0 || abs(shift) >= long) continue;
        for (let k = 0; k < pixels.length; k++) {
          const i = pixels[k],
            place = (vertical ? (i / width) | 0 : i % width) + shift;
          if (place < 0 || place >= long) continue;
          asked++;
          said += masks[g][i + shift * (vertical ? width : 1)];
        }
      }
      if (asked >= LEAST_VOTES * pixels.length && said > DECIDES * asked) setAll(out, pixels);
    }
    return out;
  });
}
