import type { ScoreClip } from './clip';
import { focus, light, lock } from './families/cameras';
import { cloth } from './families/cloths';
import { cover } from './families/covers';
import { cut, file } from './families/files';
import { gesture } from './families/gestures';
import { compare, hide, pair, zone } from './families/passes';
import { whoIsIn } from './families/people';
import { bars, figure, matte, meet, spot, stills } from './families/things';

/** So many clips of each family to work with, and so many sealed ones. */
const OPEN = 12;
const SEALED = 6;
const MAKERS: Record<string, (k: number, sealed: boolean) => Promise<ScoreClip>> = {
  ...{ lock, light, focus, file, cover, cut, pair, compare, hide, zone },
  ...{ stills, spot, beats: gesture, meet, cloth, bars, figure, matte },
  'who-is-in': whoIsIn,
};

/** All families of clips: one for each measure. */
export const FAMILIES = Object.keys(MAKERS);

/** The clips of a family. */
export function clipsOf(family: string, sealed: boolean): Promise<ScoreClip[]> {
  return Promise.all(Array.from({ length: sealed ? SEALED : OPEN }, (_, k) => MAKERS[family](k, sealed)));
}
