import type { SetupBoard } from '../../api/boards';
import type { Part, Planned, Setup, Shoot } from '../../api/plan';
import type { Take } from '../../api/takes';
import { judgeGate, standingTake, type GateTake } from '../../core/judge/gate';
import { judgeRates, type RateRow } from '../../core/judge/rates';
import { judgeRequirement } from '../../core/judge/requirements';
import type { AnyMeasure } from '../../core/measures';
import type { JudgedTake, Outcome } from '../../core/measures/measure';
import type { PlannedNeed } from '../../core/measures/needed';
import { findContradictions } from '../../core/plan/contradictions';
import { partsElsewhere } from '../../core/plan/rolling-order';
import type { Delivery } from '../../core/plan/types';
import { groupBy } from '../platform/group';
import type { House } from '../platform/house';
import { asTake, gateTake, listTakesOfSetups } from '../takes/takes';
import { listOutcomes } from '../work/measures';
import { listEyeChecks, listPlanned, listSums } from './plans';
import { listParts } from './shoots';

/** What the edit of a shoot is finished at. */
export function deliveryOf(shoot: Shoot): Delivery {
  return { width: shoot.delivery_width, height: shoot.delivery_height, fps: shoot.delivery_fps };
}

interface PartRead {
  part: Part;
  takes: Take[];
  rolled: GateTake[];
  /** The take it stands on; null while none is measured. */
  standing: JudgedTake | null;
}

/** The plan of some setups with the takes of their parts, as it is read for boards and for what must be measured. */
interface PlanRead {
  parts: PartRead[];
  planned: Planned[];
}

async function readPlan({ pool }: House, setups: readonly Setup[]): Promise<PlanRead> {
  const ids = setups.map((s) => s.id);
  const [all, parts, planned] = await Promise.all([
    listTakesOfSetups(pool, ids),
    listParts(pool, ids),
    listPlanned(pool, ids),
  ]);
  const ofPart = groupBy(all, (t) => t.part_id);
  return {
    planned,
    parts: parts.map((part) => {
      const records = ofPart.get(part.id) ?? [];
      const takes = records.map(asTake);
      const rolled = takes.map(gateTake);
      const stands = standingTake(rolled);
      const record = records.find((t) => t.id === stands?.id);
      const facts = record?.facts;
      const standing = record && facts ? { id: record.id, number: record.number, name: part.name, facts } : null;
      return { part, takes, rolled, standing };
    }),
  };
}

/** Outcomes as they stand at what the edit is finished at now. */
function atDelivery(
  outcomes: readonly Outcome[],
  takes: ReadonlyMap<string, JudgedTake>,
  delivery: Delivery,
  measures: readonly AnyMeasure[],
): Outcome[] {
  return outcomes.map((o) => {
    const change = measures.find((m) => m.key === o.measure)?.atDelivery;
    const own = o.takes.map((id) => takes.get(id));
    if (!change || !o.result || own.some((t) => !t)) return o;
    const by = { delivery, takes: own.map((t) => ({ facts: t!.facts, shutterS: null })) };
    return { ...o, result: change(o.result, by) as object };
  });
}

