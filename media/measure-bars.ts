import { basename } from 'node:path';
import { judgeBars } from '../core/judge/bars';
import { barHeight, measureBars } from '../core/moments/bars';
import type { BarsFound, BarsReport } from '../core/report/moment-types';
import { UnusableMedia } from './errors';
import type { AgainstFile } from './lay-on';
import { analyseTake, type Delivery } from './measure-take';
import type { TakeFile } from './plate';
import { whoIsIn } from './who-is-in';

export interface BarsOptions {
  /** Width over height of the wide picture. */
  ratio: number;
  delivery?: { width: number; height: number };
  signal?: AbortSignal;
  onProgress?: (doing: string) => void;
}

/**
 * Where somebody steps over the bars of a wide picture.
 * @throws UnusableMedia when a file cannot be used, or the picture is as wide as asked for without bars
 */
export async function findBars(take: TakeFile, plate: AgainstFile | null, options: BarsOptions): Promise<BarsFound> {
  const { analysis, name } = take;
  const { probe, lock, unjudged } = analysis;
  const bar = barHeight(probe, options.ratio);
  if (bar < 1)
    throw new UnusableMedia(
      `"${name}" is ${probe.width} x ${probe.height}: a picture of ${options.ratio}:1 in it has no bars. Ask for a wider ratio.`,
      'ratio',
    );
  options.onProgress?.('outlining who is in');
  const who = await whoIsIn(take, plate, options.signal);
  const crop = lock.make_still_crop_pct;
  return { ...measureBars({ ...who, size: probe, bar }), still_crop_pct: crop, unjudged };
}

/** Measures and judges. @throws UnusableMedia when a file cannot be used */
export async function measureBarsFiles(
  path: string,
  platePath: string | undefined,
  options: Omit<BarsOptions, 'delivery'> & { delivery?: Delivery },
): Promise<BarsReport> {
  const name = basename(path);
  options.onProgress?.(`measuring ${name}`);
  const analysis = await analyseTake(path, { name, signal: options.signal, fine: true });
  const plate = platePath === undefined ? null : { path: platePath, name: basename(platePath) };
  const found = await findBars({ path, name, analysis }, plate, options);
  return { file: name, ...found, ...judgeBars(found) };
}
