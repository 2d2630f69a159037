import { LRUCache } from 'lru-cache';
import type { Part, Planned } from '../../api/plan';
import { askedOfPart, type AskedOfTake } from '../../core/gate/asked';
import type { GateTake } from '../../core/gate/gate';
import { judgeTake, type TakeContext, type TakeJudged } from '../../core/gate/judged-take';
import { standingTake } from '../../core/gate/standing';
import type { AnyMeasure } from '../../core/measures';
import type { JudgedTake, Outcome } from '../../core/judge/measure';
import type { EyeCheckRow } from '../plan/plans';
import { groupBy } from '../platform/group';
import { asTheyStand, emptyTakes, type PlatedOutcome } from './empty-frame';
import type { TakeRecord } from './takes';

/** A take with the verdict on it for what it is for; null until it is measured. */
export interface JudgedRecord {
  record: TakeRecord;
  judged: TakeJudged | null;
}

/** A part with what is asked of its takes, its takes judged, and the one it stands on. */
export interface JudgedPart {
  part: Part;
  asked: AskedOfTake;
  takes: JudgedRecord[];
  stands: JudgedRecord | null;
  /** The same, as judges see it; null while it is not measured. */
  standing: JudgedTake | null;
}

/** What all takes of a setup are judged from. */
export interface SetupRows {
  id: string;
  records: readonly TakeRecord[];
  /** Those that were removed too. */
  parts: readonly Part[];
  planned: readonly Planned[];
  eyes: readonly EyeCheckRow[];
  /** Parts for which a roll is under way. */
  rolling: readonly string[];
  /** What was measured of its takes, and between them. */
  outcomes: readonly PlatedOutcome[];
}

/** All takes of a setup, judged, and what they were judged by. Nobody may change it: it is kept. */
export interface JudgedSetup extends Pick<SetupRows, 'id' | 'planned' | 'eyes'> {
  parts: readonly JudgedPart[];
  /** Takes that can be the empty frame of the others. */
  empties: readonly JudgedTake[];
  /** What was measured of some takes and between them. */
  outcomesOf: (takeIds: ReadonlySet<string>) => Outcome[];
}

/** A take as the gate sees it, and whoever asks which one a part stands on. */
export function gateTake({ record, judged }: JudgedRecord): GateTake {
  const { id, number, circled, state } = record;
  const broken = judged?.file?.reasons.some((r) => r.code === 'breaks-off') ?? false;
  const said = judged && {
    verdict: judged.verdict,
    text: judged.text,
    fix: judged.fix,
    pending: judged.pending,
    broken,
  };
  return { id, number, circled, state, judged: said };
}

/** Of some takes the one to go on with: the one that one part stands on, or of several parts the best; null for none. */
export function standingOf<T extends JudgedRecord>(takes: readonly T[]): T | null {
  const stands = standingTake(takes.map(gateTake));
  return takes.find((t) => t.record.id === stands?.id) ?? null;
}

interface Kept {
  rows: string;
  parts: readonly unknown[];
  judged: JudgedSetup;
}

/** Setups as they were judged last, by their ids. */
const kept = new LRUCache<string, Kept>({ max: 1000 });

/**
 * Judges each take of a setup for what it is for; gives what was found before where nothing that it rests on differs.
 * Boards are asked for every few seconds, and hardly anything in them changes.
 */
export function judgeSetup(measures: readonly AnyMeasure[], rows: SetupRows): JudgedSetup {
  // Results are large and never change: the same object is the same result.
  const { records, outcomes } = rows;
  const parts = [measures, ...records.map((r) => r.facts), ...outcomes.map((o) => o.result)];
  const text = JSON.stringify({
    ...rows,
    records: records.map((r) => ({ ...r, facts: null })),
    outcomes: outcomes.map((o) => ({ ...o, result: null })),
  });
  const before = kept.get(rows.id);
  const same = before?.rows === text && parts.every((p, i) => p === before.parts[i]);
  if (same) return before.judged;
  const first = judgeAfresh(measures, rows);
  const empties = emptyTakes(first.parts, rows.planned);
  const standing = asTheyStand(measures, rows, first.parts, empties);
  const last = standing === rows.outcomes ? first : judgeAfresh(measures, { ...rows, outcomes: standing });
  const judged = { ...last, empties };
  kept.set(rows.id, { rows: text, parts, judged });
  return judged;
}

