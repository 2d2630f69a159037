import { stat } from 'node:fs/promises';
import { setTimeout as pause } from 'node:timers/promises';
import { median } from '../../core/base/numeric/quantile';
import { rateOf } from '../../core/measures/file/facts';
import type { Run } from '../../core/report/types';
import { UnusableMedia } from '../errors';
import { DECODE_LIMITS } from './limits';
import { ENDS_EARLY, type FrameIndex } from './frame-index';
import type { Probe } from './probe';
import { inputArguments, runTool } from './run';

/** A file written to within this long, ms, is looked at again after it. */
const AT_REST_MS = 400;
/** A file breaks off when its last picture comes so much before the declared end, s and share of its length. */
const SHORT_S = 0.5;
const SHORT_SHARE = 0.04;
/** Whether decoding complained of pictures. */
const BROKEN = /error|corrupt|invalid|conceal|missing/i;

/**
 * Waits for a file that was written to just now.
 * @throws UnusableMedia when it still grows
 */
export async function assureAtRest(path: string, name: string): Promise<void> {
  const before = await stat(path);
  const age = Date.now() - before.mtimeMs;
  if (age > AT_REST_MS || age < 0) return;
  await pause(AT_REST_MS - age);
  const after = await stat(path);
  if (after.size !== before.size)
    throw new UnusableMedia(
      `"${name}" is still being written. Wait until it is copied whole, and try again.`,
      'growing',
    );
}

/** How much of a file is there. */
export interface Wholeness {
  /** Pictures that the header, the index or the declared length promise; null when they do not say. */
  declared: number | null;
  whole: boolean;
}

/**
 * Holds what was decoded of a file against what its header, its index and its times declare.
 * @param count pictures decoded. @param complaints what decoding complained of
 */
export function wholenessOf(
  probe: Probe,
  { times, packets, endsEarly }: FrameIndex,
  count: number,
  complaints: string,
): Wholeness {
  const known = times.filter(Number.isFinite);
  const gaps = known.slice(1).map((t, i) => t - known[i]);
  const gap = gaps.length ? median(gaps) : 1 / (rateOf(probe.containerFps) || 25);
  const indexed = /mov|mp4/.test(probe.container) ? probe.declaredFrames : null;
  // Some readers work the length out from what is left of a file; its header's count of pictures is as it was written.
  const counted = (probe.declaredFrames ?? 0) / (rateOf(probe.containerFps) || Infinity);
  const length = Math.max(probe.pictureDuration ?? probe.declaredDuration ?? 0, counted) || null;
  const end = known.length ? known[known.length - 1] - Math.min(0, known[0]) + gap : null;
  // An index says it to the picture; a declared length may be rounded, or the sound's.
  const fewer = indexed !== null && packets < indexed;
  const shorter = end !== null && length !== null && length - end > Math.max(3 * gap, SHORT_S, SHORT_SHARE * length);
  const short = fewer || shorter;
  const promised = indexed ?? (length === null || !(gap > 0) ? null : Math.round(length / gap));
  return {
    declared: short || indexed !== null ? promised : times.length,
    whole: !(short || ((endsEarly || ENDS_EARLY.test(complaints)) && promised !== null && count < promised - 1)),
  };
}

/**
 * Runs of pictures that could not be decoded as they were recorded, or between which some could not be decoded at all.
 * Decodes the file once more, only where decoding it complained.
 * @param times when pictures are shown, s
 */
export async function brokenFrames(path: string, complaints: string, times: readonly number[]): Promise<Run[]> {
  if (!BROKEN.test(complaints)) return [];
  const { stderr } = await runTool(
    'ffmpeg',
    [
      '-hide_banner',
      '-nostdin',
      '-v',
      'info',
      '-threads',
      '1',
      ...inputArguments(path),
      '-map',
      '0:V:0',
      '-vf',
      'showinfo',
      '-f',
      'null',
      '-',
    ],
    DECODE_LIMITS,
    ENOUGH,
  );
  const runs: Run[] = [];
  const mark = (frame: number) => {
    const last = runs[runs.length - 1];
    if (last && last.end >= frame - 1) last.end = Math.max(last.end, frame);
    else runs.push({ start: frame, end: frame });
  };
  let corrupt = false,
    spreads = false,
    due = 0;
  for (const line of stderr.split('\n')) {
    if (/corrupt decoded frame/.test(line)) corrupt = true;
    const shown = /showinfo.* n: *(\d+) .*?pts_time:(\S+) .*?type:(\w)/.exec(line);
    if (!shown) continue;
    const frame = Number(shown[1]),
      at = Number(shown[2]);
    // Pictures that are due before this one and were not shown are lost.
    const first = due;
    while (due < times.length && times[due] < at - NEAR_S) due++;
    if (due > first && frame > 0) mark(frame);
    due++;
    // What is broken in a picture goes on in those that are coded from it.
    if (shown[3] === 'I') spreads = false;
    if (corrupt && shown[3] !== 'B') spreads = true;
    if (corrupt || spreads) mark(frame);
    corrupt = false;
  }
  return runs;
}

/** Times nearer than this, s, are one. */
const NEAR_S = 0.002;
/** Characters of a tool's remarks that are kept: some three hundred for each picture. */
const ENOUGH = 64 * 1024 * 1024;
