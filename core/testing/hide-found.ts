import type { HideFound } from '../report/hide-types';

const OFFSET = { dx_px: 0.1, dy_px: 0, rotation_deg: 0, scale: 1, uncertainty_px: 0.1 };
/** Somebody hidden behind a pillar, as if measured; with what is told otherwise. */
export const hideFound = (more: Partial<HideFound> = {}): HideFound => ({
  hidden_runs: [{ start: 60, end: 90 }],
  shadow_shows: [],
  switch_frame: 60,
  switch_chosen: false,
  behind: { x: 560, y: 100, width: 160, height: 500 },
  split: {
    fixed: true,
    points: [
      [640, 0],
      [640, 720],
    ],
    margin_px: 70,
    keeps: 'left',
  },
  spill: [],
  spill_frames: [],
  leaves_by: null,
  least_shown: { frame: 60, share: 0 },
  light: { gap_stops: 0.01, red_stops: null, blue_stops: null },
  offset: OFFSET,
  known_share: 1,
  in_share: 0.5,
  unjudged: null,
  path: { shown_share: [] },
  ...more,
});
