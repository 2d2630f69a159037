import { randomUUID } from 'node:crypto';
import { rm } from 'node:fs/promises';
import type { MessagePort } from 'node:worker_threads';
import { isFull, UnusableMedia, withNames } from '../errors';
import type { Feed, FeedTask } from './feed';
import { FEEDS } from './feeds';

/** What a measuring thread is given: which measure, of what, where its files go, and a port for words both ways. */
export interface ThreadJob {
  key: string;
  task: FeedTask;
  /** Path of the measure's files up to their names. */
  files: string;
  port: MessagePort;
}

/** What came of it: a result with the files it wrote, each name with where it lies now; or why there is none. */
export type ThreadAnswer =
  { result: object; files: { name: string; fresh: string }[] } | { refused: { message: string; code: string } };

/** Said while it works. */
export interface ThreadWord {
  done: number;
  total: number;
  doing: string;
}

const FULL = 'The disk is full, so this was not finished. Make room (Plan, Room on disk), then run it again.';

/** A thread that makes measures by these feeds, one at a time. Words 'stop' on the port end it early. */
export function serveFeeds(feeds: Record<string, Feed<never>>): (job: ThreadJob) => Promise<ThreadAnswer> {
  return async ({ key, task, files, port }) => {
    const stop = new AbortController();
    port.on('message', () => stop.abort(new Error('stopped')));
    const token = randomUUID();
    const written = new Map<string, string>();
    const fresh = (name: string) => {
      written.set(name, `${files}.${name}.${token}`);
      return written.get(name)!;
    };
    const progress = (done: number, total: number, doing = '') =>
      port.postMessage({ done, total, doing } satisfies ThreadWord);
    try {
      const result = await feeds[key](task as FeedTask<never>, { signal: stop.signal, progress, fresh });
      return { result, files: [...written].map(([name, at]) => ({ name, fresh: at })) };
    } catch (error) {
      await Promise.all([...written.values()].map((at) => rm(at, { force: true })));
      if (isFull(error)) return { refused: { message: FULL, code: 'full' } };
      const named = withNames(error, [...task.takes, ...(task.plate ? [task.plate] : [])]);
      if (named instanceof UnusableMedia) return { refused: { message: named.message, code: named.code } };
      throw named;
    } finally {
      port.close();
    }
  };
}

export default serveFeeds(FEEDS);
