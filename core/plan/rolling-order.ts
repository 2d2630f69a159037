import type { PlannedPart, PlannedTrick, RollStep } from './types';
import type { TrickPart } from '../tricks/types';

interface Need {
  trick: PlannedTrick;
  part: TrickPart;
}

/** For each part of the setup, the tricks that rest on it. */
function needsOf(tricks: readonly PlannedTrick[]): Map<string, Need[]> {
  const needs = new Map<string, Need[]>();
  for (const planned of tricks) {
    for (const part of planned.trick.parts) {
      const id = planned.parts[part.key];
      if (id) needs.set(id, [...(needs.get(id) ?? []), { trick: planned, part }]);
    }
  }
  return needs;
}

/** Whether every trick that rests on a part wants it from another place. */
const isElsewhere = (all: Need[]) => all.length > 0 && all.every((n) => n.part.role === 'in-side');

const lightCritical = (t: PlannedTrick) => t.trick.requirements.some((r) => r.kind === 'same-light');

/**
 * Proposes the order in which the parts of one setup are rolled, and says why.
 *
 * The shared empty frame comes first, while nobody has touched anything; then the passes, those of tricks that depend on
 * the light nearest to it and those of one roll together; an empty frame that belongs to the end of a roll directly after
 * its passes; sides that are recorded in another place last.
 * @param parts the setup's parts in their present order; parts no trick uses keep their place at the end
 */
export function proposeOrder(parts: readonly PlannedPart[], tricks: readonly PlannedTrick[]): RollStep[] {
  const needs = needsOf(tricks);
  const rank = (id: string): number[] => {
    const all = needs.get(id) ?? [];
    if (all.length === 0) return [5, 0, 0];
    const plate = all.some((n) => n.part.role === 'plate');
    const ends = plate && all.every((n) => n.part.place === 'last');
    const elsewhere = isElsewhere(all);
    const still = all.every((n) => n.part.role === 'still');
    const first = Math.min(...all.map((n) => tricks.indexOf(n.trick)));
    const group = elsewhere ? 4 : plate && !ends ? 0 : all.some((n) => lightCritical(n.trick)) ? 1 : 2;
    return [group, plate && !ends ? 0 : first, ends ? 2 : still ? 3 : 1];
  };
  const sorted = parts
    .map((part, at) => ({ part, key: [...rank(part.id), at] }))
    .sort((a, b) => {
      for (let i = 0; i < a.key.length; i++) if (a.key[i] !== b.key[i]) return a.key[i] - b.key[i];
      return 0;
    });
  return describe(
    sorted.map((s) => s.part),
    needs,
  );
}

/** Ids of the setup's parts that are recorded in another place. */
export function partsElsewhere(tricks: readonly PlannedTrick[]): Set<string> {
  return new Set([...needsOf(tricks)].filter(([, all]) => isElsewhere(all)).map(([id]) => id));
}

/** The steps in an order that somebody chose; the reasons say what the part is for. */
export function stepsInOrder(parts: readonly PlannedPart[], tricks: readonly PlannedTrick[]): RollStep[] {
  return describe(parts, needsOf(tricks));
}

function describe(parts: readonly PlannedPart[], needs: Map<string, Need[]>): RollStep[] {
  let roll = 0;
  let rolling = new Set<string>();
  return parts.map((part) => {
    const all = needs.get(part.id) ?? [];
    const names = [...new Set(all.map((n) => n.trick.trick.name))];
    const together = new Set(
      all.filter((n) => n.trick.trick.oneRoll && n.part.role !== 'still').map((n) => n.trick.id),
    );
    const goesOn = [...together].some((id) => rolling.has(id));
    if (!goesOn) roll++;
    rolling = goesOn ? new Set([...rolling, ...together]) : together;
    return {
      part,
      tricks: names,
      roll,
      elsewhere: isElsewhere(all),
      why: reason(all, names, goesOn),
      script: [
        ...new Map(
          all.flatMap((n) => n.trick.trick.script.filter((l) => l.part === n.part.key).map((l) => [l.say, l] as const)),
        ).values(),
      ],
      requirements: all.flatMap((n) => n.trick.trick.requirements.filter((r) => r.parts.includes(n.part.key))),
    };
  });
}

function reason(all: Need[], names: string[], goesOn: boolean): string {
  if (all.length === 0) return 'On its own: no trick rests on it.';
  const plate = all.some((n) => n.part.role === 'plate');
  if (isElsewhere(all)) return 'Belongs to the other place: roll it when you stand there.';
  if (all.every((n) => n.part.role === 'still')) return 'Taken from a pass already rolled.';
  const on = goesOn ? ' Do not stop the camera before it.' : '';
  if (plate && all.every((n) => n.part.place === 'last'))
    return `At the end of the same roll, when the light is still that of the pass.${on}`;
  if (plate) {
    return names.length > 1
      ? `One empty frame serves ${names.length} tricks; before anybody has touched anything.`
      : 'Empty first, before anybody has touched anything.';
  }
  if (all.some((n) => lightCritical(n.trick))) return `Close to the empty frame, before the light goes.${on}`;
  return `Depends less on the light, so it can wait.${on}`;
}

/** What nobody may touch or change while this setup stands, and what to say to everybody. */
export function standingOrders(tricks: readonly PlannedTrick[]): string[] {
  const said = tricks.flatMap((t) => t.trick.script.filter((l) => l.part === null).map((l) => l.say));
  const locked = tricks.some((t) => t.trick.camera === 'still');
  const light = tricks.some((t) => t.trick.requirements.some((r) => r.kind === 'same-light'));
  const clean = tricks.some((t) =>
    t.trick.requirements.some((r) => r.kind === 'clean-plate' || r.kind === 'same-position'),
  );
  return [
    ...new Set([
      ...said,
      ...(locked ? ['Nobody touches the tripod, the camera or its cable.'] : []),
      ...(light ? ['Nobody changes a lamp, a curtain or a door.'] : []),
      ...(clean ? ['Nobody moves anything that is in the picture between the parts.'] : []),
    ]),
  ];
}
