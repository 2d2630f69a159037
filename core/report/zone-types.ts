import type { Run, Verdict } from './types';

/** A run in which somebody is in a zone, or their shadow alone, and how much of it is taken at most. */
export type Entered = Run & { what: 'body' | 'shadow'; share: number; frame: number };

/** A run in which light falls into a zone that does not fall elsewhere: by so many stops where it is the most. */
export type LightChange = Run & { stops: number };

/** How well a zone's own edge can be read in the picture as it was shot. */
export interface EdgeRead {
  /** Share of the outline's length along which a mask can follow it. */
  readable_share: number;
  /** Where it is read worst. */
  weakest: { x_px: number; y_px: number };
  /** Its step there over one frame's grain. */
  step_over_grain: number;
  /** By how many stops the weak half of what cannot be read must be lit; 0 where all of it can be read. */
  lift_stops: number;
}

/** The run in which something is pulled out of a zone, and the runs before and after in which somebody touches the zone. */
export type Pulled = Run & { touched_runs: Run[] };

/** A zone of the picture that is to be kept free, frame by frame. */
export interface ZoneFound {
  entered_runs: Run[];
  first_frame: number | null;
  /** How near anybody comes; 0 when somebody enters, null when nobody is in. */
  closest_px: number | null;
  closest_frame: number | null;
  entered: Entered[];
  /** Runs in which somebody shows outside the zone, and how much of the picture they take there at most. */
  outside: Entered[];
  changes: LightChange[];
  /** Null where what is in the zone at first is there at the end. */
  pulled: Pulled | null;
  /** Null where it follows the picture's edges, or is not known. */
  edge: EdgeRead | null;
  known_share: number;
  unjudged: string | null;
  path: { share: (number | null)[]; gap_px: (number | null)[] };
}

export type ZoneReport = { file: string } & ZoneFound & Verdict;
