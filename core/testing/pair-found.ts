import type { PairFound } from '../report/pair-types';

/** Two passes with room between them, as if measured; with what is told otherwise. */
export function pairFound(more: Partial<PairFound> = {}): PairFound {
  return {
    overlap_runs: [],
    closest_px: 90,
    closest_frame: 40,
    closest_at: { x_px: 600, y_px: 400 },
    slide: null,
    seam: {
      fixed: true,
      first_side: 'left',
      points: [
        [600, 0],
        [600, 720],
      ],
      narrowest_px: 90,
      narrowest_frame: 40,
      feather_px: 84,
      light_gap_stops: 0.01,
    },
    moving_mask_runs: [],
    moving_lines: [],
    light: { gap_stops: 0.02, red_stops: 0, blue_stops: 0 },
    offset: { dx_px: 0.05, dy_px: 0, rotation_deg: 0, scale: 1, uncertainty_px: 0.03 },
    known_share: 1,
    in_share: { a: 1, b: 0.8 },
    widest_px: { a: 120, b: 160 },
    unjudged: null,
    laid: 0,
    path: { gap_px: [] },
    ...more,
  };
}
