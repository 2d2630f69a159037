import type { Finding } from '../../judge/measure';
import type { FigureFound } from '../../report/figure-types';
import type { Run, Verdict } from '../../report/types';
import { LIMITS } from '../../judge/limits';
import { listRuns } from '../../judge/runs';
import { lengthOf, many, said, type Found } from '../../judge/two-pictures';

/** What a figure is judged by; paths are not needed. */
export type FigureSummary = Omit<FigureFound, 'path'>;

const BY_EYE = 'Step through the take and look for it by eye.';
const HOLD = 'Hold it by a stand, or on two strings, and roll it again.';
const FOLLOW = 'Follow it in the edit and hold it still there.';
const JUMP = 'Jump higher with the whole figure in the picture, and roll it again.';
const ANOTHER = 'Put something lighter or darker behind them, or change the coat, and roll it again.';

/** Does a held thing hang still, or can somebody who jumps be cut out? @param speedPct speed in the edit, per cent */
export function judgeFigure(f: FigureSummary, speedPct: number): Verdict {
  const jumps = f.lifted_runs.length > 0;
  const { drift_pct: limit, cut_frames: least } = LIMITS.figure;
  const found = jumps ? cutOutOf(f, least) : driftsOf(f, limit, speedPct);
  const worst = worstOutline(f);
  return {
    verdict: found.word,
    reasons: [found.reason],
    deciding: jumps
      ? worst
        ? [{ name: 'outline', value: 100 * worst.share, unit: '%', limit: OUTLINE_PCT, frame: worst.frame }]
        : []
      : f.drift
        ? [{ name: 'drift', value: f.drift.px, unit: 'px', limit: null, frame: f.drift.frame }]
        : [],
  };
}

const OUTLINE_PCT = 100 * LIMITS.figure.outline_share;

/** Whether a held thing drifts by little, as one requirement. @param limit per cent of its size */
export const judgeDrift = (f: FigureSummary, limit: number, speedPct: number): Finding =>
  asFinding(driftsOf(f, limit, speedPct));

/** Whether somebody can be cut out of so many frames, as one requirement. */
export const judgeCutOut = (f: FigureSummary, least: number): Finding => asFinding(cutOutOf(f, least));

const asFinding = ({ word, reason: { text, fix } }: Found): Finding => ({
  verdict: word,
  text: `${text.charAt(0).toLowerCase()}${text.slice(1).replace(/\.$/, '')}`,
  fix,
});

/** @param seen whether something was found all the same: what is not known speaks against what was not found alone */
function unknown({ unjudged, known_share: known }: FigureSummary, seen: boolean): Found | null {
  const least = seen ? LIMITS.figure.run_share : LIMITS.pair.known_share;
  if (!unjudged && known >= least) return null;
  const text = unjudged ?? `Who is in is known in ${Math.round(100 * known)} % of the frames only.`;
  return said('unjudged', 'not-known', text, { value: known, limit: least, fix: BY_EYE });
}

function driftsOf(f: FigureSummary, limit: number, speedPct: number): Found {
  const none = unknown(f, f.drift !== null);
  if (none) return none;
  const { drift, run } = f;
  if (!drift || !run)
    return said('unjudged', 'nothing-seen', 'Nothing that is whole in the picture was seen to be held or hung.', {
      fix: 'Draw round the thing on the picture; roll the empty frame too, by which what hangs still is told.',
    });
  if (f.run_share < LIMITS.figure.run_share)
    return said('unjudged', 'seldom-whole', `Something is whole in the picture in frames ${listRuns([run])} only.`, {
      ...{ frames: [run], value: f.run_share, limit: LIMITS.figure.run_share },
      fix: 'Draw round the thing on the picture: then it is followed by its look, whatever holds it.',
    });
  const share = 100 * drift.share;
  const turn = drift.turn_deg !== null && drift.turn_deg >= 0.5 ? ` and turns by ${drift.turn_deg.toFixed(1)}°` : '';
  const speed = (drift.speed_px_per_s * speedPct) / 100;
  const slowed = speedPct === 100 ? 'at real speed' : `slowed to ${speedPct} %`;
  const text =
    `It drifts by up to ${drift.px.toFixed(1)} px (${share.toFixed(share < 10 ? 1 : 0)} % of its size)${turn} ` +
    `in frames ${listRuns([run])}; ${slowed}, by ${speed.toFixed(1)} px a second at most.`;
  const more = { frames: [{ start: drift.frame, end: drift.frame }], value: share, limit };
  if (share <= limit) return said('holds', 'hangs', text, more);
  return share <= LIMITS.figure.drift_mend * limit
    ? said('workable', 'drifts', text, { ...more, fix: FOLLOW })
    : said('reshoot', 'drifts', text, { ...more, fix: HOLD });
}

function cutOutOf(f: FigureSummary, least: number): Found {
  const none = unknown(f, f.lifted_runs.length > 0);
  if (none) return none;
  const { lifted_runs: lifted, clear_runs: clear } = f;
  const up = lengthOf(lifted),
    free = lengthOf(clear);
  const aloft = `Off the ground and whole in frames ${listRuns(lifted)}`;
  if (up === 0)
    return said('reshoot', 'never-off', 'They are never off the ground with all of them in the picture.', {
      value: 0,
      limit: least,
      fix: JUMP,
    });
  const worst = worstOutline(f);
  const runs = (frames: readonly Run[], value: number) => ({ frames: [...frames], value, limit: least });
  if (free >= least) {
    const rest = worst && worst.share < LIMITS.figure.outline_share ? `; ${guessed(worst)}` : '';
    return said('holds', 'clear', `${aloft}; the outline stands out in ${many(free)}${rest}.`, runs(clear, free));
  }
  if (up < least)
    return said('reshoot', 'too-short', `${aloft}: ${many(up)}, ${least} are asked for.`, {
      ...runs(lifted, up),
      fix: JUMP,
    });
  if (!worst) return said('unjudged', 'outline', `${aloft}; how the outline stands out there cannot be told.`);
  // A third of an outline that is lost can be drawn between what is seen of it.
  const word = worst.share >= LIMITS.figure.outline_mend ? 'workable' : 'reshoot';
  const by = word === 'workable' ? 'Draw the rest by hand, from the frames beside.' : ANOTHER;
  return said(word, 'outline', `${aloft}; ${guessed(worst)}.`, { ...runs(lifted, free), fix: by });
}

type Worst = NonNullable<ReturnType<typeof worstOutline>>;
const guessed = ({ share, frame, weakest }: Worst) =>
  `${Math.round(100 * (1 - share))} % of it would have to be guessed at frame ${frame}` +
  (weakest ? `, most of all at ${Math.round(weakest.x_px)}, ${Math.round(weakest.y_px)} px` : '');

/** The frame whose outline is lost the most. */
function worstOutline({ outline }: FigureSummary) {
  return outline.length ? outline.reduce((a, b) => (b.share < a.share ? b : a)) : null;
}
