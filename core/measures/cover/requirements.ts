import type { Decide, Finding, JudgedTake, Outcome, WorkState } from '../../judge/measure';
import type { CutMeasure } from '../../report/wipe-types';
import { headroom } from '../../calculators/headroom';
import { TAKE_KEY } from '../../tricks/library/purposes';
import type { Requirement, RequirementKind } from '../../tricks/types';
import { judgeCover, type CoverSummary } from './judge';
import { LIMITS } from '../../judge/limits';
import type { LockSummary } from '../../report/summaries';
import { worstOf } from '../../judge/verdicts';

/** What is known of what covers a take's picture. */
export type TakeCover = Pick<Outcome<CoverSummary>, 'state' | 'failure'> & { measure: CoverSummary | null };

/** Two takes held against each other as the sides of a cut. */
export interface TakeCut {
  outId: string;
  inId: string;
  state: WorkState;
  failure: string | null;
  measure: CutMeasure | null;
}

/** A take with what names it. */
export interface CoveredSide {
  id: string;
  name: string;
  unnamed?: boolean;
  number: number;
  width: number;
  height: number;
  frameCount: number;
  cover: TakeCover | null;
}

type Size = { width: number; height: number };

/** What is said of a take, with its name where it has one. */
export const saidOf = (
  { name, number, unnamed }: { name: string; number: number; unnamed?: boolean },
  text: string,
): string => (unnamed ? text : `${name}, take ${number}: ${text}`);

/** The measures that decide about wipes. */
export const COVER_KEY = 'cover';
export const CUT_KEY = 'cut';

/** A take with what is known of what covers it. */
export function sideOf(
  { id, name, unnamed, number, facts: { media } }: JudgedTake,
  outcomes: readonly Outcome[],
): CoveredSide {
  const found = outcomes.find((o) => o.measure === COVER_KEY && o.takes[0] === id);
  const cover = found ? { ...found, measure: found.result as CoverSummary | null } : null;
  return { id, name, unnamed, number, width: media.width, height: media.height, frameCount: media.frame_count, cover };
}

/** Share of a take's frames in which something is known to cover the picture, or a part of it. */
export function hiddenShare(take: JudgedTake, outcomes: readonly Outcome[]): number {
  const { cover, frameCount } = sideOf(take, outcomes);
  const m = cover?.measure;
  if (!m || m.enter_frame === null || m.peak_cover_share < LIMITS.cover.tried_share || frameCount === 0) return 0;
  return Math.min(MOST_HIDDEN, ((m.leave_frame ?? frameCount - 1) - m.enter_frame + 1) / frameCount);
}

/** So much of a take, at most, may be hidden for the rest to speak for it. */
const MOST_HIDDEN = 0.8;

/** The lock as it is judged where something covers the picture: what is hidden need not be followed. */
export const lockBeside = (lock: LockSummary, hidden: number): LockSummary => ({
  ...lock,
  measured_share: Math.min(1, lock.measured_share / (1 - hidden)),
});

/** Cuts that were measured between takes. */
export function cutsAmong(outcomes: readonly Outcome[]): TakeCut[] {
  return outcomes.flatMap(({ measure, takes: [outId, inId], state, failure, result }) =>
    measure === CUT_KEY ? [{ outId, inId, state, failure, measure: result as CutMeasure | null }] : [],
  );
}

/** Decides by what covers each take. */
const byCover: Decide = ({ requirement: r, takes, outcomes, delivery }) => {
  const found = takes.map((t) => judgeCovered(r, sideOf(t, outcomes), delivery, cutsAmong(outcomes)));
  const known = found.filter((f) => f !== 'pending');
  const worst = worstOf(known);
  return worst && (worst.verdict === 'reshoot' || known.length === found.length) ? worst : 'pending';
};

/** Requirements that what covers a take decides. */
export const COVER_REQUIREMENTS: Partial<Record<RequirementKind, Decide>> = {
  'covers-frame': byCover,
  'leaves-frame': byCover,
  'straight-edge': byCover,
  'steady-move': byCover,
};

