import type { SetupBoard } from '../../api/boards';
import type { PackScope } from '../../api/packs';
import type { Planned, Setup, Shoot } from '../../api/plan';
import { fileName, FreshNames } from '../../core/formats/file-names';
import { reelName } from '../../core/formats/edl';
import { exactRate } from '../../core/formats/marks-out';
import type { JudgedRequirement } from '../../core/gate/requirements';
import { worstOf } from '../../core/judge/verdicts';
import { endingOfFile } from '../../media/ffmpeg/container';
import { worstFrame } from '../../core/judge/worst-frame';
import { ALL_MEASURES } from '../../core/measures';
import { finishTrick } from '../../core/packs/finish';
import { missingOf } from '../../core/packs/missing';
import {
  PACK_VERSION,
  type PackFound,
  type PackReport,
  type PackTake,
  type PackWish,
  type UnmeasuredTake,
} from '../../core/packs/types';
import { zoneOf } from '../../core/tricks/zones';
import { deliveryOf, readBoards } from '../plan/boards';
import { listSetups } from '../plan/shoots';
import type { House } from '../platform/house';
import type { JudgedPart, JudgedRecord } from '../takes/judge-setup';
import { findReport, readJudged } from '../takes/judged';
import { asSent } from '../work/measure-routes';
import { listMeasuresOf, takesOf } from '../work/measures';
import { leftBehind } from './left-behind';

/** A pack before anything of it is written, with the hash of each take's recording. */
export interface Gathered {
  report: PackReport;
  hashes: Map<string, string>;
  /** The ids of measures by what they are of, to find files they kept: "stills" and a take's id. */
  kept: Map<string, string>;
}

/** Measures that say nothing a pack wants, or are told with each take. */
const PASSED_OVER = new Set(['take', 'plate']);
/** Of these the newest alone says what was chosen. */
const NEWEST = new Set(['proof', 'joined', 'spot', 'zone']);

/** Reads everything that a pack of a shoot, a setup or a trick says. */
export async function gatherPack(house: House, shoot: Shoot, scope: PackScope, wish: PackWish): Promise<Gathered> {
  const all = (await listSetups(house.pool, shoot.id)).filter(
    (s) => scope.setup_id === null || s.id === scope.setup_id,
  );
  // A backup holds what was put away, too.
  const setups = all.filter((s) => !s.archived || wish.takes === 'all').sort((a, b) => a.number - b.number);
  const [boards, judged] = await Promise.all([
    readBoards(house, shoot, setups),
    readJudged(
      house,
      house.pool,
      setups.map((s) => s.id),
    ),
  ]);
  const delivery = deliveryOf(shoot);
  const hashes = new Map<string, string>(),
    kept = new Map<string, string>();
  const report: PackReport = {
    format: 'umbrastat-pack',
    version: PACK_VERSION,
    made_at: new Date().toISOString(),
    wish,
    shoot: { id: shoot.id, name: shoot.name, place: shoot.place, days: shoot.days, delivery },
    setups: [],
    tricks: [],
    takes: [],
    unmeasured: [],
    left_behind: await leftBehind(house, shoot.id, scope, wish, all),
    missing: [],
    files: [],
  };
  const names = new FreshNames();
  for (const [i, setup] of setups.entries()) {
    const parts = judged[i].parts.filter(({ part }) => !part.deleted);
    const planned = judged[i].planned.filter((t) => scope.planned_id === null || t.id === scope.planned_id);
    const wanted = new Set(planned.flatMap((t) => Object.values(t.parts)));
    const going = parts.filter((p) => scope.planned_id === null || wanted.has(p.part.id));
    const takes = new Map<string, PackTake>(),
      own: (PackTake | UnmeasuredTake)[] = [];
    for (const part of going) {
      const circled = part.takes.find((t) => t.record.circled);
      const chosen = wish.takes === 'standing' ? part.stands : (circled ?? (wish.takes === 'all' ? part.stands : null));
      for (const one of wish.takes === 'all' ? part.takes : [chosen]) {
        if (!one) continue;
        const filed = await filedTake(house, setup, part, one, names);
        if (!filed) {
          report.left_behind.push(`Setup ${setup.number}, ${labelOf(part, one)}: its recording is not on this disk.`);
          continue;
        }
        const take = await packTake(house, filed, part, one);
        if (one === chosen && 'report' in take) takes.set(part.part.id, take);
        own.push(take);
        hashes.set(take.id, one.record.file_hash);
      }
    }
    if (planned.length === 0 && own.length === 0) continue;
    const { number, name, place, notes, camera } = setup;
    report.setups.push({ id: setup.id, number, name, place, notes, camera, headline: boards[i].gate.headline });
    report.takes.push(...own.filter((t) => 'report' in t));
    report.unmeasured.push(...own.filter((t) => 'why' in t));
    for (const trick of planned) {
      const found = await foundOfTrick(house, trick, takes, kept);
      report.tricks.push(packTrick(trick, boards[i], takes, found));
    }
    report.missing.push(...missingOf(boards[i], going, planned, takes, wish));
  }
  for (const trick of report.tricks.filter((t) => t.not_assembled && t.parts.every((p) => p.take_id || p.optional)))
    report.missing.push({
      setup: report.setups.find((s) => s.id === trick.setup_id)?.number ?? 0,
      trick: trick.name,
      text: `“${trick.name}” has no timeline: ${lower(trick.not_assembled!)}`,
      by: 'bench',
      fix: 'Open its bench and choose where the one gives way to the other.',
    });
  return { report, hashes, kept };
}

