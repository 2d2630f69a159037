import { availableParallelism } from 'node:os';
import { MessageChannel, type MessagePort } from 'node:worker_threads';
import Piscina from 'piscina';
import { startedFrom, STARTED_WITH } from '../../media/built';
import type { JobWord } from './queue';

/** As many at once as there are cores. */
export const AT_ONCE = availableParallelism();
/** Memory of a thread's own objects, MB; pictures and what WebAssembly holds come on top. */
const THREAD_MB = 2048;
/** A thread that was told to stop and goes on for so long is ended. */
const PATIENCE_MS = 5000;
const IDLE_MS = 60_000;

export const MEASURING_THREAD = startedFrom('media/feeds/measuring-thread');
export const PACKING_THREAD = startedFrom('packs/packing-thread');
export const ROLLING_THREAD = startedFrom('standin/rolling-thread');

/** Threads for long sums: they do not hold up who gives out the work. */
export class Threads {
  private readonly pool: Piscina;

  /** @param most how many at once: as is usual, one more for the stand-in camera, and one for what somebody waits for */
  constructor({ most = AT_ONCE + 2, megabytes = THREAD_MB } = {}) {
    this.pool = new Piscina({
      minThreads: 0,
      maxThreads: most,
      concurrentTasksPerWorker: 1,
      idleTimeout: IDLE_MS,
      resourceLimits: { maxOldGenerationSizeMb: megabytes },
      execArgv: STARTED_WITH,
    });
  }

  /** Runs a thread's file on a task, telling how far it is. Aborted, it is asked to stop, and ended when it does not. */
  async run<T>(filename: string, task: object, signal: AbortSignal, say: (word: JobWord) => void): Promise<T> {
    signal.throwIfAborted();
    const { port1, port2 } = new MessageChannel();
    port1.on('message', say);
    const end = new AbortController();
    let patience: NodeJS.Timeout | undefined;
    const halt = () => {
      port1.postMessage('stop');
      patience = setTimeout(() => end.abort(), PATIENCE_MS);
    };
    signal.addEventListener('abort', halt);
    try {
      return (await this.pool.run(
        { ...task, port: port2 satisfies MessagePort },
        { filename, transferList: [port2], signal: end.signal },
      )) as T;
    } finally {
      clearTimeout(patience);
      signal.removeEventListener('abort', halt);
      port1.close();
    }
  }

  async close(): Promise<void> {
    await this.pool.destroy();
  }
}
