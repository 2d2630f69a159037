import type { MediaFacts, VerdictWord } from '../report/types';
import { headroom } from '../sums/headroom';
import { REQUIREMENT_KINDS, statement } from '../tricks/requirement-kinds';
import type { Requirement, RequirementKind } from '../tricks/types';
import { wayInWords } from './cover';
import { LIMITS } from './limits';
import { judgeLock, type LockSummary } from './lock';
import { judgeCleanPlate, type PresenceSummary } from './presence';
import { rateName } from './rates';
import {
  judgeContents,
  judgeOneRoll,
  judgeSameLight,
  judgeSamePosition,
  pairOf,
  type PairSide,
  type TakePair,
} from './takes-apart';
import { listRuns } from './take';
import {
  judgeCovered,
  judgePunchIn,
  judgeSameWay,
  type CoveredSide,
  type TakeCover,
  type TakeCut,
} from './wipe-requirements';

/** What of a take's report a requirement may look at. */
export interface JudgedTake {
  id: string;
  number: number;
  media: Pick<
    MediaFacts,
    'width' | 'height' | 'bit_depth' | 'frame_count' | 'duration_s' | 'measured_fps' | 'real_fps' | 'variable_rate'
  > | null;
  lock: LockSummary | null;
  /** Who is in, and when; null when it was not measured. */
  presence: PresenceSummary | null;
  /** What covers the picture; null when nobody asked. */
  cover?: TakeCover | null;
}

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

type Finding = { verdict: VerdictWord; text: string; fix: string | null };
type Size = { width: number; height: number };

/**
 * Decides one requirement from the takes its parts stand on, or from a person's word where no measure can.
 * @param pairs comparisons among the takes of the requirement's own trick
 * @param cuts those of them held against each other as the sides of a cut
 */
export function judgeRequirement(
  r: Requirement,
  parts: readonly RequirementPart[],
  delivery: Size & { fps: number },
  eye: EyeCheck | null,
  pairs: readonly TakePair[] = [],
  cuts: readonly TakeCut[] = [],
): JudgedRequirement {
  const kind = REQUIREMENT_KINDS[r.kind];
  const base = {
    key: r.key,
    kind: r.kind,
    name: kind.name,
    says: statement(r.kind, r.tolerance),
    why: r.why,
    eye: null as EyeCheck | null,
    ready: parts.every((p) => p.take !== null),
    pending: false,
    applies: !parts.some((p) => p.optional && !p.rolled),
    partNames: parts.map((p) => p.name),
  };
  const missing = parts.filter((p) => !p.rolled);
  if (missing.length)
    return { ...base, verdict: 'unjudged', text: `not rolled yet: ${names(missing)}`, fix: null, byEye: false };
  if (!base.ready)
    return {
      ...base,
      verdict: 'unjudged',
      text: `being measured: ${names(parts.filter((p) => !p.take))}`,
      fix: null,
      byEye: false,
    };
  const byPerson = (text: string, fix: string | null): JudgedRequirement =>
    eye
      ? { ...base, verdict: 'holds', text: `by eye: ${eye.by}`, fix: null, byEye: true, eye }
      : { ...base, verdict: 'unjudged', text, fix, byEye: true };
  if (kind.decidedBy === 'eye') return byPerson('unjudged: checked by eye', r.remedySet);
  const takes = parts.flatMap((p) => (p.take ? [{ name: p.name, take: p.take }] : []));
  if (kind.decidedBy === 'cover' || kind.decidedBy === 'cut') {
    const found = decideWipe(r, takes, delivery, cuts);
    if (found === 'pending')
      return {
        ...base,
        pending: true,
        verdict: 'unjudged',
        text: `being looked at: ${takes.map((t) => t.name).join(', ')}`,
        fix: null,
        byEye: false,
      };
    return found.verdict === 'unjudged' ? byPerson(found.text, found.fix) : { ...base, ...found, byEye: false };
  }
  if (kind.decidedBy === 'pair') {
    const both = decidePairs(r, takes, delivery, pairs);
    if (both === 'pending')
      return {
        ...base,
        pending: true,
        verdict: 'unjudged',
        text: `being held against each other: ${takes.map((t) => t.name).join(', ')}`,
        fix: null,
        byEye: false,
      };
    return both.verdict === 'unjudged' ? byPerson(both.text, both.fix) : { ...base, ...both, byEye: false };
  }
  const found =
    r.kind === 'opposite-direction'
      ? judgeOpposed(r, takes)
      : r.kind === 'same-settings'
        ? sameSettings(takes)
        : worst(
            takes.flatMap((t) => [
              decideOne(r, t, delivery),
              ...(r.kind === 'clean-plate' ? besideOthers(t, pairs) : []),
            ]),
          );
  if (found.verdict === 'unjudged') return byPerson(found.text, found.fix);
  const fix =
    found.verdict === 'reshoot'
      ? (found.fix ?? r.remedySet)
      : found.verdict === 'workable'
        ? (found.fix ?? r.remedyEdit)
        : null;
  return { ...base, ...found, fix, byEye: false };
}