/** Reads whole boards for some setups of one shoot, and judges their gates afresh from the stored measures. */
export async function readBoards(house: House, shoot: Shoot, setups: readonly Setup[]): Promise<SetupBoard[]> {
  const { pool, measures } = house;
  const { parts, planned } = await readPlan(house, setups);
  const plannedIds = planned.map((p) => p.id);
  const standing = new Map(parts.flatMap((p) => (p.standing ? [[p.standing.id, p.standing] as const] : [])));
  const deciding = measures.filter((m) => Object.keys(m.decides).length > 0).map((m) => m.key);
  const [eyes, sums, found] = await Promise.all([
    listEyeChecks(pool, plannedIds),
    listSums(pool, plannedIds),
    listOutcomes(pool, [...standing.keys()], deciding),
  ]);
  const delivery = deliveryOf(shoot);
  const byFirst = groupBy(atDelivery(found, standing, delivery, measures), (o) => o.takes[0]);
  const ofSetup = groupBy(parts, (p) => p.part.setup_id);
  const tricksOf = groupBy(planned, (p) => p.setup_id);
  const partOf = new Map(parts.map((p) => [p.part.id, p]));
  const saidOf = groupBy(eyes, (e) => e.planned_id);
  const usedParts = new Set(planned.flatMap((k) => Object.values(k.parts)));
  return setups.map((setup) => {
    const own = ofSetup.get(setup.id) ?? [];
    const tricks = tricksOf.get(setup.id) ?? [];
    const elsewhere = partsElsewhere(tricks);
    const gateTricks = tricks.map((t) => {
      const among = Object.values(t.parts).flatMap((id) => partOf.get(id)?.standing ?? []);
      const own = new Set(among.map((take) => take.id));
      const outcomes = [...own].flatMap((id) =>
        (byFirst.get(id) ?? []).filter((o) => o.takes.every((t) => own.has(t))),
      );
      const known = { among, outcomes };
      const requirements = t.trick.requirements.map((r) => {
        const partIds = r.parts.map((key) => t.parts[key]).filter(Boolean);
        const about = partIds.flatMap((id) => partOf.get(id) ?? []);
        const asked = about.map((p) => ({
          name: p.part.name,
          optional: p.part.optional || elsewhere.has(p.part.id),
          rolled: p.takes.length > 0,
          take: p.standing,
        }));
        const eye = saidOf.get(t.id)?.find((e) => e.requirement_key === r.key);
        const said = eye ? { by: eye.checked_by, at: eye.checked_at } : null;
        return { ...judgeRequirement(r, asked, delivery, said, known, measures), partIds };
      });
      return { id: t.id, name: t.trick.name, requirements };
    });
    const gateParts = own.map(({ part: { id, name, optional }, rolled }) => {
      return { id, name, optional, takes: rolled, elsewhere: elsewhere.has(id), planned: usedParts.has(id) };
    });
    return {
      ...setup,
      parts: own.map(({ part, takes }) => ({ ...part, takes })),
      planned: tricks.map((t) => ({ ...t, sums: sums.filter((s) => s.planned_id === t.id) })),
      contradictions: findContradictions(setup.camera, delivery, tricks),
      gate: judgeGate(gateParts, gateTricks),
      rates: ratesOf(setup, own, tricks, delivery),
    };
  });
}

/** What the requirements of some setups need to be measured, of which takes; and the takes that parts stand on. */
export async function readNeeds(
  house: House,
  setups: readonly Setup[],
): Promise<{ needs: PlannedNeed[]; standing: string[] }> {
  const { parts, planned } = await readPlan(house, setups);
  const takes = new Map(
    parts.map((p) => [
      p.part.id,
      p.takes.map((t: Take) => ({
        id: t.id,
        number: t.number,
        measured: t.state === 'done',
        standing: t.id === p.standing?.id,
      })),
    ]),
  );
  const needs = planned.flatMap((k) =>
    k.trick.requirements.map((r) => ({
      kind: r.kind,
      parts: r.parts.flatMap((key) => (k.parts[key] ? [takes.get(k.parts[key]) ?? []] : [])),
    })),
  );
  return { needs, standing: parts.flatMap((p) => p.standing?.id ?? []) };
}

/** The rates of what the setup's parts stand on; a part's wished speed is the slowest that a trick asks of it. */
function ratesOf(
  { camera }: Setup,
  parts: readonly PartRead[],
  tricks: readonly Planned[],
  delivery: Delivery,
): RateRow[] {
  const clips = parts.flatMap(({ part: { id, name }, standing }) => {
    if (!standing) return [];
    const own = tricks.filter((t) => Object.values(t.parts).includes(id));
    const speeds = own.flatMap((t) => t.wishes.speed_pct ?? []);
    const speedPct = speeds.length ? Math.min(...speeds) : null;
    return [{ name, number: standing.number, media: standing.facts.media, speedPct }];
  });
  return judgeRates(clips, { deliveryFps: delivery.fps, notedFps: camera.fps, notedShutterS: camera.shutter_s });
}
