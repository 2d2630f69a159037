import { rmSync } from 'node:fs';
import { fixtureClip, layDown } from '../../standin/testing/fixtures';
import type { RollingAnswer, RollingJob } from '../../standin/rolling-thread';

/** Rolls as the stand-in camera does, but each clip once for all tests. */
export default async function roll({ settings, path, preview, port }: RollingJob): Promise<RollingAnswer> {
  const stop = new AbortController();
  port.on('message', () => stop.abort(new Error('stopped')));
  const total = Math.round(settings.seconds * settings.fps);
  const onProgress = (done: number) => port.postMessage({ done, total, doing: 'rolling' });
  try {
    const clip = await fixtureClip(settings, { preview, signal: stop.signal, onProgress });
    rmSync(path, { force: true });
    layDown(clip.path, path);
    return { truth: clip.truth };
  } finally {
    port.close();
  }
}
