import type { MediaFacts, VerdictWord } from '../report/types';
import type { FocusSummary } from './focus';
import type { LightSummary } from './light';
import type { LockSummary } from './lock';
import type { PresenceSummary } from './presence';

/** The facts of a file that lists and judges read. */
export type MediaSummary = Omit<MediaFacts, 'repeated_frames' | 'missing_frames'>;

/** What measuring a take by itself found, without its paths. */
export interface TakeFacts {
  media: MediaSummary;
  lock: LockSummary;
  light: LightSummary;
  focus: FocusSummary;
  presence: PresenceSummary;
  grain_levels: number | null;
}

/** A take's state as lists show it: the verdict on it for what it is for, why, what to do, and what was seen in one line. */
export interface TakeSummary {
  verdict: VerdictWord;
  text: string;
  fix: string | null;
  line: string;
  /** What it was judged for: "pass A of Double". */
  judged_for: string;
  /** Something it is judged by is still being measured. */
  pending: boolean;
}
