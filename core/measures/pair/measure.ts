import { median, quantile } from '../../base/numeric/quantile';
import { runsOf } from '../../presence/measure';
import type { PairFound, Seam } from '../../report/pair-types';
import type { Side } from '../../report/types';
import { freeingSlide, gapsOf, gapTable, type GapTable } from '../../movers/gaps';
import { glidesBetween } from '../../movers/glides';
import { heldLines, seamOfShot, type Together } from '../../movers/moving';
import type { SeamLine } from '../../movers/seam';
import type { Silhouettes } from '../../movers/silhouettes';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { hypot, max, min } = Math;

export interface PairInput {
  a: Silhouettes;
  b: Silhouettes;
  /** By how many frames the second is laid later. */
  slide: number;
  /** Source pixels for one small pixel. */
  factor: number;
  /** Stops by which the second pass's empty picture is brighter, at each small pixel; NaN where not known. Null for nowhere. */
  light: Float32Array | null;
  /** Whether the table is wanted even where the two never meet. */
  slides?: boolean;
}

/** What was found, and every frame of one against every frame of the other: what sliding would do follows from that. */
export interface PairSums {
  found: Omit<PairFound, 'light' | 'offset' | 'unjudged'>;
  table: GapTable | null;
}

/** Two that come nearer than this share of the picture's width leave no room for a seam: a slide must free them by as much. */
const ROOM = 0.012;

/** Holds two passes of one setup against each other. */
export function measurePair({ a, b, slide, factor, light, slides = false }: PairInput): PairSums {
  const start = max(0, slide),
    end = min(a.count, b.count + slide) - 1;
  const run = { start, end };
  const gaps = gapsOf(a, b, slide);
  const closest = gaps.reduce((best, g, f) => (g && (best < 0 || g.gap < gaps[best]!.gap) ? f : best), -1);
  const overlap = runsOf(gaps.map((g) => g !== null && g.gap === 0));
  const inA = presence(a, start, end),
    inB = presence(b, start - slide, end - slide);
  const free = ROOM * a.width;
  const table = overlap.length || slides ? gapTable(a, b) : null;
  const freed = table && overlap.length > 0 && freeingSlide(table, slide, free);
  const together: Together = { a, b, slide, run };
  const wanted = end >= start && inA.some > 0 && inB.some > 0;
  const { line, moving } = wanted ? seamOfShot(together, light) : { line: null, moving: [] };
  const held = line ? heldLines(together, moving, light) : [];
  const scaled = (points: readonly [number, number][]) =>
    points.map(([x, y]): [number, number] => [x * factor, y * factor]);
  const at = closest < 0 ? null : gaps[closest]!.at;
  return {
    table,
    found: {
      overlap_runs: overlap,
      closest_px: closest < 0 ? null : gaps[closest]!.gap * factor,
      closest_frame: closest < 0 ? null : closest,
      closest_at:
        at === null ? null : { x_px: ((at % a.width) + 0.5) * factor, y_px: (Math.floor(at / a.width) + 0.5) * factor },
      slide: freed ? { frames: freed.frames, closest_px: freed.closest * factor } : null,
      seam: line && seamFound(line, together, moving.length === 0, factor, light),
      moving_mask_runs: moving,
      moving_lines: held.map(({ run: when, line: own }) => ({
        ...when,
        points: scaled(own.points),
        first_side: sideOf(own),
        feather_px: min(own.upright ? a.width : a.height, own.feather) * factor,
      })),
      line_glides: (line ? glidesBetween(together, line, held) : []).map((g) => ({
        start: g.start,
        end: g.end,
        from: scaled(g.from),
        to: scaled(g.to),
        first_side: sideOf(g),
        feather_px: g.feather * factor,
      })),
      known_share: min(inA.known, inB.known),
      in_share: { a: inA.some, b: inB.some },
      widest_px: { a: inA.widest && inA.widest * factor, b: inB.widest && inB.widest * factor },
      laid: slide,
      path: { gap_px: gaps.map((g) => g && g.gap * factor) },
    },
  };
}

/** A single frame in which something else is taken for somebody says nothing of how wide they are. */
const NEARLY_ALL = 0.95;

/** Share of some frames in which it is known who is in, and in which anybody is; and how wide they are at most, small pixels. */
function presence(pass: Silhouettes, start: number, end: number) {
  const { width } = pass;
  const mask = new Uint8Array(width * pass.height);
  let known = 0;
  const widths: number[] = [];
  for (let f = start; f <= end; f++) {
    const any = pass.mask(f, mask);
    if (any !== null) known++;
    if (!any) continue;
    let from = width,
      to = -1;
    // Row by row its first pixel and its last.
    for (let i = mask.indexOf(1); i >= 0; i = mask.indexOf(1, i)) {
      from = min(from, i % width);
      const next = i - (i % width) + width;
      to = max(to, mask.lastIndexOf(1, next - 1) % width);
      i = next;
    }
    widths.push(to - from + 1);
  }
  const frames = max(1, end - start + 1);
  const widest = widths.length ? quantile(widths, NEARLY_ALL) : null;
  return { known: known / frames, some: widths.length / frames, widest };
}

/** The side of a line on which the first pass lies. */
const sideOf = ({ upright, first }: Pick<SeamLine, 'upright' | 'first'>): Side =>
  upright ? (first ? 'left' : 'right') : first ? 'top' : 'bottom';

function seamFound(
  line: SeamLine,
  together: Together,
  fixed: boolean,
  factor: number,
  light: Float32Array | null,
): Seam {
  const { width, height } = together.a;
  const apart = light
    ? along(line.points).flatMap(([x, y]) => {
        const v = light[min(height - 1, y | 0) * width + min(width - 1, x | 0)];
        return Number.isNaN(v) ? [] : [v];
      })
    : [];
  // A line that nobody comes near may be as wide as the picture.
  const most = line.upright ? width : height;
  return {
    fixed,
    first_side: sideOf(line),
    points: line.points.map(([x, y]) => [x * factor, y * factor]),
    narrowest_px: min(most, line.corridor) * factor,
    narrowest_frame: nearestFrame(line.narrowest, together),
    feather_px: min(most, line.feather) * factor,
    light_gap_stops: apart.length ? median(apart) : null,
  };
}

/** Places along a line, a small pixel apart. */
function along(points: readonly [number, number][]): [number, number][] {
  const out: [number, number][] = [];
  for (let k = 0; k + 1 < points.length; k++) {
    const [ax, ay] = points[k],
      [bx, by] = points[k + 1];
    const steps = max(1, Math.round(hypot(bx - ax, by - ay)));
    for (let s = 0; s < steps; s++) out.push([ax + ((bx - ax) * s) / steps, ay + ((by - ay) * s) / steps]);
  }
  return out;
}

/** The frame in which somebody is nearest to a place. */
function nearestFrame([x, y]: [number, number], { a, b, slide, run }: Together): number | null {
  const { width, height } = a;
  const mask = new Uint8Array(width * height);
  let best: number | null = null,
    least = Infinity;
  for (let f = run.start; f <= run.end; f++)
    for (const [pass, frame] of [
      [a, f],
      [b, f - slide],
    ] as const) {
      if (!pass.mask(frame, mask)) continue;
      // Every second pixel says enough of when it is.
      for (let v = 0; v < height; v += 2)
        for (let u = 0; u < width; u += 2) {
          if (!mask[v * width + u]) continue;
          const d = (u + 0.5 - x) ** 2 + (v + 0.5 - y) ** 2;
          if (d < least) [least, best] = [d, f];
        }
    }
  return best;
}
