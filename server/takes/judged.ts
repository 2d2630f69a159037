import type { Part, Planned, Setup } from '../../api/plan';
import type { Take, TakeInList } from '../../api/takes';
import { askedOfPart, type AskedOfTake } from '../../core/judge/asked';
import type { GateTake } from '../../core/judge/gate';
import { judgeTake, reportTake, type TakeContext, type TakeJudged } from '../../core/judge/judged-take';
import { standingTake } from '../../core/judge/standing';
import { byWorst } from '../../core/judge/verdicts';
import type { AnyMeasure } from '../../core/measures';
import { asNow } from '../../core/measures/take';
import type { JudgedTake, Outcome } from '../../core/measures/measure';
import type { TakeMeasures, TakeReport } from '../../core/report/types';
import { listEyeChecks, listPlanned, type EyeCheckRow } from '../plan/plans';
import { findSetupOfTake, listParts } from '../plan/shoots';
import type { Db } from '../platform/database';
import { groupBy } from '../platform/group';
import type { House } from '../platform/house';
import { listOutcomes, wholeResult } from '../work/measures';
import { asTake, listTakesOfSetups, type TakeRecord } from './takes';

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

/** All takes of some setups, judged, and what they were judged by. */
export interface JudgedSetups {
  parts: JudgedPart[];
  planned: Planned[];
  eyes: EyeCheckRow[];
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

/** Reads all takes of some setups and judges each for what it is for. Parts that were removed are read too. */
export async function readJudged(
  house: Pick<House, 'measures'>,
  db: Db,
  setupIds: readonly string[],
): Promise<JudgedSetups> {
  const { measures } = house;
  const [records, parts, planned] = await Promise.all([
    listTakesOfSetups(db, setupIds),
    listParts(db, [...setupIds], true),
    listPlanned(db, setupIds),
  ]);
  const measured = new Map(records.flatMap((r) => (r.facts ? [[r.id, r] as const] : [])));
  const deciding = measures.filter((m) => Object.keys(m.decides).length > 0).map((m) => m.key);
  const [eyes, found] = await Promise.all([
    listEyeChecks(
      db,
      planned.map((p) => p.id),
    ),
    listOutcomes(db, [...measured.keys()], deciding),
  ]);
  const byFirst = groupBy(atDelivery(found, measured, measures), (o) => o.takes[0]);
  const outcomesOf = (ids: ReadonlySet<string>) =>
    [...ids].flatMap((id) => (byFirst.get(id) ?? []).filter((o) => o.takes.every((t) => ids.has(t))));
  const ofPart = groupBy(records, (t) => t.part_id),
    tricksOf = groupBy(planned, (p) => p.setup_id),
    saidOf = groupBy(eyes, (e) => e.planned_id);

  const judge = (take: JudgedTake, record: TakeRecord, asked: AskedOfTake, more: Partial<TakeContext> = {}) => {
    const among = [take, ...(more.among ?? [])];
    const outcomes = outcomesOf(new Set(among.map((t) => t.id)));
    return judgeTake(take, asked, { delivery: record.delivery, measures, ...more, among, outcomes });
  };
  const alone = parts.map((part) => {
    const asked = askedOfPart(part, part.deleted ? [] : (tricksOf.get(part.setup_id) ?? []));
    const takes = (ofPart.get(part.id) ?? []).map((record) => {
      const { id, number, facts } = record;
      const take = facts && { id, number, name: part.name, isPlate: asked.isPlate, facts };
      return { record, take, judged: take && judge(take, record, asked) };
    });
    return { part, asked, takes, stands: standingOf(takes) };
  });

  // What stands in a plate is told beside the takes that the other parts of its tricks stand on.
  const standsOn = new Map(alone.map((p) => [p.part.id, p.stands?.take ?? null]));
  const beside = alone.map((p) => {
    const tricks = p.part.deleted ? [] : (tricksOf.get(p.part.setup_id) ?? []);
    if (!p.asked.requirements.some(({ requirement: r }) => r.kind === 'clean-plate') || p.asked.purpose) return p;
    const others = tricks
      .filter((t) => Object.values(t.parts).includes(p.part.id))
      .flatMap((t) => Object.values(t.parts).filter((id) => id !== p.part.id));
    const among = [...new Set(others)].flatMap((id) => standsOn.get(id) ?? []);
    const takes = p.takes.map((t) => (t.take ? { ...t, judged: judge(t.take, t.record, p.asked, { among }) } : t));
    return { ...p, takes, stands: standingOf(takes), among };
  });

  return {
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

/** A take with its part, judged beside the others of its setup; null when there is none. */
export async function findJudged(
  house: Pick<House, 'measures'>,
  db: Db,
  id: string,
): Promise<(JudgedRecord & { of: JudgedPart }) | null> {
  const setup = await findSetupOfTake(db, id);
  if (!setup) return null;
  const { parts } = await readJudged(house, db, [setup.id]);
  for (const of of parts) {
    const found = of.takes.find((t) => t.record.id === id);
    if (found) return { ...found, of };
  }
  return null;
}

/** A take as it is sent; null when there is none. */
export async function findSent(house: Pick<House, 'measures'>, db: Db, id: string): Promise<Take | null> {
  const found = await findJudged(house, db, id);
  return found && asTake(found.record, found.judged);
}

/** Everything that was measured of a take by itself, judged; null until it is measured. */
export async function findReport(
  db: Db,
  { record, judged, of }: JudgedRecord & { of: JudgedPart },
): Promise<TakeReport | null> {
  const found = judged && (await wholeResult(db, record.measure_id));
  return found && reportTake(record.name, asNow(found as TakeMeasures), record.delivery, of.asked, judged);
}

/** Takes of some setups with where they belong: those to look at first, then the newest. */
export async function listTakesToCheck(
  house: Pick<House, 'measures'>,
  db: Db,
  setups: readonly (Setup & { shoot_name: string })[],
  limit: number,
): Promise<TakeInList[]> {
  const { parts } = await readJudged(
    house,
    db,
    setups.map((s) => s.id),
  );
  const of = new Map(setups.map((s) => [s.id, s]));
  const all = parts
    .filter(({ part }) => !part.deleted)
    .flatMap(({ part, takes, stands }) =>
      takes.map((t): TakeInList => {
        const setup = of.get(part.setup_id)!;
        return {
          ...asTake(t.record, t.judged),
          shoot_name: setup.shoot_name,
          setup_id: setup.id,
          setup_number: setup.number,
          setup_name: setup.name,
          part_name: part.name,
          standing: t === stands,
        };
      }),
    );
  // What is not measured yet stands between what must be looked at and what is fine.
  const verdict = (t: Take) => t.verdict ?? 'unjudged';
  return all.sort((a, b) => byWorst(verdict(a), verdict(b)) || b.rolled_at.localeCompare(a.rolled_at)).slice(0, limit);
}
