import { measureBeatsFiles } from '../media/feeds/measure-files';
import type { BeatsReport } from '../core/report/moment-types';
import { parseBox, UsageError } from './arguments';
import type { Told } from './pair';
import { reasonLines } from './text-report';

/** What happens in a take on a frame; gives the exit code. */
export async function beats(
  files: readonly string[],
  values: { box?: string; gate?: boolean },
  { say, print }: Omit<Told, 'delivery'>,
): Promise<number> {
  if (files.length !== 1)
    throw new UsageError(
      `beats wants one take, ${files.length} were given. Use: umbrastat beats TAKE [--box x,y,width,height].`,
    );
  const box = values.box === undefined ? undefined : parseBox(values.box);
  const report = await measureBeatsFiles(files[0], { box, onProgress: say });
  print(report, beatsText(report));
  return values.gate && report.verdict === 'reshoot' ? 1 : 0;
}

/** The report as a few lines to read in a terminal. */
export function beatsText(r: BeatsReport): string {
  const lines = [r.file, `Beats: ${r.verdict.toUpperCase()}`, ...reasonLines(r)];
  for (const b of r.beats)
    lines.push(
      `  frame ${b.frame} (${b.time_s.toFixed(3)} s): ${b.kind}, strength ${b.strength.toFixed(2)}` +
        (b.x === null
          ? ''
          : `, at (${b.x.toFixed(0)}, ${b.y!.toFixed(0)}) ${b.width!.toFixed(0)} x ${b.height!.toFixed(0)} px`),
    );
  if (r.sound_offset_frames !== null)
    lines.push(`  the sound comes ${r.sound_offset_frames} frames after the nearest strike`);
  return lines.join('\n');
}
