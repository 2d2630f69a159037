import { type TakeAnalysis, presenceOf } from '../core/take/analysis';
import { openTake } from '../media/feeds/measure-take';
import { reportAnalysed } from '../core/take/report';
import type { MeasuredTake } from '../core/take/measured-take';
import { join } from 'node:path';
import Papa from 'papaparse';
import { guard } from '../core/formats/cells';
import { greatestDisplacement, IDENTITY } from '../core/base/geometry/similarity';
import { judgePlate } from '../core/measures/plate/judge';
import { listRuns } from '../core/judge/runs';
import type { TakeReport, VerdictWord } from '../core/report/types';
import { worstOf } from '../core/judge/verdicts';
import type { Purpose } from '../core/tricks/types';
import { comparePlate } from '../core/take/compare';
import { LookFailed, UnusableMedia } from '../media/errors';
import { filesBelow } from './folder';

/** A recording of a folder that nobody says anything of: judged for what it seems to be. */
export interface CheckedFile {
  /** From the folder, with "/" between folders. */
  path: string;
  /** What it was taken for: a plate where nobody is in from first to last, a move where the camera moves all the time. */
  taken_for: Purpose;
  report: TakeReport;
  /** Which of the folder's places it shows, counted from 1: recordings of one size and rate that lie on each other. */
  place: number;
  /** Of a recording with somebody in: the plate of its place, and how that fits; null where there is none. */
  plate: { path: string; verdict: VerdictWord; text: string; fix: string | null } | null;
}

/** A file that is no recording, or cannot be measured, and why, as a sentence. */
export interface PassedOver {
  path: string;
  why: string;
}

export interface CheckedFolder {
  files: CheckedFile[];
  passed_over: PassedOver[];
  verdict: VerdictWord;
}

/** Two pictures whose worst corner lies further apart than this share of the width were not shot from one place. */
const SAME_PLACE = 0.03;
/** Names that cameras and systems write beside recordings: nobody means them. */
const BESIDE = /(^|\/)\.|\.(txt|csv|xml|json|html?|mhl|edl|otio|vtt|srt|lrv|thm|md|pdf|zip)$/i;

interface Kept {
  file: CheckedFile;
  take: MeasuredTake;
}

/** What a recording seems to be for. */
function seemsFor({ lock, media }: TakeAnalysis, nobody: boolean): Purpose {
  if (lock.moves) return 'moving';
  return nobody && media.frame_count > 1 ? 'plate' : 'locked';
}

/** Measures and judges every recording below a folder, and tells which of them belong together. */
export async function checkFolder(
  root: string,
  { delivery, say }: { delivery?: TakeReport['delivery']; say: (text: string) => void },
): Promise<CheckedFolder> {
  const passed: PassedOver[] = [];
  const places: Kept[][] = [];
  const named = (await filesBelow(root)).filter((f) => !BESIDE.test(f.path));
  for (const [n, { path }] of named.entries()) {
    say(`${n + 1} of ${named.length}: ${path}`);
    try {
      const take = await openTake(join(root, path), { name: path });
      const { analysis } = take;
      const presence = presenceOf(analysis);
      const nobody = !presence.unjudged && presence.present_runs.length === 0;
      const purpose = seemsFor(analysis, nobody);
      const { width, height, measured_fps: fps } = analysis.media;
      const report = reportAnalysed(analysis, path, purpose, delivery ?? { width, height, fps });
      const file: CheckedFile = { path, taken_for: purpose, report, place: 0, plate: null };
      const place = purpose === 'moving' ? null : await placeOf(take, places);
      if (place) place.push({ file, take });
      else places.push([{ file, take }]);
    } catch (error) {
      if (!(error instanceof UnusableMedia || error instanceof LookFailed)) throw error;
      passed.push({ path, why: error.message });
    }
  }
  for (const [n, place] of places.entries()) {
    for (const { file } of place) file.place = n + 1;
    await fitPlates(place, say);
  }
  const files = places.flatMap((place) => place.map((k) => k.file));
  const worst = worstOf(files.flatMap(({ report, plate }) => [report.take, ...(plate ? [plate] : [])]));
  return { files, passed_over: passed, verdict: worst?.verdict ?? 'unjudged' };
}

/** The place that a recording shows among those known so far; null for a new one. */
async function placeOf(take: MeasuredTake, places: readonly Kept[][]): Promise<Kept[] | null> {
  const own = take.analysis;
  for (const place of places) {
    const [{ take: first, file }] = place;
    const { probe, fps } = first.analysis;
    if (file.taken_for === 'moving' || probe.width !== own.probe.width || probe.height !== own.probe.height) continue;
    if (Math.abs(fps / own.fps - 1) > 0.01) continue;
    const { offset } = await comparePlate(take, first);
    if (!offset) continue;
    const moved = {
      dx: offset.dx_px,
      dy: offset.dy_px,
      rotation: (offset.rotation_deg * Math.PI) / 180,
      scale: offset.scale,
    };
    if (greatestDisplacement(moved, IDENTITY, probe.width, probe.height) < SAME_PLACE * probe.width) return place;
  }
  return null;
}

/** Holds the best plate of a place against its other recordings. */
async function fitPlates(place: readonly Kept[], say: (text: string) => void): Promise<void> {
  const plates = place.filter((k) => k.file.taken_for === 'plate');
  const plate = plates.find((k) => k.file.report.take.verdict === 'holds') ?? plates[0];
  if (!plate) return;
  for (const { file, take } of place) {
    if (file.taken_for === 'plate') continue;
    say(`holding ${plate.file.path} against ${file.path}`);
    const { verdict, reasons } = judgePlate(await comparePlate(take, plate.take), take.analysis.probe);
    file.plate = { path: plate.file.path, verdict, text: reasons[0]?.text ?? 'It fits.', fix: reasons[0]?.fix ?? null };
  }
}

/** The same as CSV (RFC 4180), a line each. */
export function checkCsv({ files, passed_over }: CheckedFolder): string {
  const rows = [
    ...files.map(({ path, taken_for, report: { take, media, presence }, place, plate }) => ({
      file: guard(path),
      place,
      taken_for,
      verdict: take.verdict,
      why: take.text,
      what_to_do: take.fix ?? '',
      plate: plate ? guard(plate.path) : '',
      plate_verdict: plate?.verdict ?? '',
      plate_why: plate?.text ?? '',
      frames: media.frame_count,
      size: `${media.width}x${media.height}`,
      rate: media.container_fps,
      clear_frames: presence.clear_runs.length ? listRuns(presence.clear_runs, Infinity) : '',
    })),
    ...passed_over.map(({ path, why }) => ({ file: guard(path), verdict: 'not measured', why })),
  ];
  const columns = ['file', 'place', 'taken_for', 'verdict', 'why', 'what_to_do', 'plate', 'plate_verdict', 'plate_why'];
  return `${Papa.unparse(rows, { columns: [...columns, 'frames', 'size', 'rate', 'clear_frames'], newline: '\r\n' })}\r\n`;
}
