import { decidingMeasure, type AnyMeasure } from '../measures';
import type { JudgedTake, Outcome } from '../judge/measure';
import type { Delivery } from '../plan/types';
import type { VerdictWord } from '../report/types';
import { eachByItself, REQUIREMENT_KINDS, statement } from '../tricks/requirement-kinds';
import type { Requirement, RequirementKind } from '../tricks/types';
import { brokenOff } from '../measures/file/judge';

/** A part a requirement speaks of, with the take it stands on; null when it was not rolled or not measured yet. */
export interface RequirementPart {
  name: string;
  optional: boolean;
  rolled: boolean;
  take: JudgedTake | null;
}

/** A person looked and says that it holds. */
export interface EyeCheck {
  by: string;
  at: string;
}

export interface JudgedRequirement {
  key: string;
  kind: RequirementKind;
  name: string;
  says: string;
  why: string;
  verdict: VerdictWord;
  text: string;
  fix: string | null;
  /** Whether a person may decide it: its measure is not built yet, or could not tell. */
  byEye: boolean;
  eye: EyeCheck | null;
  /** Whether every part it speaks of has been rolled and measured. */
  ready: boolean;
  /** Its takes are measured, but not yet held against each other. */
  pending: boolean;
  /** Not counted while it speaks of a part that may be left out and was. */
  applies: boolean;
  partNames: string[];
}

/** What is known beside the takes that a requirement's own parts stand on. */
export interface KnownBeside {
  /** All takes that the trick's parts stand on. */
  among: readonly JudgedTake[];
  /** What was measured of them, and between them. */
  outcomes: readonly Outcome[];
  /** Speed of the trick in the edit, per cent, where one is wished. */
  speedPct?: number | null;
  /** How long the parts must be, seconds, where somebody asks for that. */
  length_s?: number | null;
}

/** Decides one requirement from the takes its parts stand on, or from a person's word where no measure can. */
export function judgeRequirement(
  r: Requirement,
  asked: readonly RequirementPart[],
  delivery: Delivery,
  eye: EyeCheck | null,
  beside: KnownBeside = { among: [], outcomes: [] },
  measures?: readonly AnyMeasure[],
): JudgedRequirement {
  const alone = eachByItself(r.kind);
  // Of parts spoken of one by one, those that may be left out and were are no matter.
  const parts = alone ? asked.filter((p) => !p.optional || p.rolled) : asked;
  const base = {
    key: r.key,
    kind: r.kind,
    name: REQUIREMENT_KINDS[r.kind].name,
    says: statement(r.kind, r.tolerance),
    why: r.why,
    eye: null as EyeCheck | null,
    ready: parts.every((p) => p.take !== null),
    pending: false,
    applies: alone ? parts.length > 0 : !parts.some((p) => p.optional && !p.rolled),
    partNames: asked.map((p) => p.name),
  };
  const open = (text: string, pending = false): JudgedRequirement => ({
    ...base,
    pending,
    verdict: 'unjudged',
    text,
    fix: null,
    byEye: false,
  });
  const missing = parts.filter((p) => !p.rolled);
  if (missing.length) return open(`not rolled yet: ${names(missing)}`);
  if (!base.ready) return open(`being measured: ${names(parts.filter((p) => !p.take))}`);
  const byPerson = (text: string, fix: string | null): JudgedRequirement =>
    eye
      ? { ...base, verdict: 'holds', text: `by eye: ${eye.by}`, fix: null, byEye: true, eye }
      : { ...base, verdict: 'unjudged', text, fix, byEye: true };
  const measure = decidingMeasure(r.kind, measures);
  const decide = measure?.decides[r.kind];
  if (!measure || !decide) return byPerson('unjudged: checked by eye', r.remedySet);
  const takes = parts.flatMap((p) => p.take ?? []);
  const broken = takes.find((t) => !t.facts.media.complete);
  if (broken) {
    const { text, fix } = brokenOff(broken.facts.media)!;
    return { ...base, verdict: 'unjudged', text: `${broken.name}, take ${broken.number}: ${text}`, fix, byEye: false };
  }
  const found = decide({ requirement: r, takes, delivery, ...beside });
  if (found === 'pending')
    return open(`being ${measure.takes === 1 ? 'looked at' : 'held against each other'}: ${names(takes)}`, true);
  return found.verdict === 'unjudged' ? byPerson(found.text, found.fix) : { ...base, ...found, byEye: false };
}

const names = (parts: readonly { name: string }[]) => parts.map((p) => p.name).join(', ');
