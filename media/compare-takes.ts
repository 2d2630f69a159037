import { DetailMeter } from '../core/focus/detail-meter';
import { compareDetail, freeDetail, type CellDetail } from '../core/focus/free-detail';
import { composeSimilarity, invertSimilarity, type Similarity } from '../core/geometry/similarity';
import type { Plane } from '../core/image/plane';
import { BT601, type Picture } from '../core/image/picture';
import { median } from '../core/numeric/quantile';
import { judgeCleanPlate } from '../core/judge/presence';
import { fadeInFrames } from '../core/judge/plate';
import { LockMeter } from '../core/lock/measure';
import { comparePictures, whoWasIn, type SmallPlate } from '../core/plate/compare';
import { grainRatio } from '../core/plate/grain';
import type { PlateGap, Run } from '../core/report/types';
import { UnusableMedia } from './errors';
import { measureSize, pictures, type MeasureSize } from './frames';
import { analyseTake, presenceOf, type TakeAnalysis } from './measure-take';
import type { PlateOptions, TakeFile } from './plate';
import { matrixOf, probeFile, type Probe } from './probe';

/** What a take is held against: a still picture, or a recording, which is measured first unless that was done. */
export interface AgainstFile {
  path: string;
  name: string;
  analysis?: TakeAnalysis;
}

/** Frames in which the take's place against the plate is looked at. */
const LOOKS = 12;

/**
 * Holds a plate (a still picture or a recording) against a take. Of a recording, the middle of its longest clear run
 * is taken, or, when somebody is always in, its background.
 * @throws UnusableMedia when a file cannot be used
 */
export async function comparePlate(
  take: TakeFile,
  against: AgainstFile,
  options: PlateOptions = {},
): Promise<PlateGap> {
  const { analysis: a } = take;
  const probe = await probeFile(against.path, against.name, true);
  const size = measureSize(a.probe.width, a.probe.height);
  const recording = probe.still
    ? null
    : (against.analysis ?? (await analyseTake(against.path, { name: against.name, signal: options.signal })));
  const presence = recording && presenceOf(recording);
  const longest = presence?.clear_runs.reduce((x, y) => (y.end - y.start > x.end - x.start ? y : x), {
    start: 0,
    end: -1,
  });
  const clear = recording && longest && longest.end >= longest.start ? bestFrame(recording, longest) : null;
  const frame = clear ?? (recording ? (leastHidden(recording, 1)[0] ?? 0) : 0);
  const plate = await onePicture(against, probe, size, frame, a, options);
  const { offset, uncertainty, grain } = await findOffset(
    take,
    plate,
    size,
    recording && recording.poses[frame],
    options,
  );
  const behind: Picture | SmallPlate =
    recording?.scene && clear === null ? { background: recording.scene.background } : plate;
  const gap =
    a.scene &&
    comparePictures({
      background: a.scene.background,
      curve: a.scene.curve,
      matrix: matrixOf(a.probe),
      plate: behind,
      offset: offset && ('background' in behind ? offset.references : offset.pictures),
      factor: a.factor,
      width: a.probe.width,
      height: a.probe.height,
    });
  const light = gap?.light
    ? { ...gap.light, fade_in_frames: fadeInFrames(gap.light.gap_stops, gap.light.worst_region?.stops ?? 0) }
    : null;
  const focus = compareDetail(recording && clear === null ? recording.detail : detailOf(plate), a.detail);
  const never =
    recording && presence && judgeCleanPlate(presence, recording.media.frame_count, 1).verdict === 'reshoot';
  const small = recording?.scene?.background;
  const walked =
    never && small
      ? whoWasIn(
          recording.figures,
          small.width,
          small.height,
          a.probe.width / small.width,
          a.probe.height / small.height,
        )
      : [];
  const shown = offset?.pictures;
  return {
    offset: shown
      ? {
          dx_px: shown.dx,
          dy_px: shown.dy,
          rotation_deg: (shown.rotation * 180) / Math.PI,
          scale: shown.scale,
          uncertainty_px: uncertainty ?? 0.1,
        }
      : null,
    light,
    focus,
    grain: grain === null ? null : { ratio: grain },
    moved: gap?.moved ?? [],
    intruders: gap?.intruders.length ? gap.intruders : walked,
    settings: settingsApart(a, probe, recording),
  };
}

