import type { TakeFacts } from '../../report/summaries';
import { TAKE_REQUIREMENTS } from './requirements';
import type { TakeMeasures } from '../../report/types';
import type { Measure } from '../../judge/measure';

/**
 * What an older version found, with what it did not look for as it usually is, in place: it is read until it is measured
 * again.
 */
export function asNow<T extends TakeFacts | TakeMeasures>(found: T): T {
  const { media, lock } = found;
  const last = Math.max(0, media.frame_count - 1);
  if (lock.usable_run === undefined) {
    const whole = { start: 0, end: last };
    Object.assign(media, {
      missing_count: 0,
      first_gap_after: null,
      cuts: [],
      shot: whole,
      declared_frames: null,
      complete: true,
      broken_frames: [],
    });
    Object.assign(lock, {
      usable_run: lock.peak_px === null ? null : whole,
      handheld: false,
      moves: false,
      speed_px_per_s: null,
      steadiest: [],
      restless_share: 0,
    });
  }
  return found;
}

/** A take by itself: the file's facts, the camera's lock, light, focus, and who is in. Everything else rests on it. */
export const TAKE: Measure<object, TakeMeasures, TakeFacts> = {
  key: 'take',
  finds: 'movement, light, focus, and who is in',
  version: 11,
  reads: 1,
  takes: 1,
  ordered: true,
  many: false,
  needs: [],
  uses: [],
  decides: TAKE_REQUIREMENTS,
  wish: (joi) => joi.object({}),
  apart: [
    'media.repeated_frames',
    'media.missing_frames',
    'lock.path',
    'lock.patches',
    'light.path',
    'focus.path',
    'presence.path',
  ],
  files: { folder: 'proxies', by: 'recording' },
  sorry: 'Measuring broke off for a reason inside the app. The recording is kept; run it again.',
};
