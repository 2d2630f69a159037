/** Connected sets of pixels; see core/base/image/regions.ts. */

/** A run: its first pixel, the one after its last, and the run it was joined to, or itself; three words. */
const RUN = 12;
/** A set: how many pixels, its left, top, right and bottom ends, and the place of its first pixel in the list. */
const SET = 24;

// @ts-ignore: decorator
@inline
function fromOf(runs: usize, k: i32): i32 {
  return load<i32>(runs + usize(k) * RUN);
}

// @ts-ignore: decorator
@inline
function toOf(runs: usize, k: i32): i32 {
  return load<i32>(runs + usize(k) * RUN, 4);
}

// @ts-ignore: decorator
@inline
function joinedTo(runs: usize, k: i32): i32 {
  return load<i32>(runs + usize(k) * RUN, 8);
}

function firstOf(runs: usize, run: i32): i32 {
  let k = run;
  while (joinedTo(runs, k) !== k) {
    const further = joinedTo(runs, joinedTo(runs, k));
    store<i32>(runs + usize(k) * RUN, further, 8);
    k = further;
  }
  return k;
}

/** Lists the runs of bytes that are not 0 along each row, each joined to those that it touches in the row above. */
function listRuns(mask: usize, width: i32, height: i32, runs: usize): i32 {
  let n = 0,
    above = 0;
  for (let y = 0; y < height; y++) {
    const end = (y + 1) * width,
      first = n;
    for (let i = y * width; i < end; ) {
      while (i + 16 <= end && !v128.any_true(v128.load(mask + usize(i)))) i += 16;
      while (i < end && !load<u8>(mask + usize(i))) i++;
      if (i === end) break;
      const from = i;
      while (i + 16 <= end && i8x16.all_true(v128.load(mask + usize(i)))) i += 16;
      while (i < end && load<u8>(mask + usize(i))) i++;
      store<i32>(runs + usize(n) * RUN, from);
      store<i32>(runs + usize(n) * RUN, i, 4);
      store<i32>(runs + usize(n) * RUN, n, 8);
      while (above < first && toOf(runs, above) + width < from) above++;
      for (let k = above; k < first && fromOf(runs, k) + width <= i; k++) {
        const a = firstOf(runs, k),
          b = firstOf(runs, n);
        store<i32>(runs + usize(max(a, b)) * RUN, min(a, b), 8);
      }
      n++;
    }
    above = first;
  }
  return n;
}

/**
 * Finds the connected sets (sides and corners touch) of bytes that are not 0, in the order of their first pixels.
 * `sets` holds six words for each: how many pixels, its left, top, right and bottom ends, and where in `pixels` the
 * numbers of its pixels begin; those of sets of fewer than `least` or more than `most` pixels are not listed. `runs`
 * is scratch of three words for each pixel.
 * @returns how many sets there are
 */
export function listRegions(
  mask: usize,
  width: i32,
  height: i32,
  least: i32,
  most: i32,
  runs: usize,
  sets: usize,
  pixels: usize,
): i32 {
  const n = listRuns(mask, width, height, runs);
  let found = 0;
  for (let k = 0; k < n; k++) {
    const from = fromOf(runs, k),
      to = toOf(runs, k),
      y = from / width,
      left = from - y * width,
      right = to - 1 - y * width;
    // Every run before this one has its set's number already, in place of the run that it was joined to.
    const joined = joinedTo(runs, k),
      own = joined === k ? found : joinedTo(runs, joined);
    store<i32>(runs + usize(k) * RUN, own, 8);
    const set = sets + usize(own) * SET;
    if (own === found) {
      found++;
      store<i32>(set, 0);
      store<i32>(set, left, 4);
      store<i32>(set, y, 8);
      store<i32>(set, right, 12);
    }
    store<i32>(set, load<i32>(set) + to - from);
    store<i32>(set, min(load<i32>(set, 4), left), 4);
    store<i32>(set, max(load<i32>(set, 12), right), 12);
    store<i32>(set, y, 16);
  }
  let at = 0;
  for (let s = 0; s < found; s++) {
    const set = sets + usize(s) * SET,
      count = load<i32>(set);
    store<i32>(set, at, 20);
    if (count >= least && count <= most) at += count;
  }
  for (let k = 0; k < n; k++) {
    const set = sets + usize(joinedTo(runs, k)) * SET,
      count = load<i32>(set);
    if (count < least || count > most) continue;
    let place = load<i32>(set, 20);
    for (let i = fromOf(runs, k), to = toOf(runs, k); i < to; i++) store<i32>(pixels + (usize(place++) << 2), i);
    store<i32>(set, place, 20);
  }
  for (let s = 0; s < found; s++) {
    const set = sets + usize(s) * SET,
      count = load<i32>(set);
    if (count >= least && count <= most) store<i32>(set, load<i32>(set, 20) - count, 20);
  }
  return found;
}
