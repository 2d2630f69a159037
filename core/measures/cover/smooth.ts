import { solvePositive } from '../../base/numeric/least-squares';
import { median } from '../../base/numeric/quantile';

const { abs, max, min, sqrt } = Math;

/** Frames to each side that share a curve: many, and fewer where the edge moves too unevenly for that. */
const REACHES = [10, 5, 3];
/** Too unevenly is when the curve misses what was measured by so many times what that wavers by itself, and by so many pixels. */
const MISSES = 1.7;
const MISSES_PX = 2;
const LEAST_SPREAD = 0.3;

/** How much a path wavers from frame to frame by itself, its unit: from how far each place lies off the middle of its neighbours. */
export function waverOf(path: readonly (number | null)[], from: number, to: number): number {
  const bends: number[] = [];
  for (let f = from + 1; f < to; f++) {
    const [a, b, c] = [path[f - 1], path[f], path[f + 1]];
    if (a !== null && b !== null && c !== null) bends.push(abs(a - 2 * b + c));
  }
  return bends.length ? median(bends) / sqrt(6) : Infinity;
}

/**
 * An edge's path as a smooth curve through what was measured, over all frames of a run, those included in which the
 * edge lies outside the picture or was not to be measured: a parabola about each frame, robustly (Cleveland 1979).
 * Null when too little is known.
 */
export function smoothPath(path: readonly (number | null)[], from: number, to: number): number[] | null {
  const known: number[] = [];
  for (let f = from; f <= to; f++) if (path[f] !== null) known.push(f);
  if (known.length < 3) return null;
  const waver = waverOf(path, from, to);
  let best: number[] | null = null;
  for (const reach of REACHES) {
    best = curveThrough(path, known, from, to, reach);
    const missed = median(known.map((f) => abs(path[f]! - best![f - from])));
    if (missed <= max(MISSES * waver, MISSES_PX)) break;
  }
  return best;
}

function curveThrough(
  path: readonly (number | null)[],
  known: readonly number[],
  from: number,
  to: number,
  reach: number,
): number[] {
  const out: number[] = [];
  for (let f = from; f <= to; f++) {
    const near = [...known].sort((a, b) => abs(a - f) - abs(b - f)).slice(0, 2 * reach + 1);
    const far = max(...near.map((k) => abs(k - f)));
    // Beyond what is known a parabola runs away: there the path goes on straight.
    const degree = near.length >= 6 && f >= known[0] && f <= known[known.length - 1] ? 2 : 1;
    let robust = near.map(() => 1);
    let value = path[near[0]]!;
    for (let round = 0; round < 3; round++) {
      const n = degree + 1;
      const normal = new Float64Array(n * n),
        right = new Float64Array(n);
      near.forEach((k, j) => {
        const t = k - f,
          w = robust[j] * (1 - 0.8 * (abs(t) / (far + 1)) ** 2);
        for (let a = 0; a < n; a++) {
          right[a] += w * t ** a * path[k]!;
          for (let b = 0; b < n; b++) normal[a * n + b] += w * t ** (a + b);
        }
      });
      const p = solvePositive(normal, right, n);
      if (!p) break;
      value = p[0];
      const residuals = near.map((k) => abs(path[k]! - p.reduce((s, c, a) => s + c * (k - f) ** a, 0)));
      const spread = max(LEAST_SPREAD, 6 * median(residuals));
      robust = residuals.map((r) => (1 - min(1, (r / spread) ** 2)) ** 2);
    }
    out.push(value);
  }
  return out;
}
