import { decidingMeasure, type AnyMeasure } from '../measures';
import type { JudgedTake, Outcome } from '../judge/measure';
import type { Delivery } from '../plan/types';
import type { Said, TakeMeasures, TakeReport, Verdict, VerdictWord } from '../report/types';
import { REQUIREMENT_KINDS, statement } from '../tricks/requirement-kinds';
import type { Requirement, RequirementKind } from '../tricks/types';
import type { AskedOfTake } from './asked';
import { brokenOff, judgeFile } from '../measures/file/judge';
import { judgeFocus } from '../measures/focus/judge';
import { judgeLight } from '../measures/light/judge';
import { judgeLock } from '../measures/lock/judge';
import type { EyeCheck } from './requirements';
import { listRuns } from '../judge/runs';
import { hiddenShare, lockBeside } from '../measures/cover/requirements';
import type { TakeFacts, TakeSummary } from '../report/summaries';
import { byWorst, worstOf } from '../judge/verdicts';

/** One thing that is asked of a take by itself, and whether it meets it. */
export interface TakeFinding {
  kind: RequirementKind;
  name: string;
  says: string;
  /** The trick that asks for it; null where the take's purpose does. */
  trick: string | null;
  verdict: VerdictWord;
  text: string;
  fix: string | null;
}

/** A take judged for what it is for. */
export interface TakeJudged extends TakeSummary {
  /** What is asked of it, the worst first. */
  findings: TakeFinding[];
  /** What is wrong with its file whatever it is for; null when nothing is. */
  file: Verdict | null;
  /** Share of its frames in which something is known to cover the picture. */
  hidden_share: number;
}

/** What is known beside a take. */
export interface TakeContext {
  delivery: Delivery;
  /** All takes that its tricks' parts stand on. */
  among: readonly JudgedTake[];
  outcomes: readonly Outcome[];
  measures?: readonly AnyMeasure[];
  /** Who saw, of a trick's requirement, that it holds. */
  eye?: (trickId: string, key: string) => EyeCheck | null;
}

/** Kinds without which nothing can be said for a take; others that cannot be told are looked at by eye. */
const DECISIVE: readonly RequirementKind[] = ['covers-frame', 'clean-plate', 'locked'];

/** What is said first of findings that are equally bad: what happened before the lens, before how the camera was set. */
const SAID_FIRST: readonly RequirementKind[] = [
  'covers-frame',
  'leaves-frame',
  'clean-plate',
  'locked',
  'steady-move',
  'straight-edge',
  'steady-focus',
  'steady-light',
  'steady-white',
];

/**
 * Judges a take for what it is for: the worst of what its tricks, or its purpose, ask of it by itself, and of what is
 * wrong with any such file.
 */
export function judgeTake(take: JudgedTake, asked: AskedOfTake, context: TakeContext): TakeJudged {
  const { media } = take.facts;
  const file = judgeFile(media),
    broken = brokenOff(media);
  const hidden = hiddenShare(take, context.outcomes);
  const length_s = longestAsked(asked.requirements.map((r) => r.requirement));
  const nameless = { ...take, unnamed: true, isPlate: asked.isPlate };
  let pending: string | null = null;
  const findings: TakeFinding[] = broken
    ? []
    : asked.requirements.flatMap(({ requirement, trick }) => {
        const measure = decidingMeasure(requirement.kind, context.measures);
        const decide = measure?.decides[requirement.kind];
        if (!measure || !decide) return [];
        const found = decide({ ...context, requirement, takes: [nameless], speedPct: trick?.speedPct, length_s });
        if (found === 'pending') pending = measure.finds;
        if (found === 'pending') return [];
        const eye = found.verdict === 'unjudged' && trick ? context.eye?.(trick.id, requirement.key) : null;
        const { kind, tolerance } = requirement;
        const base = {
          kind,
          name: REQUIREMENT_KINDS[kind].name,
          says: statement(kind, tolerance),
          trick: trick?.name ?? null,
        };
        return eye
          ? [{ ...base, verdict: 'holds' as const, text: `by eye: ${eye.by}`, fix: null }]
          : [{ ...base, ...found }];
      });
  const counting = findings.filter((f) => f.verdict !== 'unjudged' || DECISIVE.includes(f.kind));
  const ofFile = file && { verdict: file.verdict, text: file.reasons[0].text, fix: file.reasons[0].fix };
  // Of what is alike, what decides most is said.
  const place = (f: TakeFinding) => (SAID_FIRST.includes(f.kind) ? SAID_FIRST.indexOf(f.kind) : SAID_FIRST.length);
  const sorted = [...counting].sort((a, b) => place(a) - place(b));
  const worst = worstOf([...(ofFile ? [ofFile] : []), ...sorted]);
  const said =
    pending && worst?.verdict !== 'reshoot'
      ? { verdict: 'unjudged' as const, text: `${String(pending)} is being measured`, fix: null }
      : (worst ?? { verdict: 'holds' as const, text: 'The file is sound; nothing else is asked of it.', fix: null });
  return {
    verdict: said.verdict,
    text: sentence(said.text) + hint(take.facts, asked, said.verdict),
    fix: said.fix,
    line: lineOf(take.facts, hidden, asked.isPlate),
    hidden_share: hidden,
    judged_for: asked.judgedFor,
    pending: pending !== null,
    findings: [...findings].sort((a, b) => byWorst(a.verdict, b.verdict)),
    file,
  };
}

