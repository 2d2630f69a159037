import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import type { ProcessLimits } from './limits';
import { toolCommand } from './run';

/** Pictures decoded ahead of those that measure them: so many at most, and as fit into this many bytes, but two. */
const MOST_SLOTS = 10;
const AHEAD_BYTES = 24 * 1024 * 1024;

/**
 * Runs ffmpeg in a thread of its own and gives its raw pictures, one from each output (pipe 1, and pipe 3 when there are two), cut
 * to so many bytes. What is given is overwritten after the next but few: use it before asking for the next.
 * @param onEnd told what ffmpeg wrote of errors and its exit code, when it ended by itself or was ended
 * @throws Error when ffmpeg cannot be started, or what `signal` was aborted with
 */
export async function* pumpPictures(args: string[], sizes: number[], limits: ProcessLimits, signal: AbortSignal | undefined, onEnd: (errors: string, code: number | null) => void): AsyncGenerator<Uint8Array[]> {
  signal?.throwIfAborted();
  const slots = Math.max(2, Math.min(MOST_SLOTS, Math.floor(AHEAD_BYTES / sizes.reduce((a, b) => a + b, 0))));
  const shared = new SharedArrayBuffer(slots * sizes.reduce((a, b) => a + b, 0));
  const counts = new Int32Array(new SharedArrayBuffer(4 * (sizes.length + 3)));
  const starts = sizes.map((_, i) => slots * sizes.slice(0, i).reduce((a, b) => a + b, 0));
  const [command, ...rest] = toolCommand('ffmpeg', args, limits);
  const worker = new Worker(join(__dirname, 'pump-thread.cjs'), {
    workerData: { command, args: rest, sizes, slots, shared, counts, silentSeconds: limits.silentSeconds, seconds: limits.seconds },
    // The thread is plain JavaScript: what the program itself was started with is not for it.
    execArgv: [],
  });
  let ended = false;
  let failed: Error | null = null;
  let wake: () => void = () => undefined;
  worker.on('message', (message: 'more' | { end: string; code: number | null } | { failed: string; code?: string }) => {
    if (message !== 'more') {
      ended = true;
      if ('end' in message) onEnd(message.end, message.code);
      else failed = Object.assign(new Error(message.failed), { code: message.code });
    }
    wake();
  });
  worker.on('error', (error) => {
    failed = error;
    ended = true;
    wake();
  });
  const stop = () => worker.postMessage('stop');
  signal?.addEventListener('abort', stop);
  const used = sizes.length, weWait = used + 1, theyWait = used + 2;
  const whole = (k: number) => sizes.every((_, i) => Atomics.load(counts, i) > k);
  try {
    for (let k = 0; ; k++) {
      while (!whole(k) && !ended) {
        // A picture may have become whole just before it was said that it is waited for.
        Atomics.store(counts, weWait, 1);
        if (!whole(k)) await new Promise<void>((resolve) => { wake = resolve; });
      }
      if (!whole(k)) break;
      yield sizes.map((bytes, i) => new Uint8Array(shared, starts[i] + (k % slots) * bytes, bytes));
      Atomics.add(counts, used, 1);
      if (Atomics.exchange(counts, theyWait, 0)) worker.postMessage('used');
    }
  } finally {
    signal?.removeEventListener('abort', stop);
    if (!ended) {
      stop();
      while (!ended) await new Promise<void>((resolve) => { wake = resolve; });
    }
    await worker.terminate();
  }
  signal?.throwIfAborted();
  if (failed) throw failed;
}
