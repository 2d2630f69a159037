import { measureMeetFiles } from '../media/feeds/measure-files';
import { listRuns } from '../core/judge/runs';
import type { MeetReport } from '../core/report/moment-types';
import { parsePercent, parsePoint, UsageError } from './arguments';
import type { Told } from './pair';
import { reasonLines } from './text-report';

/** A vehicle laid on a performer who reacts; gives the exit code. */
export async function meet(
  files: readonly string[],
  values: { plate?: string; at?: string; 'rate-pct'?: string; gate?: boolean },
  { say, print }: Omit<Told, 'delivery'>,
): Promise<number> {
  if (files.length !== 2)
    throw new UsageError(
      `meet wants two takes, ${files.length} were given. Use: umbrastat meet A B [--at x,y] [--rate-pct N].`,
    );
  const at = parsePoint('--at', values.at),
    ratePct = parsePercent('--rate-pct', values['rate-pct']);
  const report = await measureMeetFiles(files[0], files[1], values.plate, { at, ratePct, onProgress: say });
  print(report, meetText(report));
  return values.gate && report.verdict === 'reshoot' ? 1 : 0;
}

/** The report as a few lines to read in a terminal. */
export function meetText(r: MeetReport): string {
  const lines = [`${r.file} and ${r.against}`, `Meet: ${r.verdict.toUpperCase()}`, ...reasonLines(r)];
  const way = (d: number | null) => (d === null ? 'not told' : `${d.toFixed(0)} degrees`);
  lines.push(`  the performer goes ${way(r.a_direction_deg)}, the vehicle ${way(r.b_direction_deg)}`);
  if (r.b_speed_widths_per_s !== null)
    lines.push(
      `  it crosses ${r.b_speed_widths_per_s.toFixed(2)} widths a second as shot` +
        (r.strobes === null ? '' : r.strobes ? ', and strobes' : ', and does not strobe'),
    );
  if (r.layer) lines.push(`  in front: ${r.layer === 'a_over_b' ? 'the performer' : 'the vehicle'}`);
  if (r.overlap_runs.length) lines.push(`  they lie over each other in frames ${listRuns(r.overlap_runs)}`);
  return lines.join('\n');
}
