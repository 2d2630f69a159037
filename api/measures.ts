import type { MeasureKey, SummaryOf, WishOf } from '../core/measures';
import type { WorkState } from '../core/measures/measure';
import type { Verdict } from '../core/report/types';

/** A measure of one or two takes as it is sent: how far it is, what was found, and the verdict on that. */
export interface MeasureSent<Wish = object, Result = object> {
  id: string;
  measure: string;
  take_id: string;
  against_id: string | null;
  wish: Wish;
  state: WorkState;
  /** A sentence, when it failed. */
  failure: string | null;
  frames_done: number;
  frames_total: number;
  /** What is being done, in words. */
  doing: string;
  asked_at: string;
  /** Null until it is done. */
  result: Result | null;
  verdict: Verdict | null;
}

/** A measure of a known kind without its paths, as lists and benches show it. */
export type MeasureOf<K extends MeasureKey> = MeasureSent<WishOf<K>, SummaryOf<K>>;

/** What is asked for. The wish is checked by the measure's own description. */
export interface MeasureAsked {
  take: string;
  against: string | null;
  wish?: object;
}
