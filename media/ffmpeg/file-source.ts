import type { TakeAnalysis } from '../../core/take/analysis';
import { basename } from 'node:path';
import type { Against, MeasuredTake } from '../../core/take/measured-take';
import type { PictureSource } from '../../core/take/source';
import { withNames } from '../errors';
import { frameTimes } from './frame-index';
import { colourPictures, fullPictures, pictures } from './frames';
import { probeFile, type Probe } from './probe';
import { openRecording } from './recording';
import { soundOf } from './sound';
import { SpillStore } from '../store/spill-store';

/** What comes of a file, with messages that call it by the name to show. */
async function* called<T>(from: AsyncIterable<T>, path: string, name: string): AsyncGenerator<T, void> {
  try {
    yield* from;
  } catch (error) {
    throw withNames(error, [{ path, name }]);
  }
}

/** A file that was looked into, to be read as measures need it. */
export function fileSource(path: string, name: string, facts: Probe): PictureSource {
  const named = <T>(from: AsyncIterable<T>) => called(from, path, name);
  return {
    facts,
    read: readingOf(path, name),
    keep: (bytes) => new SpillStore(bytes),
    pictures: (wish) => named(pictures(path, facts, wish)),
    colour: (wish, signal) => named(colourPictures(path, facts, wish, signal)),
    full: (frames, signal) => named(fullPictures(path, facts, frames, signal)),
    times: () => frameTimes(path, facts, name),
    sound: () => soundOf(path),
  };
}

/** @param proxy where every frame goes as a JPEG besides, the first time that all of them are read */
export function readingOf(path: string, name: string, proxy?: { path: string; width: number }): PictureSource['read'] {
  return async (wish) => {
    const reading = await openRecording(path, name, { ...wish, proxy: wish.run ? undefined : proxy });
    return { ...reading, pictures: () => called(reading.pictures(), path, name) };
  };
}

/** A file that is known already, as measures take it. */
export function takeOf(path: string, name: string, analysis: TakeAnalysis): MeasuredTake {
  return { name, source: fileSource(path, name, analysis.probe), analysis };
}

/**
 * A file to hold a take against: a still picture or a recording.
 * @throws UnusableMedia with a sentence when it is neither
 */
export async function againstOf(path: string, name = basename(path)): Promise<Against> {
  return { name, source: fileSource(path, name, await probeFile(path, name, true)) };
}
