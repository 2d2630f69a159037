import { measureSpotFiles } from '../media/feeds/measure-files';
import { wayOf } from '../core/measures/spot/judge';
import type { SpotReport } from '../core/report/moment-types';
import { parseFrame, UsageError } from './arguments';
import type { Told } from './pair';
import { reasonLines } from './text-report';

/** Where something is in one take against what is in another; gives the exit code. */
export async function spot(
  files: readonly string[],
  values: { plate?: string; 'at-a'?: string; 'at-b'?: string; gate?: boolean },
  { delivery, say, print }: Told,
): Promise<number> {
  if (files.length !== 2)
    throw new UsageError(
      `spot wants two takes, ${files.length} were given. Use: umbrastat spot A B [--at-a N] [--at-b N].`,
    );
  const wish = {
    at_a: parseFrame('--at-a', values['at-a']) ?? null,
    at_b: parseFrame('--at-b', values['at-b']) ?? null,
  };
  const report = await measureSpotFiles(files[0], files[1], values.plate, { wish, delivery, onProgress: say });
  print(report, spotText(report));
  return values.gate && report.verdict === 'reshoot' ? 1 : 0;
}

/** The report as a few lines to read in a terminal. */
export function spotText(r: SpotReport): string {
  const lines = [`${r.file} and ${r.against}`, `Spot: ${r.verdict.toUpperCase()}`, ...reasonLines(r)];
  if (r.verdict === 'unjudged' || r.dx_px === null || r.dy_px === null) return lines.join('\n');
  lines.push(
    `  the second lies ${r.dx_px.toFixed(1)} px right, ${r.dy_px.toFixed(1)} px down (to ${r.uncertainty_px?.toFixed(1)} px), ` +
      `${r.size_ratio?.toFixed(3)} times as large${r.angle_deg === null ? '' : `, turned by ${r.angle_deg.toFixed(1)} degrees`}`,
  );
  if (r.best)
    lines.push(
      `  nearest: frames ${r.best.at_a} and ${r.best.at_b}, ${wayOf(r.best.dx_px, r.best.dy_px)}, ` +
        `${r.best.size_ratio.toFixed(3)} times as large`,
    );
  return lines.join('\n');
}
