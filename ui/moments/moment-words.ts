import { BEAT_WORDS } from '../../core/measures/beats/judge';
import { freshName, type Mark, type MarkFields } from '../../core/plan/marks';
import type { Beat } from '../../core/report/moment-types';
import type { TakeReport } from '../../core/report/types';
import type { Band } from '../viewer/ribbon';
import { presenceBand } from '../viewer/take-bands';

/** What a beat is called: "Strike"; "Step of light". */
export function beatName({ kind }: Pick<Beat, 'kind'>): string {
  const [one] = BEAT_WORDS[kind];
  return one.charAt(0).toUpperCase() + one.slice(1);
}

/** A found beat as a mark that keeps it. */
export function keptBeat(beat: Beat, marks: readonly Mark[]): MarkFields {
  return { frame: beat.frame, name: freshName(BEAT_WORDS[beat.kind][0], marks), kind: beat.kind, found: beat.frame };
}

/** A mark of one's own. */
export function ownMark(frame: number, marks: readonly Mark[]): MarkFields {
  return { frame, name: freshName('mark', marks), kind: 'own', found: null };
}

/** A frame as a time of its take: "1.64 s". */
export const secondsOf = (frame: number, fps: number | null) => `${(frame / (fps ?? 25)).toFixed(2)} s`;

/** Who is in, with the marks as ticks and what else was found as rings. */
export function momentBand(report: TakeReport, marks: readonly Mark[], open: readonly Beat[]): Band {
  const said =
    marks.length === 0
      ? 'Nothing is marked.'
      : `Marked: ${marks.map((m) => `${m.name} at frame ${m.frame}`).join(', ')}.`;
  return {
    ...presenceBand(report),
    marks: marks.map((m) => m.frame),
    rings: open.map((b) => b.frame),
    sentence: `${said} ${open.length} more ${open.length === 1 ? 'beat was' : 'beats were'} found.`,
  };
}

/** The next moment before or after a frame; null when there is none. */
export function nextMoment(frames: readonly number[], from: number, way: 1 | -1): number | null {
  const ahead = frames.filter((f) => (f - from) * way > 0);
  return ahead.length ? (way > 0 ? Math.min(...ahead) : Math.max(...ahead)) : null;
}
