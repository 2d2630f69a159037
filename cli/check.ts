import type { Delivery } from '../core/take/cover';
import { stat, writeFile } from 'node:fs/promises';
import { basename, join, resolve } from 'node:path';
import { fileName } from '../core/formats/file-names';
import { worstFrame } from '../core/judge/worst-frame';
import { checkCsv, checkFolder, type CheckedFile, type CheckedFolder } from '../packs/check-folder';
import { checkPage } from '../packs/pages/check-page';
import { showShots, type Shot } from '../packs/shots';
import { UsageError } from './arguments';
import type { Told } from './pair';

/** Every recording of a folder; gives the exit code. */
export async function check(
  files: readonly string[],
  values: { out?: string; gate?: boolean },
  { delivery, say, print }: { delivery: Delivery | undefined } & Told,
): Promise<number> {
  const [folder] = files;
  if (files.length !== 1)
    throw new UsageError(`check wants one folder, ${files.length} were given. Use: umbrastat check FOLDER.`);
  const isFolder = await stat(folder).then(
    (s) => s.isDirectory(),
    () => false,
  );
  if (!isFolder) throw new UsageError(`"${folder}" is no folder that can be read. Give the one with the recordings.`);
  const name = basename(resolve(folder));
  const out = values.out ?? `${fileName(name)}-check.html`;
  if (!/\.html?$/i.test(out)) throw new UsageError(`--out ${out} is no page. Use a name that ends in .html.`);
  const checked = await checkFolder(folder, { delivery, say });
  if (checked.files.length === 0)
    throw new UsageError(
      `There is no recording in "${folder}" that can be measured. Give the folder with the recordings.`,
    );
  say('writing the report');
  const shown = await showShots(worstShots(checked), (id) => join(folder, id), new AbortController().signal);
  await writeFile(out, checkPage(name, checked, shown));
  const csv = out.replace(/\.html?$/i, '.csv');
  await writeFile(csv, checkCsv(checked));
  print({ ...checked, page: out, csv }, checkText(checked, out, csv));
  return values.gate && checked.verdict === 'reshoot' ? 1 : 0;
}

/** So many of the worst frames are shown. */
const MOST_SHOTS = 24;

/** The frame of each faulty recording that shows it best. */
function worstShots({ files }: CheckedFolder): Shot[] {
  return files
    .flatMap(({ path, report }: CheckedFile): Shot[] => {
      const worst = worstFrame(report);
      if (!worst) return [];
      const { frame, text } = worst;
      const { media } = report;
      const caption = `${path}, frame ${frame}: ${text}`;
      return [{ take: { id: path, name: path, media }, frame, caption, lines: [], boxes: [] }];
    })
    .slice(0, MOST_SHOTS);
}

function checkText({ files, passed_over }: CheckedFolder, out: string, csv: string): string {
  const lines = files.flatMap(({ path, taken_for, report: { take }, place, plate }) => [
    `${path} (place ${place}, as ${taken_for}): ${take.verdict.toUpperCase()}`,
    `  ${take.text}${take.fix ? ` -> ${take.fix}` : ''}`,
    ...(plate ? [`  plate ${plate.path}: ${plate.verdict.toUpperCase()}: ${plate.text}`] : []),
  ]);
  return [
    ...lines,
    ...passed_over.map((p) => `${p.path}: not measured. ${p.why}`),
    `written to ${out} and ${csv}`,
  ].join('\n');
}
