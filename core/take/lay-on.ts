import { type TakeAnalysis, presenceOf } from './analysis';
import { UnusableMedia } from './unusable';
import { type MeasureSize, type PictureFacts, matrixOf, measureSize } from './source';
import type { MeasuredTake, Against } from './measured-take';
import { composeSimilarity, invertSimilarity, type Similarity } from '../base/geometry/similarity';
import type { Plane } from '../base/image/plane';
import { BT601, type Picture } from '../base/image/picture';
import { LockMeter } from '../measures/lock/measure';
import { median } from '../base/numeric/quantile';
import { grainRatio } from '../base/image/grain';
import type { PresenceMeasure, Run } from '../report/types';
import { analyseTake } from './analyse';
import { ownPicture, type KeptPicture } from './some-pictures';
import type { PlateOptions } from './plate';

/** Frames in which the take's place against the plate is looked at. */
const LOOKS = 12;

/** Two pictures of one place, laid on each other. */
export interface LaidTogether {
  /** What is held against the take, and what was found in it; null where it is a still picture. */
  probe: PictureFacts;
  recording: TakeAnalysis | null;
  presence: PresenceMeasure | null;
  /** The other's picture; null where its background, which all of its frames made, stands for it. */
  picture: Picture | null;
  /** Where the other's picture, and where its reference frame, lies in the take's reference frame, source pixels. */
  offset: Placed['offset'];
  uncertainty: number | null;
  /** Grain of the take over the other's. */
  grain: number | null;
}

interface Placed {
  offset: { pictures: Similarity; references: Similarity } | null;
  uncertainty: number | null;
  grain: number | null;
}

/**
 * Lays a still picture or a recording on a take. Of a recording, the middle of its longest clear run is taken, or, when
 * somebody is always in, the frame that shows the most. Nothing is decoded where pictures were kept of both.
 * @throws UnusableMedia when a file cannot be used
 */
export async function layTogether(
  take: MeasuredTake,
  against: Against,
  options: PlateOptions = {},
): Promise<LaidTogether> {
  const { analysis: a } = take;
  const { facts: probe } = against.source;
  const size = measureSize(a.probe.width, a.probe.height);
  const recording = probe.still ? null : (against.analysis ?? (await analyseTake(against, { signal: options.signal })));
  const presence = recording && presenceOf(recording);
  const longest = presence?.clear_runs.reduce((x, y) => (y.end - y.start > x.end - x.start ? y : x), {
    start: 0,
    end: -1,
  });
  const standsFor = (among?: ReadonlySet<number>) => {
    const clear = recording && longest ? bestFrame(recording, longest, among) : null;
    return { clear, frame: clear ?? (recording ? (leastHidden(recording, 1, among)[0] ?? 0) : 0) };
  };
  const laidBy = (clear: number | null, shown: Picture, placed: Placed): LaidTogether => ({
    ...{ probe, recording, presence, ...placed },
    picture: recording?.scene && clear === null ? null : shown,
  });
  if (recording?.kept?.length && a.kept?.length) {
    const { clear, frame } = standsFor(new Set(recording.kept.map((p) => p.frame)));
    const shown = recording.kept.find((p) => p.frame === frame);
    // A short clear run may lie between two of them.
    const missed = longest && longest.end >= longest.start && clear === null;
    if (shown && !missed) return laidBy(clear, shown, keptPlace(a, shown, recording.poses[frame]));
  }
  const { clear, frame } = standsFor();
  const shown = await onePicture(against, size, frame, a, options);
  return laidBy(clear, shown, await findOffset(take, shown, size, recording && recording.poses[frame], options));
}

/** Detail within this share of the best counts as sharp. */
const SHARP = 0.03;

/** The frame nearest the middle of a run of those that are as sharp as the sharpest in it; null where there is none. */
function bestFrame({ focus }: TakeAnalysis, run: Run, among?: ReadonlySet<number>): number | null {
  const sharp = (f: number) => focus.path.sharpness[f] ?? 0;
  const all = Array.from({ length: run.end - run.start + 1 }, (_, k) => run.start + k);
  const frames = among ? all.filter((f) => among.has(f)) : all;
  if (frames.length === 0) return null;
  const best = Math.max(...frames.map(sharp)),
    middle = (run.start + run.end) / 2;
  return frames
    .filter((f) => sharp(f) >= best - SHARP)
    .reduce((a, b) => (Math.abs(b - middle) < Math.abs(a - middle) ? b : a));
}

/** One picture of a file at a wished measuring size. */
async function onePicture(
  { source, name }: Against,
  size: MeasureSize,
  frame: number,
  take: TakeAnalysis,
  options: PlateOptions,
): Promise<Picture> {
  const matrix = matrixOf(take.probe) === BT601 ? ('bt601' as const) : ('bt709' as const);
  const { still } = source.facts;
  for await (const p of source.pictures({
    size,
    only: still ? undefined : [frame],
    matrix: still ? matrix : undefined,
    signal: options.signal,
  })) {
    return ownPicture(p);
  }
  throw new UnusableMedia(`"${name}" has no picture that can be decoded.`, 'truncated');
}

