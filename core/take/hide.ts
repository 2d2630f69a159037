import { UnusableMedia } from './unusable';
import type { Against, MeasuredTake } from './measured-take';
import { measureHide } from '../measures/hide/measure';
import type { HideFound } from '../report/hide-types';
import { lightOf, offsetOf, whoIsIn } from './who-is-in';

export interface HideOptions {
  /** The switch frame, where somebody chose it. */
  at?: number;
  signal?: AbortSignal;
  onProgress?: (doing: string) => void;
}

/** Looks in a take for when somebody is hidden. @throws UnusableMedia when a file cannot be used */
export async function findHide(
  take: MeasuredTake,
  plate: Against | null,
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
    offset: offsetOf(who.laid?.offset?.references, who.laid?.uncertainty ?? null),
    unjudged: analysis.unjudged,
  };
}