/** Outcomes as they stand at what the edit is finished at now. */
function atDelivery(
  found: readonly Outcome[],
  takes: ReadonlyMap<string, TakeRecord>,
  measures: readonly AnyMeasure[],
) {
  return found.map((o): Outcome => {
    const change = measures.find((m) => m.key === o.measure)?.atDelivery;
    const own = o.takes.map((id) => takes.get(id));
    if (!change || !o.result || own.some((t) => !t?.facts)) return o;
    const by = { delivery: own[0]!.delivery, takes: own.map((t) => ({ facts: t!.facts!, shutterS: null })) };
    return { ...o, result: change(o.result, by) as object };
  });
}

function judgeAfresh(measures: readonly AnyMeasure[], rows: SetupRows): Omit<JudgedSetup, 'empties'> {
  const { id, records, planned, eyes } = rows;
  const byFirst = groupBy(
    atDelivery(rows.outcomes, new Map(records.map((r) => [r.id, r])), measures),
    (o) => o.takes[0],
  );
  const outcomesOf = (ids: ReadonlySet<string>) =>
    [...ids].flatMap((take) => (byFirst.get(take) ?? []).filter((o) => o.takes.every((t) => ids.has(t))));
  const ofPart = groupBy(records, (t) => t.part_id),
    saidOf = groupBy(eyes, (e) => e.planned_id);

  const judge = (take: JudgedTake, record: TakeRecord, asked: AskedOfTake, more: Partial<TakeContext> = {}) => {
    const among = [take, ...(more.among ?? [])];
    const outcomes = outcomesOf(new Set(among.map((t) => t.id)));
    return judgeTake(take, asked, { delivery: record.delivery, measures, ...more, among, outcomes });
  };
  const alone = rows.parts.map((part) => {
    const asked = askedOfPart(part, part.deleted ? [] : planned);
    const takes = (ofPart.get(part.id) ?? []).map((record) => {
      const { id, number, facts, marks } = record;
      const take = facts && { id, number, name: part.name, isPlate: asked.isPlate, facts, marks };
      return { record, take, judged: take && judge(take, record, asked) };
    });
    return { part, asked, takes, stands: standingOf(takes) };
  });

  // What stands in a plate is told beside the takes that the other parts of its tricks stand on.
  const standsOn = new Map(alone.map((p) => [p.part.id, p.stands?.take ?? null]));
  const beside = alone.map((p) => {
    const tricks = p.part.deleted ? [] : planned;
    if (!p.asked.requirements.some(({ requirement: r }) => r.kind === 'clean-plate') || p.asked.purpose) return p;
    const others = tricks
      .filter((t) => Object.values(t.parts).includes(p.part.id))
      .flatMap((t) => Object.values(t.parts).filter((other) => other !== p.part.id));
    const among = [...new Set(others)].flatMap((other) => standsOn.get(other) ?? []);
    const takes = p.takes.map((t) => (t.take ? { ...t, judged: judge(t.take, t.record, p.asked, { among }) } : t));
    return { ...p, takes, stands: standingOf(takes), among };
  });

  return {
    id,
    planned,
    eyes,
    outcomesOf,
    parts: beside.map((p): JudgedPart => {
      const { part, asked, stands } = p;
      // What somebody saw, they saw in the take the part stands on.
      const eye: TakeContext['eye'] = (trickId, key) => {
        const said = saidOf.get(trickId)?.find((e) => e.requirement_key === key);
        return said ? { by: said.checked_by, at: said.checked_at } : null;
      };
      const seen = stands?.take && asked.requirements.some(({ trick }) => trick && saidOf.has(trick.id));
      const again = seen && judge(stands.take!, stands.record, asked, { among: 'among' in p ? p.among : [], eye });
      const takes = p.takes.map((t): JudgedRecord => ({
        record: t.record,
        judged: again && t === stands ? again : t.judged,
      }));
      return {
        part,
        asked,
        takes,
        stands: takes.find((t) => t.record === stands?.record) ?? null,
        standing: stands?.take ?? null,
      };
    }),
  };
}
