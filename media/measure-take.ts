import { basename } from 'node:path';
import { coveredCells } from '../core/focus/covered';
import { followedFocus } from '../core/focus/followed';
import { DetailMeter } from '../core/focus/detail-meter';
import { freeDetail, type CellDetail } from '../core/focus/free-detail';
import { focusWithin, measureFocus, unknownFocus } from '../core/focus/measure';
import { tellSoftAgain } from '../core/focus/second-look';
import type { Similarity } from '../core/geometry/similarity';
import { grainOf } from '../core/image/plane';
import { judgeLock } from '../core/judge/lock';
import { askedByPurpose } from '../core/judge/asked';
import { judgeTake, reportTake } from '../core/judge/judged-take';
import { measureLight, type LightReadings } from '../core/light/measure';
import { stretchesOf } from '../core/lock/stretches';
import { LockMeter } from '../core/lock/measure';
import { rateOf, RepeatMeter } from '../core/media-facts/facts';
import type { Figure } from '../core/presence/figures';
import { keepLasting, measurePresence } from '../core/presence/measure';
import { occupancy } from '../core/presence/occupancy';
import type {
  FocusMeasure,
  LightMeasure,
  LockMeasure,
  MediaFacts,
  PresenceMeasure,
  Run,
  TakeMeasures,
  TakeReport,
} from '../core/report/types';
import { COVER } from '../core/measures/cover';
import type { Outcome } from '../core/measures/measure';
import { masked, padded, placeInFile } from '../core/report/within';
import type { Purpose } from '../core/tricks/types';
import { analyseScene, type SceneAnalysis } from '../core/scene/analyse';
import { followedScene, type FollowedScene } from '../core/scene/followed';
import { PictureStack } from '../core/scene/stack';
import { FineStack } from '../core/presence/fine-stack';
import { UnusableMedia } from './errors';
import { outlineFinely, type FineOutlines } from './fine-outlines';
import { measureSize, type DecodeOptions } from './frames';
import { findCover, type Delivery } from './measure-cover';
import { matrixOf, transferOf, type Probe } from './probe';
import { openRecording } from './recording';
import { FARTHEST, MOVES_APART, steadyPoses } from './steady-poses';
import { SomePictures, type KeptPicture } from './some-pictures';
import { SEEN_BYTES, SpillStore } from './spill-store';
import { factsOf, type WholeFile } from './whole-file';

export interface MeasureOptions extends DecodeOptions {
  delivery?: Delivery;
  /** The shot to measure where the file holds several, counted from 1; the longest by default. */
  shot?: number;
  /** The name to show in messages and in the report; the file's own by default. */
  name?: string;
  /** Told now and then how many frames of how many are measured. */
  onProgress?: (done: number, total: number, doing?: string) => void;
  /** Whoever is in is outlined twice as finely besides. */
  fine?: boolean;
}

export type { Delivery };

type SmallFrame = { width: number; height: number };

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
  /** Who is in while the camera goes far, each frame as it lies on another; null where one background serves. */
  followed: (Pick<FollowedScene, 'figures' | 'poses' | 'restless' | 'unjudged'> & SmallFrame) | null;
  light: LightMeasure;
  focus: FocusMeasure;
  /** Detail of the still parts that nobody covers. */
  detail: CellDetail;
  /** Grain of the first picture, levels at measuring size. */
  grain: number;
  /** Whoever is in, outlined finely, where that was asked for. */
  fine: FineOutlines | null;
  /** Some of its pictures, where that was asked for. */
  kept?: KeptPicture[] | null;
}

/**
 * Decodes a take once and measures all there is to measure; of a file that holds several shots the longest one, or the
 * one that is asked for, in a second decode.
 * @throws UnusableMedia when the file cannot be used
 */
export async function analyseTake(path: string, options: MeasureOptions = {}): Promise<TakeAnalysis> {
  const name = options.name ?? basename(path);
  try {
    const whole = await decodeTake(path, name, options);
    try {
      const media = await factsOf(path, whole, options.shot);
      if (media.cuts.length === 0) return analyse(whole, media, options.onProgress);
      const shot = await decodeTake(path, name, { ...options, proxy: undefined, run: media.shot });
      try {
        return placed(analyse(shot, media, options.onProgress), media.shot.start);
      } finally {
        shot.close();
      }
    } finally {
      whole.close();
    }
  } catch (error) {
    if (error instanceof UnusableMedia)
      throw new UnusableMedia(error.message.replace(basename(path), name), error.code);
    throw error;
  }
}

/** What decoding gave to measure by. */
interface Decoded extends WholeFile {
  detail: DetailMeter;
  fine: FineStack | null;
  some: SomePictures | null;
  /** Lets go of what was kept. */
  close: () => void;
  grain: number;
}