/** Detail within this share of the best counts as sharp. */
const SHARP = 0.03;

/** The frame nearest the middle of a run of those that are as sharp as the sharpest in it. */
function bestFrame({ focus }: TakeAnalysis, run: Run): number {
  const sharp = (f: number) => focus.path.sharpness[f] ?? 0;
  const frames = Array.from({ length: run.end - run.start + 1 }, (_, k) => run.start + k);
  const best = Math.max(...frames.map(sharp)),
    middle = (run.start + run.end) / 2;
  return frames
    .filter((f) => sharp(f) >= best - SHARP)
    .reduce((a, b) => (Math.abs(b - middle) < Math.abs(a - middle) ? b : a));
}

/** One picture of a file at a wished measuring size. */
async function onePicture(
  file: AgainstFile,
  probe: Probe,
  size: MeasureSize,
  frame: number,
  take: TakeAnalysis,
  options: PlateOptions,
): Promise<Picture> {
  const matrix = matrixOf(take.probe) === BT601 ? ('bt601' as const) : ('bt709' as const);
  for await (const p of pictures(file.path, probe, {
    size,
    only: probe.still ? undefined : [frame],
    matrix: probe.still ? matrix : undefined,
    signal: options.signal,
  })) {
    return {
      luma: { ...p.luma, data: p.luma.data.slice() },
      small: { luma: p.small.luma.slice(), blue: p.small.blue.slice(), red: p.small.red.slice() },
    };
  }
  throw new UnusableMedia(`"${file.name}" has no picture that can be decoded.`, 'truncated');
}

/** Frames of a take in which the least is hidden, rising. */
function leastHidden(take: TakeAnalysis, most: number): number[] {
  const hidden = take.figures.flatMap((f, n) =>
    take.poses[n] ? [{ n, hidden: f ? f.reduce((s, g) => s + g.body + g.shadow, 0) : Infinity }] : [],
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
  take: TakeFile,
  plate: Picture,
  size: MeasureSize,
  platePose: Similarity | null,
  options: PlateOptions,
) {
  const { analysis: a } = take;
  const lock = new LockMeter();
  lock.frame(plate.luma);
  const looked = leastHidden(a, LOOKS);
  let first: Plane | null = null,
    last: Plane | null = null;
  if (looked.length) {
    for await (const p of pictures(take.path, a.probe, { only: looked, signal: options.signal })) {
      lock.frame(p.luma);
      if (!first) first = { ...p.luma, data: p.luma.data.slice() };
      else last = { ...p.luma, data: p.luma.data.slice() };
    }
  }
  const { path, uncertainty_px: uncertainty } = lock.finish({
    width: a.probe.width,
    height: a.probe.height,
    factorX: size.factorX,
    factorY: size.factorY,
    fps: 25,
    againstFirst: true,
  });
  const grain =
    first && last && still(path.displacement_px.slice(1), size.factorX) ? grainRatio(first, last, plate.luma) : null;
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

/** Whether pictures lie on each other so closely, measuring pixels, that what differs is grain. */
const TOGETHER_PX = 0.35;

function still(displacement: readonly (number | null)[], factor: number): boolean {
  return displacement.length > 0 && displacement.every((d) => d !== null && d < TOGETHER_PX * factor);
}

function detailOf(picture: Picture): CellDetail {
  const meter = new DetailMeter();
  meter.frame(picture.luma);
  return freeDetail(meter);
}

/** What of the files' settings differs. */
function settingsApart(take: TakeAnalysis, plate: Probe, recording: TakeAnalysis | null): PlateGap['settings'] {
  const rows: { field: string; take: string; plate: string }[] = [
    { field: 'picture', take: `${take.probe.width} x ${take.probe.height}`, plate: `${plate.width} x ${plate.height}` },
    { field: 'bit depth', take: String(take.probe.bitDepth), plate: String(plate.bitDepth) },
  ];
  if (recording) {
    rows.push(
      { field: 'rate', take: `${take.fps.toFixed(2)} fps`, plate: `${recording.fps.toFixed(2)} fps` },
      { field: 'codec', take: take.probe.codec, plate: plate.codec },
    );
  }
  // A still of 16 bits made from 10 loses nothing.
  return rows.filter((r) => r.take !== r.plate && !(plate.still && r.field === 'bit depth'));
}
