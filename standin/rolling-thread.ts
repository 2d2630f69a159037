import type { MessagePort } from 'node:worker_threads';
import { recordTake } from './record';
import type { CameraSettings } from './settings';

/** What a rolling thread is given: what to record, where to, and a port for words both ways. */
export interface RollingJob {
  settings: CameraSettings;
  path: string;
  preview: string;
  port: MessagePort;
}

/** A thread that records with the stand-in camera; gives the truth of the recording. The word 'stop' on the port ends it early. */
export default async function roll({ settings, path, preview, port }: RollingJob): ReturnType<typeof recordTake> {
  const stop = new AbortController();
  port.on('message', () => stop.abort(new Error('stopped')));
  const total = Math.round(settings.seconds * settings.fps);
  const onProgress = (done: number) => port.postMessage({ done, total, doing: 'rolling' });
  try {
    onProgress(0);
    return await recordTake(settings, path, { preview, signal: stop.signal, onProgress });
  } finally {
    port.close();
  }
}
