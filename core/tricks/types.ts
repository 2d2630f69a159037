import type { SumKind } from '../calculators/kinds';

/** What a part is for; parts with the role `plate` can be shared by several tricks of one setup. */
export type PartRole = 'plate' | 'pass' | 'out-side' | 'in-side' | 'still';

/** What a take is judged for where no trick says what it must be. */
export type Purpose = 'locked' | 'plate' | 'out' | 'in' | 'moving' | 'still';

/** One thing that must be recorded for a trick. */
export interface TrickPart {
  /** Unique within the trick, lower case: "plate". */
  key: string;
  name: string;
  role: PartRole;
  /** What to record, for the person at the camera. */
  what: string;
  /** Advised length, seconds. */
  seconds: number;
  /** When in the order of the trick it is best rolled. */
  place: 'first' | 'any' | 'last';
  optional: boolean;
}

export type RequirementKind =
  | 'locked'
  | 'steady-light'
  | 'steady-white'
  | 'steady-focus'
  | 'steady-move'
  | 'same-position'
  | 'same-light'
  | 'same-settings'
  | 'rate-at-least'
  | 'one-roll'
  | 'clean-plate'
  | 'covers-frame'
  | 'leaves-frame'
  | 'same-direction'
  | 'opposite-direction'
  | 'apart'
  | 'inside-frame'
  | 'hidden-at'
  | 'cloth-hides'
  | 'same-spot'
  | 'headroom-at-least'
  | 'sharp-at'
  | 'zone-free'
  | 'zone-till-pulled'
  | 'inside-zone'
  | 'same-outside'
  | 'beats-marked'
  | 'drifts-little'
  | 'cut-out-frames'
  | 'light-on-beat'
  | 'light-inside'
  | 'straight-edge'
  | 'length-at-least';

/** One statement about parts of a trick, decided by a measurement or by a person. */
export interface Requirement {
  /** Unique within the trick. */
  key: string;
  kind: RequirementKind;
  /** Keys of the parts it speaks of. */
  parts: string[];
  /** In the unit of its kind; null where the kind has none. */
  tolerance: number | null;
  /** Why it matters for the mask. */
  why: string;
  /** What to do on set when it fails. */
  remedySet: string;
  /** What can still be done in the edit; null when nothing can. */
  remedyEdit: string | null;
  /** Of kinds that speak of a zone: its corners, shares of the picture; left out, or null, until it is drawn. */
  zone?: [number, number][] | null;
}

/** One line to read aloud on set; about a part, or about all of them when `part` is null. */
export interface ScriptLine {
  part: string | null;
  say: string;
}

export interface Trick {
  /** Unique in the library; "own" for one composed by hand. */
  key: string;
  name: string;
  /** One sentence: what the audience sees. */
  summary: string;
  /** Whether the camera stands still or moves while it is recorded. */
  camera: 'still' | 'moving';
  /** Whether its passes are best recorded without stopping the camera. */
  oneRoll: boolean;
  parts: TrickPart[];
  requirements: Requirement[];
  script: ScriptLine[];
  /** The sums to do before rolling. */
  sums: SumKind[];
  mistakes: string[];
}

/** What is wished of a planned trick beyond its parts; null where nothing is wished. */
export interface TrickWishes {
  /** Speed in the edit, per cent of real: 40 is slow motion. */
  speed_pct: number | null;
  /** Largest push into the picture in the edit, per cent of the delivery frame: 120 enlarges by a fifth. */
  push_pct: number | null;
  /** Camera height over ground, m, and tilt, degrees, when the trick needs its own. */
  height_m: number | null;
  tilt_deg: number | null;
  /** Focal length, mm, when the trick needs its own. */
  lens_mm: number | null;
}

export const NO_WISHES: TrickWishes = {
  speed_pct: null,
  push_pct: null,
  height_m: null,
  tilt_deg: null,
  lens_mm: null,
};
