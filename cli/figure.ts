import { measureFigureFiles } from '../media/feeds/measure-files';
import { listRuns } from '../core/judge/runs';
import type { FigureReport } from '../core/report/figure-types';
import { parseBox, parsePercent, UsageError } from './arguments';
import type { Told } from './pair';
import { reasonLines } from './text-report';

/** A thing that is held or hung, or somebody who jumps; gives the exit code. */
export async function figure(
  files: readonly string[],
  values: { box?: string; plate?: string; speed?: string; gate?: boolean },
  { say, print }: Omit<Told, 'delivery'>,
): Promise<number> {
  if (files.length !== 1)
    throw new UsageError(
      `figure wants one take, ${files.length} were given. Use: umbrastat figure TAKE [--plate FILE].`,
    );
  const report = await measureFigureFiles(files[0], values.plate, {
    box: values.box === undefined ? undefined : parseBox(values.box),
    speedPct: parsePercent('--speed', values.speed),
    onProgress: say,
  });
  print(report, figureText(report));
  return values.gate && report.verdict === 'reshoot' ? 1 : 0;
}

/** The report as a few lines to read in a terminal. */
export function figureText(r: FigureReport): string {
  const lines = [r.file, `Figure: ${r.verdict.toUpperCase()}`, ...reasonLines(r)];
  if (r.verdict === 'unjudged') return lines.join('\n');
  const { drift, run, outline } = r;
  if (r.lifted_runs.length) {
    lines.push(`  off the ground and whole in frames ${listRuns(r.lifted_runs)}`);
    if (r.clear_runs.length) lines.push(`  its outline can be followed in frames ${listRuns(r.clear_runs)}`);
  } else if (drift && run)
    lines.push(
      `  in frames ${listRuns([run])} it drifts by ${drift.px.toFixed(1)} px` +
        (drift.turn_deg === null ? '' : ` and turns by ${drift.turn_deg.toFixed(1)}°`) +
        `, ${drift.speed_px_per_s.toFixed(1)} px a second as shot`,
    );
  for (const o of outline.filter((x) => x.share < 1).slice(0, 12))
    lines.push(`  frame ${o.frame}: ${(100 * o.share).toFixed(0)} % of its outline can be followed`);
  return lines.join('\n');
}
