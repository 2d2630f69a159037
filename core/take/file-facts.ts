import { UnusableMedia } from './unusable';
import type { FileEnding, PictureFacts } from './source';
import { leastShot, shotsOf } from '../measures/lock/cuts';
import type { LockMeter } from '../measures/lock/measure';
import { findStops } from '../measures/lock/stops';
import { mediaFacts, type RepeatMeter } from '../measures/file/facts';
import type { MediaFacts, Run } from '../report/types';
import type { PictureStack } from '../base/image/stack';

/** What decoding a file to its end gave, as far as it tells of the file itself. */
export interface WholeFile {
  probe: PictureFacts;
  ending: FileEnding;
  lock: LockMeter;
  repeats: RepeatMeter;
  stack: PictureStack;
}

/**
 * The facts of a file, once all of it has been decoded.
 * @param wished the shot to measure, counted from 1; the longest when left out
 * @throws UnusableMedia when there is no such shot, with a sentence
 */
export function factsOf(name: string, whole: WholeFile, wished: number | undefined): MediaFacts {
  const { probe, ending, lock, repeats } = whole;
  const { times, declared, broken } = ending;
  const container = { ...probe, times };
  const facts = mediaFacts(container, repeats);
  const gone = lock.cuts(facts.measured_fps ?? 25);
  const stops = stopsOf(whole, facts, gone, broken);
  const cuts = [...gone, ...stops].sort((a, b) => a - b);
  const shots = shotsOf(cuts, repeats.count);
  if (wished !== undefined && !shots[wished - 1])
    throw new UnusableMedia(
      `"${name}" holds ${shots.length === 1 ? 'one shot' : `${shots.length} shots`}; there is no shot ${wished}.`,
      'no-shot',
    );
  const longest = shots.reduce((a, b) => (b.end - b.start > a.end - a.start ? b : a));
  return mediaFacts(container, repeats, {
    cuts,
    stops,
    shot: wished === undefined ? longest : shots[wished - 1],
    declared,
    whole: ending.whole,
    broken,
  });
}

/** A stop is not looked for so near to broken pictures, s: what breaks stays until all of the picture is coded anew. */
const BROKEN_S = 2;
/** No camera's pictures are as equal as a screen's, on which things come and go at once; what it codes coarsely is up to 0.993. */
const NO_CAMERA = 0.997;

/** Where the camera was stopped, and went on with the same view. */
function stopsOf(
  { lock, repeats, stack }: WholeFile,
  { measured_fps, repeated_frames, missing_frames }: MediaFacts,
  cuts: readonly number[],
  broken: readonly Run[],
): number[] {
  if (repeats.usualEqual > NO_CAMERA) return [];
  const fps = measured_fps ?? 25;
  const wide = Math.round(BROKEN_S * fps);
  const near = broken.flatMap(({ start, end }) =>
    Array.from({ length: end - start + 1 + 2 * wide }, (_, k) => start - wide + k),
  );
  return findStops({
    pictures: stack,
    changes: repeats.changes,
    grain: repeats.grain,
    shift: (a, b) => {
      const moved = lock.shift(a, b);
      return moved && [moved[0] / stack.size.factor, moved[1] / stack.size.factor];
    },
    doubtful: new Set([...repeated_frames, ...missing_frames.map((m) => m.after + 1), ...cuts, ...near]),
    least: leastShot(fps),
  });
}
