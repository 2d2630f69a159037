import { basename } from 'node:path';
import { judgeLock } from '../core/judge/lock';
import { LockMeter } from '../core/lock/measure';
import { mediaFacts, rateOf, RepeatMeter } from '../core/media-facts/facts';
import type { TakeReport } from '../core/report/types';
import { UnusableMedia } from './errors';
import { greyFrames, measureSize, type DecodeOptions } from './frames';
import { frameTimes, probeFile } from './probe';

/** What the edit is finished at. A null rate means the clip's own. */
export interface Delivery { width: number; height: number; fps: number | null }

export interface MeasureOptions extends DecodeOptions {
  delivery?: Delivery;
  /** The name to show in messages and in the report; the file's own by default. */
  name?: string;
  /** Told now and then how many frames of how many are measured. */
  onProgress?: (done: number, total: number) => void;
}

/**
 * Measures and judges one take in a single decode.
 * @throws UnusableMedia when the file cannot be used
 */
export async function measureTake(path: string, options: MeasureOptions = {}): Promise<TakeReport> {
  const name = options.name ?? basename(path);
  const probe = await probeFile(path, name);
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
  let done = 0;
  try {
    for await (const plane of greyFrames(path, probe, options)) {
      lock.frame(plane);
      repeats.frame(plane);
      done++;
      if (done % 10 === 0) options.onProgress?.(done, Math.max(done, expected));
    }
  } catch (error) {
    if (error instanceof UnusableMedia) throw new UnusableMedia(error.message.replace(basename(path), name), error.code);
    throw error;
  }
  const media = mediaFacts({ ...probe, times: await reading }, repeats);
  const fps = media.measured_fps ?? (rateOf(probe.containerFps) || 25);
  const source = { width: probe.width, height: probe.height };
  const delivery = options.delivery ?? { ...source, fps: media.measured_fps };
  const measure = lock.finish({ ...source, factorX: size.factorX, factorY: size.factorY, fps });
  return {
    file: name,
    delivery,
    media,
    lock: { ...judgeLock(measure, source, delivery, media.frame_count), ...measure },
    light: null,
    focus: null,
    presence: null,
  };
}
