import type { RequirementKind, Trick } from './types';

/** Kinds of requirement that speak of the trick's zone. */
export const ZONE_KINDS: readonly RequirementKind[] = ['zone-free', 'inside-zone', 'same-outside'];

/** Corners of a zone, the last joined to the first: shares of the picture's width and height. */
export type Zone = [number, number][];

/** The zone of a trick; null where none is drawn. */
export function zoneOf(trick: Pick<Trick, 'requirements'>): Zone | null {
  return trick.requirements.find((r) => r.zone?.length)?.zone ?? null;
}

/** Whether anything of a trick speaks of a zone. */
export function wantsZone(trick: Pick<Trick, 'requirements'>): boolean {
  return trick.requirements.some((r) => ZONE_KINDS.includes(r.kind));
}

/** The trick with a zone drawn, or with none. */
export function withZone(trick: Trick, zone: Zone | null): Trick {
  const requirements = trick.requirements.map((r) => (ZONE_KINDS.includes(r.kind) ? { ...r, zone } : r));
  return { ...trick, requirements };
}
