import type { CoverSummary } from '../measures/cover/judge';

/**
 * What is measured of an object that passes at an even pace, covers all of a picture of some 75 frames, and leaves it
 * again: a verdict of *holds* without anything to be said. @param edge what differs of its edge
 */
export function coverSummary(more: Partial<CoverSummary> = {}, edge: Partial<CoverSummary['edge']> = {}): CoverSummary {
  return {
    kind: 'passing',
    direction_deg: 0,
    enter_frame: 6,
    first_full_frame: 31,
    last_full_frame: 41,
    leave_frame: 66,
    peak_cover_share: 1,
    peak_frame: 36,
    reaches: { top: true, bottom: true, left: true, right: true },
    missed: [],
    punch_in: null,
    edge: {
      speed_px_per_frame: 50,
      speed_spread: 0.02,
      softness_px: 20,
      blur_by_motion_px: null,
      blur_by_defocus_px: null,
      bend_px: null,
      bend_error_px: null,
      lens_k1: null,
      ...edge,
    },
    mask_frames: 25,
    key_frames: [42, 66],
    cut: { out_last_frame: 66, in_first_frame: 42 },
    approach: null,
    changes_per_pixel: 2,
    largest_jump_share: 0.05,
    sure_share: 1,
    free_ends: 'both',
    alike_share: null,
    by_hand: null,
    ...more,
  };
}
