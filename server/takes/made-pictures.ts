import { randomUUID } from 'node:crypto';
import { access, rename, rm, utimes } from 'node:fs/promises';
import { extname, join } from 'node:path';
import pLimit from 'p-limit';

/** Each holds a full-size picture several times over, and has ffmpeg beside it. */
const limit = pLimit(2);

interface Making {
  done: Promise<void>;
  waiting: number;
  stop: AbortController;
}

/**
 * Pictures that are made when somebody asks for them: a few at a time, each once for all who ask, and not at all when
 * nobody waits for it any more. What was made is kept until it is swept up.
 */
export class MadePictures {
  private readonly underWay = new Map<string, Making>();

  /** @param folder where they are kept; it must be there */
  constructor(private readonly folder: string) {}

  /**
   * The path of a picture, made unless it is there.
   * @param name its file's name, which says all that it hangs on
   * @param listening aborted when whoever asks goes away
   * @param make writes it to a path, and stops when its signal is aborted
   * @throws what `make` throws, or what `listening` was aborted with
   */
  async get(
    name: string,
    listening: AbortSignal,
    make: (path: string, signal: AbortSignal) => Promise<void>,
  ): Promise<string> {
    listening.throwIfAborted();
    const path = join(this.folder, name);
    const isThere = await access(path).then(
      () => true,
      () => false,
    );
    if (isThere) {
      // It was asked for just now, and is not swept up yet.
      await utimes(path, new Date(), new Date()).catch(() => undefined);
      return path;
    }
    const making = this.underWay.get(name) ?? this.begin(name, path, make);
    making.waiting++;
    const leave = () => {
      if (--making.waiting === 0) making.stop.abort(listening.reason);
    };
    listening.addEventListener('abort', leave, { once: true });
    try {
      await making.done;
    } finally {
      listening.removeEventListener('abort', leave);
    }
    listening.throwIfAborted();
    return path;
  }

  private begin(name: string, path: string, make: (path: string, signal: AbortSignal) => Promise<void>): Making {
    const stop = new AbortController();
    const done = limit(async () => {
      stop.signal.throwIfAborted();
      const fresh = join(this.folder, `${randomUUID()}${extname(name)}`);
      try {
        await make(fresh, stop.signal);
        await rename(fresh, path);
      } finally {
        await rm(fresh, { force: true });
      }
    }).finally(() => {
      if (this.underWay.get(name) === making) this.underWay.delete(name);
    });
    const making: Making = { done, waiting: 0, stop };
    // Whoever asks when nobody waited any more has it made anew.
    stop.signal.addEventListener('abort', () => this.underWay.delete(name));
    done.catch(() => undefined);
    this.underWay.set(name, making);
    return making;
  }
}
