import type { Pool } from 'pg';
import { pairOf } from '../core/judge/takes-apart';
import { rankClearRuns } from '../core/plate/choose';
import type { Run } from '../core/report/types';
import { listPairs } from './sql/queries/comparisons';
import { listPlanned } from './sql/queries/plans';
import { listPlates, type PlateRow } from './sql/queries/plates';
import { listParts, type SetupRow } from './sql/queries/shoots';
import { listPlateTakes, type PlateTakeRow } from './sql/queries/takes';

/** An empty picture that a setup's takes offer, the best first. */
export interface PlateOffer {
  takeId: string;
  partName: string;
  takeNumber: number;
  kind: 'clear_run' | 'stitched';
  /** The clear run; null where a plate must be stitched. */
  run: Run | null;
  seconds: number;
  /** Light against the take it is for, stops; null when not known. */
  stops: number | null;
  minutes: number;
  grain: number | null;
  /** Whether something stands in the take all through that the take it is for does not show. */
  occupied: boolean;
  /** A frame to show. */
  frame: number;
}

export interface BenchTake {
  id: string;
  partName: string;
  number: number;
  width: number;
  height: number;
  frameCount: number;
  fps: number | null;
  clear: Run[];
}

export interface PlateBench {
  takes: BenchTake[];
  /** The take the plate is for. */
  forId: string | null;
  offers: PlateOffer[];
  plates: PlateRow[];
  /** Parts that a plate can be kept for. */
  parts: { id: string; name: string }[];
  /** Takes from which no plate can be made, and why. */
  without: { takeId: string; partName: string; takeNumber: number; why: string }[];
}

/** What the plate bench of a setup offers. @param wished the take the plate is for; the best pass when null */
export async function readBench(pool: Pool, setup: SetupRow, wished: string | null): Promise<PlateBench> {
  const [takes, planned, parts, plates] = await Promise.all([
    listPlateTakes(pool, setup.id),
    listPlanned(pool, [setup.id]),
    listParts(pool, [setup.id]),
    listPlates(pool, setup.id),
  ]);
  const plateParts = new Set(
    planned.flatMap((p) => p.trick.parts.filter((q) => q.role === 'plate').flatMap((q) => p.parts[q.key] ?? [])),
  );
  const isPlate = (partId: string, name: string) => plateParts.has(partId) || /^(plate|empty)/i.test(name);
  const chosen =
    takes.find((t) => t.id === wished) ??
    standing(takes.filter((t) => !isPlate(t.part_id, t.part_name))) ??
    standing(takes);
  const keepFor = parts.filter((p) => isPlate(p.id, p.name)).map((p) => ({ id: p.id, name: p.name }));
  const shown = takes.map((t) => ({
    id: t.id,
    partName: t.part_name,
    number: t.number,
    width: t.width,
    height: t.height,
    frameCount: t.frame_count,
    fps: t.fps,
    clear: t.clear,
  }));
  if (!chosen) return { takes: shown, forId: null, offers: [], plates, parts: keepFor, without: [] };
  const pairs = await listPairs(
    pool,
    takes.map((t) => t.id),
  );
  const minutes = (t: PlateTakeRow) => Math.abs(t.rolled_at.getTime() - chosen.rolled_at.getTime()) / 60000;
  const gap = (t: PlateTakeRow) =>
    t.id === chosen.id ? 0 : (pairOf(pairs, t.id, chosen.id)?.gap?.light?.gap_stops ?? null);
  const grain = (t: PlateTakeRow) => (t.grain && chosen.grain ? t.grain / chosen.grain : null);
  const ranked = rankClearRuns(
    takes.map((t) => ({
      clear: t.clear,
      stops: t.stops,
      displacement: t.displacement,
      fps: t.fps ?? 25,
      gap: gap(t),
      minutes: minutes(t),
      grain: grain(t),
    })),
  );
  const occupied = (t: PlateTakeRow) =>
    t.id !== chosen.id && Boolean(pairOf(pairs, chosen.id, t.id)?.gap?.intruders.length);
  const offer = (t: PlateTakeRow) => ({
    occupied: occupied(t),
    takeId: t.id,
    partName: t.part_name,
    takeNumber: t.number,
    minutes: minutes(t),
    grain: grain(t),
  });
  const clear = ranked.map((c): PlateOffer => ({
    ...offer(takes[c.take]),
    kind: 'clear_run',
    run: c.run,
    seconds: c.seconds,
    stops: c.stops,
    frame: (c.run.start + c.run.end) >> 1,
  }));
  const stitched = takes
    .filter((t) => t.clear.length === 0 && !t.unjudged)
    .map((t): PlateOffer => ({
      ...offer(t),
      kind: 'stitched',
      run: null,
      seconds: t.frame_count / (t.fps ?? 25),
      stops: gap(t),
      frame: t.frame_count >> 1,
    }))
    .sort((a, b) => Math.abs(a.stops ?? 0.2) - Math.abs(b.stops ?? 0.2));
  return {
    takes: shown,
    forId: chosen.id,
    offers: [...clear, ...stitched].sort((a, b) => Number(a.occupied) - Number(b.occupied)),
    plates,
    parts: keepFor,
    without: takes.flatMap((t) =>
      t.unjudged ? [{ takeId: t.id, partName: t.part_name, takeNumber: t.number, why: t.unjudged }] : [],
    ),
  };
}

/** The circled take, else the newest that may be used. */
function standing(takes: readonly PlateTakeRow[]): PlateTakeRow | undefined {
  return (
    takes.find((t) => t.circled) ?? [...takes].reverse().find((t) => t.verdict !== 'reshoot') ?? takes[takes.length - 1]
  );
}
