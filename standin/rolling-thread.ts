import type { MessagePort } from 'node:worker_threads';
import { isFull } from '../media/errors';
import { recordTake, type TakeTruth } from './record';
import type { CameraSettings } from './settings';

/** What a rolling thread is given: what to record, where to, and a port for words both ways. */
export interface RollingJob {
  settings: CameraSettings;
  path: string;
  preview: string;
  port: MessagePort;
}

/** The truth of what was recorded, or that there was nothing to record on. */
export type RollingAnswer = { truth: TakeTruth } | 'full';

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
    if (isFull(error)) return 'full';
    throw error;
  } finally {
    port.close();
  }
}