async function decodeTake(path: string, name: string, options: MeasureOptions): Promise<Decoded> {
  const recording = await openRecording(path, name, { ...options, fineColour: options.fine });
  const { probe } = recording;
  // The time stamps are read while the pictures are decoded.
  let expected = Math.round((probe.declaredDuration ?? 0) * (rateOf(probe.containerFps) || 25));
  const reading = recording.index().then((index) => {
    expected = options.run ? options.run.end - options.run.start + 1 : index.times.length;
    return index;
  });
  reading.catch(() => undefined);
  const stores = [new SpillStore(SEEN_BYTES), new SpillStore(SEEN_BYTES), new SpillStore(), new SpillStore()];
  const close = () => stores.forEach((s) => s.close());
  const lock = new LockMeter(stores[0]);
  const repeats = new RepeatMeter();
  const detail = new DetailMeter(stores[1]);
  const stack = new PictureStack(stores[2]);
  const fine = options.fine ? new FineStack(stores[3]) : null;
  const some = options.fine ? new SomePictures() : null;
  let grain = NaN;
  try {
    let done = 0;
    for await (const picture of recording.pictures()) {
      if (done === 0) grain = grainOf(picture.luma);
      lock.frame(picture.luma);
      repeats.frame(picture.luma);
      detail.frame(picture.luma);
      stack.frame(picture);
      fine?.frame(picture.luma, picture.fineColour);
      some?.frame(picture.luma);
      done++;
      if (done % 10 === 0) options.onProgress?.(done, Math.max(done, expected));
    }
    const complaints = recording.complaints();
    return { probe, index: await reading, complaints, lock, repeats, detail, stack, fine, some, close, grain };
  } catch (error) {
    close();
    throw error;
  } finally {
    await recording.close();
  }
}

/** It is said how far it is every so many frames. */
const SAY_EVERY = 25;

/** Measures what was decoded, its frames numbered from 0. */
function analyse(
  { probe, lock, repeats, detail, stack, fine, some, grain }: Decoded,
  media: MediaFacts,
  onProgress: MeasureOptions['onProgress'],
): TakeAnalysis {
  const say = (doing: string, done = 0, total = 0) => onProgress?.(done, total, doing);
  say('finding how the camera moved');
  const fps = media.measured_fps ?? (rateOf(probe.containerFps) || 25);
  const size = measureSize(probe.width, probe.height);
  const source = { width: probe.width, height: probe.height };
  const scale = { ...source, factorX: size.factorX, factorY: size.factorY, fps };
  let measure = lock.finish(scale);
  const lens = {
    fps,
    scale: measure.path.scale,
    grain: repeats.grain,
    moved: (measure.peak_px ?? 0) > MOVED_PX * size.factorX,
    shift: measure.path.dx_px.map((dx, f): [number, number] | null =>
      dx === null ? null : [dx / size.factorX, measure.path.dy_px[f]! / size.factorY],
    ),
  };
  // A first idea of the focus, whoever is in: a soft frame must not be taken for a picture full of people, nor for a camera that moves.
  const unlit = measure.path.scale.map(() => null);
  const covered = coveredCells(stack, detail.across, detail.down);
  const rough = measureFocus(detail, { ...lens, light: unlit, occupied: covered });
  if (rough.hunts.length) measure = lock.finish({ ...scale, sharpness: rough.path.sharpness });
  // Whether it can be judged at all does not depend on what the edit is finished at.
  const lockVerdict = judgeLock(measure, source, source, stack.count);
  const { poses, far, unjudged } = steadyPoses(measure, lockVerdict, source.width);
  const stretches = far && stretchesOf(far, source, FARTHEST * source.width);
  const factor = size.factorX * stack.size.factor;
  const onFrame = (frame: number) => {
    if (frame % SAY_EVERY === 0) say('telling who is in', frame, stack.count);
  };
  const look = (soft: (number | null)[]) => {
    const input = { stack, poses, factor, fps, transfer: transferOf(probe), matrix: matrixOf(probe), soft, onFrame };
    const scene = stretches ? null : analyseScene(input);
    const followed = far && followedScene(input, stretchesOf(far, source, READ_WITHIN * source.width), far, source);
    const figures = scene ? keepLasting(scene.figures) : poses.map(() => null);
    const readings = followed?.light ?? scene?.light ?? { stops: unlit, white: unlit, share: unlit };
    const occupied = scene ? occupancy(figures, scene.background, detail.across, detail.down) : null;
    const all = measureLight(readings, fps);
    return {
      scene,
      followed,
      figures,
      readings,
      occupied,
      all,
      focus: stretches
        ? followedFocus(detail, { ...lens, light: all.path.stops, occupied }, stretches, far, size)
        : measureFocus(detail, { ...lens, light: all.path.stops, occupied }),
    };
  };
  const first = lossOf(rough);
  let seen = look(first);
  const again = tellSoftAgain(first, lossOf(seen.focus), stack, seen.scene?.background ?? null);
  if (again) seen = look(again);
  const { scene, followed, figures, readings, occupied, all } = seen;
  // Where two things move, whose detail changes is not known either.
  const told = !MOVES_APART.includes(lockVerdict.reasons[0]?.code ?? '');
  const focus = told ? seen.focus : unknownFocus(stack.count);
  const { usable_run: run } = measure;
  if (fine) say('outlining whoever is in');
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
    followed: followed && { ...followed, width: stack.size.width, height: stack.size.height },
    light: run && isPart(run, stack.count) ? { ...measureLight(within(readings, run), fps), path: all.path } : all,
    focus: run && isPart(run, stack.count) ? focusWithin(focus, run) : focus,
    detail: freeDetail(detail, occupied),
    grain,
    kept: some?.pictures ?? null,
    fine: fine && outlineFinely(fine, { scene, figures, poses, factorX: size.factorX }),
  };
}

