import type { MeasureKey, SummaryOf, WishOf } from '../core/measures';
import type { Verdict } from '../core/report/types';
import type { WorkSent } from './work';

/** A measure of one or two takes as it is sent: how far it is, what was found, and the verdict on that. */
export interface MeasureSent<Wish = object, Result = object> extends WorkSent {
  id: string;
  measure: string;
  take_id: string;
  against_id: string | null;
  wish: Wish;
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
