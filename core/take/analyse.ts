import { type TakeAnalysis, measuresOf } from './analysis';
import { matrixOf, measureSize, transferOf, type PictureSource, type Reading } from './source';
import { coveredCells } from '../measures/focus/covered';
import { followedFocus } from '../measures/focus/followed';
import { DetailMeter } from '../measures/focus/detail-meter';
import { freeDetail } from '../measures/focus/free-detail';
import { focusWithin, measureFocus, unknownFocus } from '../measures/focus/measure';
import { tellSoftAgain } from '../measures/focus/second-look';
import { grainOf } from '../base/image/plane';
import { judgeLock } from '../measures/lock/judge';
import { measureLight, type LightReadings } from '../measures/light/measure';
import { stretchesOf } from '../measures/lock/stretches';
import { LockMeter } from '../measures/lock/measure';
import { rateOf, RepeatMeter } from '../measures/file/facts';
import { keepLasting } from '../presence/measure';
import { occupancy } from './occupancy';
import type { FocusMeasure, MediaFacts, Run } from '../report/types';
import { masked, padded, placeInFile } from '../report/within';
import { analyseScene } from './analyse-scene';
import { followedScene } from './followed';
import { PictureStack } from '../base/image/stack';
import { FineStack } from '../presence/fine-stack';
import { outlineFinely } from './fine-outlines';
import { FARTHEST, MOVES_APART, steadyPoses } from './steady-poses';
import { SomePictures } from './some-pictures';
import { factsOf, type WholeFile } from './file-facts';

export interface TakeOptions {
  /** The shot to measure where the file holds several, counted from 1; the longest by default. */
  shot?: number;
  /** Whoever is in is outlined twice as finely besides. */
  fine?: boolean;
  signal?: AbortSignal;
  /** Told now and then how many frames of how many are measured. */
  onProgress?: (done: number, total: number, doing?: string) => void;
}

/** A recording to be measured, with the name to show. */
export interface Recorded {
  name: string;
  source: Pick<PictureSource, 'read' | 'keep'>;
}

/**
 * Decodes a take once and measures all there is to measure; of a file that holds several shots the longest one, or the
 * one that is asked for, in a second decode.
 * @throws UnusableMedia when the file cannot be used
 */
export async function analyseTake(recorded: Recorded, options: TakeOptions = {}): Promise<TakeAnalysis> {
  const whole = await decodeTake(recorded, options);
  try {
    const media = factsOf(recorded.name, { ...whole, ending: await whole.reading.ending() }, options.shot);
    if (media.cuts.length === 0) return analyse(whole, media, options.onProgress);
    const shot = await decodeTake(recorded, options, media.shot);
    try {
      return placed(analyse(shot, media, options.onProgress), media.shot.start);
    } finally {
      shot.close();
    }
  } finally {
    whole.close();
  }
}

/** What decoding gave to measure by. */
interface Decoded extends Omit<WholeFile, 'ending'> {
  reading: Reading;
  detail: DetailMeter;
  fine: FineStack | null;
  some: SomePictures;
  /** Lets go of what was kept. */
  close: () => void;
  grain: number;
}

async function decodeTake({ source }: Recorded, options: TakeOptions, run?: Run): Promise<Decoded> {
  const { fine: fineColour, signal } = options;
  const reading = await source.read({ run, fineColour, signal });
  const probe = reading.facts;
  const stores = [source.keep(SEEN_BYTES), source.keep(SEEN_BYTES), source.keep(), source.keep()];
  const close = () => stores.forEach((s) => s.close());
  const lock = new LockMeter(stores[0]);
  const repeats = new RepeatMeter();
  const detail = new DetailMeter(stores[1]);
  const stack = new PictureStack(stores[2]);
  const fine = options.fine ? new FineStack(stores[3]) : null;
  const some = new SomePictures();
  let grain = NaN;
  try {
    let done = 0;
    for await (const picture of reading.pictures()) {
      if (done === 0) grain = grainOf(picture.luma);
      lock.frame(picture.luma);
      repeats.frame(picture.luma);
      detail.frame(picture.luma);
      stack.frame(picture);
      fine?.frame(picture.luma, picture.fineColour);
      some.frame(picture);
      done++;
      if (done % 10 === 0) options.onProgress?.(done, Math.max(done, reading.expected()));
    }
    return { probe, reading, lock, repeats, detail, stack, fine, some, close, grain };
  } catch (error) {
    close();
    throw error;
  } finally {
    await reading.close();
  }
}

/** Bytes kept in memory of what the lock saw of its patches, and of the detail of cells. */
const SEEN_BYTES = 8 * 1024 * 1024;

/** It is said how far it is every so many frames. */
const SAY_EVERY = 25;

/** Measures what was decoded, its frames numbered from 0. */
function analyse(
  { probe, lock, repeats, detail, stack, fine, some, grain }: Decoded,
  media: MediaFacts,
  onProgress: TakeOptions['onProgress'],
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
    kept: some.pictures,
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

/** Stretches of a take in which light and who is in are read: the picture goes by this share of its width to either side. */
const READ_WITHIN = 0.2;

/** From this movement on, measuring pixels, the picture is resampled enough to lose its finest detail. */
const MOVED_PX = 0.3;
