import { solvePositive } from '../geometry/least-squares';
import { composeSimilarity, type Similarity } from '../geometry/similarity';
import { quantile } from '../image/quantile';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { abs, hypot, max, min } = Math;

/** Two pictures of one size, the second to be laid on the first. */
export interface Registration {
  /** The correction: where the expected picture's content lies in the seen one, about the centre. */
  step: Similarity;
  /** Share of the usable pixels that agree. */
  share: number;
  /** Spread of what is left, levels. */
  residual: number;
  /** Brightness of the seen over the expected picture, a factor. */
  gain: number;
}

/** Pixels whose slopes say nothing about where the picture lies, levels a pixel squared. */
const LEAST_SLOPES = 40;
/** Tukey's constant: 95 % efficiency on normal residuals (Beaton and Tukey 1974). */
const TUKEY = 4.685;
const LEAST_SPREAD = 1;
/** Edges may be this far off before they count as something else, pixels. */
const ASTRAY = 2;

/**
 * One step of laying `expected` on `seen`: similarity and brightness by robust least squares on the pixels themselves
 * (Lucas and Kanade 1981, with the slopes of both pictures as Benhimane and Malis 2004, and Tukey's weights), so that what moves
 * otherwise does not pull.
 * @param usable 1 where both pictures may be compared
 * @param free null lets shift alone be found; otherwise turn and size too
 */
export function registerStep(expected: Float32Array, seen: Uint8Array, usable: Uint8Array, width: number, height: number, freely: boolean, spread: number | null): Registration | null {
  const n = freely ? 5 : 3;
  const normal = new Float64Array(n * n), right = new Float64Array(n), row = new Float64Array(n);
  const cx = (width - 1) / 2, cy = (height - 1) / 2;
  const samples: number[] = [];
  const step = 2;
  for (let y = 1; y < height - 1; y += 3) for (let x = 1; x < width - 1; x += 3) if (usable[y * width + x]) samples.push(abs(seen[y * width + x] - expected[y * width + x]));
  if (samples.length < 60) return null;
  const scale = max(LEAST_SPREAD, spread ?? 1.4826 * quantile(samples, 0.5));
  const cut = TUKEY * scale;
  let agree = 0, count = 0, slopes = 0;
  for (let y = 1; y < height - 1; y++) {
    for (let x = 1 + (y & 1); x < width - 1; x += step) {
      const i = y * width + x;
      if (!(usable[i] && usable[i - 1] && usable[i + 1] && usable[i - width] && usable[i + width])) continue;
      count++;
      const r = seen[i] - expected[i];
      const gx = 0.25 * (expected[i + 1] - expected[i - 1] + seen[i + 1] - seen[i - 1]), gy = 0.25 * (expected[i + width] - expected[i - width] + seen[i + width] - seen[i - width]);
      const steep = gx * gx + gy * gy;
      // An edge that is still a little off must not be taken for something else: it knows best where the picture lies.
      const square = (r * r) / (cut * cut + ASTRAY * ASTRAY * steep);
      if (square >= 1) continue;
      const w = (1 - square) * (1 - square);
      if (r < cut && r > -cut) agree++;
      slopes += w * steep;
      // Content that lies further right by d is darker by the slope times d.
      row[0] = -gx;
      row[1] = -gy;
      row[2] = expected[i];
      if (freely) {
        row[3] = -(gx * (x - cx) + gy * (y - cy));
        row[4] = -(-gx * (y - cy) + gy * (x - cx));
      }
      for (let a = 0; a < n; a++) {
        right[a] += w * row[a] * r;
        for (let b = a; b < n; b++) normal[a * n + b] += w * row[a] * row[b];
      }
    }
  }
  if (count < 60 || slopes < LEAST_SLOPES * 4) return null;
  const p = solvePositive(normal, right, n);
  if (!p) return null;
  const size = freely ? 1 + p[3] : 1, turn = freely ? p[4] : 0;
  return { step: { dx: p[0], dy: p[1], rotation: turn, scale: min(1.2, max(0.8, size)) }, share: agree / count, residual: scale, gain: 1 + p[2] };
}

/** Whether a correction is too small to matter, small pixels at the picture's edge. */
export function isSmall({ dx, dy, rotation, scale }: Similarity, width: number): boolean {
  return hypot(dx, dy) + (abs(rotation) + abs(scale - 1)) * (width / 2) < 0.015;
}

/** A pose corrected by a step that was found in the frame. */
export function corrected(pose: Similarity, step: Similarity): Similarity {
  return composeSimilarity(step, pose);
}

/** Each of so many pixels is looked at in the coarse search, and differences count up to this many levels. */
const COARSE_STEP = 4;
const COARSE_CAP = 28;

/**
 * The whole-pixel shift of `expected` that lies best on `seen`, by the least capped difference; near shifts are tried first.
 * @param reachX how far to look to each side, in pixels
 */
export function coarseShift(expected: Float32Array, seen: Uint8Array, usable: Uint8Array, width: number, height: number, reachX: number, reachY: number): { dx: number; dy: number; cost: number; still: number } {
  const cost = (dx: number, dy: number) => {
    let sum = 0, n = 0;
    for (let y = max(0, dy); y < min(height, height + dy); y += COARSE_STEP) {
      for (let x = max(0, dx) + (y & 3); x < min(width, width + dx); x += COARSE_STEP) {
        const e = (y - dy) * width + x - dx;
        if (!usable[e]) continue;
        const d = abs(seen[y * width + x] - expected[e]);
        sum += d > COARSE_CAP ? COARSE_CAP : d;
        n++;
      }
    }
    return n > 40 ? sum / n : COARSE_CAP;
  };
  const still = cost(0, 0);
  let best = { dx: 0, dy: 0, cost: still };
  const look = (fromX: number, toX: number, fromY: number, toY: number, stride: number) => {
    for (let dy = fromY; dy <= toY; dy += stride) for (let dx = fromX; dx <= toX; dx += stride) {
      const c = cost(dx, dy);
      if (c < best.cost) best = { dx, dy, cost: c };
    }
  };
  look(-reachX, reachX, -reachY, reachY, 3);
  look(best.dx - 2, best.dx + 2, best.dy - 2, best.dy + 2, 1);
  return { ...best, still };
}
