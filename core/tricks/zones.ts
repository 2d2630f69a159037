import type { RequirementKind, Trick } from './types';

/** Kinds of requirement that speak of the trick's zone. */
export const ZONE_KINDS: readonly RequirementKind[] = [
  'zone-free',
  'zone-till-pulled',
  'inside-zone',
  'same-outside',
  'light-on-beat',
  'light-inside',
  'drifts-little',
];
/** Those for which whoever enters the zone is watched. */
export const WATCHED_KINDS: readonly RequirementKind[] = ['zone-free', 'zone-till-pulled', 'inside-zone'];

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

/** The trick with a zone drawn, or with none. A plate of afterwards lacks what is in it: that is no fault of the plate. */
export function withZone(trick: Trick, zone: Zone | null): Trick {
  const lacks = (r: Trick['requirements'][number]) =>
    r.kind === 'clean-plate' && trick.parts.some((p) => p.place === 'last' && r.parts.includes(p.key));
  const requirements = trick.requirements.map((r) => (ZONE_KINDS.includes(r.kind) || lacks(r) ? { ...r, zone } : r));
  return { ...trick, requirements };
}
