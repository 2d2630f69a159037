import { readFile } from 'node:fs/promises';
import { basename } from 'node:path';
import { faultsOfReport } from '../packs/validate';
import { NotVerifiable, verifyFolder, type Verified } from '../packs/verify';
import { UsageError } from './arguments';
import type { Told } from './pair';

/** So many names are listed of each kind. */
const MOST = 20;

/** A pack's folder against its hash list; gives the exit code: 1 when something is not as it was. */
export async function verify(files: readonly string[], { say, print }: Omit<Told, 'delivery'>): Promise<number> {
  if (files.length !== 1)
    throw new UsageError(`verify wants one folder, ${files.length} were given. Use: umbrastat verify DIR.`);
  const found = await verifyFolder(files[0], say).catch((error: unknown) => {
    throw error instanceof NotVerifiable ? new UsageError(error.message) : error;
  });
  const holds = found.missing.length + found.changed.length === 0 && found.chain_holds !== false;
  print({ ...found, holds }, verifyText(files[0], found, holds));
  return holds ? 0 : 1;
}

function verifyText(folder: string, v: Verified, holds: boolean): string {
  const lines = [`${basename(folder)}: ${holds ? `${v.same} files are as they were` : 'NOT as it was'}, by ${v.list}`];
  if (v.chain_holds === false) lines.push('  the hash list itself is not the one that its chain file names');
  for (const [word, names] of [
    ['missing', v.missing],
    ['changed', v.changed],
    ['new', v.fresh],
  ] as const) {
    for (const name of names.slice(0, MOST)) lines.push(`  ${word}: ${name}`);
    if (names.length > MOST) lines.push(`  and ${names.length - MOST} more ${word}`);
  }
  return lines.join('\n');
}

/** A report of a pack against its schema; gives the exit code: 1 when something is wrong. */
export async function validate(files: readonly string[], { print }: Pick<Told, 'print'>): Promise<number> {
  if (files.length !== 1)
    throw new UsageError(`validate wants one file, ${files.length} were given. Use: umbrastat validate report.json.`);
  const text = await readFile(files[0], 'utf8').catch(() => {
    throw new UsageError(`"${files[0]}" cannot be read. Give the report.json of a pack.`);
  });
  let report: unknown;
  try {
    report = JSON.parse(text);
  } catch {
    throw new UsageError(`"${files[0]}" is no JSON: it breaks off or has a mistake. Give the report.json of a pack.`);
  }
  const faults = faultsOfReport(report);
  const name = basename(files[0]);
  const said = faults.length
    ? [`${name}: ${faults.length} faults`, ...faults.map((f) => `  ${f}`)]
    : [`${name}: valid`];
  print({ valid: faults.length === 0, faults }, said.join('\n'));
  return faults.length ? 1 : 0;
}
