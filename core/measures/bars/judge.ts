import type { BarsFound } from '../../report/moment-types';
import type { Run, Verdict } from '../../report/types';
import { LIMITS } from '../../judge/limits';
import { listRuns } from '../../judge/runs';
import { lengthOf, many, said, type Found } from '../../judge/two-pictures';
import { byWorst } from '../../judge/verdicts';

/** Does a figure step over the bars, whole, and what does keeping it outside of them cost? */
export function judgeBars(b: BarsFound): Verdict {
  const reasons = reasonsOf(b).sort((x, y) => byWorst(x.word, y.word));
  const [deepest] = [...b.crosses].sort((x, y) => y.depth_px - x.depth_px);
  return {
    verdict: reasons[0].word,
    reasons: reasons.map((r) => r.reason),
    deciding: deepest
      ? [{ name: 'over the bar', value: deepest.depth_px, unit: 'px', limit: null, frame: deepest.run.start }]
      : [],
  };
}

const runsOf = (b: BarsFound): Run[] => b.crosses.map((c) => c.run);

function reasonsOf(b: BarsFound): Found[] {
  const { known_share: least } = LIMITS.pair;
  if (b.unjudged || b.known_share < least) {
    const text = b.unjudged ?? `Who is in is known in ${Math.round(100 * b.known_share)} % of the frames only.`;
    const fix = 'Step through the take with the bars drawn, and watch their edges.';
    return [said('unjudged', 'not-known', text, { value: b.known_share, limit: least, fix })];
  }
  if (b.crosses.length === 0)
    return [
      said('reshoot', 'inside', 'Nobody reaches over the bars.', {
        value: 0,
        limit: 0,
        fix: `The bars are ${b.bars.top_px.toFixed(0)} px high: have them step nearer to the camera, and roll it again.`,
      }),
    ];
  const out: Found[] = [];
  if (b.cut_off_runs.length)
    out.push(
      said(
        'reshoot',
        'cut-off',
        `Beyond the bar they are cut off by the picture's own edge in frames ${listRuns(b.cut_off_runs)}.`,
        {
          frames: b.cut_off_runs,
          value: lengthOf(b.cut_off_runs),
          limit: 0,
          fix: 'Frame wider, so that all of them is in the picture, and roll it again.',
        },
      ),
    );
  if (b.shadow_below_runs.length)
    out.push(
      said(
        'workable',
        'shadow',
        `Their shadow falls below the bar's edge in frames ${listRuns(b.shadow_below_runs)}.`,
        {
          frames: b.shadow_below_runs,
          value: lengthOf(b.shadow_below_runs),
          limit: 0,
          fix: `Decide whether it stays: without it the mask leaves it out by hand in ${many(lengthOf(b.shadow_below_runs))}.`,
        },
      ),
    );
  const crop = b.still_crop_pct;
  if (crop === null || crop > LIMITS.lock.crop_pct)
    out.push(
      said('reshoot', 'moves', 'The picture moves too much to be held still beside the bars.', {
        value: crop,
        limit: LIMITS.lock.crop_pct,
        fix: 'Lock the camera and roll it again.',
      }),
    );
  const list = b.crosses
    .map((c) => `${c.edge} by ${c.depth_px.toFixed(0)} px in frames ${listRuns([c.run])}`)
    .join('; ');
  out.push(said('holds', 'crosses', `They reach over the bar at the ${list}.`, { frames: runsOf(b) }));
  return out;
}
