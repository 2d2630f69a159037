import { measureBarsFiles } from '../media/feeds/measure-files';
import { listRuns } from '../core/judge/runs';
import type { BarsReport } from '../core/report/moment-types';
import { parseRatio, UsageError } from './arguments';
import type { Told } from './pair';
import { reasonLines } from './text-report';

/** A figure that steps over the bars of a wide picture; gives the exit code. */
export async function bars(
  files: readonly string[],
  values: { plate?: string; ratio?: string; gate?: boolean },
  { delivery, say, print }: Told,
): Promise<number> {
  if (files.length !== 1)
    throw new UsageError(`bars wants one take, ${files.length} were given. Use: umbrastat bars TAKE [--ratio 2.39].`);
  const ratio = parseRatio(values.ratio);
  const report = await measureBarsFiles(files[0], values.plate, { ratio, delivery, onProgress: say });
  print(report, barsText(report));
  return values.gate && report.verdict === 'reshoot' ? 1 : 0;
}

/** The report as a few lines to read in a terminal. */
export function barsText(r: BarsReport): string {
  const lines = [r.file, `Bars: ${r.verdict.toUpperCase()}`, ...reasonLines(r)];
  if (r.verdict === 'unjudged') return lines.join('\n');
  lines.push(`  each bar is ${r.bars.top_px.toFixed(1)} px high`);
  for (const c of r.crosses)
    lines.push(`  over the ${c.edge} bar in frames ${listRuns([c.run])}, by up to ${c.depth_px.toFixed(0)} px`);
  if (r.clear_runs.length) lines.push(`  nobody is in frames ${listRuns(r.clear_runs)}`);
  if (r.still_crop_pct !== null) lines.push(`  held still, it loses ${r.still_crop_pct.toFixed(1)} % of its width`);
  return lines.join('\n');
}
