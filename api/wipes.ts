import type { WorkState } from '../core/judge/measure';
import type { Mark } from '../core/plan/marks';
import type { CoverResult } from '../core/report/wipe-types';
import type { CoverWish } from '../core/measures/cover/description';
import type { MeasureOf, MeasureSent } from './measures';
import type { Setup, Shoot } from './plan';

/** A measured take that can be a side of a cut. */
export interface WipeSide {
  id: string;
  part_id: string;
  part_name: string;
  /** What its part is in a trick. */
  role: string | null;
  number: number;
  circled: boolean;
  setup_id: string;
  setup_number: number;
  frame_count: number;
  fps: number | null;
  width: number;
  height: number;
  /** State of what covers it; null when nobody asked. */
  cover_state: WorkState | null;
  /** As it was noted for the setup, seconds. */
  shutter_s: number | null;
  label: string;
  /** Frames that somebody marked in it. */
  marks: Mark[];
}

/** What covers the out side, with its paths and edges. */
export type Cover = MeasureSent<CoverWish, CoverResult>;
export type Cut = MeasureOf<'cut'>;
export type Proof = MeasureSent<MeasureOf<'proof'>['wish'], NonNullable<MeasureOf<'proof'>['result']>>;

/** Both sides of a wipe: which takes can be them, which are, and what is known of them. */
export interface WipeBench {
  sides: WipeSide[];
  outId: string | null;
  inId: string | null;
  cover: Cover | null;
  cut: Cut | null;
  proofs: Proof[];
}

export type WipeBenchPage = WipeBench & { setup: Setup; shoot: Shoot };
