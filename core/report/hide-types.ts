import type { PairFound } from './pair-types';
import type { Box, Run, Side, Verdict } from './types';

/** The line along which a take and its plate are joined where somebody is hidden. Source pixels of the take's reference frame. */
export interface Split {
  /** Whether it serves every frame; else the spill says what it cuts. */
  fixed: boolean;
  points: [number, number][];
  /** Its smallest distance from anything of the performer; 0 where it cuts something. */
  margin_px: number;
  /** The side on which the take stays; the plate stands on the other. */
  keeps: Side;
}

/** What a split cuts off, or leaves over, in one frame. */
export type Spill = Box & { frame: number; what: 'body' | 'shadow' };

/** Somebody who goes behind something fixed and is gone, frame by frame. */
export interface HideFound {
  /** Runs in which nothing of them shows although they were in before. */
  hidden_runs: Run[];
  /** Where there are none: runs in which they are hidden and their shadow still shows. */
  shadow_shows: Run[];
  /** The frame from which the plate may stand alone. */
  switch_frame: number | null;
  /** Whether somebody chose it: then nobody need be hidden, only on the other side of the line from there on. */
  switch_chosen: boolean;
  /** What they are behind; null when they leave by the picture's edge, or are never hidden. */
  behind: Box | null;
  split: Split | null;
  /** The worst first. */
  spill: Spill[];
  /** Frames in which something would have to be cut off by hand along the split. */
  spill_frames: Run[];
  /** The edge by which they leave, when they do not go behind anything. */
  leaves_by: Side | null;
  /** The frame, after most of them was seen, in which the least of them shows, and how much of the picture that is. */
  least_shown: { frame: number; share: number } | null;
  /** The plate less the take. */
  light: PairFound['light'];
  offset: PairFound['offset'];
  known_share: number;
  in_share: number;
  unjudged: string | null;
  path: { shown_share: (number | null)[] };
}

export type HideReport = { file: string; against: string } & HideFound & Verdict;