const lower = (text: string) => text.charAt(0).toLowerCase() + text.slice(1);

const labelOf = (of: JudgedPart, { record }: JudgedRecord) => `${of.part.name}, take ${record.number}`;

/** What is known of a take without measuring it; null where its recording is gone. */
async function filedTake(house: House, setup: Setup, of: JudgedPart, chosen: JudgedRecord, names: FreshNames) {
  const { record } = chosen;
  const ending = await endingOfFile(house.storage.file(record.file_hash)).catch(() => null);
  if (ending === null) return null;
  const { rows } = await house.pool.query<{ bytes: string; xxh64: string | null }>(
    'SELECT bytes, xxh64 FROM files WHERE hash = $1',
    [record.file_hash],
  );
  const path = `recordings/${names.of(`s${setup.number}-${of.part.name}-take-${record.number}`, ending)}`;
  return {
    id: record.id,
    setup_id: setup.id,
    part_id: of.part.id,
    part: of.part.name,
    number: record.number,
    label: labelOf(of, chosen),
    circled: record.circled,
    source: record.source,
    name: record.name,
    rolled_at: new Date(record.rolled_at).toISOString(),
    reel: reelName({ setup: setup.number, part: of.part.position, take: record.number }),
    recording: { path, in_pack: false, bytes: Number(rows[0].bytes), sha256: record.file_hash, xxh64: rows[0].xxh64 },
  };
}

async function packTake(
  house: House,
  filed: NonNullable<Awaited<ReturnType<typeof filedTake>>>,
  of: JudgedPart,
  chosen: JudgedRecord,
): Promise<PackTake | UnmeasuredTake> {
  const { record } = chosen;
  const report = await findReport(house.pool, { ...chosen, of });
  if (!report) {
    const { id, setup_id, part_id, part, number, label, circled, name, rolled_at, recording } = filed;
    const bare = { id, setup_id, part_id, part, number, label, circled, name, rolled_at, recording };
    return { ...bare, why: record.failure ?? 'It was not measured yet when this pack was made.' };
  }
  const rate = exactRate(report.media.container_fps, report.media.measured_fps) ?? [25, 1];
  return {
    ...filed,
    rate: [rate[0], rate[1]],
    media: report.media,
    report,
    worst_frame: worstFrame(report)?.frame ?? null,
    clear_runs: report.presence.clear_runs,
    marks: record.marks,
    files: [],
  };
}

/** What was measured of a trick's takes, whole, and between them. */
async function foundOfTrick(
  house: House,
  trick: Planned,
  takes: ReadonlyMap<string, PackTake>,
  kept: Map<string, string>,
): Promise<PackFound[]> {
  const own = Object.values(trick.parts).flatMap((id) => takes.get(id)?.id ?? []);
  const found: PackFound[] = [];
  for (const measure of ALL_MEASURES.filter((m) => !PASSED_OVER.has(m.key))) {
    const seen = new Set<string>();
    for (const row of await listMeasuresOf(house.pool, measure.key, own)) {
      const of = takesOf(row).join(' ');
      if (!row.result || (NEWEST.has(measure.key) && seen.has(of))) continue;
      seen.add(of);
      const { result, verdict, wish } = await asSent(house, row, true);
      if (!result) continue;
      found.push({ measure: measure.key, takes: takesOf(row), wish, result, verdict: verdict?.verdict ?? null });
      if (!kept.has(`${measure.key} ${of}`)) kept.set(`${measure.key} ${of}`, row.id);
    }
  }
  return found;
}

/** A requirement by itself: its parts are named in it. */
function withoutParts({
  key,
  kind,
  name,
  says,
  why,
  verdict,
  text,
  fix,
  byEye,
  eye,
  ready,
  pending,
  applies,
  partNames,
}: JudgedRequirement): JudgedRequirement {
  return { key, kind, name, says, why, verdict, text, fix, byEye, eye, ready, pending, applies, partNames };
}

function packTrick(
  planned: Planned,
  board: SetupBoard,
  takes: ReadonlyMap<string, PackTake>,
  found: PackFound[],
): PackReport['tricks'][number] {
  const { trick, parts, wishes } = planned;
  const requirements = board.gate.tricks.find((t) => t.id === planned.id)?.requirements ?? [];
  const counting = requirements.filter((r) => r.applies);
  return {
    id: planned.id,
    setup_id: planned.setup_id,
    key: trick.key,
    name: trick.name,
    summary: trick.summary,
    wishes,
    parts: trick.parts.map(({ key, role, what, optional, name }) => ({
      key,
      name: board.parts.find((p) => p.id === parts[key])?.name ?? name,
      role,
      what,
      optional,
      take_id: takes.get(parts[key])?.id ?? null,
    })),
    requirements: requirements.map(withoutParts),
    zone: zoneOf(trick),
    verdict: worstOf(counting)?.verdict ?? 'unjudged',
    found,
    ...finishTrick({ trick: planned, takes, found }),
    files: [],
  };
}

/** The name of a pack's folder, and of its file. */
export function packName(shoot: Shoot, setups: readonly { number: number }[], trick: string | null): string {
  const of = setups.length === 1 ? `-setup-${setups[0].number}` : '';
  return `${fileName(shoot.name)}${of}${trick ? `-${fileName(trick)}` : ''}`;
}
