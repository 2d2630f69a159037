import type { Setup } from '../../api/plan';
import type { Take, TakeInList } from '../../api/takes';
import { reportTake } from '../../core/gate/judged-take';
import { byWorst } from '../../core/judge/verdicts';
import type { JudgedTake } from '../../core/judge/measure';
import { asNow } from '../../core/measures/take/description';
import type { TakeMeasures, TakeReport } from '../../core/report/types';
import { listEyeChecks, listPlanned } from '../plan/plans';
import { findSetupOfTake, listParts } from '../plan/shoots';
import type { Db } from '../platform/database';
import { groupBy } from '../platform/group';
import type { House } from '../platform/house';
import { listRollsUnderWay } from '../rolls/rolls';
import { listOutcomes, wholeResult } from '../work/measures';
import { emptyFrameOf } from './empty-frame';
import { judgeSetup, type JudgedPart, type JudgedRecord, type JudgedSetup } from './judge-setup';
import { asTake, listTakesOfSetups } from './takes';

/** Reads all takes of some setups, judged, in the order of the setups. Parts that were removed are read too. */
export async function readJudged(
  house: Pick<House, 'measures'>,
  db: Db,
  setupIds: readonly string[],
): Promise<JudgedSetup[]> {
  const { measures } = house;
  const [records, parts, planned] = await Promise.all([
    listTakesOfSetups(db, setupIds),
    listParts(db, [...setupIds], true),
    listPlanned(db, setupIds),
  ]);
  const measured = records.flatMap((r) => (r.facts ? [r.id] : []));
  const deciding = measures.filter((m) => Object.keys(m.decides).length > 0).map((m) => m.key);
  const [eyes, outcomes, rolls] = await Promise.all([
    listEyeChecks(
      db,
      planned.map((p) => p.id),
    ),
    listOutcomes(db, measured, deciding),
    listRollsUnderWay(
      db,
      parts.map((p) => p.id),
    ),
  ]);
  const rolling = rolls.map((r) => r.part_id);
  const setupOf = new Map(parts.map((p) => [p.id, p.setup_id])),
    setupOfTake = new Map(records.map((r) => [r.id, setupOf.get(r.part_id)])),
    setupOfTrick = new Map(planned.map((p) => [p.id, p.setup_id]));
  const own = {
    records: groupBy(records, (r) => setupOfTake.get(r.id)),
    parts: groupBy(parts, (p) => p.setup_id),
    planned: groupBy(planned, (p) => p.setup_id),
    eyes: groupBy(eyes, (e) => setupOfTrick.get(e.planned_id)),
    outcomes: groupBy(outcomes, (o) => setupOfTake.get(o.takes[0])),
  };
  return setupIds.map((id) =>
    judgeSetup(measures, {
      id,
      records: own.records.get(id) ?? [],
      parts: own.parts.get(id) ?? [],
      planned: own.planned.get(id) ?? [],
      eyes: own.eyes.get(id) ?? [],
      rolling: rolling.filter((part) => setupOf.get(part) === id),
      outcomes: (own.outcomes.get(id) ?? []).filter((o) => o.takes.every((t) => setupOfTake.get(t) === id)),
    }),
  );
}

/** A take with its part, judged beside the others of its setup; null when there is none. */
export async function findJudged(
  house: Pick<House, 'measures'>,
  db: Db,
  id: string,
): Promise<(JudgedRecord & { of: JudgedPart; plate: JudgedTake | null }) | null> {
  const setup = await findSetupOfTake(db, id);
  if (!setup) return null;
  const [judged] = await readJudged(house, db, [setup.id]);
  for (const of of judged.parts) {
    const found = of.takes.find((t) => t.record.id === id);
    if (found) return { ...found, of, plate: emptyFrameOf(judged, found.record.facts) };
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
  const judged = await readJudged(
    house,
    db,
    setups.map((s) => s.id),
  );
  const of = new Map(setups.map((s) => [s.id, s]));
  const all = judged
    .flatMap((s) => s.parts)
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
