import { makeMatte } from '../media/feeds/measure-files';
import { basename } from 'node:path';
import { listRuns } from '../core/judge/runs';
import type { MatteReport } from '../core/report/matte-types';
import { GREY_KINDS } from '../media/write/grey-film';
import { parsePixels, UsageError } from './arguments';
import type { Told } from './pair';

interface MatteValues {
  plate?: string;
  cover?: boolean;
  out?: string;
  feather?: string;
  'no-shadow'?: boolean;
}

/** The rough matte of a take; gives the exit code. */
export async function matte(
  files: readonly string[],
  { plate, cover, out, feather, 'no-shadow': noShadow }: MatteValues,
  { say, print }: Omit<Told, 'delivery'>,
): Promise<number> {
  if (files.length !== 1)
    throw new UsageError(`matte wants one take, ${files.length} were given. Use: umbrastat matte TAKE.`);
  if (out !== undefined && !GREY_KINDS.test(out))
    throw new UsageError(`--out ${out} names no kind that can be written. Use a name that ends in .mkv, .mp4 or .png.`);
  const report = await makeMatte(files[0], {
    plate: plate === undefined ? undefined : { path: plate, name: basename(plate) },
    cover,
    out,
    feather: parsePixels('--feather', feather),
    shadow: !noShadow,
    onProgress: say,
  });
  print(report, matteText(report));
  return 0;
}

/** The report as a few lines to read in a terminal. */
export function matteText({
  take,
  frames,
  width,
  height,
  edge_error_px: error,
  unsure_runs: unsure,
  file,
}: MatteReport): string {
  const lines = [`${take}: matte of ${frames} frames, ${width} x ${height} px`];
  lines.push(error === null ? '  nobody is in' : `  its edge lies within ${error.toFixed(1)} px or so`);
  if (unsure.length) lines.push(`  look at frames ${listRuns(unsure)}: there it is unsure`);
  if (file !== null) lines.push(`  written to ${file}`);
  return lines.join('\n');
}
