import type { TakeAnalysis } from '../../core/take/analysis';
import { mkdir } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { judgeBars } from '../../core/measures/bars/judge';
import { judgeBeats } from '../../core/measures/beats/judge';
import { judgeCloth } from '../../core/measures/cloth/judge';
import { judgeCover } from '../../core/measures/cover/judge';
import { judgeCut, type NotedShutters } from '../../core/measures/cut/judge';
import { judgeFigure } from '../../core/measures/figure/judge';
import { brokenOff } from '../../core/measures/file/judge';
import { judgeHide } from '../../core/measures/hide/judge';
import { judgeMeet } from '../../core/measures/meet/judge';
import { judgePair } from '../../core/measures/pair/judge';
import { judgeSpot } from '../../core/measures/spot/judge';
import { judgeStills } from '../../core/measures/stills/judge';
import { judgeZone } from '../../core/measures/zone/judge';
import type { FigureReport } from '../../core/report/figure-types';
import type { HideReport } from '../../core/report/hide-types';
import type { MatteReport } from '../../core/report/matte-types';
import type * as moments from '../../core/report/moment-types';
import type { PairReport } from '../../core/report/pair-types';
import type { Box } from '../../core/report/types';
import type { CoverReport, CutMeasure, CutReport } from '../../core/report/wipe-types';
import type { ZoneReport } from '../../core/report/zone-types';
import { findBars, type BarsOptions } from '../../core/take/bars';
import { findBeats, type BeatsOptions } from '../../core/take/beats';
import { findCloth, type ClothOptions } from '../../core/take/cloth';
import type { CoverOptions, Delivery } from '../../core/take/cover';
import { findCut, type CutOptions } from '../../core/take/cut';
import { findFigure, type FigureOptions } from '../../core/take/figure';
import { findHide, type HideOptions } from '../../core/take/hide';
import { matteOfCover, matteOfWho, type MatteOptions } from '../../core/take/matte';
import { findMeet, type MeetOptions } from '../../core/take/meet';
import { findPair, type PairOptions } from '../../core/take/pair';
import { findSpot, type SpotOptions } from '../../core/take/spot';
import { findStills, type StillsOptions } from '../../core/take/stills';
import { findZone, type ZoneOptions } from '../../core/take/zone';
import type { SpotWish } from '../../core/measures/spot/measure';
import { boxOutline, type ZoneOutline } from '../../core/base/geometry/outline';
import { againstOf, readingOf, takeOf } from '../ffmpeg/file-source';
import { GreyFilm } from '../write/grey-film';
import { coverOf, openTake } from './measure-take';
import { SpillStore } from '../store/spill-store';
import { writeCutout, writePng } from '../write/still-out';

// Measures of plain files, judged, as the command line reports them. All throw UnusableMedia when a file cannot be used.

interface Telling {
  signal?: AbortSignal;
  onProgress?: (doing: string) => void;
}
interface Size {
  width: number;
  height: number;
}

/** @param fine whether whoever is in is outlined finely while the file is decoded */
function opened(path: string, { signal, onProgress }: Telling, fine = true) {
  const name = basename(path);
  onProgress?.(`measuring ${name}`);
  return openTake(path, { name, signal, fine });
}

/** One is decoded while the other is measured. */
const bothOpened = (first: string, second: string, telling: Telling) =>
  Promise.all([opened(first, telling), opened(second, telling)]);

const plateAt = async (path: string | undefined) => (path === undefined ? null : againstOf(path));

export async function measureBarsFiles(
  path: string,
  platePath: string | undefined,
  options: Omit<BarsOptions, 'delivery'> & { delivery?: Delivery },
): Promise<moments.BarsReport> {
  const take = await opened(path, options);
  const found = await findBars(take, await plateAt(platePath), options);
  return { file: take.name, ...found, ...judgeBars(found) };
}

export async function measureBeatsFiles(path: string, options: BeatsOptions = {}): Promise<moments.BeatsReport> {
  const take = await opened(path, options, false);
  const found = await findBeats(take, options);
  return { file: take.name, ...found, ...judgeBeats(found) };
}

export async function measureClothFiles(
  path: string,
  platePath: string,
  options: ClothOptions = {},
): Promise<moments.ClothReport> {
  const take = await opened(path, options);
  const plate = await againstOf(platePath);
  const found = await findCloth(take, plate, options);
  return { file: take.name, against: plate.name, ...found, ...judgeCloth(found) };
}

export async function measureCover(
  path: string,
  { name = basename(path), ...options }: CoverOptions & { name?: string } = {},
): Promise<CoverReport> {
  const { measure, media, width, delivery } = await coverOf(path, { name, ...options });
  const broken = brokenOff(media);
  const verdict = broken
    ? { verdict: 'unjudged' as const, reasons: [broken], deciding: [] }
    : judgeCover(measure, width, media.frame_count);
  return { file: name, media, delivery, ...verdict, ...measure };
}

/** @param options shutters as they were noted, seconds, given the rates that were found */
export async function measureCut(
  outPath: string,
  inPath: string,
  { shutters, ...options }: CutOptions & { shutters?: (rate: CutMeasure['rate']) => NotedShutters } = {},
): Promise<CutReport> {
  const [out, into] = [await againstOf(outPath), await againstOf(inPath)];
  const { measure, delivery } = await findCut(out, into, options);
  const noted = shutters?.(measure.rate) ?? { out: null, in: null };
  const shutter = { out_s: noted.out, in_s: noted.in };
  return { out_file: out.name, in_file: into.name, delivery, ...judgeCut(measure, noted), ...measure, shutter };
}

