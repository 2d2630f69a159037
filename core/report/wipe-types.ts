import type { MediaFacts, Run, Verdict } from './types';

/** How an object comes to cover the picture. */
export type CoverKind = 'passing' | 'panning' | 'approaching' | 'closing';

/** What was measured of an object that covers the picture. Pixels are source pixels. */
export interface CoverMeasure {
  kind: CoverKind;
  /** The way the edge travels across the picture; null for an approach and where nothing covers. */
  direction_deg: number | null;
  enter_frame: number | null;
  first_full_frame: number | null;
  last_full_frame: number | null;
  /** The last frame in which any of the object is in the picture; null when it never leaves. */
  leave_frame: number | null;
  peak_cover_share: number;
  peak_frame: number | null;
  /** Whether, at the peak, each side of the picture is covered from end to end. */
  reaches: { top: boolean; bottom: boolean; left: boolean; right: boolean };
  /** Where the picture stays open at the peak, the largest first. */
  missed: { where: string; share: number; frames: Run }[];
  punch_in: { scale: number; centre_x_px: number; centre_y_px: number; allowed: boolean } | null;
  edge: {
    speed_px_per_frame: number | null;
    /** How much the speed varies, share of it. */
    speed_spread: number | null;
    softness_px: number | null;
    /** What movement and what defocus make of the softness, where that can be told. */
    blur_by_motion_px: number | null;
    blur_by_defocus_px: number | null;
    /** Greatest distance of the edge's middle from the straight line through its ends, closing only. */
    bend_px: number | null;
    /** To how many pixels that is known. */
    bend_error_px: number | null;
    /** What of the bend is the lens's: a point at r half diagonals from the centre lies at r (1 + k1 r²); closing only. */
    lens_k1: number | null;
  };
  /** How many frames must be masked. */
  mask_frames: number;
  /** The frames to set first, so that straight lines between them follow the edge. */
  key_frames: number[];
  cut: { out_last_frame: number | null; in_first_frame: number | null };
  /** How the object stands while the camera walks up to it; null for other kinds. */
  approach: { off_centre_px: number; sway_px: number; roll_deg: number; speed_spread: number } | null;
  /**
   * How often a pixel that is ever covered changes between free and covered: once or twice for an object, more where
   * what is behind moves by itself.
   */
  changes_per_pixel: number;
  /** The most by which the covered share grows from one frame to the next. */
  largest_jump_share: number;
  /** Share of the frames before the cover in which the background was well seen. */
  sure_share: number;
  /** At which ends of the take nothing stands in front; edges are told only from an end that is free. */
  free_ends: 'both' | 'start' | 'end' | 'neither';
  /**
   * Of what seems open in the fullest frame, the share in which the object would look like what lies behind; null
   * where all is covered, or not known.
   */
  alike_share: number | null;
  /** Edges that a person set, and the share of what lies between them that the picture confirmed; null when nobody did. */
  by_hand: { keys: number; confirmed_share: number } | null;
  path: { cover_share: (number | null)[]; lead_px: (number | null)[]; trail_px: (number | null)[] };
}

/** An object's edges in each frame at three places along the breadth, source pixels. */
export interface CoverEdges {
  way: number;
  lead: (number | null)[][];
  trail: (number | null)[][];
}

/** What measuring a cover finds, with what is drawn over the picture. */
export type CoverResult = CoverMeasure & { edges: CoverEdges };

export type CoverReport = CoverMeasure &
  Verdict & { file: string; media: MediaFacts; delivery: { width: number; height: number; fps: number | null } };

/** How the picture moves on one side of a cut. */
export interface CutSide {
  /** The way its content travels, degrees; null when it stands still. */
  angle_deg: number | null;
  /** Frame widths at delivery a second. */
  speed_widths_per_s: number | null;
  /** Share of the frames looked at that keep to that movement. */
  steady_share: number;
  /** How much its speed varies, as a share of it; null where it stands still. */
  speed_spread: number | null;
  /** Growth of the picture a second, as a share: a camera that walks up to something. */
  growth_per_s: number | null;
  /** The frames looked at. */
  frames: Run | null;
}

/** Two sides of a cut held against each other. */
export interface CutMeasure {
  out: CutSide;
  in: CutSide;
  angle_gap_deg: number | null;
  /** In over out; null when one of them stands still. */
  speed_ratio: number | null;
  relation: 'same' | 'across' | 'against' | 'still';
  retime_pct: number | null;
  mirror_helps: boolean;
  reverse_helps: boolean;
  rate: {
    out_fps: number | null;
    in_fps: number | null;
    delivery_fps: number | null;
    /** What the rate and the speed make of the first second's frames: "every frame", "every 2nd frame", "4 repeats a second". */
    out_pattern: string | null;
    in_pattern: string | null;
  };
}

export type CutReport = CutMeasure &
  Verdict & {
    out_file: string;
    in_file: string;
    delivery: { width: number; height: number; fps: number | null };
    shutter: { out_s: number | null; in_s: number | null };
  };
