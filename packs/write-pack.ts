import { hostname } from 'node:os';
import Papa from 'papaparse';
import { guard } from '../core/formats/cells';
import { marksCsv } from '../core/formats/marks-out';
import { PACK_SCHEMA } from '../core/packs/schema';
import type { PackReport, PackTake, PackTrick } from '../core/packs/types';
import type { StillsFound } from '../core/report/moment-types';
import type { CoverResult } from '../core/report/wipe-types';
import { PackFolder } from './folder';
import { indexPage } from './pages/index-page';
import { trickPage } from './pages/trick-page';
import { momentOf, sealPack, xxh64Of, type AddedFile, type Sealed } from './seal';
import { shotsOf, showShots } from './shots';
import {
  markedTake,
  resultOf,
  writeEdges,
  writeMatte,
  writePlate,
  writeStills,
  writeTakeTexts,
  type TakeSources,
} from './takes';
import { stemsOf, writeLines, writeTimelines } from './tricks';

/** What a pack is written from. */
export interface PackWriting {
  report: PackReport;
  /** Where what belongs to each take lies, by the take's id. */
  sources: Record<string, TakeSources>;
  /** Texts that go along as they are, by their paths. */
  texts: Record<string, string>;
  /** The pack's name, and the folder to write it to, which is there and empty. */
  name: string;
  root: string;
  version: string;
}

/** What was written: the pack as it says itself, the recordings to lay into it, and what it is known by. */
export interface WrittenPack extends Sealed {
  report: PackReport;
  added: AddedFile[];
}

type Say = (done: number, total: number, doing: string) => void;

/** Writes everything of a pack but the recordings themselves, with the hash list over both. */
export async function writePack(work: PackWriting, signal: AbortSignal, say: Say): Promise<WrittenPack> {
  const { report, sources, name, root, version } = work;
  const folder = new PackFolder(root, signal);
  const { wish, tricks, takes } = report;
  const total = tricks.length + 2 * takes.length + report.unmeasured.length;
  let done = 0;
  const next = (doing: string) => say(done++, total, doing);
  const plates = platesOf(report);
  for (const take of takes) {
    next(`writing what belongs to ${take.label}`);
    take.files.push(...(await writeTakeTexts(folder, take, report)));
    take.files.push(...(await picturesOf(folder, take, report, sources, plates, signal, say)));
  }
  const added: AddedFile[] = [];
  for (const take of takes) {
    next(`hashing ${take.label}`);
    const { path: from } = sources[take.id];
    take.recording.xxh64 ??= await xxh64Of(from, signal);
    if (!wish.recordings) continue;
    take.recording.in_pack = true;
    take.files.push({ path: take.recording.path, kind: 'recording', says: `${take.label}, as it was recorded` });
    const { path, bytes, xxh64 } = take.recording;
    added.push({ path, bytes, xxh64, from, changed: momentOf(new Date(take.rolled_at)) });
  }
  for (const take of report.unmeasured) {
    next(`hashing ${take.label}`);
    const { recording } = take;
    const { path: from } = sources[take.id];
    recording.xxh64 ??= await xxh64Of(from, signal);
    recording.in_pack = wish.recordings;
    if (!wish.recordings) continue;
    const { path, bytes, xxh64 } = recording;
    added.push({ path, bytes, xxh64, from, changed: momentOf(new Date(take.rolled_at)) });
    const says = `${take.label}, as it was recorded; nothing is known of it`;
    report.files.push({ path, kind: 'recording', says });
  }
  const stems = stemsOf(report);
  const pages = new Map([...stems].map(([id, stem]) => [id, `tricks/${stem}.html`]));
  for (const trick of tricks) {
    next(`laying “${trick.name}” together`);
    const stem = stems.get(trick.id)!;
    trick.files.push(...(await writeTimelines(folder, trick, stem, report)));
    trick.files.push(...(await writeLines(folder, trick, stem, report, signal)));
    const pictures = await showShots(shotsOf(trick, report), (id) => sources[id].path, signal);
    const says = `page of “${trick.name}”`;
    trick.files.push(await folder.text(pages.get(trick.id)!, 'page', says, trickPage(trick, report, pictures)));
  }
  await writeWhole(folder, report, pages, work.texts);
  say(total, total, 'hashing the files of the pack');
  const made = momentOf(new Date(report.made_at));
  const sealed = await sealPack(folder, name, added, { made, host: hostname(), version, signal });
  return { ...sealed, report, added };
}

