import type { Decide, Finding } from '../../judge/measure';
import type { Requirement, RequirementKind } from '../../tricks/types';
import { wayInWords } from '../cover/judge';
import { bothStand, judgeCut } from './judge';
import { cutsAmong, sideOf, type CoveredSide, type TakeCut } from '../cover/requirements';

/** Requirements that the movement on both sides of a cut decides. */
export const CUT_REQUIREMENTS: Partial<Record<RequirementKind, Decide>> = {
  'same-direction': ({ requirement: r, takes, outcomes }) => {
    const [out, into] = takes.map((t) => sideOf(t, outcomes));
    if (out.id === into.id) return { verdict: 'holds', text: 'one recording', fix: null };
    return judgeSameWay(r, out, into, cutsAmong(outcomes));
  },
};

/** Do the two sides move the same way? Where the out side's camera stands, the way of what crosses counts. */
export function judgeSameWay(
  r: Requirement,
  out: CoveredSide,
  into: CoveredSide,
  cuts: readonly TakeCut[],
): Finding | 'pending' {
  const cut = cuts.find((c) => c.outId === out.id && c.inId === into.id);
  if (!cut || (!cut.measure && cut.state !== 'failed')) return 'pending';
  const c = cut.measure;
  if (!c)
    return {
      verdict: 'unjudged',
      text: `${out.name} and ${into.name} could not be compared: ${cut.failure ?? 'the reason is not known'}`,
      fix: r.remedySet,
    };
  const limit = r.tolerance ?? 15;
  const whole = judgeCut(c);
  const [worst] = whole.reasons;
  if (worst.code === 'no-background') return { verdict: 'unjudged', text: worst.text, fix: worst.fix };
  const crossing = out.cover?.measure?.direction_deg ?? null;
  if (c.out.angle_deg === null && c.in.angle_deg !== null && crossing !== null) {
    const gap = Math.abs(((c.in.angle_deg - crossing + 540) % 360) - 180);
    const text =
      `what crosses goes ${wayInWords(crossing)}, the in side moves ${wayInWords(c.in.angle_deg)}, ` +
      `${gap.toFixed(0)}° apart; ${limit}° are allowed`;
    return gap <= limit ? { verdict: 'holds', text, fix: null } : { verdict: 'reshoot', text, fix: r.remedySet };
  }
  if (c.angle_gap_deg === null)
    return { verdict: bothStand(c) ? 'holds' : 'reshoot', text: worst.text, fix: bothStand(c) ? null : worst.fix };
  const text = `${out.name} and ${into.name} move ${c.angle_gap_deg.toFixed(0)}° apart; ${limit}° are allowed`;
  if (c.angle_gap_deg > limit)
    return {
      verdict: c.mirror_helps ? 'workable' : 'reshoot',
      text,
      fix: c.mirror_helps ? (r.remedyEdit ?? worst.fix) : r.remedySet,
    };
  const speed = whole.reasons.find((q) => q.code === 'speed');
  if (speed)
    return {
      verdict: speed.fix?.startsWith('Play') ? 'workable' : 'reshoot',
      text: `${text}. ${speed.text}`,
      fix: speed.fix,
    };
  return { verdict: 'holds', text, fix: null };
}