function sentence(text: string): string {
  const whole = text.charAt(0).toUpperCase() + text.slice(1);
  return /[.!?]$/.test(whole) ? whole : `${whole}.`;
}

/** A take that nobody said must stand still may have been meant to move. */
function hint({ lock }: TakeFacts, { purpose }: AskedOfTake, verdict: VerdictWord): string {
  if (purpose !== 'locked' || verdict === 'holds' || !lock.moves) return '';
  return ' The camera moved all the time: if it was meant to, judge it as a moving shot, an out side or an in side.';
}

const px = (v: number) => (v < 10 ? v.toFixed(2) : v.toFixed(0));

/** What was seen, in one line, whatever is asked. */
function lineOf({ media, lock, light, focus, presence }: TakeFacts, hidden: number, isPlate: boolean): string {
  // Whoever stands in a pass from first to last is background to it: only a plate is meant to be empty.
  const [only] = presence.clear_runs;
  const alike = !isPlate && only?.start === 0 && only.end === media.frame_count - 1;
  const whole = { verdict: 'unjudged' };
  const moved = media.complete ? judgeLock(lockBeside(lock, hidden), media, media, media.frame_count) : whole;
  const lit = judgeLight(light, media.frame_count),
    sharp = judgeFocus(focus, media.frame_count);
  const peak = px(lock.peak_px ?? 0);
  return [
    moved.verdict === 'holds'
      ? 'still'
      : moved.verdict === 'unjudged'
        ? 'movement not known'
        : lock.handheld
          ? `handheld by ${peak} px`
          : `moves by ${peak} px`,
    lit.verdict === 'holds'
      ? 'light steady'
      : lit.verdict === 'unjudged'
        ? 'light not known'
        : `light changes by ${(light.range_stops ?? 0).toFixed(2)} stop`,
    sharp.verdict === 'holds'
      ? 'focus held'
      : sharp.verdict === 'unjudged'
        ? 'focus not known'
        : `focus loses ${(focus.worst_loss_pct ?? 0).toFixed(0)} %`,
    presence.unjudged
      ? 'who is in not known'
      : alike
        ? 'nobody comes or goes'
        : presence.clear_runs.length
          ? `clear ${listRuns(presence.clear_runs)}`
          : 'never clear',
  ].join(' · ');
}

/** The least that is allowed of a kind among all that is asked; null when nobody asks for it. */
function strictest(asked: AskedOfTake, kind: RequirementKind): number | null {
  const all = asked.requirements.flatMap(({ requirement: r }) => (r.kind === kind ? [r.tolerance ?? Infinity] : []));
  return all.length ? Math.min(...all) : null;
}

/** The greatest length that is asked for, seconds; null when nobody asks for one. */
export function longestAsked(requirements: readonly Requirement[]): number | null {
  const all = requirements.flatMap(({ kind, tolerance }) => (kind === 'length-at-least' ? [tolerance ?? 0] : []));
  return all.length ? Math.max(...all) : null;
}

/** What nobody asked for is a plain fact. */
function asFact({ reasons: [first], deciding }: Verdict): Said {
  return {
    verdict: null,
    reasons: first ? [{ ...first, limit: null, fix: null }] : [],
    deciding: deciding.map((n) => ({ ...n, limit: null })),
  };
}

/** A take's measures with the verdicts on them for what it is for, as they are sent and printed. */
export function reportTake(
  file: string,
  found: TakeMeasures,
  delivery: TakeReport['delivery'],
  asked: AskedOfTake,
  judged: TakeJudged,
): TakeReport {
  const { media, lock, light, focus } = found;
  const frames = media.frame_count,
    broken = brokenOff(media);
  const limits = {
    locked: strictest(asked, 'locked'),
    stops: strictest(asked, 'steady-light'),
    white: strictest(asked, 'steady-white'),
    focus: strictest(asked, 'steady-focus'),
  };
  const said = (isAsked: boolean, verdict: (asked: boolean) => Verdict): Said =>
    !isAsked
      ? asFact(verdict(false))
      : broken
        ? { verdict: 'unjudged', reasons: [broken], deciding: [] }
        : verdict(true);
  const lit = limits.stops !== null || limits.white !== null;
  return {
    file,
    take: { ...judged },
    delivery,
    media,
    lock: {
      ...said(limits.locked !== null, () =>
        judgeLock(
          lockBeside(lock, judged.hidden_share),
          media,
          delivery,
          frames,
          limits.locked ?? undefined,
          longestAsked(asked.requirements.map((r) => r.requirement)) ?? undefined,
        ),
      ),
      ...lock,
    },
    light: { ...said(lit, (is) => judgeLight(light, frames, is ? limits : undefined)), ...light },
    focus: { ...said(limits.focus !== null, () => judgeFocus(focus, frames, limits.focus ?? undefined)), ...focus },
    presence: found.presence,
    grain_levels: found.grain_levels,
  };
}
