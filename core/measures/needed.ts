import type { Requirement } from '../tricks/types';
import { decidingMeasure, type AnyMeasure } from '.';
import { OUTLINES } from './outlines/description';

/** A take of a part, as far as it matters for what to measure. */
export interface NeedingTake {
  id: string;
  number: number;
  measured: boolean;
  /** Whether the part stands on it. */
  standing: boolean;
}

/** A planned requirement with the takes of each part it speaks of. */
export interface PlannedNeed {
  requirement: Pick<Requirement, 'kind' | 'zone'>;
  parts: readonly (readonly NeedingTake[])[];
}

/** A measure that requirements need, of takes that are ready for it. */
export interface Needed {
  measure: AnyMeasure;
  takes: string[];
  /** Null where the measure's usual one will do. */
  wish: object | null;
  /** Whether all its takes are those that parts stand on. */
  standing: boolean;
}

/** So many of a part's newest takes are held against others without being asked for, besides the one it stands on. */
const NEWEST = 3;

/**
 * What must be measured so that the measures can decide every planned requirement: each measure of takes once, what parts
 * stand on first. Takes that are not measured by themselves yet are passed over. Whoever is in is outlined as soon as a take
 * is measured, where it will be asked for: the other take of a pair may come later.
 */
export function neededMeasures(needs: readonly PlannedNeed[], measures: readonly AnyMeasure[]): Needed[] {
  const found = new Map<string, Needed>();
  const add = (measure: AnyMeasure, wish: object | null, ...takes: NeedingTake[]) => {
    const ids = takes.map((t) => t.id);
    const key = [measure.key, ...(measure.ordered ? ids : [...ids].sort()), JSON.stringify(wish)].join(' ');
    if (!found.has(key)) found.set(key, { measure, takes: ids, wish, standing: takes.every((t) => t.standing) });
  };
  for (const { requirement, parts } of needs) {
    const measure = decidingMeasure(requirement.kind, measures);
    if (!measure || measure.needs.length === 0) continue;
    const wish = (measure.wishFor?.(requirement) as object | null | undefined) ?? null;
    if (measure.wishFor && !wish) continue;
    const ready = parts.map((takes) => takes.filter((t) => t.measured));
    const near =
      measure.takes === 1
        ? ready
        : ready.map((takes) => {
            const newest = [...takes].sort((a, b) => b.number - a.number).slice(0, NEWEST);
            return takes.filter((t) => t.standing || newest.includes(t));
          });
    if (measure.byOutlines) for (const takes of near) for (const take of takes) add(OUTLINES, null, take);
    if (measure.takes === 1) {
      for (const takes of near) for (const take of takes) add(measure, wish, take);
      continue;
    }
    near.forEach((first, i) =>
      near.slice(i + 1).forEach((second) => {
        for (const a of first) for (const b of second) if (a.id !== b.id) add(measure, wish, a, b);
      }),
    );
  }
  return [...found.values()].sort((a, b) => Number(b.standing) - Number(a.standing));
}