/** Frames of a take in which the least is hidden, rising. @param among those that may be chosen; all when left out */
function leastHidden(take: TakeAnalysis, most: number, among?: ReadonlySet<number>): number[] {
  const hidden = take.figures.flatMap((f, n) =>
    take.poses[n] && (among?.has(n) ?? true)
      ? [{ n, hidden: f ? f.reduce((s, g) => s + g.body + g.shadow, 0) : Infinity }]
      : [],
  );
  const sorted = hidden.map((o) => o.hidden).sort((x, y) => x - y);
  const open = hidden.filter((o) => o.hidden <= sorted[Math.min(most, sorted.length) - 1]);
  // Spread over the take: neighbours show the same, coding and all.
  return Array.from(
    { length: Math.min(most, open.length) },
    (_, k) => open[Math.floor(((k + 0.5) * open.length) / Math.min(most, open.length))].n,
  );
}

/**
 * Where a take's reference frame lies on the plate's picture (`pictures`) and on the plate's own reference frame
 * (`references`), in source pixels of the take; null when they show too little in common.
 */
async function findOffset(
  take: MeasuredTake,
  plate: Picture,
  size: MeasureSize,
  platePose: Similarity | null,
  options: PlateOptions,
) {
  const { analysis: a } = take;
  const lock = new LockMeter();
  lock.frame(plate.luma);
  const looked = leastHidden(a, LOOKS);
  const ends: Plane[] = [];
  if (looked.length) {
    let left = looked.length;
    for await (const p of take.source.pictures({ only: looked, signal: options.signal })) {
      lock.frame(p.luma);
      ends[Math.min(1, ends.length)] = { ...p.luma, data: p.luma.data.slice() };
      // What comes after the last of them need not be decoded.
      if (--left === 0) break;
    }
  }
  return placeIn(lock, { frames: looked, ends, plate: plate.luma }, a, size, platePose);
}

/** Frames of a take that were looked at, the pictures of the first and the last of them, and the other picture. */
interface Looked {
  frames: readonly number[];
  ends: readonly Plane[];
  plate: Plane;
}

/** What follows from the lock of a picture of another place and some frames of a take, in that order. */
function placeIn(
  lock: LockMeter,
  { frames: looked, ends, plate }: Looked,
  a: TakeAnalysis,
  size: MeasureSize,
  platePose: Similarity | null,
): Placed {
  const { path, uncertainty_px: uncertainty } = lock.finish({
    width: a.probe.width,
    height: a.probe.height,
    factorX: size.factorX,
    factorY: size.factorY,
    fps: 25,
    againstFirst: true,
  });
  const [first, last] = ends;
  const alike = first && last && still(path.displacement_px.slice(1), size.factorX);
  const grain = alike ? grainRatio(first, last, plate) : null;
  const found = looked.flatMap((n, k): Similarity[] => {
    const own = a.poses[n];
    const dx = path.dx_px[k + 1];
    if (dx === null || dx === undefined || !own) return [];
    return [
      composeSimilarity(invertSimilarity(own), {
        dx,
        dy: path.dy_px[k + 1]!,
        rotation: (path.rotation_deg[k + 1]! * Math.PI) / 180,
        scale: path.scale[k + 1]!,
      }),
    ];
  });
  if (found.length < Math.max(1, looked.length / 3)) return { offset: null, uncertainty, grain };
  const middle = (pick: (s: Similarity) => number) => median(found.map(pick));
  const inPicture = {
    dx: middle((s) => s.dx),
    dy: middle((s) => s.dy),
    rotation: middle((s) => s.rotation),
    scale: middle((s) => s.scale),
  };
  return {
    offset: { pictures: inPicture, references: platePose ? composeSimilarity(inPicture, platePose) : inPicture },
    uncertainty,
    grain,
  };
}

/** Where two recordings of one place lie on each other, by pictures that were kept of both; null where none were. */
export function layKept(take: TakeAnalysis, against: TakeAnalysis): Placed | null {
  if (!take.kept?.length || !against.kept?.length) return null;
  const [plate] = keptOf(against, 1);
  if (!plate) return { offset: null, uncertainty: null, grain: null };
  return keptPlace(take, plate, against.poses[plate.frame]);
}

/** Of the pictures that were kept of a take those in which the least is hidden. */
function keptOf(of: TakeAnalysis, most: number): KeptPicture[] {
  const frames = leastHidden(of, most, new Set(of.kept!.map((p) => p.frame)));
  return of.kept!.filter((p) => frames.includes(p.frame));
}

/** Where another picture lies on a take, by pictures that were kept of the take. */
function keptPlace(take: TakeAnalysis, plate: Picture, platePose: Similarity | null): Placed {
  const looked = keptOf(take, LOOKS);
  if (looked.length === 0) return { offset: null, uncertainty: null, grain: null };
  const lock = new LockMeter();
  for (const { luma } of [plate, ...looked]) lock.frame(luma);
  const size = measureSize(take.probe.width, take.probe.height);
  const frames = looked.map((p) => p.frame);
  const ends = looked.length > 1 ? [looked[0].luma, looked[looked.length - 1].luma] : [];
  return placeIn(lock, { frames, ends, plate: plate.luma }, take, size, platePose);
}

/** Whether pictures lie on each other so closely, measuring pixels, that what differs is grain. */
const TOGETHER_PX = 0.35;

function still(displacement: readonly (number | null)[], factor: number): boolean {
  return displacement.length > 0 && displacement.every((d) => d !== null && d < TOGETHER_PX * factor);
}
