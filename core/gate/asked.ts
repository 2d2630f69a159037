import type { PlannedTrick } from '../plan/types';
import { proposedPurpose, PURPOSES } from '../tricks/library/purposes';
import { eachByItself } from '../tricks/requirement-kinds';
import type { Purpose, Requirement } from '../tricks/types';

/** A requirement that a take must meet by itself, with the planned trick that asks for it. */
export interface AskedRequirement {
  requirement: Requirement;
  /** Null where its purpose asks for it. */
  trick: { id: string; name: string; speedPct: number | null } | null;
}

/** What a take is for, and what is asked of it by itself. */
export interface AskedOfTake {
  requirements: readonly AskedRequirement[];
  /** "pass A of Double and pass of Lit prop"; "a locked pass". */
  judgedFor: string;
  /** Null where tricks rest on the part. */
  purpose: Purpose | null;
  isPlate: boolean;
}

/** What a purpose asks of a take. */
export function askedByPurpose(purpose: Purpose): AskedOfTake {
  const { requirements, called } = PURPOSES[purpose];
  return {
    requirements: requirements.map((requirement) => ({ requirement, trick: null })),
    judgedFor: called,
    purpose,
    isPlate: purpose === 'plate',
  };
}

/**
 * What a part's takes are judged for: what the planned tricks that rest on it ask of it, or its purpose where none does.
 * @param planned the tricks of its setup
 */
export function askedOfPart(
  part: { id: string; name: string; purpose: Purpose | null },
  planned: readonly PlannedTrick[],
): AskedOfTake {
  const uses = planned.flatMap((k) =>
    k.trick.parts.filter((p) => k.parts[p.key] === part.id).map((trickPart) => ({ planned: k, trickPart })),
  );
  if (uses.length === 0) return askedByPurpose(part.purpose ?? proposedPurpose(part.name));
  const requirements = uses.flatMap(({ planned: { id, trick, wishes }, trickPart }) =>
    trick.requirements
      .filter((r) => eachByItself(r.kind) && r.parts.includes(trickPart.key))
      .map((requirement) => ({ requirement, trick: { id, name: trick.name, speedPct: wishes.speed_pct } })),
  );
  const names = uses.map(({ planned: { trick }, trickPart }) => `${lowered(trickPart.name)} of ${trick.name}`);
  return {
    requirements,
    judgedFor:
      names.length < 3 ? names.join(' and ') : `${names.slice(0, -1).join(', ')} and ${names[names.length - 1]}`,
    purpose: null,
    isPlate: uses.some(({ trickPart }) => trickPart.role === 'plate'),
  };
}

const lowered = (name: string) => (/^[A-Z][a-z]/.test(name) ? name.charAt(0).toLowerCase() + name.slice(1) : name);
