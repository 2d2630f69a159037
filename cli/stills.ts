import { measureStillsFiles } from '../media/feeds/measure-files';
import { listRuns } from '../core/judge/runs';
import type { StillsReport } from '../core/report/moment-types';
import { parseCount, UsageError } from './arguments';
import type { Told } from './pair';
import { reasonLines } from './text-report';

/** The frames of a take that are worth holding; gives the exit code. */
export async function stills(
  files: readonly string[],
  values: { plate?: string; count?: string; out?: string; gate?: boolean },
  { delivery, say, print }: Told,
): Promise<number> {
  if (files.length !== 1)
    throw new UsageError(`stills wants one take, ${files.length} were given. Use: umbrastat stills TAKE [--out DIR].`);
  const count = parseCount('--count', values.count);
  const report = await measureStillsFiles(files[0], values.plate, {
    count,
    out: values.out,
    delivery,
    onProgress: say,
  });
  print(report, stillsText(report));
  return values.gate && report.verdict === 'reshoot' ? 1 : 0;
}

/** The report as a few lines to read in a terminal. */
export function stillsText(r: StillsReport): string {
  const lines = [r.file, `Stills: ${r.verdict.toUpperCase()}`, ...reasonLines(r)];
  if (r.verdict === 'unjudged') return lines.join('\n');
  for (const s of r.stills)
    lines.push(
      `  frame ${s.frame}: ${s.hold}, ` +
        (s.motion_blur_px === null ? 'blur not told' : `${s.motion_blur_px.toFixed(1)} px of motion blur`) +
        `, sharpness ${s.sharpness.toFixed(2)}, ${(100 * s.area_share).toFixed(1)} % of the picture` +
        (s.whole ? '' : `, cut off at the ${s.touches.join(' and ')}`) +
        (s.crossed_runs.length ? `, crossed in frames ${listRuns(s.crossed_runs)}` : '') +
        (s.files ? `, ${s.files.picture}, ${s.files.cutout}` : ''),
    );
  return lines.join('\n');
}
