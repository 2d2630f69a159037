import type { Pool } from 'pg';
import { judgeGate, standingTake, type Gate, type GateTake } from '../core/judge/gate';
import { judgeRates, type RateRow } from '../core/judge/rates';
import { judgeRequirement, type JudgedTake } from '../core/judge/requirements';
import { findContradictions } from '../core/plan/contradictions';
import { partsElsewhere } from '../core/plan/rolling-order';
import type { Contradiction, Delivery } from '../core/plan/types';
import { listEyeChecks, listPlanned, listSums, type KeptSumRow, type PlannedRow } from './sql/queries/plans';
import { listParts, type PartRow, type SetupRow, type ShootRow } from './sql/queries/shoots';
import { listPairs } from './sql/queries/comparisons';
import { listCovers, listCuts } from './sql/queries/wipes';
import { listMeasures, listTakesOfParts, type MeasuresRow, type TakeRow } from './sql/queries/takes';

/** A setup with its parts, their takes, its tricks, what the plan contradicts and what the gate says. */
export interface SetupBoard extends SetupRow {
  parts: (PartRow & { takes: TakeRow[] })[];
  planned: (PlannedRow & { sums: KeptSumRow[] })[];
  contradictions: Contradiction[];
  gate: Gate;
  /** Rates of the parts that were rolled, against each other and the plan. */
  rates: RateRow[];
}

export function deliveryOf(shoot: ShootRow): Delivery {
  return { width: shoot.delivery_width, height: shoot.delivery_height, fps: shoot.delivery_fps };
}

/** A take as the gate sees it. */
export function gateTake(t: TakeRow): GateTake {
  return {
    id: t.id,
    number: t.number,
    circled: t.circled,
    state: t.state,
    lock: t.verdict && t.text !== null ? { verdict: t.verdict, text: t.text, fix: t.fix } : null,
  };
}

/** Reads whole boards for some setups of one shoot, and judges their gates afresh from the stored measures. */
export async function readBoards(pool: Pool, shoot: ShootRow, setups: SetupRow[]): Promise<SetupBoard[]> {
  const ids = setups.map((s) => s.id);
  const [parts, planned] = await Promise.all([listParts(pool, ids), listPlanned(pool, ids)]);
  const plannedIds = planned.map((p) => p.id);
  const [takes, eyes, sums] = await Promise.all([
    listTakesOfParts(
      pool,
      parts.map((p) => p.id),
    ),
    listEyeChecks(pool, plannedIds),
    listSums(pool, plannedIds),
  ]);
  const delivery = deliveryOf(shoot);
  const boards = setups.map((setup) => {
    const own = parts
      .filter((p) => p.setup_id === setup.id)
      .map((p) => ({ ...p, takes: takes.filter((t) => t.part_id === p.id) }));
    const tricks = planned.filter((p) => p.setup_id === setup.id);
    const elsewhere = partsElsewhere(tricks);
    return {
      setup,
      own,
      tricks,
      gateParts: own.map((p) => ({
        elsewhere: elsewhere.has(p.id),
        id: p.id,
        name: p.name,
        optional: p.optional,
        planned: planned.some((k) => Object.values(k.parts).includes(p.id)),
        takes: p.takes.map(gateTake),
      })),
    };
  });
  const standing = boards.flatMap((b) => b.gateParts.flatMap((p) => standingTake(p.takes) ?? []));
  const standingIds = standing.map((t) => t.id);
  const [found, pairs, covers, cutRows] = await Promise.all([
    listMeasures(pool, standingIds),
    listPairs(pool, standingIds),
    listCovers(pool, standingIds),
    listCuts(pool, standingIds),
  ]);
  const coverOf = (id: string) =>
    covers.flatMap((c) => (c.take_id === id ? [{ state: c.state, failure: c.failure, measure: c.result }] : []))[0] ??
    null;
  const cuts = cutRows.map((c) => ({
    outId: c.out_id,
    inId: c.in_id,
    state: c.state,
    failure: c.failure,
    measure: c.result,
  }));
  const measures = new Map(found.map((m) => [m.id, m]));
  return boards.map(({ setup, own, tricks, gateParts }) => {
    const gateTricks = tricks.map((t) => {
      const own = new Set(
        Object.values(t.parts).flatMap((id) => standingTake(gateParts.find((p) => p.id === id)?.takes ?? [])?.id ?? []),
      );
      const ownPairs = pairs.filter((p) => own.has(p.takeId) && own.has(p.againstId));
      const requirements = t.trick.requirements.map((r) => {
        const partIds = r.parts.map((key) => t.parts[key]).filter(Boolean);
        const about = partIds
          .map((id) => gateParts.find((p) => p.id === id))
          .filter((p) => p !== undefined)
          .map((p) => {
            const take = standingTake(p.takes);
            const measure = take ? measures.get(take.id) : undefined;
            return {
              name: p.name,
              optional: p.optional || p.elsewhere,
              rolled: take !== null,
              take:
                take && measure
                  ? ({ ...measure, number: take.number, cover: coverOf(take.id) } satisfies JudgedTake)
                  : null,
            };
          });
        const eye = eyes.find((e) => e.planned_id === t.id && e.requirement_key === r.key);
        return {
          ...judgeRequirement(
            r,
            about,
            delivery,
            eye ? { by: eye.checked_by, at: eye.checked_at.toISOString() } : null,
            ownPairs,
            cuts,
          ),
          partIds,
        };
      });
      return { id: t.id, name: t.trick.name, requirements };
    });
    return {
      ...setup,
      parts: own,
      planned: tricks.map((t) => ({ ...t, sums: sums.filter((s) => s.planned_id === t.id) })),
      contradictions: findContradictions(setup.camera, delivery, tricks),
      gate: judgeGate(gateParts, gateTricks),
      rates: ratesOf(setup, gateParts, tricks, measures, delivery),
    };
  });
}

/** The rates of what the setup's parts stand on; a part's wished speed is the slowest that a trick asks of it. */
function ratesOf(
  setup: SetupRow,
  parts: readonly { id: string; name: string; takes: GateTake[] }[],
  tricks: readonly PlannedRow[],
  measures: ReadonlyMap<string, MeasuresRow>,
  delivery: Delivery,
): RateRow[] {
  const clips = parts.flatMap((part) => {
    const take = standingTake(part.takes),
      measure = take && measures.get(take.id);
    if (!take || !measure) return [];
    const speeds = tricks
      .filter((t) => Object.values(t.parts).includes(part.id))
      .flatMap((t) => t.wishes.speed_pct ?? []);
    return [
      {
        name: part.name,
        number: take.number,
        media: measure.media,
        speedPct: speeds.length ? Math.min(...speeds) : null,
      },
    ];
  });
  return judgeRates(clips, {
    deliveryFps: delivery.fps,
    notedFps: setup.camera.fps ?? null,
    notedShutterS: setup.camera.shutter_s ?? null,
  });
}
