import type { WorkState } from '../core/judge/measure';
import type { Scene } from './plan';

/** What may be acted before the stand-in camera, and what may go wrong with it. */
export const ACTS = [
  'none',
  'jumps',
  'clothes-drop',
  'leaps',
  'falls',
  'reacts',
  'drives-by',
  'taps',
  'lights-lamp',
  'throws-cloth',
  'pulls-cloth',
  'mimes',
  'runs-out',
  'runs-in',
  'hangs',
] as const;
export const ACT_FAULTS = [
  'none',
  'blurred',
  'elsewhere',
  'on-feet',
  'out-of-top',
  'arm-beside',
  'late',
  'wrong-way',
  'cut-off',
  'spills',
  'swings',
] as const;

/** What the stand-in camera is to record. */
export interface RollWish {
  tripod: 'still' | 'drift' | 'knock' | 'handheld' | 'breathing' | 'nudged';
  crossing:
    | 'nobody'
    | 'left-to-right'
    | 'right-to-left'
    | 'stands'
    | 'comes-and-stays'
    | 'shadow-only'
    | 'slips-behind'
    | 'slips-before'
    | 'stands-across'
    | 'reaches-over'
    | 'shadow-crosses'
    | 'in-opening'
    | 'leaves-opening';
  light: 'steady' | 'drift' | 'step' | 'cloud' | 'flicker' | 'brighter' | 'darker';
  white: 'steady' | 'shift';
  focus: 'held' | 'hunt' | 'soft';
  prop: 'none' | 'crate' | 'crate-off' | 'lantern-off';
  tree: boolean;
  rate: 'steady' | 'wandering';
  wipe: 'none' | 'cart' | 'coat' | 'pan' | 'walk-in' | 'lid';
  wipe_way: 'left-to-right' | 'right-to-left';
  wipe_fault: 'none' | 'misses-corner' | 'stays-in' | 'uneven' | 'soft';
  wipe_side: 'out' | 'in';
  act: (typeof ACTS)[number];
  act_fault: (typeof ACT_FAULTS)[number];
  clap: boolean;
  /** The made-up place to record; the setup's own when left out. */
  scene?: Scene;
  seconds: number;
  fps: number;
  width: number;
  /** Levels of 255. */
  grain: number;
  seed: number;
}

/** A recording of the stand-in camera, under way or ended. */
export interface Roll {
  id: string;
  part_id: string;
  state: WorkState;
  frames_done: number;
  frames_total: number;
  failure: string | null;
  /** The take it became. */
  take_id: string | null;
}
