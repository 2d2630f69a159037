import Papa from 'papaparse';
import { LIMITS } from '../judge/limits';
import type { Mark } from '../plan/marks';
import { guard } from './cells';
import { fromTimecode, toTimecode, type TimecodeRate } from '../calculators/timecode';

/** The marks of one take, with what their times are told by. */
export interface MarkedTake {
  /** "Night Ferry, setup 5, Pass, take 2", and the name of its recording. */
  name: string;
  file: string;
  marks: readonly Pick<Mark, 'frame' | 'name' | 'kind'>[];
  /** Pictures a second, exactly: 30000 over 1001. */
  rate: readonly [number, number];
  /** The timecode of its first frame, as the file says; null where it says none. */
  timecode: string | null;
}

/** The columns of marks as CSV. */
export const MARK_COLUMNS = ['take', 'file', 'frame', 'seconds', 'timecode', 'name', 'kind', 'length_frames'] as const;

/** A rate as the file says it ("30000/1001"), or as near as was measured, as a whole number over another; null for neither. */
export function exactRate(declared: string | null, measured: number | null): [number, number] | null {
  const [over, under = 1] = (declared ?? '').split('/').map(Number);
  const said = over > 0 && under > 0 ? over / under : null;
  // What containers declare is not what they hold where the rate wanders.
  if (said && (measured === null || Math.abs(said / measured - 1) < LIMITS.rate.near)) return [over, under];
  return measured && measured > 0 ? [Math.round(measured * 1001), 1001] : null;
}

/** How frames of a rate are counted, numbers dropped where the file's own timecode says so. */
export function countedAt([over, under]: readonly [number, number], timecode: string | null): TimecodeRate | null {
  const nominal = Math.round(over / under);
  const drop = timecode?.includes(';') ?? false;
  return nominal < 1 || nominal > 240 ? null : { nominal, drop: drop && nominal % 30 === 0 };
}

/** The number that a timecode counts for the first frame of a file of this rate; null where it cannot be read. */
export function countFromTimecode(rate: readonly [number, number], timecode: string | null): number | null {
  const counted = countedAt(rate, timecode);
  if (!counted || timecode === null) return null;
  try {
    return fromTimecode(timecode, counted);
  } catch {
    return null;
  }
}

/** The timecode of a frame; null where its file's own cannot be read, or its rate is not counted. */
export function timecodeOf({ rate, timecode }: Pick<MarkedTake, 'rate' | 'timecode'>, frame: number): string | null {
  const counted = countedAt(rate, timecode);
  if (!counted) return null;
  try {
    return toTimecode((timecode === null ? 0 : fromTimecode(timecode, counted)) + frame, counted);
  } catch {
    return null;
  }
}

/** Marks of takes as CSV (RFC 4180), a line each, in the order of the takes and of their frames. */
export function marksCsv(takes: readonly MarkedTake[]): string {
  const lines = takes.flatMap((take) =>
    inOrder(take).map(({ frame, name, kind }) => ({
      take: guard(take.name),
      file: guard(take.file),
      frame,
      seconds: secondsOf(take, frame).toFixed(6),
      timecode: timecodeOf(take, frame) ?? '',
      name: guard(name),
      kind,
      length_frames: 1,
    })),
  );
  return `${Papa.unparse(lines, { columns: [...MARK_COLUMNS], newline: '\r\n' })}\r\n`;
}

/** The marks of a take as WebVTT: each a cue as long as its frame, named by it. */
export function marksVtt(take: MarkedTake): string {
  const [over, under] = take.rate;
  const about = `NOTE ${oneLine(take.name)}, ${oneLine(take.file)}: frames counted from 0, ${over}/${under} a second`;
  const cues = inOrder(take).map(({ frame, name }) => {
    const [start, end] = [clock(secondsOf(take, frame)), clock(secondsOf(take, frame + 1))];
    return `frame ${frame}\n${start} --> ${end}\n${escaped(name)}`;
  });
  return `${['WEBVTT', about, ...cues].join('\n\n')}\n`;
}

const inOrder = ({ marks }: MarkedTake) => [...marks].sort((a, b) => a.frame - b.frame);
const secondsOf = ({ rate: [over, under] }: MarkedTake, frame: number) => (frame * under) / over;

/** hh:mm:ss.ttt, as WebVTT writes a time. */
function clock(seconds: number): string {
  const ms = Math.round(seconds * 1000);
  const two = (v: number) => String(v).padStart(2, '0');
  const [h, m, s] = [Math.floor(ms / 3600000), Math.floor(ms / 60000) % 60, Math.floor(ms / 1000) % 60];
  return `${two(h)}:${two(m)}:${two(s)}.${String(ms % 1000).padStart(3, '0')}`;
}

/** Neither a note nor a cue may hold an arrow. */
const oneLine = (text: string) => text.replace(/\s+/g, ' ').replace(/-->/g, '→').trim();
const escaped = (text: string) =>
  oneLine(text).replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;') || '—';