export async function measureFigureFiles(
  path: string,
  platePath: string | undefined,
  { box, speedPct = 100, ...options }: FigureOptions & { box?: Box; speedPct?: number } = {},
): Promise<FigureReport> {
  const take = await opened(path, options, false);
  const outline = box && boxOutline(box.x, box.y, box.width, box.height);
  const found = await findFigure(take, await plateAt(platePath), { ...options, outline });
  return { file: take.name, ...found, ...judgeFigure(found, speedPct) };
}

export async function measureHideFiles(
  path: string,
  platePath: string,
  { delivery, ...options }: HideOptions & { delivery?: Size } = {},
): Promise<HideReport> {
  const take = await opened(path, options);
  const plate = await againstOf(platePath);
  const found = await findHide(take, plate, options);
  const { width, height } = take.analysis.probe;
  const by = { size: { width, height }, delivery: delivery ?? { width, height }, plate: true };
  return { file: take.name, against: plate.name, ...found, ...judgeHide(found, by) };
}

export interface MatteFileOptions extends Omit<MatteOptions, 'open' | 'plate'> {
  plate?: { path: string; name: string };
  /** Of what covers the picture instead of whoever is in. */
  cover?: boolean;
  /** Where it is written; nothing is written when left out. */
  out?: string;
  /** What is known of the take already. */
  analysis?: TakeAnalysis;
}

export async function makeMatte(
  path: string,
  { plate, cover, out, analysis, ...options }: MatteFileOptions = {},
): Promise<MatteReport> {
  const name = basename(path);
  const { signal, onProgress } = options;
  onProgress?.(`measuring ${name}`);
  const open: MatteOptions['open'] = out === undefined ? undefined : (spec) => GreyFilm.open(out, { ...spec, signal });
  const take = async () => (analysis ? takeOf(path, name, analysis) : openTake(path, { name, signal }));
  const made = cover
    ? await matteOfCover({ read: readingOf(path, name), keep: (bytes) => new SpillStore(bytes) }, { ...options, open })
    : await matteOfWho(await take(), {
        ...{ ...options, open },
        plate: plate && (await againstOf(plate.path, plate.name)),
      });
  return { take: name, ...made, file: out ?? null };
}

export async function measureMeetFiles(
  first: string,
  second: string,
  platePath: string | undefined,
  options: MeetOptions = {},
): Promise<moments.MeetReport> {
  const [a, b] = await bothOpened(first, second, options);
  const found = await findMeet(a, b, await plateAt(platePath), options);
  return { file: a.name, against: b.name, ...found, ...judgeMeet(found) };
}

export async function measurePairFiles(
  first: string,
  second: string,
  { delivery, plate, ...options }: Omit<PairOptions, 'plate'> & { delivery?: Size; plate?: string } = {},
): Promise<PairReport> {
  const [a, b] = await bothOpened(first, second, options);
  const { found } = await findPair(a, b, { ...options, plate: (await plateAt(plate)) ?? undefined });
  const { width, height } = a.analysis.probe;
  const by = { size: { width, height }, delivery: delivery ?? { width, height } };
  return { file: a.name, against: b.name, ...found, ...judgePair(found, by) };
}

export async function measureSpotFiles(
  first: string,
  second: string,
  platePath: string | undefined,
  { delivery, wish, ...options }: SpotOptions & { delivery?: { width: number }; wish: SpotWish },
): Promise<moments.SpotReport> {
  const [a, b] = await bothOpened(first, second, options);
  const found = await findSpot(a, b, await plateAt(platePath), wish, options);
  const { width } = a.analysis.probe;
  return { file: a.name, against: b.name, ...found, ...judgeSpot(found, (delivery?.width ?? width) / width) };
}

/** @param options the folder to which each is written, as a full picture and as a cut-out; nothing is when left out */
export async function measureStillsFiles(
  path: string,
  platePath: string | undefined,
  { out, ...options }: Omit<StillsOptions, 'delivery' | 'onStill'> & { out?: string; delivery?: Delivery } = {},
): Promise<moments.StillsReport> {
  const take = await opened(path, options);
  if (out !== undefined) await mkdir(out, { recursive: true });
  const onStill: StillsOptions['onStill'] =
    out === undefined
      ? undefined
      : async (frame, picture, cutout) => {
          const name = take.name.replace(/\.[^.]*$/, '').replace(/[^\w-]+/g, '_');
          const stem = `${name}-${String(frame).padStart(6, '0')}`;
          const files = { picture: `${stem}.png`, cutout: `${stem}-cutout.png` };
          await writePng(picture, join(out, files.picture));
          await writeCutout(cutout, join(out, files.cutout));
          return files;
        };
  const found = await findStills(take, await plateAt(platePath), { ...options, onStill });
  return { file: take.name, ...found, ...judgeStills(found) };
}

export async function measureZoneFiles(
  path: string,
  outline: ZoneOutline,
  platePath: string | undefined,
  options: ZoneOptions = {},
): Promise<ZoneReport> {
  const take = await opened(path, options, false);
  const found = await findZone(take, outline, await plateAt(platePath), options);
  return { file: take.name, ...found, ...judgeZone(found, take.analysis.probe.width) };
}