const names = (parts: readonly { name: string }[]) => parts.map((p) => p.name).join(', ');
const ORDER: VerdictWord[] = ['reshoot', 'unjudged', 'workable', 'holds'];

function worst(findings: Finding[]): Finding {
  return findings.reduce((a, b) => (ORDER.indexOf(b.verdict) < ORDER.indexOf(a.verdict) ? b : a));
}

function decideOne(
  r: Requirement,
  { name, take }: { name: string; take: JudgedTake },
  delivery: Size & { fps: number },
): Finding {
  const { media, lock } = take;
  const limit = r.tolerance ?? 0;
  const unknown = (what: string): Finding => ({
    verdict: 'unjudged',
    text: `${name}: ${what} is not known`,
    fix: r.remedySet,
  });
  if (!media) return unknown('what the file is');
  switch (r.kind) {
    case 'locked': {
      if (!lock) return unknown('the movement');
      const v = judgeLock(lock, media, delivery, media.frame_count, limit || undefined);
      const [first] = v.reasons;
      return {
        verdict: v.verdict,
        text: `${name}, take ${take.number}: ${first?.text ?? ''}`,
        fix: first?.fix ?? null,
      };
    }
    case 'rate-at-least': {
      const rate = media.real_fps ?? media.measured_fps;
      if (rate === null) return unknown('the rate');
      const said =
        `${name}, take ${take.number}: ${rate.toFixed(2)} distinct pictures a ` +
        `second${media.variable_rate ? ', wandering' : ''}; ${limit} are asked for`;
      // A hundredth is what containers' rounded times and one repeated frame may cost.
      return rate >= limit * 0.99
        ? { verdict: 'holds', text: said, fix: null }
        : { verdict: 'reshoot', text: said, fix: r.remedySet };
    }
    case 'headroom-at-least': {
      const spare = headroom(media.width, media.height, delivery.width, delivery.height, 100, 0).left_pct;
      const said = `${name}, take ${take.number}: ${spare.toFixed(0)} % larger than delivery; ${limit} % are asked for`;
      const punch = judgePunchIn(sideOf({ name, take }), delivery);
      if (punch && (punch.verdict === 'reshoot' || spare >= limit - 0.5)) return punch;
      return spare >= limit - 0.5
        ? { verdict: 'holds', text: said, fix: null }
        : { verdict: 'reshoot', text: said, fix: r.remedySet };
    }
    case 'length-at-least': {
      if (media.duration_s === null) return unknown('the length');
      const said = `${name}, take ${take.number}: ${media.duration_s.toFixed(1)} s long; ${limit} s are asked for`;
      return media.duration_s >= limit
        ? { verdict: 'holds', text: said, fix: null }
        : { verdict: 'reshoot', text: said, fix: r.remedySet };
    }
    case 'clean-plate': {
      if (!take.presence) return unknown('who is in it');
      const {
        verdict,
        reasons: [first],
      } = judgeCleanPlate(take.presence, media.frame_count, plateFrames(media));
      return { verdict, text: `${name}, take ${take.number}: ${first.text}`, fix: first.fix };
    }
    case 'inside-frame': {
      if (!take.presence || take.presence.unjudged) return unknown('what touches the edges');
      const { left, right, top, bottom } = take.presence.edge_runs;
      const touched = Object.entries({ left, right, top, bottom }).filter(([, runs]) => runs.length > 0);
      if (touched.length === 0)
        return { verdict: 'holds', text: `${name}, take ${take.number}: nothing touches the frame’s edges`, fix: null };
      // Whoever walks in touches an edge too: which of them it was is seen, not measured.
      return {
        verdict: 'unjudged',
        text:
          `${name}, take ${take.number}: ` +
          `${touched.map(([edge, runs]) => `${edge} edge touched in frames ${listRuns(runs)}`).join('; ')}; ` +
          `look whether it is the one meant`,
        fix: r.remedySet,
      };
    }
    default:
      return unknown('this');
  }
}

