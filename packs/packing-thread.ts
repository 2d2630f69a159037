import type { MessagePort } from 'node:worker_threads';
import { isFull } from '../media/errors';
import { writePack, type PackWriting, type WrittenPack } from './write-pack';

/** What a packing thread is given: what to write, and a port for words both ways. */
export interface PackingJob {
  work: PackWriting;
  port: MessagePort;
}

/** What was written, or that there was no room for it. */
export type PackingAnswer = { written: WrittenPack } | 'full';

/** A thread that writes a pack. The word 'stop' on the port ends it early. */
export default async function pack({ work, port }: PackingJob): Promise<PackingAnswer> {
  const stop = new AbortController();
  port.on('message', () => stop.abort(new Error('stopped')));
  try {
    const say = (done: number, total: number, doing: string) => port.postMessage({ done, total, doing });
    return { written: await writePack(work, stop.signal, say) };
  } catch (error) {
    if (isFull(error)) return 'full';
    throw error;
  } finally {
    port.close();
  }
}
