import { createHash } from 'node:crypto';
import { promisify } from 'node:util';
import { gzip } from 'node:zlib';

/** An answer as it is sent. */
export interface Sent {
  body: string;
  /** The same made small (RFC 1952); null where it is short anyhow. */
  packed: Buffer | null;
  etag: string;
}

const pack = promisify(gzip);
/** Shorter answers go as they are; longer ones are packed once, fast rather than well. */
const SHORT_BYTES = 4096;
const LEVEL = 4;

/** How far work is changes without a word of it: an answer that shows some is not given again after so long. */
const GROWS_OLD_MS = 1000;
const UNDER_WAY = /"state":"(waiting|working)"/;
/** Nor is any other, should a change ever not have been told. */
const MOST_MS = 30_000;
/** And so many are kept at a time. */
const MOST_KEPT = 500;

/** Answers worked out once for each change, and not once for each reader. */
export class SharedAnswers {
  private readonly kept = new Map<string, Entry>();
  /** Counts changes: what was begun before one is not given to who asks after it. */
  private changes = 0;

  constructor(private readonly now: () => number = () => performance.now()) {}

  /** Something was changed: everything is worked out anew. */
  changed(): void {
    this.changes++;
    this.kept.clear();
  }

  /**
   * The answer at an address, worked out unless somebody asked for it since the last change. One that has just grown
   * old is given once more while the next is worked out.
   */
  async at(address: string, work: () => Promise<unknown>): Promise<Sent> {
    const before = this.kept.get(address);
    if (before && this.now() < before.until) return before.sent;
    const began = this.changes;
    const next = this.begin(work);
    const lastsOn = before && this.now() < before.until + GROWS_OLD_MS;
    if (lastsOn) before.until = Infinity;
    else {
      if (this.kept.size >= MOST_KEPT) this.kept.clear();
      this.kept.set(address, next);
    }
    const ended = next.sent.then(
      (sent) => {
        if (lastsOn && began === this.changes) this.kept.set(address, next);
        return sent;
      },
      (error: unknown) => {
        if (began === this.changes) this.kept.delete(address);
        throw error;
      },
    );
    if (!lastsOn) return ended;
    ended.catch(() => undefined);
    return before.sent;
  }

  private begin(work: () => Promise<unknown>): Entry {
    const entry: Entry = {
      until: Infinity,
      sent: work().then(async (answer): Promise<Sent> => {
        const body = JSON.stringify(answer);
        const packed = body.length < SHORT_BYTES ? null : await pack(body, { level: LEVEL });
        entry.until = this.now() + (UNDER_WAY.test(body) ? GROWS_OLD_MS : MOST_MS);
        // Weak: it is the same packed or not.
        return { body, packed, etag: `W/"${createHash('sha1').update(body).digest('base64url')}"` };
      }),
    };
    return entry;
  }
}

interface Entry {
  /** When it has grown old; infinite as long as it is worked out. */
  until: number;
  sent: Promise<Sent>;
}
