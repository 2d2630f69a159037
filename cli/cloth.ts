import { measureClothFiles } from '../media/feeds/measure-files';
import { listRuns } from '../core/judge/runs';
import type { ClothReport } from '../core/report/moment-types';
import { parseLook, UsageError } from './arguments';
import type { Told } from './pair';
import { reasonLines } from './text-report';

/** A cloth behind which somebody vanishes; gives the exit code. */
export async function cloth(
  files: readonly string[],
  values: { plate?: string; look?: string; gate?: boolean },
  { say, print }: Omit<Told, 'delivery'>,
): Promise<number> {
  if (files.length !== 1 || values.plate === undefined)
    throw new UsageError(
      'cloth wants one take and its plate. Use: umbrastat cloth TAKE --plate FILE [--look x,y@frame].',
    );
  const report = await measureClothFiles(files[0], values.plate, { look: parseLook(values.look), onProgress: say });
  print(report, clothText(report));
  return values.gate && report.verdict === 'reshoot' ? 1 : 0;
}

/** The report as a few lines to read in a terminal. */
export function clothText(r: ClothReport): string {
  const lines = [`${r.file} against ${r.against}`, `Cloth: ${r.verdict.toUpperCase()}`, ...reasonLines(r)];
  if (r.verdict === 'unjudged') return lines.join('\n');
  if (r.performer_clear_frame !== null) lines.push(`  nothing of them shows from frame ${r.performer_clear_frame} on`);
  if (r.fall)
    lines.push(
      `  it ${r.kind === 'pull' ? 'is pulled away' : 'falls'} by ${r.fall.speed_px_per_frame.toFixed(1)} px a frame, ` +
        `tilted by ${r.fall.tilt_deg.toFixed(1)} degrees, drifting ${r.fall.drift_px.toFixed(0)} px` +
        (r.lands_frame === null ? '' : `; it lands at frame ${r.lands_frame}`),
    );
  for (const [side, runs] of Object.entries(r.edge_runs))
    if (runs.length) lines.push(`  the cloth reaches the ${side} edge in frames ${listRuns(runs)}`);
  if (r.fade_in_frames > 0) lines.push(`  bring the plate in over ${r.fade_in_frames} frames`);
  return lines.join('\n');
}
