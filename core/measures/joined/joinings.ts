import type { PlannedTrick } from '../../plan/types';
import type { PartRole } from '../../tricks/types';
import type { JoinedHow } from './joined';
import { overPlateOf, type OverPlate } from './over-plate';

/** Two parts that a trick joins, by their ids, and how it does. */
export interface Joining<T extends PlannedTrick = PlannedTrick> {
  trick: T;
  first: string;
  second: string;
  how: JoinedHow;
  /** How a pass is seen over its plate, where neither something solid nor a cloth that falls parts the two; null for others. */
  over: OverPlate | null;
}

/** What a proof shows of each. */
const PROOF_OF: Record<OverPlate, JoinedHow> = {
  mixed: 'through',
  faded: 'through',
  alone: 'through',
  figure: 'figure',
  hung: 'figure',
  lifted: 'figure',
  pulled: 'opening',
  edge: 'edge',
};

/** The ids of a trick's parts in a role, in the order of the trick. */
export function partsIn({ trick, parts }: PlannedTrick, role: PartRole): string[] {
  return trick.parts.filter((p) => p.role === role).flatMap((p) => parts[p.key] ?? []);
}

/** The two parts of a trick that are laid over each other; null where none are. */
export function joiningOf<T extends PlannedTrick>(trick: T): Joining<T> | null {
  const needs = (kind: string) => trick.trick.requirements.filter((r) => r.kind === kind);
  const asks = (kind: string) => needs(kind).length > 0;
  const passes = partsIn(trick, 'pass'),
    [plate] = partsIn(trick, 'plate');
  if (passes.length > 1) {
    // One frame of the first is held in the second; where frames of both must be sharp, the one follows on the other.
    const held = needs('sharp-at').length === 1;
    const how = asks('inside-zone')
      ? 'opening'
      : asks('opposite-direction')
        ? 'over'
        : asks('same-spot') || needs('sharp-at').length > 1
          ? 'cut'
          : held
            ? 'held'
            : 'line';
    return { trick, first: passes[0], second: passes[1], how, over: null };
  }
  if (!passes[0] || !plate) return null;
  const both = { trick, first: passes[0], second: plate };
  if (asks('cloth-hides')) return { ...both, how: 'cloth', over: null };
  if (asks('hidden-at')) return { ...both, how: 'switch', over: null };
  const over = overPlateOf(trick);
  return { ...both, how: PROOF_OF[over], over };
}
