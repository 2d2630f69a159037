import type { Mark } from '../core/plan/marks';
import type { ZoneWish } from '../core/measures/zone/description';
import type { HideFound } from '../core/report/hide-types';
import type { PairFound } from '../core/report/pair-types';
import type { ZoneFound } from '../core/report/zone-types';
import type { Zone } from '../core/tricks/zones';
import type { JoinedHow, JoinedWish } from '../core/measures/joined/joined';
import type { Finding } from '../core/judge/measure';
import type { JoinedResult } from '../core/measures/joined/description';
import type { HideWish } from '../core/measures/hide/description';
import type { MeasureOf, MeasureSent } from './measures';
import type { Setup, Shoot } from './plan';

/** A measured take of a setup that can be joined with another. */
export interface PassTake {
  id: string;
  part_id: string;
  part_name: string;
  /** Whether it is a plate in a trick, or meant as one. */
  plate: boolean;
  number: number;
  circled: boolean;
  frame_count: number;
  fps: number | null;
  width: number;
  height: number;
  label: string;
  marks: Mark[];
}

/** What says where two takes meet that are joined in a way; its own key says of which kind it is. */
export type Moment =
  | MeasureOf<'spot'>
  | MeasureOf<'meet'>
  | MeasureOf<'stills'>
  | MeasureOf<'cloth'>
  | MeasureOf<'zone'>
  | MeasureOf<'beats'>;

export type Pair = MeasureSent<object, PairFound>;
export type Hide = MeasureSent<HideWish, HideFound>;
export type Joined = MeasureSent<JoinedWish, JoinedResult>;

/** Two takes of a setup together: which can be chosen, which are, and what is known of them. */
export interface PassBench {
  takes: PassTake[];
  firstId: string | null;
  secondId: string | null;
  /** How the trick that they are of joins them. */
  how: JoinedHow;
  /** The zone of that trick, shares of the picture; null where none is drawn. */
  zone: Zone | null;
  pair: Pair | null;
  /** When somebody in the first is hidden, where the trick asks. */
  hide: Hide | null;
  /** The measure that says where the two meet, and what it found; null where none does, or nobody has asked yet. */
  wants: 'spot' | 'meet' | 'stills' | 'cloth' | null;
  moment: Moment | null;
  proofs: Joined[];
}

export type PassBenchPage = PassBench & { setup: Setup; shoot: Shoot };

export type ZoneSeen = MeasureSent<ZoneWish, ZoneFound>;

/** A trick that speaks of a zone, with what was seen of it in each of its takes. */
export interface ZoneOfTrick {
  /** The planned trick's id and version. */
  id: string;
  version: number;
  name: string;
  zone: Zone | null;
  /** What is asked of it: "nothing enters the marked zone". */
  asks: string[];
  takes: (PassTake & {
    /** Whether what enters the zone is watched; else light in it, or what was drawn round, alone. */
    watched: boolean;
    zone: ZoneSeen | null;
    /** What is asked of it, and whether it meets it, once it was watched. */
    said: Finding[];
    /** The frame that shows it best. */
    at: number | null;
  })[];
}

/** The zones of a setup, and the takes on which they can be drawn. */
export interface ZonePage {
  setup: Setup;
  shoot: Shoot;
  tricks: ZoneOfTrick[];
  takes: PassTake[];
}
