import { randomBytes } from 'node:crypto';
import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { FileStore } from '@tus/file-store';
import { Server as TusServer } from '@tus/server';
import { Router } from 'express';
import { bytesInWords } from '../../core/base/numeric/bytes';
import { FULL_DISK } from '../platform/http';
import type { Storage } from '../platform/storage';

/** Largest recording taken in, in bytes. */
export const MOST_BYTES = 200 * 1024 ** 3;

/** What is kept of uploads, and how long one that broke off waits to be gone on with. */
const openStore = (storage: Storage) =>
  new FileStore({ directory: storage.uploads, expirationPeriodInMilliseconds: 24 * 3600 * 1000 });

/** Resumable uploads (the tus protocol, version 1.0.0): a dropped connection goes on where it stopped. */
export function uploadRoutes(storage: Storage): Router {
  const tus = new TusServer({
    path: '/api/uploads',
    datastore: openStore(storage),
    maxSize: MOST_BYTES,
    // No page of another site may send anything here.
    allowedOrigins: [],
    relativeLocation: true,
    namingFunction: () => randomBytes(16).toString('hex'),
    async onResponseError(_req, error) {
      // The card is not to blame for a full disk here.
      if (!('status_code' in error) || error.status_code >= 500)
        if ((await storage.room()) === 0) return { status_code: 507, body: FULL_DISK };
      return undefined;
    },
    async onUploadCreate(_req, upload) {
      const room = await storage.room();
      if ((upload.size ?? 0) > room) {
        throw {
          status_code: 413,
          body:
            `This recording (${bytesInWords(upload.size ?? 0)}) does not fit on the disk: ${bytesInWords(room)} are ` +
            `free for recordings. Make room (Plan, Room on disk), then try again.`,
        };
      }
      return {};
    },
  });
  const router = Router();
  router.all('/uploads{/*rest}', (req, res) => {
    // The upload server wants the whole address, which mounting has cut.
    req.url = req.originalUrl;
    return tus.handle(req, res);
  });
  return router;
}

/** Where an upload lies, its size in bytes, and how many of them have arrived; null when it is not known. */
export async function uploadState(
  storage: Storage,
  uploadId: string,
): Promise<{ path: string; size: number; arrived: number } | null> {
  const { size, offset } = await openStore(storage)
    .getUpload(uploadId)
    .catch(() => ({ size: undefined, offset: 0 }));
  return size === undefined ? null : { path: join(storage.uploads, uploadId), size, arrived: offset };
}

/** Removes an upload and what was noted about it. */
export async function dropUpload(storage: Storage, uploadId: string): Promise<void> {
  const path = join(storage.uploads, uploadId);
  await rm(path, { force: true });
  await rm(`${path}.json`, { force: true });
}
