import type { Gate } from '../gate/gate';
import type { PlannedTrick } from '../plan/types';
import type { Missing, PackTake, PackWish } from './types';

/** A part that may go along, with the takes it has. */
interface MissingPart {
  part: { id: string; name: string; optional: boolean };
  takes: readonly { record: { number: number; circled: boolean; state: string } }[];
}

/** What whoever gets a setup's pack will miss, and who can mend it. */
export function missingOf(
  { number, gate }: { number: number; gate: Gate },
  parts: readonly MissingPart[],
  tricks: readonly PlannedTrick[],
  going: ReadonlyMap<string, PackTake>,
  wish: PackWish,
): Missing[] {
  const all: Missing[] = [];
  const add = (trick: string | null, text: string, by: Missing['by'], fix: string) =>
    all.push({ setup: number, trick, text, by, fix });
  const trickOf = (partId: string) => tricks.find((t) => Object.values(t.parts).includes(partId))?.trick.name ?? null;
  for (const { part, takes } of parts) {
    if (going.has(part.id)) continue;
    if (takes.length === 0) {
      if (!part.optional)
        add(trickOf(part.id), `“${part.name}” was not rolled.`, 'set', 'Roll it while the setup stands.');
    } else if (takes.every((t) => t.record.state !== 'done'))
      add(trickOf(part.id), `“${part.name}” is not measured.`, 'bench', 'Wait until it is, or look why it failed.');
    else if (wish.takes !== 'standing' && takes.some((t) => t.record.circled))
      add(
        trickOf(part.id),
        `Take ${takes.find((t) => t.record.circled)!.record.number} of “${part.name}” is circled and not measured.`,
        'bench',
        'Wait until it is, look why it failed, or circle another.',
      );
    else if (wish.takes === 'circled')
      add(
        trickOf(part.id),
        `No take of “${part.name}” is circled.`,
        'choice',
        'Circle the one to use, or let the best go.',
      );
  }
  const shown = new Set(tricks.map((t) => t.id));
  for (const { id, name, requirements } of gate.tricks) {
    if (!shown.has(id)) continue;
    for (const r of requirements.filter((own) => own.applies && own.ready)) {
      const about = `${r.name} (${r.partNames.join(', ')}): ${r.text}`;
      if (r.pending) add(name, `${about}.`, 'bench', 'Wait until it is measured.');
      else if (r.verdict === 'unjudged')
        add(name, `Not judged: ${about}.`, 'bench', r.fix ?? 'Look at it and say by eye whether it holds.');
      else if (r.verdict === 'reshoot') add(name, `To be shot again: ${about}.`, 'set', r.fix ?? 'Roll it again.');
    }
  }
  return all;
}
