/**
 * Lays the clips that tests rolled, as they lie in the cache, among the sources: `npm run clips`. To be run after a change
 * of the stand-in camera, when `./test` has run with an empty `.cache/fixtures`.
 */
import { copyFileSync, mkdirSync, readdirSync, readFileSync, rmSync, statSync } from 'node:fs';
import { join } from 'node:path';
import type { TakeTruth } from '../standin/record';
import { CLIPS, KEPT, nameOf, TRUTH } from '../standin/testing/fixtures';

/** Larger ones are rolled anew: what lies among the sources is fetched by everybody, bytes. */
const LARGEST = 400_000;

const wanted = new Set<string>();
for (const folder of [KEPT, CLIPS]) mkdirSync(folder, { recursive: true });
for (const folder of [KEPT, CLIPS]) {
  for (const name of readdirSync(folder).filter((n) => n.endsWith(TRUTH))) {
    const clip = name.slice(0, -TRUTH.length);
    const { settings } = JSON.parse(readFileSync(join(folder, name), 'utf8')) as TakeTruth;
    // Of an older camera it has another name.
    if (clip !== `${nameOf(settings)}.mp4` || statSync(join(folder, clip)).size > LARGEST) continue;
    wanted.add(clip);
    if (folder === KEPT) for (const file of [clip, name]) copyFileSync(join(KEPT, file), join(CLIPS, file));
  }
}
for (const name of readdirSync(CLIPS)) if (!wanted.has(name.replace(TRUTH, ''))) rmSync(join(CLIPS, name));
const bytes = readdirSync(CLIPS).reduce((sum, name) => sum + statSync(join(CLIPS, name)).size, 0);
console.log(`${wanted.size} clips, ${(bytes / 1e6).toFixed(1)} MB`);
