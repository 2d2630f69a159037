import type { Box, Run, Side, Verdict, VerdictWord } from './types';

/** A frame worth holding. Boxes and areas are the figure's, without its shadow; source pixels. */
export interface Still extends Box {
  frame: number;
  /** Whether all of it and of its shadow is in the picture. */
  whole: boolean;
  touches: Side[];
  /** The smear of its own edges along its way, 10 to 90 %, less what a still edge has; null where no edge tells it. */
  motion_blur_px: number | null;
  /** 0 to 1, against the sharpest that the take shows of it. */
  sharpness: number;
  area_share: number;
  /** How fast it moves there, a frame; null where the frames beside do not tell. */
  speed_px: number | null;
  hold: VerdictWord;
  /** Runs in which somebody passes where it stands. */
  crossed_runs: Run[];
  files: { picture: string; cutout: string } | null;
}

export interface StillsFound {
  stills: Still[];
  /** Runs in which somebody is in, not cut off by an edge. */
  whole_runs: Run[];
  known_share: number;
  unjudged: string | null;
}

export type StillsReport = { file: string } & StillsFound & Verdict;

/** A thing as it is in one frame. */
export type Spotted = Box & {
  /** Its centre of area. */
  x_centre_px: number;
  y_centre_px: number;
  /** How its longer axis lies, -90 to 90; null for what has none. */
  angle_deg: number | null;
};

/** Where something is in one take at its frame, against what is in another at its own. B less A. */
export interface SpotFound {
  at_a: number | null;
  at_b: number | null;
  dx_px: number | null;
  dy_px: number | null;
  /** Of lengths, B over A. */
  size_ratio: number | null;
  angle_deg: number | null;
  a: Spotted | null;
  b: Spotted | null;
  best: { at_a: number; at_b: number; dx_px: number; dy_px: number; size_ratio: number } | null;
  uncertainty_px: number | null;
  unjudged: string | null;
}

export type SpotReport = { file: string; against: string } & SpotFound & Verdict;

/** A figure that steps over the bars of a wide picture. */
export interface BarsFound {
  bars: { top_px: number; bottom_px: number };
  crosses: { edge: 'top' | 'bottom'; run: Run; depth_px: number }[];
  shadow_below_runs: Run[];
  /** Runs in which a figure that crosses is cut off by the picture's own edge. */
  cut_off_runs: Run[];
  still_crop_pct: number | null;
  clear_runs: Run[];
  known_share: number;
  unjudged: string | null;
}

export type BarsReport = { file: string } & BarsFound & Verdict;

export type BeatKind = 'starts' | 'stops' | 'turns' | 'strikes' | 'light' | 'sound';

/** Something that happens on one frame. Its place is null for a sound. */
export interface Beat {
  frame: number;
  time_s: number;
  kind: BeatKind;
  /** How clearly it stands out, 0 to 1. */
  strength: number;
  x: number | null;
  y: number | null;
  width: number | null;
  height: number | null;
}

export interface BeatsFound {
  beats: Beat[];
  /** Each step of light, with the middles of the cells of the picture that step, source pixels. */
  light_steps: { frame: number; stops: number; cells: [number, number][] }[];
  /** How many frames the sound's onset comes after the nearest strike; null without either. */
  sound_offset_frames: number | null;
  has_sound: boolean;
  known_share: number;
  unjudged: string | null;
}

export type BeatsReport = { file: string } & BeatsFound & Verdict;

/** Two movers that never met: a performer who reacts (A), and a vehicle (B). */
export interface MeetFound {
  a_frame: number | null;
  b_frame: number | null;
  slide_frames: number | null;
  b_direction_deg: number | null;
  a_direction_deg: number | null;
  opposed: boolean | null;
  b_speed_widths_per_s: number | null;
  rate_pct: number | null;
  strobes: boolean | null;
  layer: 'a_over_b' | 'b_over_a' | null;
  overlap_runs: Run[];
  unjudged: string | null;
}

export type MeetReport = { file: string; against: string } & MeetFound & Verdict;

/** What of the performer shows outside the cloth once the plate has taken over. */
export type Leftover = Box & { frame: number; share: number };

/** A cloth behind which somebody vanishes. Source pixels; shares of the picture. */
export interface ClothFound {
  kind: 'drop' | 'pull' | 'mime';
  /** Runs in which the cloth is up and nothing of the performer shows. */
  hides_runs: Run[];
  switch_frame: number | null;
  performer_clear_frame: number | null;
  lands_frame: number | null;
  edge_runs: Record<Side, Run[]>;
  fall: { tilt_deg: number; drift_px: number; speed_px_per_frame: number } | null;
  on_feet: boolean | null;
  /** The worst first. */
  leftovers: Leftover[];
  fade_in_frames: number;
  /** How clearly cloth and performer are told apart by their look, 0 to 1; null where there is no cloth. */
  told_apart: number | null;
  known_share: number;
  unjudged: string | null;
  path: {
    lower_edge_px: (number | null)[];
    upper_edge_px: (number | null)[];
    cloth_share: (number | null)[];
    performer_share: (number | null)[];
  };
}

export type ClothReport = { file: string; against: string } & ClothFound & Verdict;
