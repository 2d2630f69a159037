import type { Measure } from '../../judge/measure';

/** How finely whoever is in a take is outlined; the outlines themselves lie in a file beside the recording's others. */
export interface OutlinesFound {
  /** Size of the grid, and source pixels for one of its pixels; null where nothing is known of who is in. */
  grid: { width: number; height: number; factor: number } | null;
  /** Frames in which it is known who is in. */
  known_frames: number;
}

/** Whoever is in a take, outlined finely in each frame. Judges nothing: measures that tell by it have it made first, once. */
export const OUTLINES: Measure<object, OutlinesFound, OutlinesFound> = {
  key: 'outlines',
  finds: 'the outlines of whoever is in',
  version: 4,
  reads: 1,
  takes: 1,
  ordered: true,
  many: false,
  needs: ['take'],
  uses: [],
  decides: {},
  wish: (joi) => joi.object({}),
  apart: [],
  files: { folder: 'proxies', by: 'recording' },
  sorry: 'Outlining whoever is in broke off for a reason inside the app. Ask for it again.',
};
