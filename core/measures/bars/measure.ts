import { kindsIn, type KindFrames } from '../../presence/kinds';
import { runsOf } from '../../presence/measure';
import { BODY, NONE } from '../../presence/shade';
import type { BarsFound } from '../../report/moment-types';
import type { Run } from '../../report/types';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { ceil, floor, max } = Math;

export interface BarsInput extends KindFrames {
  /** Source pixels for one pixel of the grid. */
  factor: number;
  /** Height of the source picture, and of each bar in it, pixels. */
  size: { width: number; height: number };
  bar: number;
}

/** Fewer pixels of the grid than these beyond a bar's edge are a coding's. */
const LEAST = 4;
/** Shorter pauses than this, frames, are one step over the bar. */
const PAUSE = 2;

/** Height of each bar that makes a picture so wide; 0 or less where it is as wide without. */
export const barHeight = (size: { width: number; height: number }, ratio: number): number =>
  (size.height - size.width / ratio) / 2;

/** Where and how far somebody reaches over the bars of a wide picture, and whether their shadow falls on one. */
export function measureBars(input: BarsInput): Omit<BarsFound, 'still_crop_pct' | 'unjudged'> {
  const { width, height, frames, factor, bar, size } = input;
  const kinds = new Uint8Array(width * height);
  const edges = { top: bar, bottom: size.height - bar };
  const rows = { top: [0, floor(bar / factor)], bottom: [ceil(edges.bottom / factor), height] } as const;
  const depth: Record<'top' | 'bottom', (number | null)[]> = { top: [], bottom: [] };
  const shade: boolean[] = [],
    clear: boolean[] = [],
    cut: boolean[] = [];
  let known = 0;
  const inRow = (y: number, kind: number | null) => {
    let n = 0;
    for (let i = y * width; i < (y + 1) * width; i++) if (kind === null ? kinds[i] !== NONE : kinds[i] === kind) n++;
    return n;
  };
  for (let f = 0; f < frames.length; f++) {
    const n = kindsIn(input, f, kinds);
    if (n !== null) known++;
    clear.push(n === 0);
    for (const edge of ['top', 'bottom'] as const) {
      const [from, to] = rows[edge];
      let count = 0,
        far: number | null = null;
      if (n)
        for (let y = from; y < to; y++) {
          const own = inRow(y, BODY);
          count += own;
          if (own < 2) continue;
          if (edge === 'bottom') far = y + 1;
          else far ??= y;
        }
      depth[edge].push(
        far === null || count < LEAST
          ? null
          : max(0, edge === 'bottom' ? far * factor - edges.bottom : bar - far * factor),
      );
    }
    let shaded = 0;
    if (n) for (let y = rows.bottom[0]; y < rows.bottom[1]; y++) shaded += inRow(y, null) - inRow(y, BODY);
    shade.push(shaded >= 3 * LEAST);
    cut.push(
      n !== null &&
        ((depth.bottom[f] !== null && inRow(height - 1, BODY) > 1) || (depth.top[f] !== null && inRow(0, BODY) > 1)),
    );
  }
  const crosses = (['top', 'bottom'] as const).flatMap((edge) =>
    closed(runsOf(depth[edge].map((d) => d !== null))).map((run) => ({
      edge,
      run,
      depth_px: max(...depth[edge].slice(run.start, run.end + 1).map((d) => d ?? 0)),
    })),
  );
  return {
    bars: { top_px: bar, bottom_px: bar },
    crosses: crosses.sort((a, b) => a.run.start - b.run.start),
    shadow_below_runs: closed(runsOf(shade)),
    cut_off_runs: runsOf(cut),
    clear_runs: runsOf(clear),
    known_share: known / max(1, frames.length),
  };
}

/** Runs with short pauses between them taken as one; runs of a single frame left out. */
function closed(runs: readonly Run[]): Run[] {
  const out: Run[] = [];
  for (const r of runs) {
    const last = out.at(-1);
    if (last && r.start - last.end <= PAUSE + 1) last.end = r.end;
    else out.push({ ...r });
  }
  return out.filter((r) => r.end > r.start);
}
