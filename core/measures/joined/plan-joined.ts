import type { JoinedWish } from './joined';
import { JOINING_WAYS } from './joining-ways';

// Held locally: looking up a global costs more than the sum itself in some runtimes.
const { max, min, round } = Math;

/** Which frames are shown together; the second stands still where it is too short. */
export interface JoinedPlan {
  first: number[];
  second: number[];
  /** Frames in which the second stands still. */
  second_missing: number;
}

/** Frames of a proof at most. */
export const MOST_FRAMES = 600;

/** What of a wish says which frames are shown together. */
export type JoinedTiming = Pick<JoinedWish, 'how' | 'slide' | 'from'> & Partial<Pick<JoinedWish, 'at' | 'rate_pct'>>;

/** Lays the frames of two takes beside each other; null when none of the one meets any of the other. */
export function planJoined(
  { how, slide, from, at = null, rate_pct: rate = 100 }: JoinedTiming,
  count: { first: number; second: number },
): JoinedPlan | null {
  const pace = rate / 100;
  const { layers, turns, together } = JOINING_WAYS[how];
  const follows = layers.lie === 'follows';
  if (layers.lie === 'held') {
    const frames = min(MOST_FRAMES, count.second - from);
    if (at === null || at >= count.first || frames < 1) return null;
    return {
      first: Array.from({ length: frames }, () => at),
      second: Array.from({ length: frames }, (_, n) => from + n),
      second_missing: 0,
    };
  }
  // A plate may stand still; two performers must both be there, but for who comes in later or has gone.
  const still = !together || (turns && at !== null);
  const start = max(from, still ? 0 : max(0, slide)),
    last = slide + round((count.second - 1) / pace),
    end = follows ? last : still ? count.first - 1 : min(count.first - 1, last);
  if (follows && (at === null || at - slide < 0 || at > end)) return null;
  const frames = min(MOST_FRAMES, end - start + 1);
  if (frames < 1) return null;
  const times = Array.from({ length: frames }, (_, n) => start + n);
  const wanted = times.map((f) => round((f - slide) * pace));
  const counts = (n: number) => !follows || times[n] >= at!;
  return {
    first: times.map((f) => min(count.first - 1, f)),
    second: wanted.map((f) => min(count.second - 1, max(0, f))),
    second_missing: wanted.filter((f, n) => counts(n) && (f < 0 || f >= count.second)).length,
  };
}
