import { basename } from 'node:path';
import { DetailMeter } from '../core/focus/detail-meter';
import { freeDetail, type CellDetail } from '../core/focus/free-detail';
import { measureFocus } from '../core/focus/measure';
import { IDENTITY, type Similarity } from '../core/geometry/similarity';
import { grainOf } from '../core/image/plane';
import { judgeLock } from '../core/judge/lock';
import { reportTake } from '../core/judge/take';
import { measureLight } from '../core/light/measure';
import { LockMeter } from '../core/lock/measure';
import { mediaFacts, rateOf, RepeatMeter } from '../core/media-facts/facts';
import type { Figure } from '../core/presence/figures';
import { keepLasting, measurePresence } from '../core/presence/measure';
import { occupancy } from '../core/presence/occupancy';
import type {
  FocusMeasure,
  LightMeasure,
  LockMeasure,
  MediaFacts,
  PresenceMeasure,
  TakeMeasures,
  TakeReport,
  Verdict,
} from '../core/report/types';
import { analyseScene, type SceneAnalysis } from '../core/scene/analyse';
import { PictureStack } from '../core/scene/stack';
import { UnusableMedia } from './errors';
import { measureSize, type DecodeOptions } from './frames';
import { frameTimes, matrixOf, transferOf, type Probe } from './probe';
import { openRecording } from './recording';
import { SpillStore } from './spill-store';

/** What the edit is finished at. A null rate means the clip's own. */
export interface Delivery {
  width: number;
  height: number;
  fps: number | null;
}

export interface MeasureOptions extends DecodeOptions {
  delivery?: Delivery;
  /** The name to show in messages and in the report; the file's own by default. */
  name?: string;
  /** Told now and then how many frames of how many are measured. */
  onProgress?: (done: number, total: number) => void;
}

/** Who stands where in each frame, as rows of a small picture, and the light of the picture's zones now and then. */
export interface Outlines {
  width: number;
  height: number;
  /** For each frame rows of four numbers: y, first x, last x, kind (1 body, 2 shadow). */
  frames: number[][];
  /** Every so many frames the light of 16 x 9 zones beside the whole picture's, in hundredths of a stop. */
  zone_step: number;
  zones: number[][];
}

/** What one decode of a take gives, before it is put into a report. */
export interface TakeAnalysis {
  probe: Probe;
  media: MediaFacts;
  lock: LockMeasure;
  fps: number;
  poses: (Similarity | null)[];
  unjudged: string | null;
  /** Source pixels for one small pixel. */
  factor: number;
  scene: SceneAnalysis | null;
  figures: (Figure[] | null)[];
  light: LightMeasure;
  focus: FocusMeasure;
  /** Detail of the still parts that nobody covers. */
  detail: CellDetail;
  /** Grain of the first picture, levels at measuring size. */
  grain: number;
}

/**
 * Decodes a take once and measures all there is to measure.
 * @throws UnusableMedia when the file cannot be used
 */
export async function analyseTake(path: string, options: MeasureOptions = {}): Promise<TakeAnalysis> {
  const name = options.name ?? basename(path);
  const recording = await openRecording(path, name, options);
  const { probe } = recording;
  const size = measureSize(probe.width, probe.height);
  // The time stamps are read while the pictures are decoded.
  let expected = Math.round((probe.declaredDuration ?? 0) * (rateOf(probe.containerFps) || 25));
  const reading = frameTimes(path, probe, name).then((times) => {
    expected = times.length;
    return times;
  });
  reading.catch(() => undefined);
  const lock = new LockMeter();
  const repeats = new RepeatMeter();
  const detail = new DetailMeter();
  const store = new SpillStore();
  const stack = new PictureStack(store);
  let grain = NaN;
  try {
    let done = 0;
    for await (const picture of recording.pictures()) {
      if (done === 0) grain = grainOf(picture.luma);
      lock.frame(picture.luma);
      repeats.frame(picture.luma);
      detail.frame(picture.luma);
      stack.frame(picture);
      done++;
      if (done % 10 === 0) options.onProgress?.(done, Math.max(done, expected));
    }
    const media = mediaFacts({ ...probe, times: await reading }, repeats);
    const fps = media.measured_fps ?? (rateOf(probe.containerFps) || 25);
    const source = { width: probe.width, height: probe.height };
    const scale = { ...source, factorX: size.factorX, factorY: size.factorY, fps };
    let measure = lock.finish(scale);
    const lens = {
      fps,
      scale: measure.path.scale,
      grain: repeats.grain,
      moved: (measure.peak_px ?? 0) > MOVED_PX * size.factorX,
    };
    // A first idea of the focus, whoever is in: a soft frame must not be taken for a picture full of people, nor for a camera that moves.
    const rough = measureFocus(detail, { ...lens, light: measure.path.scale.map(() => null), occupied: null });
    if (rough.hunts.length) measure = lock.finish({ ...scale, sharpness: rough.path.sharpness });
    // Whether it can be judged at all does not depend on what the edit is finished at.
    const lockVerdict = judgeLock(measure, source, source, media.frame_count);
    const { poses, unjudged } = steadyPoses(measure, lockVerdict, source.width);
    const factor = size.factorX * stack.size.factor;
    const soft = rough.path.sharpness.map((s) => (s === null ? null : 1 - s));
    const scene = analyseScene({
      stack,
      poses,
      factor,
      fps,
      transfer: transferOf(probe),
      matrix: matrixOf(probe),
      soft,
    });
    const figures = scene ? keepLasting(scene.figures) : poses.map(() => null);
    const light = measureLight(
      scene?.light ?? { stops: poses.map(() => null), white: poses.map(() => null), share: poses.map(() => null) },
      fps,
    );
    const occupied = scene ? occupancy(figures, scene.background, detail.across, detail.down) : null;
    const focus = measureFocus(detail, { ...lens, light: light.path.stops, occupied });
    return {
      probe,
      media,
      lock: measure,
      fps,
      poses,
      unjudged,
      factor,
      scene,
      figures,
      light,
      focus,
      detail: freeDetail(detail, occupied),
      grain,
    };
  } catch (error) {
    if (error instanceof UnusableMedia)
      throw new UnusableMedia(error.message.replace(basename(path), name), error.code);
    throw error;
  } finally {
    store.close();
    await recording.close();
  }
}

