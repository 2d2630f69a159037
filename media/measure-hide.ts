import { basename } from 'node:path';
import { measureHide } from '../core/hide/measure';
import { judgeHide } from '../core/judge/hide';
import type { HideFound, HideReport } from '../core/report/hide-types';
import { UnusableMedia } from './errors';
import type { AgainstFile } from './lay-on';
import { analyseTake } from './measure-take';
import type { TakeFile } from './plate';
import { lightOf, offsetOf, whoIsIn } from './who-is-in';

export interface HideOptions {
  /** The switch frame, where somebody chose it. */
  at?: number;
  signal?: AbortSignal;
  onProgress?: (doing: string) => void;
}

/** Looks in a take for when somebody is hidden. @throws UnusableMedia when a file cannot be used */
export async function findHide(
  take: TakeFile,
  plate: AgainstFile | null,
  options: HideOptions = {},
): Promise<HideFound> {
  const { analysis, name } = take;
  const { at, signal, onProgress } = options;
  if (at !== undefined && at >= analysis.media.frame_count)
    throw new UnusableMedia(
      `"${name}" has frames 0 to ${analysis.media.frame_count - 1}; frame ${at} is not among them.`,
      'frame',
    );
  onProgress?.('outlining who is in');
  const who = await whoIsIn(take, plate, signal);
  onProgress?.('looking for what hides them');
  return {
    ...measureHide({ ...who, at: at ?? null }),
    light: who.laid && lightOf(who.apart),
    offset: who.laid && offsetOf(who.laid),
    unjudged: analysis.unjudged,
  };
}

/** Measures and judges a take in which somebody goes behind something. @throws UnusableMedia when a file cannot be used */
export async function measureHideFiles(
  path: string,
  platePath: string,
  { delivery, ...options }: HideOptions & { delivery?: { width: number; height: number } } = {},
): Promise<HideReport> {
  const name = basename(path);
  options.onProgress?.(`measuring ${name}`);
  const analysis = await analyseTake(path, { name, signal: options.signal, fine: true });
  const plate = { path: platePath, name: basename(platePath) };
  const found = await findHide({ path, name, analysis }, plate, options);
  const { width, height } = analysis.probe;
  const by = { size: { width, height }, delivery: delivery ?? { width, height }, plate: true };
  return { file: name, against: plate.name, ...found, ...judgeHide(found, by) };
}
