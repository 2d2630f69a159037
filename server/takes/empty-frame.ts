import type { Planned } from '../../api/plan';
import type { TakeFacts } from '../../core/report/summaries';
import type { AnyMeasure } from '../../core/measures';
import type { JudgedTake, Outcome, WorkState } from '../../core/judge/measure';

/** An outcome, with the empty frame by which it was told who stands in its takes. */
export type PlatedOutcome = Outcome & { plate?: string | null };

/** A part with its takes, as far as it matters here. */
interface PartSeen {
  part: { id: string; deleted: boolean };
  asked: { isPlate: boolean };
  takes: readonly { record: { state: WorkState } }[];
  standing: JudgedTake | null;
}

/** What a setup's takes are judged from, as far as it matters here. */
interface RowsSeen {
  planned: readonly Planned[];
  rolling: readonly string[];
  records: readonly { id: string; facts: TakeFacts | null }[];
  outcomes: readonly PlatedOutcome[];
}

/** The parts of a setup's tricks that are plates of afterwards. */
const afterwards = (planned: readonly Planned[]) =>
  planned.flatMap(({ trick, parts }) =>
    trick.parts.filter((p) => p.role === 'plate' && p.place === 'last').map((p) => parts[p.key]),
  );

/** Takes that can be the empty frame of a setup's others. */
export function emptyTakes(parts: readonly PartSeen[], planned: readonly Planned[]): JudgedTake[] {
  // A plate of afterwards lacks what the pass was about: it does not tell who came in.
  const late = afterwards(planned);
  return parts
    .filter(({ part, standing }) => !part.deleted && standing?.isPlate && !late.includes(part.id))
    .flatMap(({ standing }) => standing ?? [])
    .filter((plate) => plate.facts.presence.clear_runs.length > 0);
}

/** The take that is the empty frame of a setup's take: of its size; null where there is none, or somebody is in all of it. */
export function emptyFrameOf({ empties }: { empties: readonly JudgedTake[] }, facts: TakeFacts | null) {
  const own = facts?.media;
  const fits = empties.find(({ facts: { media } }) => media.width === own?.width && media.height === own?.height);
  return fits ?? empties[0] ?? null;
}

/** Whether a take of a part that is an empty frame is being rolled, or measured. */
function isPlateComing({ rolling, planned }: RowsSeen, parts: readonly PartSeen[]): boolean {
  const late = afterwards(planned);
  return parts.some(
    ({ part, asked, takes }) =>
      !part.deleted &&
      asked.isPlate &&
      !late.includes(part.id) &&
      (rolling.includes(part.id) || takes.some((t) => t.record.state === 'waiting' || t.record.state === 'working')),
  );
}

/**
 * Outcomes as they stand: what was told by another empty frame than the setup has, or is about to have, is measured
 * anew, and says nothing until then. Gives the same outcomes where all stand.
 */
export function asTheyStand(
  measures: readonly AnyMeasure[],
  rows: RowsSeen,
  parts: readonly PartSeen[],
  empties: readonly JudgedTake[],
): readonly PlatedOutcome[] {
  const byPlate = new Set(measures.filter((m) => m.byPlate === true).map((m) => m.key));
  const facts = new Map(rows.records.map((r) => [r.id, r.facts]));
  const coming = isPlateComing(rows, parts);
  const isOver = (o: PlatedOutcome): boolean => {
    if (!byPlate.has(o.measure)) return false;
    const plate = emptyFrameOf({ empties }, facts.get(o.takes[0]) ?? null)?.id ?? null;
    return coming || ((o.plate ?? null) !== plate && (plate === null || !o.takes.includes(plate)));
  };
  if (!rows.outcomes.some(isOver)) return rows.outcomes;
  return rows.outcomes.map((o) => (isOver(o) ? { ...o, state: 'waiting', failure: null, result: null } : o));
}