function sideOf({ name, take }: { name: string; take: JudgedTake }): CoveredSide & { id: string } {
  return {
    id: take.id,
    name,
    number: take.number,
    width: take.media?.width ?? 0,
    height: take.media?.height ?? 0,
    frameCount: take.media?.frame_count ?? 0,
    cover: take.cover ?? null,
  };
}

/** Decides by what covers the takes, or by how they move on both sides of a cut. */
function decideWipe(
  r: Requirement,
  takes: readonly { name: string; take: JudgedTake }[],
  delivery: Size,
  cuts: readonly TakeCut[],
): Finding | 'pending' {
  const sides = takes.map(sideOf);
  if (r.kind === 'same-direction') {
    const [out, into] = sides;
    if (out.id === into.id) return { verdict: 'holds', text: 'one recording', fix: null };
    return judgeSameWay(r, out, into, cuts);
  }
  const found = sides.map((s) => judgeCovered(r, s, delivery, cuts));
  const known = found.filter((f) => f !== 'pending');
  return known.some((f) => f.verdict === 'reshoot') || known.length === found.length ? worst(known) : 'pending';
}

/** Do two movers go against each other? */
function judgeOpposed(r: Requirement, takes: readonly { name: string; take: JudgedTake }[]): Finding {
  const ways = takes.map(({ name, take }) => ({ name, angle: take.presence?.travel?.angle_deg ?? null }));
  const without = ways.filter((w) => w.angle === null);
  if (without.length > 0 || ways.length < 2)
    return {
      verdict: 'unjudged',
      text: `which way it goes could not be told in ${without.map((w) => w.name).join(', ')}`,
      fix: r.remedySet,
    };
  const [a, b] = ways,
    limit = r.tolerance ?? 20;
  const apart = Math.abs(((a.angle! - b.angle! + 540) % 360) - 180),
    off = 180 - apart;
  const text =
    `${a.name} goes ${wayInWords(a.angle!)}, ${b.name} ${wayInWords(b.angle!)}: ${off.toFixed(0)}° ` +
    `from opposite; ${limit}° are allowed`;
  return off <= limit
    ? { verdict: 'holds', text, fix: null }
    : {
        verdict: off > 90 && r.remedyEdit ? 'workable' : 'reshoot',
        text,
        fix: off > 90 && r.remedyEdit ? r.remedyEdit : r.remedySet,
      };
}

/** What a plate shows beside each take of its trick. */
function besideOthers({ name, take }: { name: string; take: JudgedTake }, pairs: readonly TakePair[]): Finding[] {
  return pairs.flatMap(({ takeId, againstId }) => {
    if (takeId !== take.id && againstId !== take.id) return [];
    const pair = pairOf(pairs, againstId === take.id ? takeId : againstId, take.id);
    if (!pair?.gap) return [];
    const found = judgeContents(
      { id: pair.takeId, name: pair.takeName, number: pair.takeNumber, media: take.media },
      { id: take.id, name, number: take.number, media: take.media },
      pair.gap,
    );
    return found ?? [];
  });
}

