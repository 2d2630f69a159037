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

/** How far work is changes without a word of it: no answer is given again after so long. */
const MOST_MS = 1000;
/** And so many are kept at a time. */
const MOST_KEPT = 200;

/** Answers worked out once for each change, and not once for each reader. */
export class SharedAnswers {
  private readonly kept = new Map<string, { at: number; sent: Promise<Sent> }>();
  /** Counts changes: what was begun before one is not given to who asks after it. */
  private changes = 0;

  constructor(private readonly now: () => number = () => performance.now()) {}

  /** Something was changed: everything is worked out anew. */
  changed(): void {
    this.changes++;
    this.kept.clear();
  }

  /** The answer at an address, worked out unless somebody asked for it since the last change. */
  async at(address: string, work: () => Promise<unknown>): Promise<Sent> {
    const before = this.kept.get(address);
    if (before && this.now() - before.at < MOST_MS) return before.sent;
    const began = this.changes;
    const sent = work().then(async (answer): Promise<Sent> => {
      const body = JSON.stringify(answer);
      const packed = body.length < SHORT_BYTES ? null : await pack(body, { level: LEVEL });
      // Weak: it is the same packed or not.
      return { body, packed, etag: `W/"${createHash('sha1').update(body).digest('base64url')}"` };
    });
    if (this.kept.size >= MOST_KEPT) this.kept.clear();
    this.kept.set(address, { at: this.now(), sent });
    try {
      return await sent;
    } catch (error) {
      if (began === this.changes) this.kept.delete(address);
      throw error;
    }
  }
}
