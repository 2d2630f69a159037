import type { MessagePort } from 'node:worker_threads';
import { recordTake, type TakeTruth } from './record';
import type { CameraSettings } from './settings';

/** What a rolling thread is given: what to record, where to, and a port for words both ways. */
export interface RollingJob {
  settings: CameraSettings;
  path: string;
  preview: string;
  port: MessagePort;
}

/** The truth of what was recorded, or a sentence saying why there was nothing to record on. */
export type RollingAnswer = { truth: TakeTruth } | { refused: string };

const FULL = 'The disk is full, so nothing was recorded. Make room (Plan, Room on disk), then roll again.';

/** A thread that records with the stand-in camera. The word 'stop' on the port ends it early. */
export default async function roll({ settings, path, preview, port }: RollingJob): Promise<RollingAnswer> {
  const stop = new AbortController();
  port.on('message', () => stop.abort(new Error('stopped')));
  const total = Math.round(settings.seconds * settings.fps);
  const onProgress = (done: number) => port.postMessage({ done, total, doing: 'rolling' });
  try {
    onProgress(0);
    return { truth: await recordTake(settings, path, { preview, signal: stop.signal, onProgress }) };
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOSPC') return { refused: FULL };
    throw error;
  } finally {
    port.close();
  }
}
