import type { FocusMeasure, LightMeasure, LockMeasure, MediaFacts, PresenceMeasure, VerdictWord } from './types';

/** The facts of a file that lists and judges read. */
export type MediaSummary = Omit<MediaFacts, 'repeated_frames' | 'missing_frames'>;

/** What lists and judges read of each measure of a take: all but its paths. */
export type LockSummary = Omit<LockMeasure, 'path' | 'patches'>;
export type LightSummary = Omit<LightMeasure, 'path'>;
export type FocusSummary = Omit<FocusMeasure, 'path'>;
export type PresenceSummary = Omit<PresenceMeasure, 'path'>;

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
