import { measureZoneFiles } from '../media/feeds/measure-files';
import { listRuns } from '../core/judge/runs';
import type { ZoneReport } from '../core/report/zone-types';
import { boxOutline } from '../core/base/geometry/outline';
import { parseBox, UsageError } from './arguments';
import type { Told } from './pair';
import { reasonLines } from './text-report';

/** A zone of the picture that is to be kept free; gives the exit code. */
export async function zone(
  files: readonly string[],
  values: { box?: string; plate?: string; gate?: boolean },
  { say, print }: Omit<Told, 'delivery'>,
): Promise<number> {
  if (files.length !== 1 || values.box === undefined)
    throw new UsageError('zone wants one take and a box. Use: umbrastat zone TAKE --box x,y,width,height.');
  const { x, y, width, height } = parseBox(values.box);
  const report = await measureZoneFiles(files[0], boxOutline(x, y, width, height), values.plate, { onProgress: say });
  print(report, zoneText(report));
  return values.gate && report.verdict === 'reshoot' ? 1 : 0;
}

/** The report as a few lines to read in a terminal. */
export function zoneText(r: ZoneReport): string {
  const { edge } = r;
  const lines = [r.file, `Zone: ${r.verdict.toUpperCase()}`, ...reasonLines(r)];
  if (r.verdict === 'unjudged') return lines.join('\n');
  for (const e of r.entered)
    lines.push(
      `  ${e.what === 'body' ? 'somebody' : 'a shadow'} in frames ${listRuns([e])}, ` +
        `${(100 * e.share).toFixed(1)} % of it at frame ${e.frame}`,
    );
  for (const c of r.changes)
    lines.push(`  light in frames ${listRuns([c])}: ${c.stops > 0 ? '+' : ''}${c.stops.toFixed(2)} stop`);
  // Whoever comes in and stays changes it too, and pulls nothing away.
  const stays = r.entered.some((e) => e.end === r.path.share.length - 1);
  if (r.pulled && !stays)
    lines.push(
      `  what lies in it is pulled away in frames ${listRuns([r.pulled])}` +
        (r.pulled.touched_runs.length ? `, and touched in frames ${listRuns(r.pulled.touched_runs)} besides` : ''),
    );
  if (edge)
    lines.push(
      `  its edge can be read along ${(100 * edge.readable_share).toFixed(0)} % of its length` +
        `${edge.lift_stops > 0 ? `; lit ${edge.lift_stops.toFixed(1)} stops more, along most of it` : ''}`,
    );
  return lines.join('\n');
}
