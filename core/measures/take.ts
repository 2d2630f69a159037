import type { TakeFacts } from '../judge/take';
import { TAKE_REQUIREMENTS } from '../judge/take-requirements';
import type { TakeMeasures } from '../report/types';
import type { Measure } from './measure';

/** A take by itself: the file's facts, the camera's lock, light, focus, and who is in. Everything else rests on it. */
export const TAKE: Measure<object, TakeMeasures, TakeFacts> = {
  key: 'take',
  finds: 'movement, light, focus, and who is in',
  version: 1,
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