/** Decides what two or more takes must have in common, by the worst of their pairs. */
function decidePairs(
  r: Requirement,
  takes: readonly { name: string; take: JudgedTake }[],
  delivery: Size,
  pairs: readonly TakePair[],
): Finding | 'pending' {
  const found: Finding[] = [];
  let pending = false;
  const side = (t: { name: string; take: JudgedTake }): PairSide => ({
    id: t.take.id,
    name: t.name,
    number: t.take.number,
    media: t.take.media,
  });
  takes.forEach((first, i) =>
    takes.slice(i + 1).forEach((second) => {
      if (first.take.id === second.take.id) return;
      const [a, b] = [side(first), side(second)];
      const pair = pairOf(pairs, a.id, b.id);
      if (!pair || pair.state === 'waiting' || pair.state === 'comparing') pending = true;
      else if (!pair.gap)
        found.push({
          verdict: 'unjudged',
          text: `${a.name} and ${b.name} could not be compared: ${pair.failure ?? 'the reason is not known'}`,
          fix: r.remedySet,
        });
      else if (r.kind === 'same-position')
        found.push(judgeSamePosition(a, b, pair.gap, r.tolerance ?? LIMITS.plate.offset_px, delivery));
      else if (r.kind === 'same-light')
        found.push(judgeSameLight(a, b, pair.gap, r.tolerance ?? LIMITS.plate.light_stops));
      else found.push(judgeOneRoll(a, b, pair.gap, delivery));
    }),
  );
  // What already says reshoot need not wait for the rest.
  const bad = found.find((f) => f.verdict === 'reshoot');
  if (bad) return bad;
  if (pending) return 'pending';
  return found.length ? worst(found) : { verdict: 'holds', text: 'one recording', fix: null };
}

/** A plate needs a clear run of half a second, or all of a shorter take. */
function plateFrames(media: { frame_count: number; measured_fps: number | null }): number {
  return Math.min(media.frame_count, Math.max(2, Math.round((media.measured_fps ?? 25) / 2)));
}

function sameSettings(takes: { name: string; take: JudgedTake }[]): Finding {
  const known = takes.flatMap((t) => (t.take.media ? [{ name: t.name, media: t.take.media }] : []));
  if (known.length < takes.length) return { verdict: 'unjudged', text: 'what the files are is not known', fix: null };
  const [first, ...rest] = known;
  for (const other of rest) {
    const apart: string[] = [];
    if (first.media.width !== other.media.width || first.media.height !== other.media.height) {
      apart.push(
        `${first.media.width} × ${first.media.height} against ${other.media.width} × ${other.media.height} px`,
      );
    }
    const [a, b] = [first.media.measured_fps, other.media.measured_fps];
    if (
      a === null ||
      b === null ||
      (Math.abs(a / b - 1) > 0.0005 && !first.media.variable_rate && !other.media.variable_rate)
    )
      apart.push(`${a === null ? '?' : rateName(a)} against ${b === null ? '?' : rateName(b)} fps`);
    if (first.media.bit_depth !== other.media.bit_depth)
      apart.push(`${first.media.bit_depth} against ${other.media.bit_depth} bit`);
    if (apart.length)
      return { verdict: 'reshoot', text: `${first.name} and ${other.name} differ: ${apart.join(', ')}`, fix: null };
  }
  const wandering = known.find((k) => k.media.variable_rate);
  if (wandering)
    return {
      verdict: 'workable',
      text: `${wandering.name} has a wandering rate, ${wandering.media.measured_fps?.toFixed(2) ?? '?'} fps on average`,
      fix: `Convert it to a steady rate before the edit; better, set a fixed rate and roll ${wandering.name} again.`,
    };
  const repeating = known.find(
    (k) => k.media.real_fps !== null && k.media.measured_fps !== null && k.media.real_fps < 0.97 * k.media.measured_fps,
  );
  if (repeating)
    return {
      verdict: 'reshoot',
      text:
        `${repeating.name} repeats frames: ${repeating.media.real_fps!.toFixed(2)} distinct pictures a ` +
        `second in a file of ${rateName(repeating.media.measured_fps!)}`,
      fix: `Set the camera to record at a fixed rate without conversion and roll ${repeating.name} again.`,
    };
  return {
    verdict: 'holds',
    text: `${first.media.width} × ${first.media.height} px at ${first.media.measured_fps?.toFixed(2) ?? '?'} fps in all`,
    fix: null,
  };
}
