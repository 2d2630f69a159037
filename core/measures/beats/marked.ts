import type { Finding } from '../../judge/measure';
import { nearestBeat, type Mark } from '../../plan/marks';
import type { BeatsFound } from '../../report/moment-types';
import { BEAT_WORDS } from './judge';
import { LIMITS } from '../../judge/limits';

const MARK_THEM = 'Mark the frames that count on the bench of moments.';

/** Is every beat that counts known to so many frames? By somebody's marks, held against what was found. */
export function judgeMarked(marks: readonly Mark[], found: BeatsFound, limit: number): Finding {
  const { beats } = found;
  if (marks.length === 0) {
    const [first] = [...beats].sort((a, b) => b.strength - a.strength);
    const text =
      first === undefined
        ? 'no beat is marked, and none was found'
        : `${beats.length} ${beats.length === 1 ? 'beat was' : 'beats were'} found, the clearest a ` +
          `${BEAT_WORDS[first.kind][0]} at frame ${first.frame}; none is marked yet`;
    return { verdict: 'unjudged', text, fix: MARK_THEM };
  }
  // A mark of one's own beside something that was found: one of the two is wrong, unless the limit allows for it.
  const doubtful = marks.flatMap((m) => {
    const near = m.found === null ? nearestBeat(beats, m.frame) : null;
    const off = near && Math.abs(near.off);
    return near && off! > limit && off! <= LIMITS.beats.mark_frames ? [{ m, near }] : [];
  });
  if (doubtful.length) {
    const [{ m, near }] = doubtful;
    const by = `${Math.abs(near.off)} frames ${near.off > 0 ? 'later' : 'earlier'}`;
    return {
      verdict: 'workable',
      text: `${m.name} is marked at frame ${m.frame}; a ${BEAT_WORDS[near.beat.kind][0]} was found ${by}`,
      fix: `Step to frame ${near.beat.frame}, and keep the one on which it happens.`,
    };
  }
  const said = [...marks].sort((a, b) => a.frame - b.frame).map((m) => `${m.name} at frame ${m.frame}`);
  const rest = said.length > 4 ? ` and ${said.length - 4} more` : '';
  return { verdict: 'holds', text: said.slice(0, 4).join(', ') + rest, fix: null };
}
