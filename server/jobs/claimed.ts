import type { Logger } from 'pino';
import { UnusableMedia } from '../../media/errors';

/** Work that was claimed in its table: how to say that it goes on, to give it back, and to end it with a sentence. */
export interface Claimed {
  /** False when the claim was lost. */
  note: () => Promise<boolean>;
  release: () => Promise<void>;
  fail: (sentence: string) => Promise<void>;
  /** What to say when the reason is inside the app. */
  sorry: string;
}

const BEAT_MS = 500;

/**
 * Does claimed work, saying now and then that it goes on. It is given back when `ending` is aborted, and dropped when
 * the claim is lost.
 */
export async function doClaimed(
  claimed: Claimed,
  log: Logger,
  ending: AbortSignal,
  work: (signal: AbortSignal) => Promise<void>,
): Promise<void> {
  const stop = new AbortController();
  const beat = setInterval(() => {
    claimed.note().then(
      (mine) => {
        if (!mine) stop.abort();
      },
      () => undefined,
    );
  }, BEAT_MS);
  try {
    await work(AbortSignal.any([stop.signal, ending]));
  } catch (error) {
    if (stop.signal.aborted) return;
    if (ending.aborted) {
      await claimed.release();
      return;
    }
    log.error({ err: error }, 'claimed work failed');
    await claimed.fail(error instanceof UnusableMedia ? error.message : claimed.sorry);
  } finally {
    clearInterval(beat);
  }
}
