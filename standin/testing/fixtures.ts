import { createHash, randomUUID } from 'node:crypto';
import {
  copyFileSync,
  existsSync,
  linkSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  renameSync,
  writeFileSync,
} from 'node:fs';
import { join } from 'node:path';
import { ROOT } from '../../media/built';
import { recordTake, type RecordOptions, type TakeTruth } from '../record';
import type { CameraSettings } from '../settings';

/** What tests made once and use again, by what it was made of; nothing else is kept here. */
export const KEPT = join(ROOT, '.cache', 'fixtures');
/** Clips that come with the sources: the same bytes on every machine, and nobody waits for them (`npm run clips`). */
export const CLIPS = join(ROOT, 'standin', 'testing', 'clips');
/** A clip's truth lies beside it, under its name with this at the end. */
export const TRUTH = '.truth';

/**
 * The hash of all sources in some folders of the project, tests aside: what is made by them is the same while it is.
 * @param read gives what counts of a source
 */
export function sourcesHash(folders: readonly string[], read = (text: string) => text): string {
  const hash = createHash('sha256');
  for (const folder of folders) {
    const names = readdirSync(join(ROOT, folder), { recursive: true, encoding: 'utf8' })
      .filter((name) => /\.(ts|cjs)$/.test(name) && !/\.test\.ts$|(^|\/)(testing|assembly)\//.test(name))
      .sort();
    for (const name of names) hash.update(name).update(read(readFileSync(join(ROOT, folder, name), 'utf8')));
  }
  return hash.digest('hex');
}

let camera: string | null = null;
/** What a clip is kept by: how it was recorded, by which camera. Where the camera's sources find each other says nothing. */
export function nameOf(settings: CameraSettings): string {
  camera ??= sourcesHash(['standin'], (text) => text.replace(/^import [^;]*;$/gm, ''));
  const sorted = JSON.stringify(Object.entries(settings).sort(([a], [b]) => (a < b ? -1 : 1)));
  return createHash('sha256').update(sorted).update(camera).digest('hex').slice(0, 32);
}

/** A clip of the stand-in camera, recorded unless it is kept, and the truth about it. Nobody may change the file. */
export async function fixtureClip(
  settings: CameraSettings,
  options: RecordOptions = {},
): Promise<{ path: string; truth: TakeTruth }> {
  mkdirSync(KEPT, { recursive: true });
  const name = `${nameOf(settings)}.mp4`;
  const path = join(existsSync(join(CLIPS, name)) ? CLIPS : KEPT, name);
  const told = path + TRUTH;
  if (!existsSync(told) || !existsSync(path)) {
    const fresh = join(KEPT, `${randomUUID()}.mp4`);
    const truth = await recordTake(settings, fresh, options);
    renameSync(fresh, path);
    writeFileSync(fresh, JSON.stringify(truth));
    renameSync(fresh, told);
  }
  return { path, truth: JSON.parse(readFileSync(told, 'utf8')) as TakeTruth };
}

/** Lays a kept file where somebody wants it: under a second name where that is possible. */
export function layDown(from: string, to: string): void {
  try {
    linkSync(from, to);
  } catch {
    copyFileSync(from, to);
  }
}
