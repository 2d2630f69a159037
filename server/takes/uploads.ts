import { randomBytes } from 'node:crypto';
import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { FileStore } from '@tus/file-store';
import { Server as TusServer } from '@tus/server';
import { Router } from 'express';
import type { Storage } from '../platform/storage';

/** Largest recording taken in, in bytes. */
export const MOST_BYTES = 200 * 1024 ** 3;

/** Resumable uploads (the tus protocol, version 1.0.0): a dropped connection goes on where it stopped. */
export function uploadRoutes(storage: Storage): Router {
  const tus = new TusServer({
    path: '/api/uploads',
    datastore: new FileStore({ directory: storage.uploads, expirationPeriodInMilliseconds: 7 * 24 * 3600 * 1000 }),
    maxSize: MOST_BYTES,
    relativeLocation: true,
    namingFunction: () => randomBytes(16).toString('hex'),
    async onUploadCreate(_req, upload) {
      const room = await storage.room();
      if ((upload.size ?? 0) > room) {
        const gigabytes = ((upload.size ?? 0) / 1e9).toFixed(1);
        throw {
          status_code: 413,
          body:
            `This recording (${gigabytes} GB) does not fit on the disk: ${(room / 1e9).toFixed(1)} GB are ` +
            `free. Make room and try again.`,
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

/** Where a finished upload lies. */
export function uploadPath(storage: Storage, uploadId: string): string {
  return join(storage.uploads, uploadId);
}

/** Removes an upload and what was noted about it. */
export async function dropUpload(storage: Storage, uploadId: string): Promise<void> {
  await rm(uploadPath(storage, uploadId), { force: true });
  await rm(`${uploadPath(storage, uploadId)}.json`, { force: true });
}
