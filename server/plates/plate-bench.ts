import type { Setup } from '../../api/plan';
import type { MeasureOf } from '../../api/measures';
import type { Plate, PlateBench, PlateOffer } from '../../api/plates';
import { pairsAmong } from '../../core/measures/compare/requirements';
import { pairOf } from '../../core/measures/compare/takes-apart';
import { COMPARE } from '../../core/measures/compare/description';
import { PLATE } from '../../core/measures/plate/description';
import { rankClearRuns } from '../../core/measures/plate/choose';
import type { Part } from '../../api/plan';
import type { TakeMeasures } from '../../core/report/types';
import type { Db } from '../platform/database';
import type { House } from '../platform/house';
import { standingOf, type JudgedRecord } from '../takes/judge-setup';
import { readJudged } from '../takes/judged';
import { asSent } from '../work/measure-routes';
import { listMeasuresOf, listOutcomes, wholeResult } from '../work/measures';

/** A measured take with its paths, and the part it is of. */
interface BenchRecord extends JudgedRecord {
  part: Part;
  found: TakeMeasures;
}

/** The take that was made of each plate. */
async function listKept(db: Db, plateIds: readonly string[]): Promise<Map<string, string>> {
  const { rows } = await db.query<{ id: string; made_of: string }>(
    'SELECT id, made_of FROM takes WHERE made_of = ANY($1::uuid[]) ORDER BY rolled_at DESC',
    [plateIds],
  );
  return new Map(rows.map((r) => [r.made_of, r.id]));
}

/** Plates among some takes, the newest first. */
async function listPlates(house: House, takeIds: readonly string[]): Promise<Plate[]> {
  const rows = await listMeasuresOf(house.pool, PLATE.key, takeIds);
  const kept = await listKept(
    house.pool,
    rows.map((r) => r.id),
  );
  return Promise.all(
    rows.map(async (row) => ({
      ...((await asSent(house, row)) as MeasureOf<'plate'>),
      kept_as: kept.get(row.id) ?? null,
    })),
  );
}

/** What the plate bench of a setup offers. @param wished the take the plate is for; the one to go on with when null */
export async function readBench(house: House, setup: Setup, wished: string | null): Promise<PlateBench> {
  const { pool } = house;
  const [{ parts: all }] = await readJudged(house, pool, [setup.id]);
  const judgedParts = all.filter(({ part }) => !part.deleted);
  const parts = judgedParts.map((p) => p.part);
  const read = judgedParts
    .flatMap(({ part, takes }) => takes.map((t) => ({ ...t, part })))
    .map(async ({ record, judged, part }): Promise<BenchRecord[]> => {
      const found = judged && ((await wholeResult(pool, record.measure_id)) as TakeMeasures | null);
      return found ? [{ record, judged, found, part }] : [];
    });
  const inOrder = (t: BenchRecord) => parts.indexOf(t.part);
  const takes = (await Promise.all(read)).flat().sort((a, b) => inOrder(a) - inOrder(b));
  const ids = takes.map((t) => t.record.id);

  const plateParts = new Set(judgedParts.filter((p) => p.asked.isPlate).map((p) => p.part.id));
  const isPlate = ({ id }: Part) => plateParts.has(id);
  const stands = (from: readonly BenchRecord[]) => standingOf(from)?.record;
  const chosenId =
    takes.find((t) => t.record.id === wished)?.record.id ??
    (stands(takes.filter((t) => !isPlate(t.part))) ?? stands(takes))?.id;
  const chosen = takes.find((t) => t.record.id === chosenId);

  const base = {
    takes: takes.map(({ record, part, found: { media, presence } }) => ({
      id: record.id,
      partName: part.name,
      number: record.number,
      width: media.width,
      height: media.height,
      frameCount: media.frame_count,
      fps: media.measured_fps,
      clear: presence.clear_runs,
    })),
    parts: parts.filter(isPlate).map((p) => ({ id: p.id, name: p.name })),
    plates: await listPlates(house, ids),
  };
  if (!chosen) return { ...base, forId: null, offers: [], without: [] };
  const pairs = pairsAmong(await listOutcomes(pool, ids, [COMPARE.key]));
  const without = takes.flatMap(({ record, part, found: { presence } }) => {
    const why = presence.unjudged;
    return why ? [{ takeId: record.id, partName: part.name, takeNumber: record.number, why }] : [];
  });
  return { ...base, forId: chosen.record.id, offers: offersFor(chosen, takes, pairs), without };
}

/** The empty pictures that takes offer for one of them, the best first. */
function offersFor(chosen: BenchRecord, takes: readonly BenchRecord[], pairs: ReturnType<typeof pairsAmong>) {
  const fps = ({ found: { media } }: BenchRecord) => media.measured_fps ?? 25;
  const between = (t: BenchRecord) => pairOf(pairs, t.record.id, chosen.record.id)?.gap;
  const gap = (t: BenchRecord) => (t === chosen ? 0 : (between(t)?.light?.gap_stops ?? null));
  const minutes = ({ record }: BenchRecord) =>
    Math.abs(Date.parse(record.rolled_at) - Date.parse(chosen.record.rolled_at)) / 60000;
  const grain = ({ found }: BenchRecord) =>
    found.grain_levels && chosen.found.grain_levels ? found.grain_levels / chosen.found.grain_levels : null;
  const occupied = (t: BenchRecord) =>
    t !== chosen && Boolean(pairOf(pairs, chosen.record.id, t.record.id)?.gap?.intruders.length);
  const offer = (t: BenchRecord) => ({
    takeId: t.record.id,
    partName: t.part.name,
    takeNumber: t.record.number,
    occupied: occupied(t),
    minutes: minutes(t),
    grain: grain(t),
  });
  const ranked = rankClearRuns(
    takes.map((t) => ({
      clear: t.found.presence.clear_runs,
      stops: t.found.light.path.stops,
      displacement: t.found.lock.path.displacement_px,
      fps: fps(t),
      gap: gap(t),
      minutes: minutes(t),
      grain: grain(t),
    })),
  );
  const clear = ranked.map(({ take, run, seconds, stops }): PlateOffer => {
    const frame = (run.start + run.end) >> 1;
    return { ...offer(takes[take]), kind: 'clear_run', run, seconds, stops, frame };
  });
  const stitched = takes
    .filter(({ found: { presence } }) => presence.clear_runs.length === 0 && !presence.unjudged)
    .map((t): PlateOffer => {
      const count = t.found.media.frame_count;
      return { ...offer(t), kind: 'stitched', run: null, seconds: count / fps(t), stops: gap(t), frame: count >> 1 };
    })
    .sort((a, b) => Math.abs(a.stops ?? 0.2) - Math.abs(b.stops ?? 0.2));
  return [...clear, ...stitched].sort((a, b) => Number(a.occupied) - Number(b.occupied));
}
