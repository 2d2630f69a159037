import type { MediaFacts, VerdictWord } from '../report/types';
import { headroom } from '../sums/headroom';
import { REQUIREMENT_KINDS, statement } from '../tricks/requirement-kinds';
import type { Requirement, RequirementKind } from '../tricks/types';
import { judgeLock, type LockSummary } from './lock';

/** What of a take's report a requirement may look at. */
export interface JudgedTake {
  id: string;
  number: number;
  media: Pick<MediaFacts, 'width' | 'height' | 'bit_depth' | 'frame_count' | 'duration_s' | 'measured_fps' | 'real_fps' | 'variable_rate'> | null;
  lock: LockSummary | null;
}

/** A part a requirement speaks of, with the take it stands on; null when it was not rolled or not measured yet. */
export interface RequirementPart { name: string; optional: boolean; rolled: boolean; take: JudgedTake | null }

/** A person looked and says that it holds. */
export interface EyeCheck { by: string; at: string }

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
  /** Not counted while it speaks of a part that may be left out and was. */
  applies: boolean;
  partNames: string[];
}

type Finding = { verdict: VerdictWord; text: string; fix: string | null };
type Size = { width: number; height: number };

/** Decides one requirement from the takes its parts stand on, or from a person's word where no measure can. */
export function judgeRequirement(r: Requirement, parts: readonly RequirementPart[], delivery: Size & { fps: number }, eye: EyeCheck | null): JudgedRequirement {
  const kind = REQUIREMENT_KINDS[r.kind];
  const base = {
    key: r.key, kind: r.kind, name: kind.name, says: statement(r.kind, r.tolerance), why: r.why, eye: null as EyeCheck | null,
    ready: parts.every((p) => p.take !== null), applies: !parts.some((p) => p.optional && !p.rolled), partNames: parts.map((p) => p.name),
  };
  const missing = parts.filter((p) => !p.rolled);
  if (missing.length) return { ...base, verdict: 'unjudged', text: `not rolled yet: ${names(missing)}`, fix: null, byEye: false };
  if (!base.ready) return { ...base, verdict: 'unjudged', text: `being measured: ${names(parts.filter((p) => !p.take))}`, fix: null, byEye: false };
  const byPerson = (text: string, fix: string | null): JudgedRequirement => (eye
    ? { ...base, verdict: 'holds', text: `by eye: ${eye.by}`, fix: null, byEye: true, eye }
    : { ...base, verdict: 'unjudged', text, fix, byEye: true });
  if (kind.decidedBy === 'eye') return byPerson('unjudged: checked by eye', r.remedySet);
  const takes = parts.flatMap((p) => (p.take ? [{ name: p.name, take: p.take }] : []));
  const found = r.kind === 'same-settings' ? sameSettings(takes) : worst(takes.map((t) => decideOne(r, t, delivery)));
  if (found.verdict === 'unjudged') return byPerson(found.text, found.fix);
  const fix = found.verdict === 'reshoot' ? found.fix ?? r.remedySet : found.verdict === 'workable' ? found.fix ?? r.remedyEdit : null;
  return { ...base, ...found, fix, byEye: false };
}

const names = (parts: readonly { name: string }[]) => parts.map((p) => p.name).join(', ');
const ORDER: VerdictWord[] = ['reshoot', 'unjudged', 'workable', 'holds'];

function worst(findings: Finding[]): Finding {
  return findings.reduce((a, b) => (ORDER.indexOf(b.verdict) < ORDER.indexOf(a.verdict) ? b : a));
}

function decideOne(r: Requirement, { name, take }: { name: string; take: JudgedTake }, delivery: Size & { fps: number }): Finding {
  const { media, lock } = take;
  const limit = r.tolerance ?? 0;
  const unknown = (what: string): Finding => ({ verdict: 'unjudged', text: `${name}: ${what} is not known`, fix: r.remedySet });
  if (!media) return unknown('what the file is');
  switch (r.kind) {
    case 'locked': {
      if (!lock) return unknown('the movement');
      const v = judgeLock(lock, media, delivery, media.frame_count, limit || undefined);
      const [first] = v.reasons;
      return { verdict: v.verdict, text: `${name}, take ${take.number}: ${first?.text ?? ''}`, fix: first?.fix ?? null };
    }
    case 'rate-at-least': {
      const rate = media.real_fps ?? media.measured_fps;
      if (rate === null) return unknown('the rate');
      const said = `${name}, take ${take.number}: ${rate.toFixed(2)} distinct pictures a second${media.variable_rate ? ', wandering' : ''}; ${limit} are asked for`;
      // A hundredth is what containers' rounded times and one repeated frame may cost.
      return rate >= limit * 0.99 ? { verdict: 'holds', text: said, fix: null } : { verdict: 'reshoot', text: said, fix: r.remedySet };
    }
    case 'headroom-at-least': {
      const spare = headroom(media.width, media.height, delivery.width, delivery.height, 100, 0).left_pct;
      const said = `${name}, take ${take.number}: ${spare.toFixed(0)} % larger than delivery; ${limit} % are asked for`;
      return spare >= limit - 0.5 ? { verdict: 'holds', text: said, fix: null } : { verdict: 'reshoot', text: said, fix: r.remedySet };
    }
    case 'length-at-least': {
      if (media.duration_s === null) return unknown('the length');
      const said = `${name}, take ${take.number}: ${media.duration_s.toFixed(1)} s long; ${limit} s are asked for`;
      return media.duration_s >= limit ? { verdict: 'holds', text: said, fix: null } : { verdict: 'reshoot', text: said, fix: r.remedySet };
    }
    default:
      return unknown('this');
  }
}

function sameSettings(takes: { name: string; take: JudgedTake }[]): Finding {
  const known = takes.flatMap((t) => (t.take.media ? [{ name: t.name, media: t.take.media }] : []));
  if (known.length < takes.length) return { verdict: 'unjudged', text: 'what the files are is not known', fix: null };
  const [first, ...rest] = known;
  for (const other of rest) {
    const apart: string[] = [];
    if (first.media.width !== other.media.width || first.media.height !== other.media.height) {
      apart.push(`${first.media.width} × ${first.media.height} against ${other.media.width} × ${other.media.height} px`);
    }
    const [a, b] = [first.media.measured_fps, other.media.measured_fps];
    if (a === null || b === null || Math.abs(a / b - 1) > 0.0005) apart.push(`${a?.toFixed(3) ?? '?'} against ${b?.toFixed(3) ?? '?'} fps`);
    if (first.media.bit_depth !== other.media.bit_depth) apart.push(`${first.media.bit_depth} against ${other.media.bit_depth} bit`);
    if (apart.length) return { verdict: 'reshoot', text: `${first.name} and ${other.name} differ: ${apart.join(', ')}`, fix: null };
  }
  const wandering = known.find((k) => k.media.variable_rate);
  if (wandering) return { verdict: 'workable', text: `${wandering.name} has a wandering rate`, fix: 'Convert it to a steady rate before the edit.' };
  return { verdict: 'holds', text: `${first.media.width} × ${first.media.height} px at ${first.media.measured_fps?.toFixed(2) ?? '?'} fps in all`, fix: null };
}
