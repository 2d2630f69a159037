import { UnusableMedia } from '../../media/errors';
import { frameTimes } from '../../media/ffmpeg/frame-index';
import { probeFile } from '../../media/ffmpeg/probe';
import { needLivePart } from '../plan/need';
import { inTransaction } from '../platform/database';
import type { House } from '../platform/house';
import { Refusal } from '../platform/http';
import { Once } from '../platform/once';
import { findTakeByUpload, insertTake } from './takes';
import { dropUpload, uploadState } from './uploads';

export interface TakenIn {
  takeId: string;
  isNew: boolean;
}

const taking = new Once<TakenIn>();

/**
 * Makes a take of an upload, once however often it is asked for.
 *
 * The recording is laid in its place beside the upload, then noted, and only then the upload goes: whatever breaks off
 * in between, asking again goes on, and a recording without a take is swept up.
 * @throws Refusal when the part or the upload is gone, or the upload is not whole: it is kept
 * @throws UnusableMedia when the file is no recording: the upload goes
 * @throws LookFailed when it could not be looked into: the upload is kept
 */
export async function takeIn(house: House, partId: string, uploadId: string, name: string): Promise<TakenIn> {
  const { result, own } = await taking.run(uploadId, () => makeTake(house, partId, uploadId, name));
  return { takeId: result.takeId, isNew: own && result.isNew };
}

async function makeTake(
  { pool, storage, queue }: House,
  partId: string,
  uploadId: string,
  name: string,
): Promise<TakenIn> {
  const before = await findTakeByUpload(pool, uploadId);
  if (before) {
    await dropUpload(storage, uploadId);
    return { takeId: before.id, isNew: false };
  }
  await needLivePart(pool, partId);
  const upload = await uploadState(storage, uploadId);
  if (!upload) throw new Refusal(404, 'The upload is not known. Choose the file again.', 'missing');
  const { path, size, arrived } = upload;
  if (arrived < size)
    throw new Refusal(
      409,
      `Only ${megabytes(arrived)} of ${megabytes(size)} MB of "${name}" have arrived. ` +
        `Choose the same file again; it goes on where it stopped.`,
      'not-whole',
    );
  try {
    await frameTimes(path, await probeFile(path, name), name);
  } catch (error) {
    if (error instanceof UnusableMedia) await dropUpload(storage, uploadId);
    throw error;
  }
  const { hash, bytes } = await storage.keepCopy(path);
  const take = { partId, hash, bytes, name, source: 'file' as const, uploadId, circled: false };
  const takeId = await inTransaction(pool, (db) => insertTake(db, queue, take));
  await dropUpload(storage, uploadId);
  return { takeId, isNew: true };
}

const megabytes = (bytes: number) => (bytes / 1e6).toFixed(1);
