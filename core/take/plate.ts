import { type TakeAnalysis, presenceOf } from './analysis';
import type { MeasuredTake } from './measured-take';
import { UnusableMedia } from './unusable';
import { matrixOf } from './source';
import { median } from '../base/numeric/quantile';
import { judgePlate } from '../measures/plate/judge';
import { stopsTable } from '../base/image/transfer';
import {
  chooseStitchFrames,
  freePixels,
  MOST_FRAMES,
  rankClearRuns,
  spreadFrames,
  takeOutUnlike,
  type Candidate,
} from '../measures/plate/choose';
import { PlateStitcher, type ColourPicture } from '../measures/plate/stitch';
import type { PlateGap, PlateReport, PlateSource, Run } from '../report/types';
import { relight } from '../scene/gauge';

export interface PlateOptions {
  /** Keep one frame's grain instead of averaging it away. */
  keepGrain?: boolean;
  onProgress?: (what: string) => void;
  signal?: AbortSignal;
}

/** Frames must lie this close to each other, source pixels, to be laid on each other as they are. */
const SAME_PLACE_PX = 0.6;

export interface MadePlate {
  source: PlateSource;
  picture: ColourPicture;
  take: MeasuredTake;
}

/** The clear runs of some takes of a setup, the best first. */
export function plateCandidates(takes: readonly MeasuredTake[]): Candidate[] {
  return rankClearRuns(
    takes.map(({ analysis: a }) => ({
      clear: presenceOf(a).clear_runs,
      stops: a.light.path.stops,
      displacement: a.lock.path.displacement_px,
      fps: a.fps,
    })),
  );
}

/**
 * Makes a plate from one or several takes of a setup: the best clear run averaged, or, when no frame is clear,
 * stitched from the frames in which each spot was free.
 * @throws UnusableMedia when no empty picture can be told
 */
export async function makePlate(takes: readonly MeasuredTake[], options: PlateOptions = {}): Promise<MadePlate> {
  const [best] = plateCandidates(takes);
  if (best) return plateFromRun(takes[best.take], best.run, options);
  // Nobody ever left the picture whole: the take that shows most of it, piece by piece.
  let found: MadePlate | null = null;
  for (const take of takes) {
    const made = await stitchPlate(take, options);
    if (made && (!found || made.source.unseen_share < found.source.unseen_share)) found = made;
  }
  if (found) return found;
  const why = takes.map((t) => presenceOf(t.analysis).unjudged).find((u) => u) ?? 'the camera cannot be followed.';
  throw new UnusableMedia(
    `No empty picture can be told from ${takes.map((t) => `"${t.name}"`).join(', ')}: ${why} Roll a plate.`,
    'no-plate',
  );
}

/** A plate averaged from a run of frames in which nobody is. @throws UnusableMedia when the frames cannot be decoded */
export async function plateFromRun(take: MeasuredTake, run: Run, options: PlateOptions = {}): Promise<MadePlate> {
  const frames = samePlace(take.analysis, spreadFrames(run));
  options.onProgress?.(`averaging frames ${run.start} to ${run.end}`);
  const made = await average(take, frames, false, options);
  return {
    source: {
      source: 'clear_run',
      take: take.name,
      run,
      frames_used: frames,
      unseen_share: made.unseenShare,
      unseen: made.unseen,
    },
    picture: made.picture,
    take,
  };
}

/** A plate stitched from the frames of a take in which each spot was free; null when nothing is known of who is where. */
export async function stitchPlate(take: MeasuredTake, options: PlateOptions = {}): Promise<MadePlate | null> {
  const { scene, figures } = take.analysis;
  if (!scene || !figures.some((f) => f !== null)) return null;
  options.onProgress?.('stitching');
  const usable = samePlace(
    take.analysis,
    figures.flatMap((f, n) => (f ? [n] : [])),
  );
  const frames = chooseStitchFrames(figures, usable, scene.background.width, scene.background.height);
  const made = await average(take, frames, true, options);
  return {
    source: {
      source: 'stitched',
      take: take.name,
      run: null,
      frames_used: frames,
      unseen_share: made.unseenShare,
      unseen: made.unseen,
    },
    picture: made.picture,
    take,
  };
}

/** Of some frames those that lie where most of them lie. */
function samePlace(take: TakeAnalysis, frames: number[]): number[] {
  const { dx_px: dx, dy_px: dy } = take.lock.path;
  const known = frames.filter((f) => dx[f] !== null);
  if (known.length === 0) return frames;
  const x = median(known.map((f) => dx[f]!)),
    y = median(known.map((f) => dy[f]!));
  const close = known.filter((f) => Math.hypot(dx[f]! - x, dy[f]! - y) < SAME_PLACE_PX);
  return close.length ? close : [known[known.length >> 1]];
}

async function average(
  { source, analysis: take }: MeasuredTake,
  frames: number[],
  masked: boolean,
  options: PlateOptions,
) {
  const { probe, scene } = take;
  const most = probe.bitDepth > 8 ? 65535 : 255;
  const stitcher = new PlateStitcher(probe.width, probe.height, most, options.keepGrain);
  const table = stopsTable(scene?.curve ?? 'srgb');
  const stops = take.light.path.stops;
  const known = frames.map((f) => stops[f]).filter((s): s is number => s !== null);
  const common = known.length ? median(known) : 0;
  let k = 0;
  for await (const picture of source.full(frames.slice(0, MOST_FRAMES), options.signal)) {
    const f = frames[k++];
    const figures = take.figures[f] ?? [];
    const { width, height } = scene?.background ?? { width: 1, height: 1 };
    const free = masked ? { mask: freePixels(figures, width, height), width, height } : null;
    if (free && scene)
      takeOutUnlike(
        free.mask,
        picture.data,
        picture.width,
        picture.height,
        picture.most,
        scene.background,
        matrixOf(probe),
        relight(table, -(scene.light.stops[f] ?? 0)),
      );
    const apart = (stops[f] ?? common) - common;
    stitcher.add(picture.data, free, Math.abs(apart) > 0.004 ? relightValues(table, -apart, most) : null);
  }
  return stitcher.finish();
}

/** A table of new values for each value, with so many stops more light. */
function relightValues(stops: Float32Array, change: number, most: 255 | 65535): Float32Array {
  const codes = relight(stops, change);
  if (most === 255) return codes;
  return Float32Array.from({ length: 65536 }, (_, v) => {
    const code = v / 257,
      i = Math.min(254, Math.floor(code));
    return Math.min(65535, 257 * (codes[i] + (code - i) * (codes[i + 1] - codes[i])));
  });
}

/** The report of `umbrastat plate`. @param against the gap to the take it is held against, and that take's picture size */
export function plateReport(
  source: PlateSource | null,
  against: { gap: PlateGap; size: { width: number; height: number } } | null,
): PlateReport {
  const from: PlateSource = source ?? {
    source: 'file',
    take: null,
    run: null,
    frames_used: [],
    unseen_share: 0,
    unseen: [],
  };
  const none = {
    offset: null,
    light: null,
    focus: null,
    grain: null,
    moved: null,
    intruders: null,
    settings: null,
    verdict: null,
    reasons: null,
    deciding: null,
  };
  return { ...from, ...(against ? { ...against.gap, ...judgePlate(against.gap, against.size) } : none) };
}
