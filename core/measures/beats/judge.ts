import type { BeatKind, BeatsFound } from '../../report/moment-types';
import type { Verdict } from '../../report/types';
import { LIMITS } from '../../judge/limits';
import { said, type Found } from '../../judge/two-pictures';
import { byWorst } from '../../judge/verdicts';

/** What a beat of each kind is called, one and several. */
export const BEAT_WORDS: Record<BeatKind, readonly [string, string]> = {
  starts: ['start', 'starts'],
  stops: ['stop', 'stops'],
  turns: ['turn', 'turns'],
  strikes: ['strike', 'strikes'],
  light: ['step of light', 'steps of light'],
  sound: ['sound', 'sounds'],
};

/** Are there frames on which something happens, and do picture and sound agree? */
export function judgeBeats(b: BeatsFound): Verdict {
  const reasons = reasonsOf(b).sort((x, y) => byWorst(x.word, y.word));
  return { verdict: reasons[0].word, reasons: reasons.map((r) => r.reason), deciding: [] };
}

function reasonsOf({ beats, unjudged, sound_offset_frames: off }: BeatsFound): Found[] {
  if (unjudged && beats.length === 0)
    return [said('unjudged', 'not-known', unjudged, { fix: 'Mark the frames by eye, stepping through the take.' })];
  if (beats.length === 0)
    return [
      said('workable', 'none', 'Nothing begins, ends or strikes in it that could be told.', {
        value: 0,
        fix: 'Mark the frames by eye; or clap at the start of the next take.',
      }),
    ];
  const kinds = Object.entries(BEAT_WORDS).flatMap(([kind, [one, many]]) => {
    const n = beats.filter((x) => x.kind === kind).length;
    return n ? [`${n} ${n === 1 ? one : many}`] : [];
  });
  const frames = beats.slice(0, 20).map(({ frame }) => ({ start: frame, end: frame }));
  const out = [said('holds', 'found', `Found: ${kinds.join(', ')}.`, { frames, value: beats.length })];
  const limit = LIMITS.beats.sound_frames;
  if (off !== null && Math.abs(off) > limit && Math.abs(off) <= LIMITS.beats.same_event_frames)
    out.push(
      said(
        'workable',
        'out-of-sync',
        `The sound comes ${Math.abs(off)} frames ${off > 0 ? 'after' : 'before'} the strike.`,
        { value: off, limit, fix: 'Lay the sound by the strike in the edit.' },
      ),
    );
  return out;
}
