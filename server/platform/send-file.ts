import { basename, dirname } from 'node:path';
import type { Response } from 'express';

/**
 * Sends a file, or the part of it that was asked for; to be saved under a name where one is given. It is named by its folder
 * and itself, as folders whose names begin with a dot would otherwise be refused wherever they stand in its path.
 * @throws the error that says it is gone, where it is not there
 */
export function sendFile(res: Response, path: string, name: string | null, gone: Error): Promise<void> {
  return new Promise((resolve, reject) => {
    const done = (error?: Error & { status?: number }) => {
      if (!error || res.headersSent) resolve();
      else reject(error.status === 404 ? gone : error);
    };
    const own = [basename(path), { root: dirname(path) }] as const;
    if (name === null) res.sendFile(...own, done);
    else res.download(own[0], name, own[1], done);
  });
}
