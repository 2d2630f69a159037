import { type MeasuredTake } from '../core/take/measured-take';
import { takeOf } from '../media/ffmpeg/file-source';
import { analyseTake } from '../media/feeds/measure-take';
import { makeMatte } from '../media/feeds/measure-files';
import { copyFile, readFile } from 'node:fs/promises';
import { cameraPathCsv } from '../core/formats/camera-path';
import { coverEdgesCsv, edgePoints } from '../core/formats/cover-edges';
import { fileName } from '../core/formats/file-names';
import { marksCsv, marksVtt, type MarkedTake } from '../core/formats/marks-out';
import { heldOf } from '../core/measures/stills/held';
import { shapesSvg } from '../core/formats/shapes-svg';
import type { PackFile, PackReport, PackTake, PackTrick } from '../core/packs/types';
import type { StillsFound } from '../core/report/moment-types';
import type { CoverResult } from '../core/report/wipe-types';
import { fullPictures } from '../media/ffmpeg/frames';
import { greyAsH264 } from '../media/write/grey-film';
import { unpackAnalysis } from '../media/store/kept-analysis';
import { makePlate, type MadePlate } from '../core/take/plate';
import { probeFile } from '../media/ffmpeg/probe';
import { resizeCutout, writePng, writeStillClip } from '../media/write/still-out';
import { UnusableMedia } from '../media/errors';
import type { PackFolder } from './folder';

/** Where what belongs to a take lies outside the pack. */
export interface TakeSources {
  /** Its recording. */
  path: string;
  /** What was kept of measuring it; null where nothing was. */
  analysis: string | null;
  /** Cut-outs of frames that were kept. */
  cutouts: { frame: number; path: string }[];
}

/** Length of a plate's still clip, seconds. */
const CLIP_S = 5;
/** Of the frames worth holding so many go along. */
const MOST_STILLS = 3;

/** A take's name inside a pack: "s2-pass-take-1". */
export function stemOf(take: PackTake, report: PackReport): string {
  const setup = report.setups.find((s) => s.id === take.setup_id)?.number ?? 0;
  return `s${setup}-${fileName(take.part)}-take-${take.number}`;
}

/** A take's marks, and what their times are told by. */
export function markedTake(take: PackTake, report: PackReport): MarkedTake {
  const setup = report.setups.find((s) => s.id === take.setup_id)?.number ?? 0;
  return {
    name: `${report.shoot.name}, setup ${setup}, ${take.label}`,
    file: take.name,
    marks: take.marks,
    rate: take.rate,
    timecode: take.media.timecode,
  };
}

/** What was found in a take: as it was kept, else measured anew. */
export async function analysisOf(take: PackTake, { path, analysis }: TakeSources, signal: AbortSignal) {
  const kept = analysis === null ? null : await readFile(analysis).catch(() => null);
  return (kept && unpackAnalysis(kept)) ?? (await analyseTake(path, { name: take.name, signal }));
}

/** Writes what is text of a take: its camera's path and its marks. */
export async function writeTakeTexts(folder: PackFolder, take: PackTake, report: PackReport): Promise<PackFile[]> {
  const stem = stemOf(take, report);
  const files = [
    await folder.text(
      `camera/${stem}.csv`,
      'camera-path',
      `where the picture of ${take.label} lies, frame by frame`,
      cameraPathCsv(take.name, take.rate, take.report.lock),
    ),
  ];
  if (take.marks.length === 0) return files;
  const marked = markedTake(take, report);
  files.push(
    await folder.text(`marks/${stem}.vtt`, 'marks', `marks of ${take.label} as WebVTT`, marksVtt(marked)),
    await folder.text(`marks/${stem}.csv`, 'marks', `marks of ${take.label} as CSV`, marksCsv([marked])),
  );
  return files;
}

/** Writes the empty picture of a take: full and delivery size, and as a still clip. Gives nothing where there is none. */
export async function writePlate(
  folder: PackFolder,
  take: PackTake,
  report: PackReport,
  sources: TakeSources,
  signal: AbortSignal,
): Promise<PackFile[]> {
  const analysis = await analysisOf(take, sources, signal);
  const made = await plateOrNull(takeOf(sources.path, take.name, analysis), signal);
  if (!made) return [];
  const { width, height, fps } = report.shoot.delivery;
  const stem = stemOf(take, report);
  const { picture } = made;
  const bits = picture.most === 255 ? '8 bit' : '16 bit';
  const isSmaller = picture.width !== width || picture.height !== height;
  const full = `plates/${stem}.png`,
    small = `plates/${stem}-${width}x${height}.png`,
    clip = `plates/${stem}-${width}x${height}.mp4`;
  await writePng(picture, await folder.place(full), { signal });
  if (isSmaller) await writePng(picture, await folder.place(small), { width, height, signal });
  await writeStillClip(picture, await folder.place(clip), CLIP_S, fps, { width, height, signal });
  const of = `clean picture of ${take.label}`;
  return [
    { path: full, kind: 'plate', says: `${of}, ${picture.width} x ${picture.height} px, ${bits}` },
    ...(isSmaller ? [{ path: small, kind: 'plate' as const, says: `${of} at delivery size, ${bits}` }] : []),
    { path: clip, kind: 'plate', says: `${of} as a still clip of ${CLIP_S} s at ${fps} fps` },
  ];
}

