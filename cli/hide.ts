import { measureHideFiles } from '../media/feeds/measure-files';
import { listRuns } from '../core/judge/runs';
import type { HideReport } from '../core/report/hide-types';
import { parseFrame, UsageError } from './arguments';
import type { Told } from './pair';
import { reasonLines } from './text-report';

/** Somebody who goes behind something and is gone; gives the exit code. */
export async function hide(
  files: readonly string[],
  values: { plate?: string; at?: string; gate?: boolean },
  { delivery, say, print }: Told,
): Promise<number> {
  if (files.length !== 1 || values.plate === undefined)
    throw new UsageError('hide wants one take and its plate. Use: umbrastat hide TAKE --plate FILE.');
  const at = parseFrame('--at', values.at);
  const report = await measureHideFiles(files[0], values.plate, { delivery, at, onProgress: say });
  print(report, hideText(report));
  return values.gate && report.verdict === 'reshoot' ? 1 : 0;
}

/** The report as a few lines to read in a terminal. */
export function hideText(r: HideReport): string {
  const { split, behind, spill } = r;
  const lines = [`${r.file} against ${r.against}`, `Hide: ${r.verdict.toUpperCase()}`, ...reasonLines(r)];
  if (r.verdict === 'unjudged') return lines.join('\n');
  if (r.hidden_runs.length) lines.push(`  nothing shows in frames ${listRuns(r.hidden_runs)}`);
  if (r.switch_frame !== null) lines.push(`  the plate may stand alone from frame ${r.switch_frame}`);
  if (behind)
    lines.push(
      `  behind what stands ${behind.width.toFixed(0)} x ${behind.height.toFixed(0)} px ` +
        `at (${behind.x.toFixed(0)}, ${behind.y.toFixed(0)})`,
    );
  if (split)
    lines.push(
      `  split through ${split.points.map(([x, y]) => `(${x.toFixed(0)}, ${y.toFixed(0)})`).join(' ')}; the take ` +
        `stays ${{ left: 'left of it', right: 'right of it', top: 'above it', bottom: 'below it' }[split.keeps]}` +
        `${split.fixed ? `, ${split.margin_px.toFixed(0)} px to spare` : ''}`,
    );
  if (spill.length) {
    const [worst] = spill;
    lines.push(
      `  what crosses: ${r.spill_frames.length ? `frames ${listRuns(r.spill_frames)}; ` : ''}worst at frame ` +
        `${worst.frame}, ${worst.width.toFixed(0)} x ${worst.height.toFixed(0)} px of ${worst.what}`,
    );
  }
  return lines.join('\n');
}
