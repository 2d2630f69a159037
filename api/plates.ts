import type { Run } from '../core/report/types';
import type { MeasureOf } from './measures';
import type { Setup, Shoot } from './plan';

/** An empty picture that a setup's takes offer, the best first. */
export interface PlateOffer {
  takeId: string;
  partName: string;
  takeNumber: number;
  kind: 'clear_run' | 'stitched';
  /** The clear run; null where a plate must be stitched. */
  run: Run | null;
  seconds: number;
  /** Light against the take it is for, stops; null when not known. */
  stops: number | null;
  minutes: number;
  grain: number | null;
  /** Whether something stands in the take all through that the take it is for does not show. */
  occupied: boolean;
  /** A frame to show. */
  frame: number;
}

export interface BenchTake {
  id: string;
  partName: string;
  number: number;
  width: number;
  height: number;
  frameCount: number;
  fps: number | null;
  clear: Run[];
}

/** A plate that was made or is being made, and the take that was made of it. */
export type Plate = MeasureOf<'plate'> & { kept_as: string | null };

export interface PlateBench {
  takes: BenchTake[];
  /** The take the plate is for. */
  forId: string | null;
  offers: PlateOffer[];
  plates: Plate[];
  /** Parts that a plate can be kept for. */
  parts: { id: string; name: string }[];
  /** Takes from which no plate can be made, and why. */
  without: { takeId: string; partName: string; takeNumber: number; why: string }[];
}

export type PlateBenchPage = PlateBench & { setup: Setup; shoot: Shoot };

/** How a plate's picture is saved. */
export interface PlateFile {
  as: 'full' | 'delivery' | 'clip';
  /** Length of a clip. */
  seconds: number;
}
