import { Worker } from 'node:worker_threads';
import { startedFrom } from '../built';
import type { ProcessLimits } from './limits';
import { toolCommand } from './run';

/** Pictures decoded ahead of those that measure them: so many at most, and as fit into this many bytes, but two. */
const MOST_SLOTS = 10;
const AHEAD_BYTES = 24 * 1024 * 1024;

/**
 * Runs ffmpeg in a thread of its own, from the start on, and gives its raw pictures, one from each output (pipe 1, and
 * pipes 3 and 5 where there are more), once it is known how large they are. Stop it in any case.
 */
export class PicturePump {
  /** What ffmpeg wrote of errors, its exit code, and how many pictures it says it wrote, when it has ended by itself or was made to. */
  ending: { errors: string; code: number | null; written: number | null } = { errors: '', code: null, written: null };
  private readonly worker: Worker;
  private ended = false;
  private failed: Error | null = null;
  private waiting: (() => void)[] = [];

  constructor(args: string[], outputs: 1 | 2 | 3, limits: ProcessLimits) {
    const [command, ...rest] = toolCommand('ffmpeg', ['-progress', 'pipe:4', ...args], limits);
    this.worker = new Worker(startedFrom('media/ffmpeg/pump-thread', '.cjs'), {
      workerData: { command, args: rest, outputs, silentSeconds: limits.silentSeconds, seconds: limits.seconds },
      // The thread is plain JavaScript: what the program itself was started with is not for it.
      execArgv: [],
    });
    this.worker.on(
      'message',
      (
        message:
          'more' | { end: string; code: number | null; written: number | null } | { failed: string; code?: string },
      ) => {
        if (message !== 'more') {
          this.ended = true;
          if ('end' in message) this.ending = { errors: message.end, code: message.code, written: message.written };
          else this.failed = Object.assign(new Error(message.failed), { code: message.code });
        }
        this.wake();
      },
    );
    this.worker.on('error', (error) => {
      this.failed = error;
      this.ended = true;
      this.wake();
    });
  }

  private wake(): void {
    for (const resolve of this.waiting.splice(0)) resolve();
  }

  /**
   * The pictures in order, cut to so many bytes for each output. What is given is overwritten after the next but few:
   * use it before asking for the next. Ends the thread when it is left.
   * @throws Error when ffmpeg cannot be started or not all that it wrote arrived, or what `signal` was aborted with
   */
  async *pictures(sizes: number[], signal?: AbortSignal): AsyncGenerator<Uint8Array[]> {
    const all = sizes.reduce((a, b) => a + b, 0);
    const slots = Math.max(2, Math.min(MOST_SLOTS, Math.floor(AHEAD_BYTES / all)));
    const shared = new SharedArrayBuffer(slots * all);
    const counts = new Int32Array(new SharedArrayBuffer(4 * (sizes.length + 3)));
    const starts = sizes.map((_, i) => slots * sizes.slice(0, i).reduce((a, b) => a + b, 0));
    const used = sizes.length,
      weWait = used + 1,
      theyWait = used + 2;
    const whole = (k: number) => sizes.every((_, i) => Atomics.load(counts, i) > k);
    const halt = () => this.worker.postMessage('stop');
    let k = 0;
    try {
      signal?.throwIfAborted();
      signal?.addEventListener('abort', halt);
      this.worker.postMessage({ sizes, slots, shared, counts });
      for (; ; k++) {
        while (!whole(k) && !this.ended) {
          // A picture may have become whole just before it was said that it is waited for.
          Atomics.store(counts, weWait, 1);
          if (!whole(k)) await this.heard();
        }
        if (!whole(k)) break;
        yield sizes.map((bytes, i) => new Uint8Array(shared, starts[i] + (k % slots) * bytes, bytes));
        Atomics.add(counts, used, 1);
        if (Atomics.exchange(counts, theyWait, 0)) this.worker.postMessage('used');
      }
    } finally {
      signal?.removeEventListener('abort', halt);
      await this.stop();
    }
    signal?.throwIfAborted();
    if (this.failed) throw this.failed;
    const { code, written } = this.ending;
    if (code === 0 && written !== null && written > k)
      throw new Error(`ffmpeg wrote ${written} pictures and ${k} arrived`);
  }

  /** Ends ffmpeg, if it still runs, and the thread. May be called again. */
  async stop(): Promise<void> {
    if (!this.ended) {
      this.worker.postMessage('stop');
      while (!this.ended) await this.heard();
    }
    await this.worker.terminate();
  }

  private heard(): Promise<void> {
    return new Promise((resolve) => {
      this.waiting.push(resolve);
    });
  }
}
