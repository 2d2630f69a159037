import type { Run } from './types';

/** A rough matte of a take: what a mask is started from. */
export interface MatteFound {
  frames: number;
  width: number;
  height: number;
  /** How far its edge lies from the true one, source pixels, by its own estimate; null where there is no edge. */
  edge_error_px: number | null;
  /** Frames in which much of its edge is not told from what lies behind, or nothing is known. */
  unsure_runs: Run[];
  file: string | null;
}

export type MatteReport = { take: string } & MatteFound;
