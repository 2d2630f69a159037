import { basename } from 'node:path';
import { analyseTake } from '../measure-take';
import type { TakeFile } from '../plate';

/** A take that several things are asked of, measured once, with whoever is in outlined finely. */
export async function outlinedTake(path: string): Promise<TakeFile> {
  const name = basename(path);
  return { path, name, analysis: await analyseTake(path, { name, fine: true }) };
}
