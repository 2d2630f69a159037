import { sigmaOf } from '../base/numeric/robust';
import { betweenPixels } from '../base/image/between-pixels';
import { composeSimilarity, IDENTITY, type Similarity } from '../base/geometry/similarity';
import { registerStep } from '../base/image/register';
import { median } from '../base/numeric/quantile';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, ceil, cos, floor, hypot, max, min, round, sin } = Math;

export interface FollowInput {
  width: number;
  height: number;
  count: number;
  /** A frame's picture, valid until the next call; null where it is not known. */
  read: (frame: number) => Uint8Array | null;
  /** 1 where the thing is in the reference frame. */
  mask: Uint8Array;
  reference: number;
  /** Where it may lie in a frame beside where it lay in the one before: how far from the reference; null where nothing hints. */
  hint?: (frame: number) => readonly [number, number] | null;
  signal?: AbortSignal;
}

/** What follows a thing frame by frame: its middle in the reference frame, and where it lies in each frame, about that. */
export interface Followed {
  x: number;
  y: number;
  /** Shift in pixels of the grid; null where it could not be followed. */
  poses: (Similarity | null)[];
}

/** Steps to lay the thing on a frame; it lies there once a step is shorter than this, pixels. */
const STEPS = 12;
const SETTLED = 0.01;
/** Something is still the thing when so much of it agrees, and it differs by no more than so many times what is usual. */
const AGREES = 0.5;
const UNLIKE = 3;
/** Differences of coded pictures, levels, are hardly less than this. */
const LEAST_SPREAD = 1.5;
/** A thing of fewer pixels than these cannot be followed. */
const LEAST = 60;
/** What is not found again in so many frames is given up. */
const GIVEN_UP = 12;
/** A thing that moves fast from frame to frame may lie so far off, in steps of so many pixels. */
const REACH = 12;
const STRIDE = 4;

/**
 * Follows a thing by its look, with turn and size, from a reference frame outwards. Null where it is too small.
 * Robust registration (see `registerStep`) of the pixels within its outline.
 */
export function follow(input: FollowInput): Followed | null {
  const { width, height, mask, reference, count } = input;
  const own = boxOf(mask, width, height);
  const first = own && input.read(reference);
  if (!own || !first || own.n < LEAST) return null;
  const margin = 2;
  const box = { x: own.x - margin, y: own.y - margin, width: own.width + 2 * margin, height: own.height + 2 * margin };
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  const pixels = box.width * box.height;
  const usable = new Uint8Array(pixels);
  for (let v = 0, i = 0; v < box.height; v++)
    for (let u = 0; u < box.width; u++, i++) {
      const [a, b] = [box.x + u, box.y + v];
      usable[i] = a >= 0 && b >= 0 && a < width && b < height && mask[b * width + a] ? 1 : 0;
    }
  const look = (picture: Float32Array, pose: Similarity, out: Float32Array) => {
    const c = pose.scale * cos(pose.rotation),
      s = pose.scale * sin(pose.rotation);
    for (let v = 0, i = 0; v < box.height; v++)
      for (let u = 0; u < box.width; u++, i++) {
        const [p, q] = [u + 0.5 - box.width / 2, v + 0.5 - box.height / 2];
        out[i] = betweenPixels(
          picture,
          width,
          height,
          x + pose.dx + c * p - s * q - 0.5,
          y + pose.dy + s * p + c * q - 0.5,
        );
      }
  };
  const floats = Float32Array.from(first);
  const expected = new Float32Array(pixels);
  look(floats, IDENTITY, expected);
  const seen = new Float32Array(pixels),
    bytes = new Uint8Array(pixels);
  const apart = (pose: Similarity) => {
    look(floats, pose, seen);
    const off: number[] = [];
    for (let i = 0; i < pixels; i++) if (usable[i]) off.push(abs(seen[i] - expected[i]));
    return median(off);
  };
  const poses = new Array<Similarity | null>(count).fill(null);
  poses[reference] = { ...IDENTITY };
  for (const way of [1, -1]) {
    let last: Similarity = { ...IDENTITY };
    const usual: number[] = [];
    let lost = 0;
    for (let f = reference + way; f >= 0 && f < count && lost < GIVEN_UP; f += way) {
      input.signal?.throwIfAborted();
      const picture = input.read(f);
      if (!picture) continue;
      floats.set(picture);
      const hinted = input.hint?.(f);
      const starts = [last, ...(hinted ? [{ ...last, dx: hinted[0], dy: hinted[1] }] : [])];
      let pose = starts.map((p) => ({ p, off: apart(p) })).sort((a, b) => a.off - b.off)[0].p;
      let found = settle(pose);
      // What is lost may have moved fast: it is looked for around where it was.
      if (!found) {
        pose = around(last, apart);
        found = settle(pose);
      }
      lost++;
      if (!found || (usual.length > 0 && found.off > UNLIKE * max(LEAST_SPREAD, median(usual.slice(-25))))) continue;
      lost = 0;
      usual.push(found.off);
      poses[f] = last = found.pose;
    }
  }
  return { x, y, poses };

  function settle(from: Similarity): { pose: Similarity; off: number } | null {
    let pose = from,
      share = 0;
    for (let k = 0; k < STEPS; k++) {
      look(floats, pose, seen);
      for (let i = 0; i < pixels; i++) bytes[i] = round(seen[i]);
      const off: number[] = [];
      for (let i = 0; i < pixels; i++) if (usable[i]) off.push(abs(bytes[i] - expected[i]));
      const spread = max(LEAST_SPREAD, sigmaOf(off));
      const step = registerStep(expected, bytes, usable, box.width, box.height, true, spread);
      if (!step || step.flat) return null;
      share = step.share;
      pose = composeSimilarity(pose, step.step);
      if (hypot(step.step.dx, step.step.dy) < SETTLED) break;
    }
    const off = apart(pose);
    return share >= AGREES && pose.scale > 0.5 && pose.scale < 2 ? { pose, off } : null;
  }
}

function around(from: Similarity, apart: (pose: Similarity) => number): Similarity {
  let best = { pose: from, off: Infinity };
  for (let dy = -REACH; dy <= REACH; dy += STRIDE)
    for (let dx = -REACH; dx <= REACH; dx += STRIDE) {
      const pose = { ...from, dx: from.dx + dx, dy: from.dy + dy };
      const off = apart(pose);
      if (off < best.off) best = { pose, off };
    }
  return best.pose;
}

function boxOf(mask: Uint8Array, width: number, height: number) {
  let n = 0;
  let [left, top, right, bottom] = [width, height, -1, -1];
  for (let i = 0; i < mask.length; i++) {
    if (!mask[i]) continue;
    n++;
    const [x, y] = [i % width, floor(i / width)];
    [left, right] = [min(left, x), max(right, x)];
    [top, bottom] = [min(top, y), max(bottom, y)];
  }
  return n ? { n, x: left, y: top, width: ceil(right - left + 1), height: bottom - top + 1 } : null;
}
