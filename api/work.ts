import type { WorkState } from '../core/judge/measure';

/** How far work is that was asked for, as it is sent. */
export interface WorkSent {
  state: WorkState;
  /** A sentence, when it failed. */
  failure: string | null;
  frames_done: number;
  frames_total: number;
  /** What is being done, in words. */
  doing: string;
  asked_at: string;
}
