import { readFile } from 'node:fs/promises';
import { unpackAnalysis } from '../../media/kept-analysis';
import { analyseTake } from '../../media/measure-take';
import type { TakeFile } from '../../media/plate';
import type { TakeFileRow } from '../sql/queries/comparisons';
import type { Storage } from '../storage';

/** A stored take with what was found in it; measured again when that was not kept. */
export async function keptTake(storage: Storage, row: TakeFileRow, signal: AbortSignal): Promise<TakeFile> {
  const path = storage.file(row.file_hash);
  const bytes = await readFile(storage.analysis(row.file_hash)).catch(() => null);
  const known = bytes && unpackAnalysis(bytes);
  if (known) return { path, name: row.name, analysis: known };
  const analysis = await analyseTake(path, { name: row.name, signal });
  await storage.keepAnalysis(row.file_hash, analysis);
  return { path, name: row.name, analysis };
}
