import { measurePairFiles } from '../media/feeds/measure-files';
import type { Delivery } from '../core/take/cover';
import type { PairReport } from '../core/report/pair-types';
import { listRuns } from '../core/judge/runs';
import { parseSlide, UsageError } from './arguments';
import { reasonLines } from './text-report';

/** What a command is told besides its files and options. */
export interface Told {
  delivery: Delivery | undefined;
  say: (text: string) => void;
  print: (report: object, text: string) => void;
}

/** Two passes of one setup; gives the exit code. */
export async function pair(
  files: readonly string[],
  values: { plate?: string; slide?: string; gate?: boolean },
  { delivery, say, print }: Told,
): Promise<number> {
  if (files.length !== 2)
    throw new UsageError(`pair wants two files, ${files.length} were given. Use: umbrastat pair A B.`);
  const { plate } = values;
  const report = await measurePairFiles(files[0], files[1], {
    delivery,
    plate,
    slide: parseSlide(values.slide),
    onProgress: say,
  });
  print(report, pairText(report));
  return values.gate && report.verdict === 'reshoot' ? 1 : 0;
}

/** The report on two passes as a few lines to read in a terminal. */
export function pairText(r: PairReport): string {
  const { seam, overlap_runs: overlap, slide } = r;
  const lines = [`${r.file} and ${r.against}`, `Pair: ${r.verdict.toUpperCase()}`, ...reasonLines(r)];
  if (r.verdict === 'unjudged') return lines.join('\n');
  if (r.closest_px !== null)
    lines.push(
      overlap.length
        ? `  overlap in frames ${listRuns(overlap)}`
        : `  nearest ${r.closest_px.toFixed(0)} px, at frame ${r.closest_frame}`,
    );
  if (slide) lines.push(`  slide B to ${slide.frames} frames: then nearest ${slide.closest_px.toFixed(0)} px`);
  if (seam)
    lines.push(
      `  seam through ${seam.points.map(([x, y]) => `(${x.toFixed(0)}, ${y.toFixed(0)})`).join(' ')}`,
      `  corridor ${seam.narrowest_px.toFixed(0)} px at the narrowest` +
        `${seam.narrowest_frame === null ? '' : `, frame ${seam.narrowest_frame}`}; ` +
        `feather up to ${seam.feather_px.toFixed(0)} px` +
        `${seam.light_gap_stops === null ? '' : `; light along it ${seam.light_gap_stops.toFixed(2)} stop apart`}`,
    );
  if (r.moving_mask_runs.length) lines.push(`  moving mask in frames ${listRuns(r.moving_mask_runs)}`);
  for (const m of r.moving_lines)
    lines.push(
      `    in frames ${listRuns([m])} a line through ` +
        m.points.map(([x, y]) => `(${x.toFixed(0)}, ${y.toFixed(0)})`).join(' '),
    );
  for (const g of r.line_glides ?? [])
    lines.push(`    over frames ${listRuns([g])} it moves evenly from its place before to its place after`);
  return lines.join('\n');
}
