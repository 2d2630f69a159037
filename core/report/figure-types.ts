import type { Run, Verdict } from './types';

/** How far a thing drifts and turns over some frames. */
export interface Drift {
  /** The farthest that it lies in one frame from where it lies in another, source pixels, and as a share of its size. */
  px: number;
  share: number;
  /** The frame in which it lies farthest from its usual place. */
  frame: number;
  /** Between its farthest turns; null where it has none. */
  turn_deg: number | null;
  /** Its speed in the fastest moments, as shot. */
  speed_px_per_s: number;
}

/** How clearly an outline stands out in one frame. */
export interface OutlineRead {
  frame: number;
  /** Of its length, so much can be followed; the rest would have to be guessed. */
  share: number;
  /** Where it is lost the most, source pixels; null where all of it can be followed. */
  weakest: { x_px: number; y_px: number } | null;
}

/** A thing that is held or hung, or somebody who jumps. Source pixels of the reference frame. */
export interface FigureFound {
  /** The longest run in which it is whole: the frames that are spoken of. */
  run: Run | null;
  /** Its length, as a share of the take less a useless head and tail. */
  run_share: number;
  /** The root of its area, as it is usually. */
  size_px: number | null;
  /** How it moves over the run. */
  drift: Drift | null;
  /** Runs in which it is off the ground, and whole. */
  lifted_runs: Run[];
  /** The frames of these in which its outline can be followed. */
  clear_runs: Run[];
  /** Its outline in the frames that were looked at. */
  outline: OutlineRead[];
  known_share: number;
  unjudged: string | null;
  path: {
    x_px: (number | null)[];
    y_px: (number | null)[];
    turn_deg: (number | null)[];
    /** How far it is off the ground. */
    height_px: (number | null)[];
  };
}

export type FigureReport = { file: string } & FigureFound & Verdict;
