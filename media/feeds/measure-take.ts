import type { TakeAnalysis } from '../../core/take/analysis';
import { basename } from 'node:path';
import { COVER } from '../../core/measures/cover/description';
import type { Outcome } from '../../core/judge/measure';
import type { TakeReport } from '../../core/report/types';
import * as take from '../../core/take/analyse';
import { findCover, type CoverOptions, type Delivery } from '../../core/take/cover';
import type { MeasuredTake } from '../../core/take/measured-take';
import { reportAnalysed, TAKE_ID } from '../../core/take/report';
import type { Purpose } from '../../core/tricks/types';
import { readingOf, takeOf } from '../ffmpeg/file-source';
import { SpillStore } from '../store/spill-store';

export interface MeasureOptions extends take.TakeOptions {
  delivery?: Delivery;
  /** The name to show in messages and in the report; the file's own by default. */
  name?: string;
  /** Also writes every frame as a JPEG, one after the other, into this file, at most this wide. */
  proxy?: { path: string; width: number };
}

/** What reads a file as `analyseTake` and `findCover` of the core want it. */
const recorded = (path: string, name: string, proxy?: MeasureOptions['proxy']) => ({
  name,
  source: { read: readingOf(path, name, proxy), keep: (bytes?: number) => new SpillStore(bytes) },
});

/**
 * Decodes a take once and measures all there is to measure; of a file that holds several shots the longest one, or the
 * one that is asked for, in a second decode.
 * @throws UnusableMedia when the file cannot be used
 */
export function analyseTake(path: string, { name, proxy, ...options }: MeasureOptions = {}): Promise<TakeAnalysis> {
  return take.analyseTake(recorded(path, name ?? basename(path), proxy), options);
}

/** The same, ready for other measures. @throws UnusableMedia when the file cannot be used */
export async function openTake(
  path: string,
  { name = basename(path), ...options }: MeasureOptions = {},
): Promise<MeasuredTake> {
  return takeOf(path, name, await analyseTake(path, { name, ...options }));
}

/** Finds what covers the picture of a file. @throws UnusableMedia when the file cannot be used */
export const coverOf = (path: string, { name = basename(path), ...options }: CoverOptions & { name?: string } = {}) =>
  findCover(recorded(path, name).source, options);

/**
 * Measures and judges one take in a single decode, or two where it must.
 * @param purpose what the take is for; as a locked pass when left out
 * @throws UnusableMedia when the file cannot be used
 */
export async function measureTake(
  path: string,
  { purpose = 'locked', name = basename(path), ...options }: MeasureOptions & { purpose?: Purpose } = {},
): Promise<TakeReport> {
  const a = await analyseTake(path, { name, ...options });
  const { width, height, measured_fps: fps } = a.media;
  const delivery = options.delivery ?? { width, height, fps };
  // What covers the picture is measured where somebody asks.
  const outcomes = purpose === 'out' ? [await coverOutcome(path, name, { ...options, delivery })] : [];
  return reportAnalysed(a, name, purpose, delivery, outcomes);
}

async function coverOutcome(path: string, name: string, { delivery, signal }: MeasureOptions): Promise<Outcome> {
  const { measure } = await coverOf(path, { name, delivery, signal });
  return { measure: COVER.key, takes: [TAKE_ID], state: 'done', failure: null, result: measure };
}
