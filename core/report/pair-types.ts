import type { PlateGap, Run, Side, Verdict } from './types';

/** A line that parts two passes of one setup. Source pixels of the first one's reference frame. */
export interface Seam {
  /** Whether it serves every frame; else all but those that want a moving mask. */
  fixed: boolean;
  points: [number, number][];
  /** The side of it on which the first pass lies. */
  first_side: Side;
  /** Width of its corridor at the narrowest place over the whole shot, and the frame in which it is that narrow. */
  narrowest_px: number;
  narrowest_frame: number | null;
  /** The widest feather that stays inside the corridor everywhere. */
  feather_px: number;
  /** Second pass less first along the line; null when the light of one is not known there. */
  light_gap_stops: number | null;
}

/** Light that whoever is in a pass throws beyond the line that parts it from the other, or takes away there. */
export interface Thrown {
  /** Among the frames that were looked at, the first pass's. */
  runs: Run[];
  /** Where it is the most: in which frame, by how many stops (negative for light taken away), and where, source pixels. */
  frame: number;
  stops: number;
  x_px: number;
  y_px: number;
  /** Whether the place was seen while nobody was in: else a lamp or a cloud may do it, and not whoever is in. */
  seen_empty: boolean;
}

/** Whoever is in a pass, mirrored in the floor they stand on. */
export interface Mirrored {
  /** Among the frames that were looked at, the first pass's. */
  runs: Run[];
  /** A frame that shows it as it usually is; how strong it is there, 1 for as strong as they are; and where, source pixels. */
  frame: number;
  share: number;
  x_px: number;
  y_px: number;
  width_px: number;
  height_px: number;
  /** Frames in which it reaches over the line into the other pass's part. */
  over: number[];
}

/** A line that moves evenly from one place to another over some frames. */
export interface LineMove extends Run {
  from: [number, number][];
  to: [number, number][];
  first_side: Side;
  feather_px: number;
}

/** Two passes of one setup, frame by frame. Frames are the first pass's; differences are the second less the first. */
export interface PairFound {
  overlap_runs: Run[];
  /** The smallest distance between the two, where both are in; 0 where they overlap. */
  closest_px: number | null;
  closest_frame: number | null;
  /** Where that is. */
  closest_at: { x_px: number; y_px: number } | null;
  /** The smallest slide in time that frees two that overlap: positive when the second must start later. */
  slide: { frames: number; closest_px: number } | null;
  /** Null when nobody needs parting, or no line parts them. */
  seam: Seam | null;
  moving_mask_runs: Run[];
  /** By whoever is in each pass; null where they throw none. Left out where it was not looked for. */
  thrown?: { a: Thrown | null; b: Thrown | null };
  /** Whoever is in each pass, mirrored in the floor; null where nobody is. Left out where it was not looked for. */
  mirrored?: { a: Mirrored | null; b: Mirrored | null };
  /** Lines that serve those frames, as few as can be, each held for its run; frames of overlap have none. */
  moving_lines: (Run & { points: [number, number][]; first_side: Side; feather_px: number })[];
  /**
   * How the line moves from one of its places to the next: evenly, from `from` in the first frame to `to` in the last, both
   * of as many points. Over these frames it stands for what is held; where there is none the line jumps.
   */
  line_glides?: LineMove[];
  light: { gap_stops: number; red_stops: number | null; blue_stops: number | null } | null;
  offset: PlateGap['offset'];
  /** Share of the frames of both together in which it is known who is in; and in which anybody is in, of each pass. */
  known_share: number;
  in_share: { a: number; b: number };
  /** How wide whoever is in is at most in either pass, shadows included, from frame to frame; null where nobody is. */
  widest_px: { a: number | null; b: number | null };
  /** Why nothing can be said of who is in, as a sentence; null where it can. */
  unjudged: string | null;
  /** By how many frames the second was laid later. */
  laid: number;
  path: { gap_px: (number | null)[] };
}

export type PairReport = { file: string; against: string } & PairFound & Verdict;
