import type { Requirement, ScriptLine, Trick, TrickWishes } from '../tricks/types';

/** How the camera is set and where it stands, as noted by hand; null where nothing is noted yet. */
export interface CameraNotes {
  camera: string;
  lens: string;
  focal_mm: number | null;
  width: number | null;
  height: number | null;
  fps: number | null;
  /** Exposure time, s. */
  shutter_s: number | null;
  iso: number | null;
  white_k: number | null;
  focus_m: number | null;
  /** Lens over ground, m, and tilt, degrees, up is positive. */
  height_m: number | null;
  tilt_deg: number | null;
}

export const NO_NOTES: CameraNotes = {
  camera: '',
  lens: '',
  focal_mm: null,
  width: null,
  height: null,
  fps: null,
  shutter_s: null,
  iso: null,
  white_k: null,
  focus_m: null,
  height_m: null,
  tilt_deg: null,
};

export interface Delivery {
  width: number;
  height: number;
  fps: number;
}

/** A trick as it is planned on a setup: its own copy, adjusted, and which of the setup's parts records which of its parts. */
export interface PlannedTrick {
  id: string;
  trick: Trick;
  wishes: TrickWishes;
  /** Part key of the trick to the id of the setup's part. */
  parts: Record<string, string>;
}

/** Something to be recorded at a setup; several tricks may rest on it. */
export interface PlannedPart {
  id: string;
  name: string;
  what: string;
  seconds: number;
  optional: boolean;
}

/** Something in the plan that cannot work, or will hurt, with what to do. */
export interface Contradiction {
  code: 'rate' | 'headroom' | 'position' | 'small' | 'shutter' | 'moving' | 'lens';
  /** Ids of the planned tricks it concerns; empty for the setup itself. */
  tricks: string[];
  text: string;
  fix: string;
}

/** One step of rolling a setup. */
export interface RollStep {
  part: PlannedPart;
  /** Names of the tricks it serves. */
  tricks: string[];
  why: string;
  script: ScriptLine[];
  /** The requirements that speak of it. */
  requirements: Requirement[];
  /** Recorded in another place: it does not keep this setup from being struck. */
  elsewhere: boolean;
  /** Steps with the same number are rolled without stopping the camera. */
  roll: number;
}