/**
 * Measures and judges one take in a single decode.
 * @throws UnusableMedia when the file cannot be used
 */
export async function measureTake(path: string, options: MeasureOptions = {}): Promise<TakeReport> {
  const a = await analyseTake(path, options);
  const { width, height, measured_fps: fps } = a.media;
  return reportTake(options.name ?? basename(path), measuresOf(a), options.delivery ?? { width, height, fps });
}

/** What was measured, without what is only drawn or kept for other measures. */
export function measuresOf(a: TakeAnalysis): TakeMeasures {
  const { media, lock, light, focus } = a;
  return {
    media,
    lock,
    light,
    focus,
    presence: presenceOf(a),
    grain_levels: Number.isFinite(a.grain) ? a.grain : null,
  };
}

/** Who is in, and when. */
export function presenceOf(a: TakeAnalysis): PresenceMeasure {
  return measurePresence(
    a.figures,
    a.scene?.background ?? null,
    { width: a.probe.width, height: a.probe.height, factor: a.factor, poses: a.poses },
    a.unjudged,
  );
}

/** From this movement on, measuring pixels, the picture is resampled enough to lose its finest detail. */
const MOVED_PX = 0.3;
/** A camera that moved further than this share of the width shows another picture. */
const FARTHEST = 0.12;

/**
 * Where the picture lies in each frame as far as it may be believed. Where a blank picture shows no movement the
 * camera is taken to have stood still; where it cannot be told from what moves in front, nothing can be said of who is
 * in.
 */
function steadyPoses(
  lock: LockMeasure,
  judged: Verdict,
  width: number,
): { poses: (Similarity | null)[]; unjudged: string | null } {
  const { dx_px: dx, dy_px: dy, rotation_deg: turn, scale } = lock.path;
  const code = judged.verdict === 'unjudged' ? judged.reasons[0]?.code : null;
  if (code === 'one-frame' || code === 'no-texture') return { poses: dx.map(() => ({ ...IDENTITY })), unjudged: null };
  if (code === 'no-agreement' || code === 'two-movements' || code === 'part-moves') {
    return {
      poses: dx.map(() => null),
      unjudged:
        'The camera cannot be told from what moves in front of it, so who is in the picture cannot be told either.',
    };
  }
  if ((lock.sure_peak_px ?? 0) > FARTHEST * width)
    return { poses: dx.map(() => null), unjudged: 'The camera moves too far for an empty frame to be known.' };
  return {
    unjudged: null,
    poses: dx.map((x, f): Similarity | null =>
      x === null ? null : { dx: x, dy: dy[f]!, rotation: (turn[f]! * Math.PI) / 180, scale: scale[f]! },
    ),
  };
}

export function outlinesOf(a: TakeAnalysis): Outlines | null {
  if (!a.scene) return null;
  const { background, zones, zoneStep } = a.scene;
  return drawn(a.figures, background, zones, zoneStep);
}

function drawn(
  figures: readonly (Figure[] | null)[],
  { width, height }: { width: number; height: number },
  zones: Float32Array[],
  zoneStep: number,
): Outlines {
  return {
    width,
    height,
    zone_step: zoneStep,
    frames: figures.map((all) => (all ?? []).flatMap((a) => a.rows)),
    zones: zones.map((z) => Array.from(z, (v) => Math.round(100 * v))),
  };
}