/** The empty picture of each take's setup, by the setup's id: the take that is a plate in a trick. */
function platesOf({ tricks, takes }: PackReport): Map<string, PackTake> {
  const found = new Map<string, PackTake>();
  for (const { parts, setup_id } of tricks) {
    const part = parts.find((p) => p.role === 'plate' && p.take_id);
    const take = takes.find((t) => t.id === part?.take_id);
    if (take && !found.has(setup_id)) found.set(setup_id, take);
  }
  return found;
}

async function picturesOf(
  folder: PackFolder,
  take: PackTake,
  report: PackReport,
  sources: Record<string, TakeSources>,
  plates: ReadonlyMap<string, PackTake>,
  signal: AbortSignal,
  say: Say,
) {
  const { wish } = report;
  const own = sources[take.id];
  const of = report.tricks.filter((t) => t.parts.some((p) => p.take_id === take.id));
  const role = (t: PackTrick) => t.parts.find((p) => p.take_id === take.id)?.role;
  const files = [];
  if (wish.plates) {
    if (of.some((t) => role(t) === 'plate')) files.push(...(await writePlate(folder, take, report, own, signal)));
    const stills = of.map((t) => resultOf<StillsFound>(t, 'stills', take.id)).find((s) => s);
    if (stills) files.push(...(await writeStills(folder, take, report, own, stills, signal)));
  }
  const cover = of.map((t) => resultOf<CoverResult>(t, 'cover', take.id)).find((c) => c);
  if (cover?.edges && of.some((t) => role(t) === 'out-side'))
    files.push(...(await writeEdges(folder, take, report, cover)));
  if (!wish.mattes) return files;
  const masked = (t: PackTrick) => t.assembly?.layers.some((l) => l.mask && l.pieces.some((p) => p.take === take.id));
  if (cover || of.some((t) => role(t) === 'pass' && masked(t))) {
    say(0, 0, `outlining ${cover ? 'what covers' : 'who is in'} ${take.label}`);
    const plate = plates.get(take.setup_id);
    const empty = plate && plate !== take ? sources[plate.id] : null;
    files.push(...(await writeMatte(folder, take, report, own, empty, Boolean(cover), signal)));
  }
  return files;
}

async function writeWhole(
  folder: PackFolder,
  report: PackReport,
  pages: ReadonlyMap<string, string>,
  texts: Record<string, string>,
): Promise<void> {
  const { takes } = report;
  const reels = Papa.unparse(
    takes.map((t) => ({
      reel: t.reel,
      recording: t.recording.path,
      name_on_the_card: guard(t.name),
      take: guard(t.label),
      bytes: t.recording.bytes,
      sha256: t.recording.sha256,
      xxh64: t.recording.xxh64,
      rate: t.rate.join('/'),
      frames: t.media.frame_count,
      timecode: t.media.timecode ?? '',
    })),
    { newline: '\r\n' },
  );
  const { files } = report;
  files.push(await folder.text('reels.csv', 'list', 'recordings by the names in the lists', `${reels}\r\n`));
  const marked = takes.filter((t) => t.marks.length).map((t) => markedTake(t, report));
  if (marked.length) files.push(await folder.text('marks.csv', 'marks', 'all marks', marksCsv(marked)));
  for (const [path, text] of Object.entries(texts))
    files.push(await folder.text(path, 'list', 'the plan, to be taken in on another machine', text));
  const schema = JSON.stringify(PACK_SCHEMA, null, 2);
  files.push(await folder.text('report.schema.json', 'list', 'what report.json is made of, as JSON Schema', schema));
  files.push({ path: 'report.json', kind: 'list', says: 'everything in this pack, for programs' });
  await folder.text('README.html', 'page', 'the first page', indexPage(report, pages));
  await folder.text('report.json', 'list', '', JSON.stringify(report));
}
