import type { Finding } from '../../judge/measure';
import type { StillsFound, Still } from '../../report/moment-types';
import type { Verdict, VerdictWord } from '../../report/types';
import { LIMITS } from '../../judge/limits';
import { listRuns } from '../../judge/runs';
import { said, type Found } from '../../judge/two-pictures';

const BY_EYE = 'Step through the take and choose the frame by eye.';
const FASTER = 'Roll it again with a shorter shutter, or hold the pose for a moment.';

/** Whether a frame can be held. @param scale delivery pixels for one of the take's */
export function holdOf(
  {
    whole,
    motion_blur_px: blur,
    sharpness,
    speed_px: speed,
  }: Pick<Still, 'whole' | 'motion_blur_px' | 'sharpness' | 'speed_px'>,
  scale: number,
): VerdictWord {
  const { blur_px: limit, most_blur_px: most, sharpness: least } = LIMITS.still;
  // A shutter is open for the whole frame at most: who is slower than that is not smeared by more.
  const smear = (blur ?? (speed !== null && speed * scale < limit ? speed : Infinity)) * scale;
  if (!whole || (smear > most && smear < Infinity)) return 'reshoot';
  if (smear === Infinity) return 'unjudged';
  return smear > limit || sharpness < least ? 'workable' : 'holds';
}

/** The same as one requirement of a trick. @param scale delivery pixels for one of the take's @param limit delivery pixels */
export function judgeSharpAt(s: StillsFound, limit: number, scale: number): Finding {
  const [found] = reasonOf(s);
  const { text, fix } = found.reason;
  const told = s.stills.flatMap((x) => (x.whole && x.motion_blur_px !== null ? [x.motion_blur_px * scale] : []));
  if (told.length === 0 || ['not-known', 'nobody-in', 'cut-off'].includes(found.reason.code))
    return { verdict: found.word === 'holds' ? 'unjudged' : found.word, text: text.replace(/\.$/, ''), fix };
  const blur = Math.min(...told);
  const { frame } = s.stills.find((x) => x.whole && x.motion_blur_px !== null && x.motion_blur_px * scale === blur)!;
  const said = `the sharpest is frame ${frame}: ${blur.toFixed(1)} px of motion blur`;
  if (blur <= limit) return { verdict: 'holds', text: said, fix: null };
  const { blur_px: usual, most_blur_px: most } = LIMITS.still;
  return { verdict: blur <= (limit * most) / usual ? 'workable' : 'reshoot', text: said, fix: null };
}

/** Is there a frame worth holding? */
export function judgeStills(s: StillsFound): Verdict {
  const [reason] = reasonOf(s);
  const [best] = s.stills;
  return {
    verdict: reason.word,
    reasons: [reason.reason],
    deciding:
      best && best.motion_blur_px !== null
        ? [
            {
              name: 'motion blur',
              value: best.motion_blur_px,
              unit: 'px',
              limit: LIMITS.still.blur_px,
              frame: best.frame,
            },
          ]
        : [],
  };
}

function reasonOf({ stills, unjudged, known_share: known, whole_runs: whole }: StillsFound): Found[] {
  const { blur_px: limit } = LIMITS.still;
  // A frame that is whole can be held whatever the others show; that there is none is known only of a take that is.
  if (unjudged || (known < LIMITS.pair.known_share && !stills[0]?.whole)) {
    const text = unjudged ?? `Who is in is known in ${Math.round(100 * known)} % of the frames only.`;
    return [said('unjudged', 'not-known', text, { value: known, limit: LIMITS.pair.known_share, fix: BY_EYE })];
  }
  const [best] = stills;
  if (!best)
    return [
      said('unjudged', 'nobody-in', 'Nobody was seen in the take.', {
        fix: 'Choose the take in which they are in; who stands still from first to last is told by a plate.',
      }),
    ];
  const frames = [{ start: best.frame, end: best.frame }];
  if (whole.length === 0 || !best.whole)
    return [
      said('reshoot', 'cut-off', `They are never whole in the picture: cut off at the ${best.touches.join(' and ')}.`, {
        frames,
        fix: 'Frame wider, or move them in, and roll it again.',
      }),
    ];
  const blur = best.motion_blur_px;
  const smeared = blur === null ? 'how far it is smeared cannot be told' : `${blur.toFixed(1)} px of motion blur`;
  const about = `frame ${best.frame}: ${smeared}, whole in the picture`;
  const crossed = best.crossed_runs.length ? ` Somebody crosses them in frames ${listRuns(best.crossed_runs)}.` : '';
  const more = { frames, value: blur, limit };
  if (best.hold === 'holds') return [said('holds', 'sharp', `The best to hold is ${about}.${crossed}`, more)];
  if (best.hold === 'unjudged')
    return [said('unjudged', 'not-read', `The best is ${about}.`, { ...more, fix: BY_EYE })];
  return [said(best.hold, 'smeared', `The best is ${about}.${crossed}`, { ...more, fix: FASTER })];
}
