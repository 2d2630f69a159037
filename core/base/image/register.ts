import { sigmaOfMad } from '../numeric/robust';
import { solvePositive } from '../numeric/least-squares';
import { composeSimilarity, IDENTITY, type Similarity } from '../geometry/similarity';
import { addressOf as at, Kernels, onceForSize } from '../kernels/kernels';

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
  /** Whether the pictures have no more detail than grain makes: where they lie cannot be told, and the step is none. */
  flat: boolean;
}

/** Pixels whose slopes say nothing about where the picture lies, levels a pixel squared. */
const LEAST_SLOPES = 40;
/** Slopes that grain of one level makes, levels a pixel squared: a quarter of its variance. */
const GRAIN_SLOPES = 0.25;
/**
 * With less detail than this, levels a pixel squared on the mean, turn and size are not looked for: they would follow
 * clouds and coding.
 */
const PLAIN_SLOPES = 1.5;
/** Tukey's constant: 95 % efficiency on normal residuals (Beaton and Tukey 1974). */
const TUKEY = 4.685;
const LEAST_SPREAD = 1;
/** Edges may be this far off before they count as something else, pixels. */
const ASTRAY = 2;

/**
 * One step of laying `expected` on `seen`: similarity and brightness by robust least squares on the pixels themselves
 * (Lucas and Kanade 1981, with the slopes of both pictures as Benhimane and Malis 2004, and Tukey's weights), so that
 * what moves otherwise does not pull.
 * @param usable 1 where both pictures may be compared
 * @param free null lets shift alone be found; otherwise turn and size too
 */
export function registerStep(
  expected: Float32Array,
  seen: Uint8Array,
  usable: Uint8Array,
  width: number,
  height: number,
  freely: boolean,
  spread: number | null,
): Registration | null {
  const own = spread ?? spreadOf(expected, seen, usable, width, height);
  if (own === null) return null;
  const scale = max(LEAST_SPREAD, own);
  const { normal, right, count, agree, slopes } = equations(
    expected,
    seen,
    usable,
    width,
    height,
    TUKEY * scale,
    freely,
  );
  if (count < 60) return null;
  if (slopes < LEAST_SLOPES * 4 + GRAIN_SLOPES * count) {
    const bright = normal[2 * right.length + 2];
    return {
      step: { ...IDENTITY },
      share: agree / count,
      residual: scale,
      gain: bright > 0 ? 1 + right[2] / bright : 1,
      flat: true,
    };
  }
  if (freely && slopes < PLAIN_SLOPES * count)
    return registerStep(expected, seen, usable, width, height, false, spread);
  const p = solvePositive(normal, right, freely ? 5 : 3);
  if (!p) return null;
  const size = freely ? 1 + p[3] : 1,
    turn = freely ? p[4] : 0;
  return {
    step: { dx: p[0], dy: p[1], rotation: turn, scale: min(1.2, max(0.8, size)) },
    share: agree / count,
    residual: scale,
    gain: 1 + p[2],
    flat: false,
  };
}

/** Differences are counted in parts of a level. */
const PARTS = 8;
const BINS = new Uint32Array(256 * PARTS);

/** Spread of the differences, levels, by their middle one; null when there are too few. */
function spreadOf(
  expected: Float32Array,
  seen: Uint8Array,
  usable: Uint8Array,
  width: number,
  height: number,
): number | null {
  BINS.fill(0);
  let n = 0;
  for (let y = 1; y < height - 1; y += 3) {
    for (let x = 1, i = y * width + 1; x < width - 1; x += 3, i += 3) {
      if (usable[i] === 0) continue;
      const d = PARTS * abs(seen[i] - expected[i]);
      BINS[d < BINS.length ? d | 0 : BINS.length - 1]++;
      n++;
    }
  }
  if (n < 60) return null;
  let before = 0,
    bin = 0;
  while (before + BINS[bin] < n / 2) before += BINS[bin++];
  return sigmaOfMad(bin + (n / 2 - before) / BINS[bin]) / PARTS;
}

const roomFor = onceForSize((pixels) =>
  Kernels.with({
    expected: ['floats', pixels],
    seen: ['bytes', pixels],
    usable: ['bytes', pixels],
    out: ['doubles', 23],
  }),
);

/** The normal equations of one step, of three unknowns or of five: pixels compared, pixels that agree, weighted slopes. */
function equations(
  expected: Float32Array,
  seen: Uint8Array,
  usable: Uint8Array,
  width: number,
  height: number,
  cut: number,
  whole: boolean,
) {
  const { kernels, arrays } = roomFor(width * height);
  arrays.expected.set(expected);
  arrays.seen.set(seen);
  arrays.usable.set(usable);
  kernels.run.stepEquations({
    expected: at(arrays.expected),
    seen: at(arrays.seen),
    usable: at(arrays.usable),
    width,
    height,
    cut,
    astray: ASTRAY * ASTRAY,
    whole: whole ? 1 : 0,
    out: at(arrays.out),
  });
  const [count, agree, slopes, n00, n01, n02, n03, n04, n11, n12, n13, n14, n22, n23, n24, n33, n34, n44, ...right] =
    arrays.out;
  const normal = whole
    ? [n00, n01, n02, n03, n04, 0, n11, n12, n13, n14, 0, 0, n22, n23, n24, 0, 0, 0, n33, n34, 0, 0, 0, 0, n44]
    : [n00, n01, n02, 0, n11, n12, 0, 0, n22];
  return {
    count,
    agree,
    slopes,
    normal: Float64Array.from(normal),
    right: Float64Array.from(whole ? right : right.slice(0, 3)),
  };
}

/** Whether a correction is too small to matter. @param limit small pixels at the picture's edge */
export function isSmall({ dx, dy, rotation, scale }: Similarity, width: number, limit = 0.015): boolean {
  return hypot(dx, dy) + (abs(rotation) + abs(scale - 1)) * (width / 2) < limit;
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
export function coarseShift(
  expected: Float32Array,
  seen: Uint8Array,
  usable: Uint8Array,
  width: number,
  height: number,
  reachX: number,
  reachY: number,
): { dx: number; dy: number; cost: number; still: number } {
  const cost = (dx: number, dy: number) => {
    let sum = 0,
      n = 0;
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
    for (let dy = fromY; dy <= toY; dy += stride)
      for (let dx = fromX; dx <= toX; dx += stride) {
        const c = cost(dx, dy);
        if (c < best.cost) best = { dx, dy, cost: c };
      }
  };
  look(-reachX, reachX, -reachY, reachY, 3);
  look(best.dx - 2, best.dx + 2, best.dy - 2, best.dy + 2, 1);
  return { ...best, still };
}
