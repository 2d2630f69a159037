import type { TakeFacts } from '../../core/report/summaries';
import { MEASURES, type MeasureKey } from '../../core/measures';
import { keptPath, type Subject } from '../store/kept-files';

/** A take that a measure is made of. */
export interface FedTake {
  id: string;
  /** Its recording, and that recording's hash. */
  path: string;
  hash: string;
  /** The name to show. */
  name: string;
  /** What measuring it by itself found; null while just that is done. */
  facts: TakeFacts | null;
  /** Whole results of other measures of it, by their keys, as far as they are known. */
  known: Record<string, object>;
}

/** One measure to be made. Plain data: it travels to another thread. */
export interface FeedTask<Wish = object> {
  takes: FedTake[];
  /** The setup's empty frame, for measures that tell by it who stands in a take; null where there is none. */
  plate: FedTake | null;
  wish: Wish;
  delivery: { width: number; height: number; fps: number };
  /** The data folder, and the id of the measure, for files. */
  root: string;
  id: string;
}

/** What a feed works with beside its task. */
export interface FeedTools {
  signal: AbortSignal;
  /** Told now and then how far it is: of how many frames, or what is being done. */
  progress: (done: number, total: number, doing?: string) => void;
  /** Where to write a file that is kept under this name once the measure is done. */
  fresh: (name: string) => string;
}

/** Decodes what a measure needs, feeds it, and gives what it found. @throws UnusableMedia with a sentence */
export type Feed<Wish = object, Result extends object = object> = (
  task: FeedTask<Wish>,
  tools: FeedTools,
) => Promise<Result>;

/** Where a file lies that a measure kept of a take of a task. */
export function fileOf(task: FeedTask, measure: MeasureKey, take: FedTake, name: string): string {
  const subject: Subject = { recording: take.hash, take: take.id, itself: task.id };
  return keptPath(task.root, MEASURES[measure].files, subject, name);
}
