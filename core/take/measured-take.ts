import type { TakeAnalysis } from './analysis';
import type { PictureSource } from './source';

/** A take with the name to show, where its pictures come from, and what is known of it. */
export interface MeasuredTake {
  name: string;
  source: PictureSource;
  analysis: TakeAnalysis;
}

/** What a take is held against: a still picture, or a recording, which is measured first unless that was done. */
export type Against = Omit<MeasuredTake, 'analysis'> & { analysis?: TakeAnalysis };
