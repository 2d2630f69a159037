import type { Finding } from '../../judge/measure';
import type { ClothFound } from '../../report/moment-types';
import type { Side, Verdict } from '../../report/types';
import { LIMITS } from '../../judge/limits';
import { listRuns } from '../../judge/runs';
import { lengthOf, many, said, type Found } from '../../judge/two-pictures';
import { byWorst } from '../../judge/verdicts';

/** Does a cloth hide its performer whole, so that the plate can take over behind it? */
export function judgeCloth(c: ClothFound): Verdict {
  const reasons = reasonsOf(c).sort((x, y) => byWorst(x.word, y.word));
  const [worst] = c.leftovers;
  return {
    verdict: reasons[0].word,
    reasons: reasons.map((r) => r.reason),
    deciding: worst ? [{ name: 'left over', value: 100 * worst.share, unit: '%', limit: 0, frame: worst.frame }] : [],
  };
}

/** The same as one requirement of a trick. @param least frames for which it must hide them */
export function judgeClothHides(c: ClothFound, least: number): Finding {
  const reasons = reasonsOf(c).filter((r) => HIDING.includes(r.reason.code));
  const [{ word, reason }] = reasons.sort((x, y) => byWorst(x.word, y.word));
  const longest = Math.max(0, ...c.hides_runs.map((r) => r.end - r.start + 1));
  if (reason.code === 'hides' && longest < least)
    return { verdict: 'reshoot', text: `it hides them whole for ${many(longest)} only`, fix: null };
  return { verdict: word, text: reason.text.replace(/\.$/, ''), fix: reason.fix };
}

/** Where a cloth leaves the picture, and in which frames; null where it stays in. */
export function leavesPicture({ kind, edge_runs: edges }: Pick<ClothFound, 'kind' | 'edge_runs'>) {
  // What was pulled may be carried out at a side, and what fell lies on the ground.
  const sides: readonly Side[] = kind === 'drop' ? ['top', 'left', 'right'] : ['top'];
  const long = sides.map((side) => ({ side, runs: edges[side].filter((r) => r.end > r.start) }));
  const touched = long.filter(({ runs }) => runs.length > 0);
  if (touched.length === 0) return null;
  const words = touched.map(({ side, runs }) => `${side} in frames ${listRuns(runs)}`).join(' and at the ');
  return { words, runs: touched.flatMap(({ runs }) => runs) };
}

/** What speaks of hiding, and not of how the cloth falls. */
const HIDING = ['not-known', 'no-cloth', 'alike', 'never-hidden', 'left-over', 'hides'];

const POINT = 'Point at the cloth in one frame, or step through the take and mark the frame by eye.';

function reasonsOf(c: ClothFound): Found[] {
  const { known_share: least } = LIMITS.pair;
  if (c.unjudged || c.known_share < least) {
    const text = c.unjudged ?? `Who is in is known in ${Math.round(100 * c.known_share)} % of the frames only.`;
    return [said('unjudged', 'not-known', text, { value: c.known_share, limit: least, fix: POINT })];
  }
  if (c.kind === 'mime')
    return [
      said(
        'unjudged',
        'no-cloth',
        'No cloth was told from the performer: the height of their hands is given instead.',
        { fix: POINT },
      ),
    ];
  const { told_apart: told } = c;
  if (told !== null && told < LIMITS.cloth.told_apart)
    return [
      said('unjudged', 'alike', 'Cloth and performer look too much alike to be told apart.', {
        value: told,
        limit: LIMITS.cloth.told_apart,
        fix: POINT,
      }),
    ];
  if (c.hides_runs.length === 0)
    return [
      said('reshoot', 'never-hidden', 'The cloth never hides the performer whole.', {
        fix: 'Hold it higher and wider, wait, and roll it again.',
      }),
    ];
  const out: Found[] = [];
  const gone = leavesPicture(c);
  if (gone)
    out.push(
      said('workable', 'out-of-frame', `The cloth leaves the picture at the ${gone.words}.`, {
        frames: gone.runs,
        value: lengthOf(gone.runs),
        limit: 0,
        fix: 'Frame wider, or hold it lower, and roll it again; as it is, its edge cannot be followed there.',
      }),
    );
  const left = c.leftovers;
  if (left.length) {
    const frames = [...left].sort((a, b) => a.frame - b.frame).map(({ frame }) => ({ start: frame, end: frame }));
    const by = left.length <= LIMITS.hide.by_hand_frames ? 'workable' : 'reshoot';
    out.push(
      said(
        by,
        'left-over',
        `After the switch something of the performer shows beside the cloth in ${many(left.length)}, the most at frame ${left[0].frame}.`,
        {
          frames: frames.slice(0, 20),
          value: left.length,
          limit: 0,
          fix:
            by === 'workable'
              ? 'Paint it out by hand, or roll it again.'
              : 'Leave behind the cloth, and roll it again.',
        },
      ),
    );
  }
  if (c.on_feet)
    out.push(
      said('workable', 'on-feet', 'The cloth comes to lie where the performer’s feet were.', {
        fix: 'Step back before it falls, so that it lands on the ground alone; else its shape betrays them.',
      }),
    );
  if (c.fall && Math.abs(c.fall.tilt_deg) > LIMITS.cloth.tilt_deg)
    out.push(
      said('workable', 'tilted', `It falls tilted by ${Math.abs(c.fall.tilt_deg).toFixed(0)}°.`, {
        value: Math.abs(c.fall.tilt_deg),
        limit: LIMITS.cloth.tilt_deg,
        fix: 'Let go of both corners at once, and roll it again.',
      }),
    );
  out.push(
    said(
      'holds',
      'hides',
      `The cloth hides them whole in frames ${listRuns(c.hides_runs)}; let the plate take over at frame ${c.switch_frame}.`,
      { frames: c.hides_runs, value: lengthOf(c.hides_runs) },
    ),
  );
  return out;
}