/** Share of fine detail lost in each frame. */
const lossOf = ({ path }: FocusMeasure) => path.sharpness.map((s) => (s === null ? null : 1 - s));

const isPart = ({ start, end }: Run, count: number) => start > 0 || end < count - 1;

function within({ stops, white, share }: LightReadings, run: Run): LightReadings {
  return { stops: masked(stops, run), white: masked(white, run), share: masked(share, run) };
}

/** What was measured of one shot, in the frames of the whole file. */
function placed(a: TakeAnalysis, start: number): TakeAnalysis {
  const total = a.media.frame_count;
  const { lock, light, focus } = placeInFile(measuresOf(a), start, total);
  const zones = a.scene && [
    ...Array.from({ length: Math.floor(start / a.scene.zoneStep) }, () => a.scene!.zones[0]),
    ...a.scene.zones,
  ];
  return {
    ...a,
    lock,
    light,
    focus,
    poses: padded(a.poses, start, total),
    figures: padded(a.figures, start, total),
    followed: a.followed && {
      ...a.followed,
      figures: padded(a.followed.figures, start, total),
      poses: padded(a.followed.poses, start, total),
    },
    fine: a.fine && { ...a.fine, frames: padded(a.fine.frames, start, total) },
    kept: a.kept?.map((p) => ({ ...p, frame: p.frame + start })),
    scene: a.scene && { ...a.scene, zones: zones! },
  };
}

/**
 * Measures and judges one take in a single decode, or two where it must.
 * @param purpose what the take is for; as a locked pass when left out
 * @throws UnusableMedia when the file cannot be used
 */
export async function measureTake(
  path: string,
  { purpose = 'locked', ...options }: MeasureOptions & { purpose?: Purpose } = {},
): Promise<TakeReport> {
  const a = await analyseTake(path, options);
  const { width, height, measured_fps: fps } = a.media;
  const delivery = options.delivery ?? { width, height, fps };
  // What covers the picture is measured where somebody asks.
  const outcomes = purpose === 'out' ? [await coverOutcome(path, { ...options, delivery })] : [];
  return reportAnalysed(a, options.name ?? basename(path), purpose, delivery, outcomes);
}

/** What was found in a take, judged for what it is for. */
export function reportAnalysed(
  a: TakeAnalysis,
  name: string,
  purpose: Purpose,
  delivery: TakeReport['delivery'],
  outcomes: readonly Outcome[] = [],
): TakeReport {
  const found = measuresOf(a);
  const fps = a.media.measured_fps;
  const asked = askedByPurpose(purpose);
  const take = { id: TAKE_ID, number: 1, name: '', isPlate: asked.isPlate, facts: found };
  const edit = { ...delivery, fps: delivery.fps ?? fps ?? 25 };
  const judged = judgeTake(take, asked, { delivery: edit, among: [take], outcomes });
  return reportTake(name, found, delivery, asked, judged);
}

const TAKE_ID = 'take';

async function coverOutcome(path: string, options: MeasureOptions): Promise<Outcome> {
  const { measure } = await findCover(path, { ...options, onProgress: undefined, proxy: undefined });
  return { measure: COVER.key, takes: [TAKE_ID], state: 'done', failure: null, result: measure };
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
  const { figures, poses } = a.followed ?? a;
  return measurePresence(
    figures,
    a.followed ?? a.scene?.background ?? null,
    { width: a.probe.width, height: a.probe.height, factor: a.factor, poses },
    a.followed ? a.followed.unjudged : a.unjudged,
  );
}

/** Stretches of a take in which light and who is in are read: the picture goes by this share of its width to either side. */
const READ_WITHIN = 0.2;

/** From this movement on, measuring pixels, the picture is resampled enough to lose its finest detail. */
const MOVED_PX = 0.3;