async function plateOrNull(take: MeasuredTake, signal: AbortSignal): Promise<MadePlate | null> {
  try {
    return await makePlate([take], { signal });
  } catch (error) {
    if (error instanceof UnusableMedia) return null;
    throw error;
  }
}

/** Writes frames worth holding of a take: as they are, and cut out, at both sizes. */
export async function writeStills(
  folder: PackFolder,
  take: PackTake,
  report: PackReport,
  { path, cutouts }: TakeSources,
  found: Pick<StillsFound, 'stills'>,
  signal: AbortSignal,
): Promise<PackFile[]> {
  const held = heldOf(found.stills);
  const wanted = [...new Set([held, ...found.stills])].flatMap((s) => s?.frame ?? []).slice(0, MOST_STILLS);
  const inOrder = [...wanted].sort((a, b) => a - b);
  if (inOrder.length === 0) return [];
  const files: PackFile[] = [];
  const stem = stemOf(take, report),
    delivery = report.shoot.delivery;
  let n = 0;
  for await (const picture of fullPictures(path, await probeFile(path, take.name), inOrder, signal)) {
    const frame = inOrder[n++];
    const name = `stills/${stem}-frame-${frame}`;
    await writePng(picture, await folder.place(`${name}.png`), { signal });
    files.push({ path: `${name}.png`, kind: 'still', says: `frame ${frame} of ${take.label}` });
    const cutout = cutouts.find((c) => c.frame === frame);
    if (!cutout) continue;
    const small = `${name}-cutout-${delivery.width}x${delivery.height}.png`;
    await copyFile(cutout.path, await folder.place(`${name}-cutout.png`));
    await resizeCutout(cutout.path, await folder.place(small), delivery);
    files.push(
      { path: `${name}-cutout.png`, kind: 'cutout', says: `whoever is in frame ${frame} of ${take.label}, cut out` },
      { path: small, kind: 'cutout', says: `the same at delivery size` },
    );
  }
  return files;
}

/** Writes the rough matte of a take, lossless and as H.264. Gives nothing where nobody can be told from the rest. */
export async function writeMatte(
  folder: PackFolder,
  take: PackTake,
  report: PackReport,
  sources: TakeSources,
  plate: TakeSources | null,
  cover: boolean,
  signal: AbortSignal,
): Promise<PackFile[]> {
  const stem = `mattes/${stemOf(take, report)}${cover ? '-cover' : ''}`;
  const of = cover ? `what covers ${take.label}` : `whoever is in ${take.label}`;
  const analysis = cover ? undefined : await analysisOf(take, sources, signal);
  const files: PackFile[] = [];
  try {
    const lossless = await folder.place(`${stem}.mkv`);
    const made = await makeMatte(sources.path, {
      ...{ cover, signal, analysis, out: lossless },
      plate: plate ? { path: plate.path, name: 'plate' } : undefined,
    });
    await greyAsH264(lossless, await folder.place(`${stem}.mp4`));
    const error = made.edge_error_px === null ? '' : `; its edge lies within ${made.edge_error_px.toFixed(1)} px or so`;
    files.push(
      { path: `${stem}.mkv`, kind: 'matte', says: `rough matte of ${of}, FFV1, lossless${error}` },
      { path: `${stem}.mp4`, kind: 'matte', says: `the same as H.264` },
    );
  } catch (error) {
    if (!(error instanceof UnusableMedia)) throw error;
  }
  return files;
}

/** Writes the moving edges of what covers a take: all of them as CSV, and as SVG for each frame to set first. */
export async function writeEdges(
  folder: PackFolder,
  take: PackTake,
  report: PackReport,
  { edges, key_frames, kind }: CoverResult,
): Promise<PackFile[]> {
  const stem = stemOf(take, report);
  const files = [
    await folder.text(
      `edges/${stem}.csv`,
      'edges',
      `edges of what covers ${take.label}, frame by frame`,
      coverEdgesCsv(take.name, edges, take.media),
    ),
  ];
  for (const frame of key_frames) {
    const which = kind === 'closing' ? 'lead' : 'trail';
    const points = edgePoints(edges, which, frame, take.media);
    if (points.length === 0) continue;
    const says = `${which === 'lead' ? 'Leading' : 'Trailing'} edge in frame ${frame} of ${take.label}`;
    const svg = shapesSvg(says, take.media, [{ id: 'edge', points, closed: false, says }]);
    files.push(await folder.text(`edges/${stem}-frame-${frame}.svg`, 'edges', says, svg));
  }
  return files;
}

/** What a trick's takes were found to be in, by the measure. */
export function resultOf<R>(trick: PackTrick, measure: string, takeId: string): R | null {
  return (trick.found.find((f) => f.measure === measure && f.takes[0] === takeId)?.result as R | undefined) ?? null;
}
