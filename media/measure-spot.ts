import { basename } from 'node:path';
import { judgeSpot } from '../core/judge/spot';
import { measureSpot, type SpotWish } from '../core/moments/spot';
import type { SpotFound, SpotReport } from '../core/report/moment-types';
import { UnusableMedia } from './errors';
import type { AgainstFile } from './lay-on';
import { analyseTake } from './measure-take';
import type { TakeFile } from './plate';
import { twoTracks } from './two-tracks';

export interface SpotOptions {
  signal?: AbortSignal;
  onProgress?: (doing: string) => void;
}

/**
 * Holds what is in one take at its frame against what is in another at its own.
 * @throws UnusableMedia when a file or a frame cannot be used
 */
export async function findSpot(
  a: TakeFile,
  b: TakeFile,
  plate: AgainstFile | null,
  wish: SpotWish,
  { signal, onProgress }: SpotOptions = {},
): Promise<SpotFound> {
  for (const [{ name, analysis }, at] of [
    [a, wish.at_a],
    [b, wish.at_b],
  ] as const)
    // prettier-ignore
    if (at !== null && at >= analysis.poses.length)
      throw new UnusableMedia(`"${name}" has frames 0 to ${analysis.poses.length - 1}; ${at} is none of them.`, 'frame');
  onProgress?.('outlining what is in');
  const tracks = await twoTracks(a, b, plate, signal);
  const cannot = tracks.place ? null : 'The two could not be laid on each other: they show too little in common.';
  return {
    ...measureSpot(tracks.a, tracks.b, wish),
    uncertainty_px: tracks.uncertainty,
    unjudged: a.analysis.unjudged ?? b.analysis.unjudged ?? cannot,
  };
}

/** Measures and judges. @throws UnusableMedia when a file cannot be used */
export async function measureSpotFiles(
  first: string,
  second: string,
  platePath: string | undefined,
  { delivery, wish, ...options }: SpotOptions & { delivery?: { width: number }; wish: SpotWish },
): Promise<SpotReport> {
  const open = async (path: string): Promise<TakeFile> => {
    const name = basename(path);
    options.onProgress?.(`measuring ${name}`);
    return { path, name, analysis: await analyseTake(path, { name, signal: options.signal, fine: true }) };
  };
  const [a, b] = await Promise.all([open(first), open(second)]);
  const plate = platePath === undefined ? null : { path: platePath, name: basename(platePath) };
  const found = await findSpot(a, b, plate, wish, options);
  const { width } = a.analysis.probe;
  return { file: a.name, against: b.name, ...found, ...judgeSpot(found, (delivery?.width ?? width) / width) };
}
