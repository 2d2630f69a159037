import type { SetupBoard } from '../../api/boards';
import type { KeptSum, Planned, Setup, Shoot, ShootInList } from '../../api/plan';
import { judgeGate } from '../../core/gate/gate';
import { judgeRates, type RateRow } from '../../core/judge/rates';
import { longestAsked } from '../../core/gate/judged-take';
import { judgeRequirement } from '../../core/gate/requirements';
import type { PlannedNeed } from '../../core/measures/needed';
import { findContradictions } from '../../core/plan/contradictions';
import { partsElsewhere } from '../../core/plan/rolling-order';
import type { Delivery } from '../../core/plan/types';
import { groupBy } from '../platform/group';
import type { House } from '../platform/house';
import { gateTake, type JudgedPart, type JudgedSetup } from '../takes/judge-setup';
import { emptyFrameOf } from '../takes/empty-frame';
import { readJudged } from '../takes/judged';
import { asTake } from '../takes/takes';
import { listSums } from './plans';
import { listSetups, listShoots } from './shoots';

/** What the edit of a shoot is finished at. */
export function deliveryOf(shoot: Shoot): Delivery {
  return { width: shoot.delivery_width, height: shoot.delivery_height, fps: shoot.delivery_fps };
}

interface Kept {
  beside: string;
  board: SetupBoard;
}

/** Boards as they were put together last, by the judged setup they are of. */
const kept = new WeakMap<JudgedSetup, Kept>();

/** Reads whole boards for some setups of one shoot, with their gates, judged from the stored measures. */
export async function readBoards(house: House, shoot: Shoot, setups: readonly Setup[]): Promise<SetupBoard[]> {
  const judged = await readJudged(
    house,
    house.pool,
    setups.map((s) => s.id),
  );
  const sums = groupBy(
    await listSums(
      house.pool,
      judged.flatMap((s) => s.planned.map((p) => p.id)),
    ),
    (s) => s.planned_id,
  );
  const delivery = deliveryOf(shoot);
  return setups.map((setup, i) => {
    const own = judged[i].planned.map((t) => sums.get(t.id) ?? []);
    const beside = JSON.stringify([setup, own, delivery]);
    const before = kept.get(judged[i]);
    if (before?.beside === beside) return before.board;
    const board = boardOf(house.measures, setup, judged[i], own, delivery);
    kept.set(judged[i], { beside, board });
    return board;
  });
}

/** One board. @param sums what was worked out for each of its tricks, in their order */
function boardOf(
  measures: House['measures'],
  setup: Setup,
  { parts: all, planned: tricks, eyes, outcomesOf }: JudgedSetup,
  sums: readonly KeptSum[][],
  delivery: Delivery,
): SetupBoard {
  const own = all.filter(({ part }) => !part.deleted);
  const partOf = new Map(own.map((p) => [p.part.id, p]));
  const saidOf = groupBy(eyes, (e) => e.planned_id);
  const elsewhere = partsElsewhere(tricks);
  const gateTricks = tricks.map((t) => {
    const among = Object.values(t.parts).flatMap((id) => partOf.get(id)?.standing ?? []);
    const known = {
      among,
      outcomes: outcomesOf(new Set(among.map((take) => take.id))),
      speedPct: t.wishes.speed_pct,
      length_s: longestAsked(t.trick.requirements),
    };
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
  const gateParts = own.map(({ part: { id, name, optional }, takes }) => {
    return { id, name, optional, takes: takes.map(gateTake), elsewhere: elsewhere.has(id) };
  });
  return {
    ...setup,
    parts: own.map(({ part, asked, takes }) => ({
      ...part,
      judged_for: asked.judgedFor,
      for: asked.purpose,
      takes: takes.map((t) => asTake(t.record, t.judged)),
    })),
    planned: tricks.map((t, i) => ({ ...t, sums: sums[i] })),
    contradictions: findContradictions(setup.camera, delivery, tricks),
    gate: judgeGate(gateParts, gateTricks),
    rates: ratesOf(setup, own, tricks, delivery),
  };
}

/** What some setups need to be measured. */
interface SetupsNeeds {
  needs: PlannedNeed[];
  /** The takes that parts stand on. */
  standing: string[];
  /** The empty frame of each take's setup; null where it has none, or somebody is in all of it. */
  plates: Map<string, string | null>;
}

/** What the requirements of some setups need to be measured, of which takes. */
export async function readNeeds(house: House, setups: readonly Setup[]): Promise<SetupsNeeds> {
  const judged = await readJudged(
    house,
    house.pool,
    setups.map((s) => s.id),
  );
  const parts = judged.flatMap((s) => s.parts).filter(({ part }) => !part.deleted);
  const takes = new Map(
    parts.map((p) => [
      p.part.id,
      p.takes.map(({ record: { id, number, state } }) => ({
        id,
        number,
        measured: state === 'done',
        standing: id === p.standing?.id,
      })),
    ]),
  );
  const ofTricks = judged
    .flatMap((s) => s.planned)
    .flatMap((k) =>
      k.trick.requirements.map((r) => ({
        requirement: r,
        parts: r.parts.flatMap((key) => (k.parts[key] ? [takes.get(k.parts[key]) ?? []] : [])),
      })),
    );
  // Where no trick rests on a part, what it is for asks.
  const ofPurposes = parts
    .filter((p) => p.asked.purpose !== null)
    .flatMap((p) =>
      p.asked.requirements.map(({ requirement }) => ({ requirement, parts: [takes.get(p.part.id) ?? []] })),
    );
  const plates = new Map(
    judged.flatMap((s) => {
      const own = s.parts.filter(({ part }) => !part.deleted);
      return own.flatMap((p) =>
        p.takes.map((t) => [t.record.id, emptyFrameOf(s, t.record.facts)?.id ?? null] as const),
      );
    }),
  );
  return { needs: [...ofTricks, ...ofPurposes], standing: parts.flatMap((p) => p.standing?.id ?? []), plates };
}

/** The rates of what the setup's parts stand on; a part's wished speed is the slowest that a trick asks of it. */
function ratesOf(
  { camera }: Setup,
  parts: readonly JudgedPart[],
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

/** All shoots, with what is going on in those that are in sight. */
export async function listShootsGoing(house: House): Promise<ShootInList[]> {
  const shoots = await listShoots(house.pool);
  const all: ShootInList[] = [];
  for (const shoot of shoots) {
    const live = !shoot.archived && !shoot.deleted;
    const boards = live ? await readBoards(house, shoot, await listSetups(house.pool, shoot.id)) : [];
    const open = boards.filter((b) => !b.archived).sort((a, b) => a.number - b.number);
    const first = open.find((b) => !b.gate.mayStrike);
    all.push({ ...shoot, struck: open.filter((b) => b.gate.mayStrike).length, next: first ? nextAt(first) : null });
  }
  return all;
}

/** What to do next at a setup, inside a sentence. */
function nextAt({ number, gate, parts }: SetupBoard): string {
  if (gate.rollNext) return `roll ${gate.rollNext.name} ${gate.rollNext.again ? 'again ' : ''}at setup ${number}`;
  return parts.length === 0 ? `plan setup ${number}` : `look at setup ${number}`;
}