/** Decides a requirement on what covers one take; 'pending' while that is being measured. */
export function judgeCovered(
  r: Requirement,
  side: CoveredSide,
  delivery: Size,
  cuts: readonly TakeCut[],
): Finding | 'pending' {
  const { cover } = side;
  const said = (text: string) => saidOf(side, text);
  if (!cover || (!cover.measure && cover.state !== 'failed')) return 'pending';
  const m = cover.measure;
  if (!m) return { verdict: 'unjudged', text: said(cover.failure ?? 'what covers it is not known'), fix: r.remedySet };
  const whole = judgeCover(m, side.width, side.frameCount);
  const [worst] = whole.reasons;
  if (r.kind === 'steady-move') return steady(r, m, sideSpread(side.id, cuts), said);
  if (whole.verdict === 'unjudged') return { verdict: 'unjudged', text: said(worst.text), fix: worst.fix };
  switch (r.kind) {
    case 'covers-frame': {
      const needed = r.tolerance ?? 1;
      if (m.first_full_frame !== null) {
        if (m.last_full_frame === null) {
          const text = said(`all covered from frame ${m.first_full_frame} on; for how long could not be told`);
          return needed <= 1 ? { verdict: 'holds', text, fix: null } : { verdict: 'unjudged', text, fix: r.remedySet };
        }
        const n = m.last_full_frame - m.first_full_frame + 1;
        if (n >= needed)
          return {
            verdict: 'holds',
            text: said(`all covered in ${n} ${n === 1 ? 'frame' : 'frames'}, from ${m.first_full_frame} on`),
            fix: null,
          };
        return {
          verdict: 'reshoot',
          text: said(`all covered in ${n} of the ${needed} frames asked for`),
          fix: r.remedySet,
        };
      }
      const found =
        whole.reasons.find((q) => q.code === 'punch-in' || q.code === 'misses' || q.code === 'no-cover') ?? worst;
      return { verdict: found.code === 'punch-in' ? 'workable' : 'reshoot', text: said(found.text), fix: found.fix };
    }
    case 'leaves-frame':
      if (r.parts[0] === TAKE_KEY && (m.kind === 'closing' || m.kind === 'approaching'))
        return { verdict: 'holds', text: said('it ends covered'), fix: null };
      return m.leave_frame !== null
        ? { verdict: 'holds', text: said(`gone after frame ${m.leave_frame}`), fix: null }
        : { verdict: 'reshoot', text: said('what covered it is still in the picture at the end'), fix: r.remedySet };
    case 'straight-edge': {
      if (m.edge.bend_px === null)
        return { verdict: 'unjudged', text: said('the closing edge could not be seen well enough'), fix: r.remedySet };
      const bend = m.edge.bend_px * (delivery.width / side.width),
        limit = r.tolerance ?? 6;
      const error = (m.edge.bend_error_px ?? 0) * (delivery.width / side.width);
      const text = said(
        `the edge bends by ${bend.toFixed(1)} px at delivery, known to ${error.toFixed(1)}; ${limit} are allowed`,
      );
      return bend - error <= limit
        ? { verdict: 'holds', text, fix: null }
        : { verdict: 'workable', text, fix: r.remedyEdit ?? r.remedySet };
    }
    default:
      return { verdict: 'unjudged', text: said('this is not known'), fix: r.remedySet };
  }
}

/** How evenly a take's picture moves beside a cut, where it was held against another. */
function sideSpread(id: string, cuts: readonly TakeCut[]): number | null {
  for (const { outId, inId, measure } of cuts) {
    if (measure && outId === id) return measure.out.speed_spread ?? null;
    if (measure && inId === id) return measure.in.speed_spread ?? null;
  }
  return null;
}

function steady(r: Requirement, m: CoverSummary, beside: number | null, said: (text: string) => string): Finding {
  const spread =
    m.kind === 'approaching'
      ? (m.approach?.speed_spread ?? null)
      : (beside ?? (m.sure_share < LIMITS.cover.sure_share ? null : m.edge.speed_spread));
  if (spread === null)
    return { verdict: 'unjudged', text: said('the camera’s speed could not be followed'), fix: r.remedySet };
  const limit = r.tolerance ?? 15;
  const text = said(`the speed varies by ${(100 * spread).toFixed(0)} %; ${limit} % are allowed`);
  if (100 * spread <= limit) return { verdict: 'holds', text, fix: null };
  return 100 * spread <= LIMITS.uneven_mend * limit && r.remedyEdit
    ? { verdict: 'workable', text, fix: r.remedyEdit }
    : { verdict: 'reshoot', text, fix: r.remedySet };
}

/** Whether a recording is large enough for the punch-in that its cover needs; null when none is needed or known. */
export function judgePunchIn(side: CoveredSide, delivery: Size): Finding | null {
  const punch = side.cover?.measure?.punch_in;
  if (!punch) return null;
  const spare = headroom(side.width, side.height, delivery.width, delivery.height, 100, 0).left_pct,
    needed = 100 * (punch.scale - 1);
  const text =
    `the cover needs a punch-in to ` +
    `${(100 * punch.scale).toFixed(0)} %; the recording is ${spare.toFixed(0)} % larger than delivery`;
  return spare >= needed
    ? { verdict: 'workable', text, fix: `Punch in to ${(100 * punch.scale).toFixed(0)} % in the edit.` }
    : {
        verdict: 'reshoot',
        text,
        fix: 'Bring the object closer so that it covers all, or record larger, and roll again.',
      };
}
